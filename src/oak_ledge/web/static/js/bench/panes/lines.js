// Composition lines over photo and piece, and other shapes over the photo; worked out by the server.

import { ask } from "../../net/ask.js";

const KINDS = ["none", "thirds", "golden", "diagonals", "both", "spiral", "centre", "grid", "margins", "headroom", "quiet"];

// A part of the bench, which it knows as `this.bench`.
export const lines = {
  kind: "none",
  way: 0,
  name: "none",
  ways: 1,
  drawn: "",
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
    if (this.shapesOf !== "none") this.shapes = await ask(`${this.bench.path}/shapes`).catch(() => []);
    this.drawShapes();
  },
  drawShapes() {
    const here = this.bench.$refs.whole.querySelector("[data-part=shapes]");
    const { scale, left, top } = this.bench.wholeBox;
    const shown = this.bench.level.squaring ? [] : this.shapes.filter((one) => one.of === this.shapesOf);
    here.replaceChildren(
      ...shown.flatMap(({ name, crop, angle, trims, frames }, n) => {
        const [x, y, width, height] = crop.map((value) => value * scale);
        const outline = element("rect", { x: left + x, y: top + y, width, height });
        outline.setAttribute("transform", `rotate(${angle} ${left + x + width / 2} ${top + y + height / 2})`);
        const label = element("text", { x: left + x + 6, y: top + y + 16 + 17 * n });
        label.textContent = `${name}${frames && ` · ${frames}`} · trims ${Math.round(trims * 100)} %`;
        return [outline, label];
      }),
    );
  },

  recall() {
    const kept = localStorage.getItem("oak-ledge-lines");
    if (KINDS.includes(kept)) this.kind = kept;
    this.way = Number(localStorage.getItem("oak-ledge-lines-way")) || 0;
  },
  get word() {
    return this.kind === "none" ? "none" : this.name;
  },
  get noFlip() {
    return this.kind === "none" || this.ways < 2;
  },
  next() {
    this.step(1);
  },
  step(by) {
    this.kind = KINDS[(KINDS.indexOf(this.kind) + by + KINDS.length) % KINDS.length];
    this.way = 0;
    this.keep();
  },
  flip() {
    if (this.noFlip) return;
    this.way = (this.way + 1) % this.ways;
    this.keep();
  },
  keep() {
    localStorage.setItem("oak-ledge-lines", this.kind);
    localStorage.setItem("oak-ledge-lines-way", String(this.way));
    this.draw();
  },
  // Asked anew only where the ratio, the kind or its way is another.
  async draw() {
    if (this.kind === "quiet") return this.drawQuiet();
    const [, , width, height] = this.bench.view.crop;
    const wanted = `${this.kind}?ratio=${(width / height).toFixed(4)}&way=${this.way}`;
    if (wanted === this.drawn) return;
    this.drawn = wanted;
    let paths = [];
    if (this.kind !== "none") {
      const drawn = await ask(`/api/lines/${wanted}`).catch(() => null);
      if (!drawn || wanted !== this.drawn) return;
      this.name = drawn.name;
      this.ways = drawn.ways;
      paths = drawn.paths;
    }
    this.put(paths);
  },
  put(paths) {
    for (const line of this.bench.$refs.stage.querySelectorAll("[data-part=lines] path")) line.setAttribute("d", paths.join(""));
  },
  // Where the piece is quiet follows from its picture: it is asked anew when the crop rests.
  async drawQuiet() {
    const { view, moving, path } = this.bench;
    const wanted = `quiet ${this.way} ${view.sentence} ${JSON.stringify(view.crop)}`;
    if (moving || wanted === this.drawn) return;
    this.drawn = wanted;
    const drawn = await ask(`${path}/quiet?way=${this.way}`).catch(() => null);
    if (!drawn || wanted !== this.drawn) return;
    this.name = drawn.name;
    this.ways = drawn.ways;
    this.put(drawn.paths);
  },
};

function element(name, attributes) {
  const made = document.createElementNS("http://www.w3.org/2000/svg", name);
  for (const [key, value] of Object.entries(attributes)) made.setAttribute(key, String(value));
  return made;
}
