// What lies on a sheet and how it is laid out: counts, places by number, the paper, making it.

import { rounded } from "../hand/figures.js";
import { ask } from "../net/ask.js";

// A figure as it is typed, with comma or point; an empty field is none.
const numberOf = (text) => (text.trim() === "" ? NaN : Number(text.replace(",", ".")));

// What the page holds of it.
export const laying = {
  making: false,
  keptWord: "",
  sure: false,

  get packs() {
    return this.view.layout.cells === "";
  },
  get divides() {
    return !this.packs;
  },
  get severalPages() {
    return this.view.pages > 1;
  },
  get firstPage() {
    return this.page === 0;
  },
  get lastPage() {
    return this.page >= this.view.pages - 1;
  },
  get heading() {
    return this.severalPages ? `${this.view.name}, page ${this.page + 1} of ${this.view.pages}` : this.view.name;
  },
  turnPage(by) {
    this.page = Math.min(this.view.pages - 1, Math.max(0, this.page + by));
    this.chosen = null;
    this.draw();
  },
  pageBefore() {
    this.turnPage(-1);
  },
  pageAfter() {
    this.turnPage(1);
  },
  get pageWords() {
    return this.view.words[this.page] ?? "";
  },
  get onItWord() {
    const count = this.view.pieces.length;
    return count === 1 ? "On it: 1 piece" : `On it: ${count} pieces`;
  },
  get listed() {
    return this.view.counted.map((one) => ({
      ...one,
      key: `${one.placement_id} ${one.count} ${one.word}`,
      name: `${one.photo}, ${one.size}`,
      countLabel: `How many of ${one.photo}, ${one.size}`,
      bench: this.benchOf(one.placement_id),
      mark: this.chosenPiece?.placement_id === one.placement_id ? "is-chosen" : "",
    }));
  },
  benchOf(id) {
    return `/jobs/${this.view.job_id}/bench/${id}?sheet=${this.view.id}`;
  },

  // --- the chosen piece

  get chosenPiece() {
    return this.chosen === null ? null : (this.view.pieces[this.chosen] ?? null);
  },
  get chosenName() {
    const one = this.chosenPiece;
    return one ? one.photo + (one.panel ? `, panel ${one.panel}` : "") : "";
  },
  get chosenSize() {
    return this.chosenPiece?.size ?? "";
  },
  get chosenX() {
    return this.chosenPiece ? rounded(this.chosenPiece.x, 3) : "";
  },
  get chosenY() {
    return this.chosenPiece ? rounded(this.chosenPiece.y, 3) : "";
  },
  get chosenWhy() {
    return this.chosenPiece?.why ?? "";
  },
  get chosenBench() {
    return this.chosenPiece ? this.benchOf(this.chosenPiece.placement_id) : "";
  },
  get isOff() {
    return this.chosenPiece?.page === null;
  },
  get turnable() {
    return this.packs && !this.isOff;
  },
  chooseListed(event) {
    const id = Number(event.currentTarget.dataset.id);
    const one = this.view.pieces.find((piece) => piece.placement_id === id);
    if (!one) return;
    if (one.page !== null && one.page !== this.page) this.page = one.page;
    this.chosen = one.n;
    this.draw();
  },
  typeAt(event) {
    const { at } = event.target.dataset;
    const value = numberOf(event.target.value);
    const one = this.chosenPiece;
    if (!Number.isFinite(value)) {
      this.trouble = `“${event.target.value}” is not a number of ${this.view.unit}.`;
      event.target.value = rounded(one[at], 3);
      return undefined;
    }
    return this.change({ kind: "move", n: one.n, x: one.x, y: one.y, snap: false, [at]: value });
  },
  turnChosen() {
    return this.turnable ? this.change({ kind: "turn", n: this.chosen }) : undefined;
  },
  putChosenOn() {
    return this.change({ kind: "put_on", n: this.chosen });
  },
  takeChosenOff() {
    return this.change({ kind: "take_off", n: this.chosen });
  },

  // --- what lies on it

  setCount(event) {
    const { target } = event;
    const id = Number(target.dataset.id);
    const count = numberOf(target.value);
    if (!Number.isInteger(count) || count < 0 || count > 500) {
      this.trouble = "Say how many: a whole number up to 500.";
      target.value = this.view.counted.find((one) => one.placement_id === id).count; // it is as it was
      return undefined;
    }
    return this.change({ kind: "count", placement_id: id, count });
  },
  addPiece(event) {
    const id = Number(event.target.value);
    event.target.value = "";
    return id ? this.change({ kind: "add", placement_ids: [id] }) : undefined;
  },
  packAll() {
    return this.change({ kind: "pack" });
  },

  // --- the paper

  setPaper(event) {
    return this.lay({ paper: event.target.value }, event.target, this.view.layout.paper);
  },
  async turnPaper() {
    const [, wide, high, rest] = this.view.layout.paper.match(/^([\d.\s/]+?)x([\d.\s/]+?)((?:in|cm|mm|px).*)$/) ?? [];
    if (wide) await this.lay({ paper: `${high}x${wide}${rest}` });
  },
  setLay(event) {
    const { target } = event;
    const { lay } = target.dataset;
    const value = target.type === "checkbox" ? target.checked : target.value;
    const was = lay === "made_as" ? this.view.layout.kind : this.view.layout[lay];
    return this.lay({ [lay]: value }, target, was);
  },
  async lay(said, field, was) {
    await this.change({ kind: "layout", ...said });
    if (!this.trouble || !field) return;
    if (field.type === "checkbox") field.checked = was; // it is as it was
    else field.value = was;
  },

  // --- made, kept, deleted

  get noPdf() {
    return this.view.unit === "px";
  },
  get madeIn() {
    return this.view.made_in !== null;
  },
  get madeHref() {
    return `/deliveries/${this.view.made_in}`;
  },
  async make() {
    this.making = true;
    await this.tried(() =>
      this.inTurn(async () => {
        const made = await ask(`${this.path}/make`, { method: "POST", body: {} });
        window.location.assign(`/deliveries/${made.id}`);
      }),
    );
    this.making = false;
  },
  async keepLayout() {
    this.keptWord = "";
    await this.tried(async () => {
      const body = { sheet_id: this.view.id, name: this.$refs.layoutName.value || this.view.name };
      const kept = await ask("/api/sheet-layouts", { method: "POST", body });
      this.keptWord = `Kept as “${kept.name}”. The next sheet can be laid out like this.`;
    });
  },
  get removeWord() {
    return this.sure ? "Delete it now; its pieces and files stay" : "Delete the sheet";
  },
  async remove() {
    if (!this.sure) {
      this.sure = true;
      return;
    }
    await this.tried(async () => {
      await ask(this.path, { method: "DELETE" });
      window.location.assign(`/jobs/${this.view.job_id}`);
    });
  },
};
