// Many pieces at once: chosen, changed in one step, undone in one.

import { ask } from "../net/ask.js";

// What is done is said behind its count: 6 turned; what changed with a colon: 6 pieces: file changed.
const PARTICIPLE = /^(turned|approved|started|put|moved|undone)\b/;

const MORE = 5; // shelves that come in one go

// What the page holds of it; the ledge takes it over, getters and all.
export const many = {
  chosenIds: [],
  said: "",
  canUndo: true,

  get some() {
    return this.chosenIds.length > 0;
  },
  get someWord() {
    return `${this.chosenIds.length} chosen`;
  },
  choose(event) {
    this.photoMenu(event);
    this.chosen.click(event);
    this.chosenIds = this.chosen.ids();
  },
  chooseNone() {
    this.chosen.take([]);
    this.chosenIds = [];
  },
  async chooseAll() {
    const show = new URL(window.location).searchParams.get("show") ?? "all";
    await this.tried(async () => {
      this.chosen.take(await ask(`${this.path}/shown?show=${show}`));
      this.chosenIds = this.chosen.ids();
    });
  },
  doIt(event) {
    const doing = { do: event.currentTarget.dataset.do };
    if (doing.do === "like" || doing.do === "heads") doing.placement_id = this.chosenIds[0];
    return this.batch(this.chosenIds, doing);
  },
  doGround(event) {
    const { value } = event.target;
    event.target.value = "";
    if (value === "none") return this.batch(this.chosenIds, { do: "ground", beyond: false });
    return this.batch(this.chosenIds, { do: "ground", beyond: true, fill: value });
  },
  doSize(event) {
    const size_id = Number(event.target.value);
    event.target.value = "";
    return this.batch(this.chosenIds, { do: "size", size_id });
  },
  async batch(placement_ids, doing) {
    await this.tried(async () => {
      const done = await ask(`${this.path}/batch`, { method: "POST", body: { placement_ids, doing } });
      await this.after(done);
    });
  },
  // Each photo once; what is cut out already stays as it is.
  async cutOut() {
    await this.tried(async () => {
      const done = await ask(`${this.path}/cut-outs`, { method: "POST", body: { placement_ids: this.chosenIds } });
      const there = done.there ? ` ${done.there} ${done.there === 1 ? "was" : "were"} cut out before.` : "";
      this.said = `${done.photos} ${done.photos === 1 ? "photo" : "photos"}: cut out. Look at each edge once, and approve it.${there}`;
      this.canUndo = done.photos > 0;
      await this.redraw();
    });
  },
  async undoBatch() {
    await this.tried(async () => this.after(await ask(`${this.path}/batch/undo`, { method: "POST" })));
  },
  async after(done) {
    const left = done.refused.length ? ` ${done.refused.length} stay as they are: ${done.refused[0].reason}` : "";
    const pieces = PARTICIPLE.test(done.what) ? "" : done.changed === 1 ? "piece: " : "pieces: ";
    this.said = `${done.changed} ${pieces}${done.what}.${left}`;
    this.canUndo = !done.what.startsWith("undone") && done.changed > 0;
    await this.redraw();
  },
  // The shelves in sight are drawn anew; what was chosen stays chosen.
  async redraw() {
    const shelves = this.$refs.shelves.querySelectorAll(".ledge-shelf").length;
    const drawn = document.createDocumentFragment();
    for (let first = 0; first < Math.max(1, shelves); first += MORE) {
      const part = document.createRange().createContextualFragment(await (await fetch(this.shelvesFrom(first))).text());
      this.perPixel = first ? this.perPixel : part.querySelector(".shelf-facts").dataset.perPixel;
      if (first + MORE < shelves) part.querySelector(".more-shelves")?.remove();
      drawn.append(part);
    }
    this.$refs.shelves.replaceChildren(drawn);
    this.chosen.mark();
    this.watchMore();
    await this.count();
  },
  get fineWord() {
    const open = ["new", "in work"].reduce((sum, name) => sum + (this.overview?.counts[name] ?? 0), 0);
    return open ? `Approve all ${open} without notes` : "";
  },
  async settleFine() {
    const job = await ask(this.path);
    const fine = job.placements.filter((one) => one.level === "fine" && ["new", "placed"].includes(one.state));
    await this.batch(fine.map((one) => one.id), { do: "settle" });
  },
  async decideFound(event) {
    const { ids, take } = event.currentTarget.dataset;
    await this.tried(async () => {
      await ask("/api/photos/found", { method: "POST", body: { photo_ids: ids.split(" ").map(Number), take: take === "yes" } });
      window.location.reload();
    });
  },
  get saidShown() {
    return Boolean(this.said || this.fineWord || this.$root.querySelector(".said [data-take]"));
  },
};
