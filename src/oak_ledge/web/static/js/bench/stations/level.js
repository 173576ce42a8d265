// The Level station: a line drawn, an angle, quarters, mirror, and four corners squared up.

import { CORNERS } from "../panes/panes.js";

const INSET = 0.15; // where corners begin: so far in from the photo's edges
const NAMES = Object.keys(CORNERS);

// What the page holds of it; the bench takes it over, getters and all.
export const levelling = {
  tool: null, // what the next drag on the whole photo does: null, "level", "square", "pick"
  quad: null,
  lens: null,

  use(tool) {
    this.tool = this.tool === tool ? null : tool;
    this.$refs.whole.dataset.tool = this.tool ?? "";
    this.trouble = "";
    this.redraw();
  },
  get levelWord() {
    return this.tool === "level" ? "Now draw it on the photo" : "Draw a line";
  },
  get squareWord() {
    return this.tool === "square" ? "Done" : "Square up";
  },
  get squaring() {
    return this.tool === "square";
  },
  get isSquared() {
    return this.view.lying.corners !== null;
  },
  get squaredRests() {
    return this.isSquared && !this.squaring;
  },
  get squaredWord() {
    if (this.view.squared) return this.view.squared;
    return this.squaring ? "Set the corners of what should be a rectangle, or take them as they are." : "";
  },
  useLevel() {
    this.openStation("Level");
    this.use("level");
  },
  slideAngle(event) {
    this.hands.during({ kind: "angle", angle: Number(event.target.value) });
  },
  setAngle(event) {
    const angle = Number(event.target.value.trim().replace(",", ".").replace("°", ""));
    if (!Number.isFinite(angle) || event.target.value.trim() === "") {
      this.trouble = `“${event.target.value}” is not an angle. Write degrees, like 2.5 or −0.35.`;
      return;
    }
    event.target.blur();
    this.keep({ kind: "angle", angle });
  },
  quarter(event) {
    this.keep({ kind: "quarter", by: Number(event.currentTarget.dataset.by) });
  },
  mirror() {
    this.keep({ kind: "mirror" });
  },

  // --- four corners

  useSquare() {
    this.openStation("Level");
    const [wide, high] = this.view.photo_extent;
    const [x, y] = [wide * INSET, high * INSET];
    this.quad = this.view.lying.corners ?? [[x, y], [wide - x, y], [wide - x, high - y], [x, high - y]];
    this.use("square");
  },
  takeCorners() {
    this.keep({ kind: "square", corners: this.quad, fit: this.view.lying.fit_corners });
  },
  setFit(event) {
    const fit = event.target.checked;
    this.keep({ kind: "square", corners: this.view.lying.corners, fit });
  },
  leaveSquare() {
    if (this.squaring) this.use("square");
    this.keep({ kind: "square", corners: null });
  },
  withCorner(name, x, y) {
    return this.quad.map((corner, n) => (NAMES[n] === name ? [x, y] : corner));
  },
  grabCorner(name) {
    const [x, y] = this.quad[NAMES.indexOf(name)];
    return Object.assign(
      (dx, dy) => {
        const { scale } = this.wholeBox;
        this.quad = this.withCorner(name, x + dx / scale, y + dy / scale);
        this.lens = name;
        this.draw();
        return { kind: "square", corners: this.quad, fit: this.view.lying.fit_corners };
      },
      { freely: true },
    );
  },
  nudgeCorner(name, dx, dy) {
    const [x, y] = this.quad[NAMES.indexOf(name)];
    this.quad = this.withCorner(name, x + dx, y + dy);
    this.lens = name;
    this.draw();
    clearTimeout(this.cornerRest);
    this.cornerRest = setTimeout(() => this.takeCorners(), 350);
  },
};
