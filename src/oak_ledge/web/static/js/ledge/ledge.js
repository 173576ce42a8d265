// A job's ledge: more shelves as they come into view, many pieces at once, and what the job is.

import { dropping } from "../hand/drop.js";
import { ask, bringIn } from "../net/ask.js";
import { choosing } from "./chosen.js";
import { drawEntry, readEntry } from "../sizes/entry.js";

const TONES = ["light", "mid", "dark"];
const WORDS = { stop: "Stop:", look: "Look:", fine: "Fine:" };
const MORE = 5; // shelves that come in one go
const TOGETHER = 12; // photos that join a job in one go
const AHEAD = "900px"; // shelves so far below are asked for already

document.addEventListener("alpine:init", () => {
  window.Alpine.data("ledge", () => ({
    told: null, // how far the job is, once it is known
    chosenIds: [],
    said: "",
    canUndo: true,
    trouble: "",
    busy: false,
    over: false,
    sure: false,
    tells: null,
    survival: [],
    plan: [],
    desks: [],
    deskWord: "",
    deskRefused: [],
    camera: "3:2",
    tone: localStorage.getItem("oak-ledge-tone") ?? "light",

    room: {
      ...dropping((page, files) => page.bring(files)),
      "@keydown.escape.window"() {
        this.tells = null;
      },
    },

    init() {
      this.path = `/api/jobs/${this.$root.dataset.job}`;
      this.chosen = choosing(this.$refs.shelves);
      this.said = this.$root.querySelector(".said [role=status]").textContent.trim();
      this.canUndo = this.said !== "";
      this.applyTone();
      this.ahead = new IntersectionObserver((seen) => seen.some((one) => one.isIntersecting) && this.moreShelves(), {
        rootMargin: AHEAD,
      });
      this.watchMore();
      const { shelves } = this.$refs;
      for (const kind of ["pointerover", "focusin"]) shelves.addEventListener(kind, (event) => this.tell(event));
      for (const kind of ["pointerleave", "focusout"]) shelves.addEventListener(kind, () => (this.tells = null));
      this.count();
    },

    // --- shelves

    watchMore() {
      this.more = this.$refs.shelves.querySelector(".more-shelves");
      this.ahead.disconnect();
      if (this.more) this.ahead.observe(this.more);
    },
    async moreShelves() {
      const place = this.more;
      if (!place || place.dataset.asked) return;
      place.dataset.asked = "yes";
      const answer = await fetch(`${this.$root.dataset.shelves}&first=${place.dataset.first}`).catch(() => null);
      if (!answer?.ok) {
        place.textContent = "The other shelves did not come. Load the page again.";
        return;
      }
      const part = document.createRange().createContextualFragment(await answer.text());
      place.replaceWith(part);
      this.chosen.mark();
      this.watchMore();
    },
    async count() {
      this.told = await ask(`${this.path}/overview`).catch(() => null);
    },
    get counted() {
      if (!this.told) return [];
      return Object.entries(this.told.counts).map(([name, count]) => ({
        name,
        words: `${count} ${name}`,
        kind: `is-${name.replaceAll(" ", "-")}`,
      }));
    },
    get lookCount() {
      return this.told ? String(this.told.to_look_at) : "";
    },
    get codes() {
      const here = new URL(window.location).searchParams.get("show");
      return Object.entries(this.told?.codes ?? {}).map(([code, count]) => ({ code, words: `${code}, ${count}`, here: code === here }));
    },
    get nextHref() {
      return this.$refs.shelves.querySelector(".is-stopped, .is-to-look-at")?.getAttribute("href") ?? "";
    },
    goWith(name, value) {
      const to = new URL(window.location);
      to.searchParams.set(name, value);
      window.location.assign(to);
    },
    withNote(event) {
      this.goWith("show", event.target.value);
    },
    setScale(event) {
      this.goWith("scale", event.target.value);
    },
    get tones() {
      return Object.fromEntries(TONES.map((tone) => [tone, String(tone === this.tone)]));
    },
    setTone(event) {
      this.tone = event.currentTarget.dataset.tone;
      localStorage.setItem("oak-ledge-tone", this.tone);
      this.applyTone();
    },
    applyTone() {
      document.documentElement.dataset.tone = this.tone;
    },

    // --- what a piece tells

    tell(event) {
      const piece = event.target.closest(".piece-stood");
      if (!piece) {
        this.tells = null;
        return;
      }
      this.tells = JSON.parse(piece.dataset.tells);
      const at = piece.getBoundingClientRect();
      const { tells } = this.$refs;
      const right = at.right + 440 < window.innerWidth;
      Object.assign(tells.style, {
        left: right ? `${at.right + 14}px` : "",
        right: right ? "" : `${Math.max(12, window.innerWidth - at.left + 14)}px`,
        top: `${Math.max(12, Math.min(at.top, window.innerHeight - 230))}px`,
      });
    },
    get tellsName() {
      return this.tells ? (this.tells.own ?? this.tells.size_name) : "";
    },
    get tellsPhoto() {
      return this.tells?.photo_name ?? "";
    },
    get tellsSentence() {
      return this.tells?.sentence ?? "";
    },
    get tellsNotes() {
      return (this.tells?.notes ?? []).map((note) => ({ ...note, word: WORDS[note.level], kind: `is-${note.level}` }));
    },

    // --- many at once

    get some() {
      return this.chosenIds.length > 0;
    },
    get someWord() {
      return `${this.chosenIds.length} chosen`;
    },
    choose(event) {
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
      if (doing.do === "like") doing.placement_id = this.chosenIds[0];
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
    async undoBatch() {
      await this.tried(async () => this.after(await ask(`${this.path}/batch/undo`, { method: "POST" })));
    },
    async after(done) {
      const told = (counts) => Object.entries(counts).map(([name, count]) => `${count} ${name}`).join(", ");
      const left = done.refused.length ? ` ${done.refused.length} stay as they are: ${done.refused[0].reason}` : "";
      this.said = `${done.what}: ${done.changed}. Before ${told(done.before)}; now ${told(done.after)}.${left}`;
      this.canUndo = !done.what.startsWith("undone") && done.changed > 0;
      await this.redraw();
    },
    // The shelves in sight are drawn anew; what was chosen stays chosen.
    async redraw() {
      const shelves = this.$refs.shelves.querySelectorAll(".ledge-shelf").length;
      let html = "";
      for (let first = 0; first < Math.max(1, shelves); first += MORE) {
        html += (await (await fetch(`${this.$root.dataset.shelves}&first=${first}`)).text()).replace(/<p class="more-shelves"[^]*$/, (rest) =>
          first + MORE < shelves ? "" : rest,
        );
      }
      this.$refs.shelves.replaceChildren(document.createRange().createContextualFragment(html));
      this.chosen.mark();
      this.watchMore();
      await this.count();
    },
    get fineWord() {
      const open = ["new", "placed"].reduce((sum, name) => sum + (this.told?.counts[name] ?? 0), 0);
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

    // --- files

    // First what would be made; then, if it is right, the run.
    async makeAll() {
      await this.tried(async () => {
        this.plan = await ask(`${this.path}/deliveries/plan`);
        this.desks = await ask("/api/desks");
        this.deskWord = "";
        this.deskRefused = [];
        this.$refs.plan.showModal();
      });
    },
    // What a desk would say, before anything is made.
    async askDesk(event) {
      const { desk: name } = event.currentTarget.dataset;
      const { title } = this.desks.find((desk) => desk.name === name);
      this.deskRefused = [];
      try {
        const told = await ask(`/api/desks/${name}/rehearse`, { method: "POST", body: { job_id: Number(this.$root.dataset.job) } });
        this.deskWord = `${title}: ${told.words}.`;
        this.deskRefused = told.refused.map((one) => ({ ...one, bench: `/jobs/${this.$root.dataset.job}/bench/${one.placement_id}` }));
      } catch (problem) {
        this.deskWord = problem.message;
      }
    },
    get planWord() {
      const free = this.plan.filter((one) => !one.held);
      const looks = free.filter((one) => one.to_look_at).length;
      const known = free.filter((one) => one.about_bytes !== null);
      const bytes = known.reduce((sum, one) => sum + one.about_bytes, 0);
      const told = [`${free.length} files`];
      if (known.length) told.push(`about ${(bytes / 1e6).toFixed(1)} MB${known.length < free.length ? ` for ${known.length} of them` : ""}`);
      if (looks) told.push(`${looks} with something to look at`);
      return `${told.join(", ")}.`;
    },
    get planHeld() {
      return this.plan.filter((one) => one.held);
    },
    get planSame() {
      const same = this.plan.filter((one) => one.same_as && !one.held).length;
      return same ? `Make what changed; ${same} stay as last time` : "";
    },
    get planRows() {
      return this.plan.filter((one) => !one.held).slice(0, 200).map((one) => ({
        ...one,
        resolution: one.ppi === null ? "" : `${Number(one.ppi.toFixed(2))} ppi`,
        most: one.at_most === null ? "" : `at most ${(one.at_most / 1e3).toFixed(0)} kB`,
        about: one.about_bytes === null ? "" : `about ${(one.about_bytes / 1e6).toFixed(2)} MB`,
        look: one.to_look_at ? "look" : "",
      }));
    },
    makePlanned() {
      return this.make(null, false);
    },
    makeChanged() {
      return this.make(null, true);
    },
    makeChosen() {
      return this.make(this.chosenIds, false);
    },
    async make(placement_ids, only_changed) {
      this.busy = true;
      await this.tried(async () => {
        const made = await ask(`${this.path}/deliveries`, { method: "POST", body: { placement_ids, only_changed } });
        window.location.assign(`/deliveries/${made.id}`);
      });
      this.busy = false;
    },

    // --- what belongs to the job

    addPhotos(event) {
      this.bring(event.target.files);
    },
    async bring(files) {
      if (!files.length) return;
      await this.tried(async () => {
        let waiting = [];
        const join = async () => {
          const photo_ids = waiting.map((one) => one.id);
          waiting = [];
          if (photo_ids.length) await ask(`${this.path}/members`, { method: "POST", body: { photo_ids } });
        };
        this.said = `Bringing in ${files.length}`;
        const told = await bringIn(files, async (came, done) => {
          this.said = `${done} of ${files.length} are in`;
          waiting.push(...came.photos);
          if (done % TOGETHER === 1) await join().then(() => this.redraw()); // the first at once
        });
        await join();
        if (told.refused.length) {
          const [one] = told.refused;
          this.trouble = `${one.name} was not taken in. ${one.reason}`;
          this.said = `${told.photos.length} joined.`;
          await this.redraw();
        } else window.location.reload();
      });
    },
    openSizes() {
      this.$refs.sizes.showModal();
    },
    async write(event) {
      const told = await readEntry(event.target);
      if (told) drawEntry(event.target, told, this.$refs.reads);
    },
    async addSizes() {
      const size_ids = [...this.$refs.sizes.querySelectorAll("[name=size]:checked")].map((one) => Number(one.value));
      const text = this.$refs.written.value.trim();
      if (!size_ids.length && !text) return;
      await this.tried(async () => {
        await ask(`${this.path}/members`, { method: "POST", body: { size_ids, size_texts: text ? [text] : [] } });
        window.location.reload();
      });
    },
    openAbout() {
      this.sure = false;
      this.$refs.about.showModal();
    },
    closeDialog(event) {
      event.currentTarget.closest("dialog").close();
    },
    async saveAbout(event) {
      const { name, due, notes } = event.target.elements;
      const orders = {};
      for (const of of ["photo", "size"]) {
        const rows = this.$refs.about.querySelectorAll(`[aria-label="${of}s of this job"] li`);
        orders[`${of}_order`] = [...rows].map((row) => Number(row.dataset.place));
      }
      const body = { name: name.value, notes: notes.value, due: due.value || null, no_due: !due.value, ...orders };
      await this.tried(async () => {
        await ask(this.path, { method: "PUT", body });
        window.location.reload();
      });
    },
    moveMember(event) {
      const row = event.currentTarget.closest("li");
      const other = event.currentTarget.dataset.by === "1" ? row.nextElementSibling : row.previousElementSibling;
      if (!other) return;
      if (event.currentTarget.dataset.by === "1") other.after(row);
      else other.before(row);
      event.currentTarget.focus();
    },
    async takeOut(event) {
      const { of, place } = event.currentTarget.dataset;
      await this.tried(async () => {
        await ask(`${this.path}/members/${of}/${place}`, { method: "DELETE" });
        window.location.reload();
      });
    },
    async copyJob() {
      await this.tried(async () => {
        const job = await ask(`${this.path}/copy`, { method: "POST" });
        window.location.assign(`/jobs/${job.id}`);
      });
    },
    async putAway(event) {
      const away = event.currentTarget.dataset.away === "yes";
      await this.tried(async () => {
        await ask(this.path, { method: "PUT", body: { away } });
        window.location.assign("/");
      });
    },
    get deleteWord() {
      return this.sure ? "Yes, delete it" : "Delete the job";
    },
    async deleteJob() {
      if (!this.sure) {
        this.sure = true;
        return;
      }
      await this.tried(async () => {
        await ask(this.path, { method: "DELETE" });
        window.location.assign("/");
      });
    },
    async openCard() {
      this.$refs.card.showModal();
      const told = await ask(`${this.path}/survival`).catch(() => []);
      this.survival = told.map((one) => {
        const short = one.sizes.filter((size) => !size.keeps);
        return {
          ...one,
          words: `${Math.round(one.share * 100)} %`,
          short: short.length ? short.map((size) => `${size.size_name}: ${size.text}`).join("; ") : "every size keeps it",
        };
      });
    },
    setCamera(event) {
      this.camera = event.target.value.trim() || "3:2";
    },
    get cardPdf() {
      return `/api/jobs/${this.$root.dataset.job}/framing-card?kind=pdf&camera=${this.camera}`;
    },
    get cardPng() {
      return `/api/jobs/${this.$root.dataset.job}/framing-card?kind=png&camera=${this.camera}`;
    },
    async tried(work) {
      this.trouble = "";
      try {
        await work();
      } catch (problem) {
        this.trouble = problem.message;
      }
    },
  }));
});
