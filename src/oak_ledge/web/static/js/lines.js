// Composition lines over photo and piece: which, turned how; drawn by the server for the crop's ratio.

import { ask } from "./ask.js";

const KINDS = ["none", "thirds", "golden", "diagonals", "both", "spiral", "centre", "grid", "margins"];

// What the page holds of it; the bench takes it over, getters and all.
export const lining = {
  lineKind: "none",
  lineWay: 0,
  lineName: "none",
  lineWays: 1,
  linesDrawn: "",

  recallLines() {
    const kept = localStorage.getItem("oak-ledge-lines");
    if (KINDS.includes(kept)) this.lineKind = kept;
    this.lineWay = Number(localStorage.getItem("oak-ledge-lines-way")) || 0;
  },
  get linesWord() {
    return `Lines: ${this.lineKind === "none" ? "none" : this.lineName}`;
  },
  get noFlip() {
    return this.lineKind === "none" || this.lineWays < 2;
  },
  nextLines() {
    this.stepLines(1);
  },
  stepLines(by) {
    this.lineKind = KINDS[(KINDS.indexOf(this.lineKind) + by + KINDS.length) % KINDS.length];
    this.lineWay = 0;
    this.keepLines();
  },
  flipLines() {
    if (this.noFlip) return;
    this.lineWay = (this.lineWay + 1) % this.lineWays;
    this.keepLines();
  },
  keepLines() {
    localStorage.setItem("oak-ledge-lines", this.lineKind);
    localStorage.setItem("oak-ledge-lines-way", String(this.lineWay));
    this.drawLines();
  },
  // Asked anew only where the ratio, the kind or its way is another.
  async drawLines() {
    const [, , width, height] = this.view.crop;
    const wanted = `${this.lineKind}?ratio=${(width / height).toFixed(4)}&way=${this.lineWay}`;
    if (wanted === this.linesDrawn) return;
    this.linesDrawn = wanted;
    let paths = [];
    if (this.lineKind !== "none") {
      const told = await ask(`/api/lines/${wanted}`).catch(() => null);
      if (!told || wanted !== this.linesDrawn) return;
      this.lineName = told.name;
      this.lineWays = told.ways;
      paths = told.paths;
    }
    for (const line of this.$refs.stage.querySelectorAll("[data-part=lines] path")) line.setAttribute("d", paths.join(""));
  },
};
