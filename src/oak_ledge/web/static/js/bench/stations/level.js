// The Level station: a line drawn, an angle, quarters, mirror, and four corners squared up.

import { CORNERS } from "../panes/panes.js";

const INSET = 0.15; // where corners begin: so far in from the photo's edges
const NAMES = Object.keys(CORNERS);

// A part of the bench, which it knows as `this.bench`.
export const level = {
  quad: null,
  lens: null,

  get levelWord() {
    return this.bench.tool === "level" ? "Now draw it on the photo" : "Draw a line";
  },
  get squareWord() {
    return this.bench.tool === "square" ? "Done" : "Square up";
  },
  get squaring() {
    return this.bench.tool === "square";
  },
  // Corners that are in effect already need no taking.
  get squaringAnew() {
    return this.squaring && String(this.quad) !== String(this.bench.view.lying.corners);
  },
  get isSquared() {
    return this.bench.view.lying.corners !== null;
  },
  get squaredRests() {
    return this.isSquared && !this.squaring;
  },
  get squaredWord() {
    if (this.bench.view.squared) return this.bench.view.squared;
    return this.squaring ? "Set the corners of what should be a rectangle, or take them as they are." : "";
  },
  useLevel() {
    this.bench.openStation("Level");
    this.bench.use("level");
  },
  slideAngle(event) {
    this.bench.hands.during({ kind: "angle", angle: Number(event.target.value) });
  },
  setAngle(event) {
    const angle = Number(event.target.value.trim().replace(",", ".").replace("°", ""));
    if (!Number.isFinite(angle) || event.target.value.trim() === "") {
      this.bench.trouble = `“${event.target.value}” is not an angle. Write degrees, like 2.5 or −0.35.`;
      return;
    }
    event.target.blur();
    this.bench.keep({ kind: "angle", angle });
  },
  quarter(event) {
    this.bench.keep({ kind: "quarter", by: Number(event.currentTarget.dataset.by) });
  },
  mirror() {
    this.bench.keep({ kind: "mirror" });
  },

  // --- four corners

  useSquare() {
    this.bench.openStation("Level");
    const [wide, high] = this.bench.view.photo_extent;
    const [x, y] = [wide * INSET, high * INSET];
    this.quad = this.bench.view.lying.corners ?? [[x, y], [wide - x, y], [wide - x, high - y], [x, high - y]];
    this.bench.use("square");
  },
  takeCorners() {
    this.bench.keep({ kind: "square", corners: this.quad, fit: this.bench.view.lying.fit_corners });
  },
  setFit(event) {
    const fit = event.target.checked;
    this.bench.keep({ kind: "square", corners: this.bench.view.lying.corners, fit });
  },
  leaveSquare() {
    if (this.squaring) this.bench.use("square");
    this.bench.keep({ kind: "square", corners: null });
  },
  withCorner(name, x, y) {
    return this.quad.map((corner, n) => (NAMES[n] === name ? [x, y] : corner));
  },
  grabCorner(name) {
    const [x, y] = this.quad[NAMES.indexOf(name)];
    return Object.assign(
      (dx, dy) => {
        const { scale } = this.bench.wholeBox;
        this.quad = this.withCorner(name, x + dx / scale, y + dy / scale);
        this.lens = name;
        this.bench.draw();
        return { kind: "square", corners: this.quad, fit: this.bench.view.lying.fit_corners };
      },
      { freely: true },
    );
  },
  nudgeCorner(name, dx, dy) {
    const [x, y] = this.quad[NAMES.indexOf(name)];
    this.quad = this.withCorner(name, x + dx, y + dy);
    this.lens = name;
    this.bench.draw();
    clearTimeout(this.cornerRest);
    this.cornerRest = setTimeout(() => this.takeCorners(), 350);
  },
};
