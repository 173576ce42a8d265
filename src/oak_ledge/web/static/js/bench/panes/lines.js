// Composition lines over photo and piece, and other shapes over the photo; worked out by the server.

import { ask } from "../../net/ask.js";

const KINDS = ["none", "thirds", "golden", "diagonals", "both", "spiral", "centre", "grid", "margins"];

// What the page holds of it; the bench takes it over, getters and all.
export const lining = {
  lineKind: "none",
  lineWay: 0,
  lineName: "none",
  lineWays: 1,
  linesDrawn: "",
  shapesOf: "none",
  shapes: [],

  get shapesWord() {
    return { none: "none", size: "this job's", ratio: "common" }[this.shapesOf];
  },
  async nextShapes() {
    const order = ["none", "size", "ratio"];
    this.shapesOf = order[(order.indexOf(this.shapesOf) + 1) % order.length];
    await this.askShapes();
    if (this.shapesOf === "size" && !this.shapes.some((one) => one.of === "size")) await this.nextShapes();
  },
  // What lies about the crop is asked anew when the crop rests.
  async askShapes() {
    if (this.shapesOf !== "none") this.shapes = await ask(`${this.path}/shapes`).catch(() => []);
    this.drawShapes();
  },
  drawShapes() {
    const here = this.$refs.whole.querySelector("[data-part=shapes]");
    const { scale, left, top } = this.wholeBox;
    const shown = this.squaring ? [] : this.shapes.filter((one) => one.of === this.shapesOf);
    here.replaceChildren(
      ...shown.flatMap(({ name, crop, angle, trims }, n) => {
        const [x, y, width, height] = crop.map((value) => value * scale);
        const outline = element("rect", { x: left + x, y: top + y, width, height });
        outline.setAttribute("transform", `rotate(${angle} ${left + x + width / 2} ${top + y + height / 2})`);
        const label = element("text", { x: left + x + 6, y: top + y + 16 + 17 * n });
        label.textContent = `${name} trims ${Math.round(trims * 100)} %`;
        return [outline, label];
      }),
    );
  },

  recallLines() {
    const kept = localStorage.getItem("oak-ledge-lines");
    if (KINDS.includes(kept)) this.lineKind = kept;
    this.lineWay = Number(localStorage.getItem("oak-ledge-lines-way")) || 0;
  },
  get linesWord() {
    return this.lineKind === "none" ? "none" : this.lineName;
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
      const drawn = await ask(`/api/lines/${wanted}`).catch(() => null);
      if (!drawn || wanted !== this.linesDrawn) return;
      this.lineName = drawn.name;
      this.lineWays = drawn.ways;
      paths = drawn.paths;
    }
    for (const line of this.$refs.stage.querySelectorAll("[data-part=lines] path")) line.setAttribute("d", paths.join(""));
  },
};

function element(name, attributes) {
  const made = document.createElementNS("http://www.w3.org/2000/svg", name);
  for (const [key, value] of Object.entries(attributes)) made.setAttribute(key, String(value));
  return made;
}
