// What a pointer takes hold of on the panes: the crop, its corners and edges, the photo under the piece.

import { rememberedGround } from "../choices.js";
import { tools } from "../tools/all.js";
import { angleUnder, handleAt, isWithin, pointerOn } from "./panes.js";

// CSS pixels: what is drawn no larger is a slip of the hand.
const SLIP = 12;
// CSS pixels an edge is pulled on past where the photo stops it, before it reaches beyond.
const GIVES_WAY = 24;

// What the page holds of it; the bench takes it over, getters and all.
export const grabs = {
  drawAsked: false, // a drag beside a crop that was worked on: may it be lost?

  grabWhole(event) {
    if (this.turning) return null;
    if (event.ctrlKey || event.metaKey) return this.grabView(event);
    const tool = tools[this.tool];
    if (tool) return tool.grab(this, event);
    const point = event.target.closest("[data-head]")?.dataset.head;
    if (point) return this.head.grab(point);
    const face = event.target.closest("[data-face]")?.dataset.face;
    if (face) return this.grabFace(Number(face));
    if (event.target.closest("[data-turn-handle]")) return this.grabPlumb(event);
    const at = event.target.closest("[data-at]")?.dataset.at;
    if (at) return this.grabHandle(at);
    const inside = event.target.closest("[data-part=crop]") !== null;
    const onPhoto = isWithin(this.view.outline, pointerOn(this.$refs.whole, this.wholeBox, event));
    if (inside && (this.view.has_room || !onPhoto)) return this.grabCrop();
    if (!onPhoto) return this.grabNothing(() => (this.trouble = "Begin on the photo to draw a crop."));
    if (!inside && this.view.worked_on) return this.grabNothing(() => (this.drawAsked = true));
    return this.grabFresh(event);
  },
  // A press on one of several faces chooses it.
  grabFace(n) {
    return Object.assign(() => null, { freely: true, ended: (keep) => keep && this.head.pick(n) });
  },
  grabCrop() {
    const { scale } = this.wholeBox;
    return (dx, dy) => ({ kind: "move", dx: dx / scale, dy: dy / scale });
  },
  grabHandle(at) {
    const { scale } = this.wholeBox;
    const { x, y } = handleAt(this.view, at);
    const ground = rememberedGround();
    return Object.assign(
      (dx, dy, now) => ({
        kind: "pull",
        at,
        x: x + dx / scale,
        y: y + dy / scale,
        centre: now.altKey,
        hold_ratio: now.shiftKey,
        gives_way: GIVES_WAY / scale,
        ...(ground && { ground }),
      }),
      { freely: true },
    );
  },
  // The bob below the crop turns it about its middle; with Shift in whole degrees.
  grabPlumb(event) {
    const { scale } = this.wholeBox;
    const from = pointerOn(this.$refs.whole, this.wholeBox, event);
    const was = this.view.placement.angle;
    const [left, top, width, height] = this.view.crop;
    const middle = { x: left + width / 2, y: top + height / 2 };
    const begun = angleUnder(middle, from);
    return Object.assign(
      (dx, dy, now) => {
        const turned = was + angleUnder(middle, { x: from.x + dx / scale, y: from.y + dy / scale }) - begun;
        return this.turnedTo(now.shiftKey ? Math.round(turned) : turned);
      },
      { freely: true },
    );
  },
  turnedTo(angle) {
    const within = ((((angle + 180) % 360) + 360) % 360) - 180; // from −180 up to 180
    return { kind: "angle", angle: Number((within === -180 ? 180 : within).toFixed(2)), hold_size: true };
  },
  // A drag that draws nothing says so once it is one.
  grabNothing(say) {
    return Object.assign(
      (dx, dy) => {
        if (Math.max(Math.abs(dx), Math.abs(dy)) >= SLIP) say();
        return null;
      },
      { freely: true, ended: () => {} },
    );
  },
  grabFresh(event) {
    const { x, y } = pointerOn(this.$refs.whole, this.wholeBox, event);
    const { scale } = this.wholeBox;
    return Object.assign(
      (dx, dy, now) => {
        const grows = now.altKey ? 2 : 1;
        const small = (this.view.ratio_open && !now.shiftKey ? Math.min : Math.max)(Math.abs(dx), Math.abs(dy));
        if (small * grows < SLIP) return null;
        const [x1, y1] = [x + dx / scale, y + dy / scale];
        return { kind: "draw", x0: x, y0: y, x1, y1, centre: now.altKey, hold_ratio: now.shiftKey };
      },
      { freely: true },
    );
  },
  // The next drag draws, wherever it begins.
  useDraw() {
    this.drawAsked = false;
    this.openStation("Crop");
    if (this.tool !== "draw") this.use("draw");
    this.$refs.whole.focus({ preventScroll: true });
  },
  leaveDraw() {
    this.drawAsked = false;
  },
  get noteShown() {
    return this.crop.notAsked && !this.drawAsked;
  },
  get drawWord() {
    return this.tool === "draw" ? "Now draw it on the photo" : "Draw";
  },
  grabPiece(event) {
    if (this.turning) return null;
    if (event.ctrlKey || event.metaKey) return this.grabView(event);
    const edge = event.target.closest("[data-border]")?.dataset.border;
    if (edge) return this.grabBorder(edge);
    const point = event.target.closest("[data-outline-point]");
    if (point) return this.outline.grabPoint(Number(point.dataset.outlinePoint));
    if (this.outline.drawing) return this.outline.grab(event);
    if (event.target.closest("[data-part=mark]")) return this.mark.grab();
    const { across, along } = this.pieceBox;
    return (dx, dy) => ({ kind: "slide", dx: dx / across, dy: dy / along });
  },
  // An edge of the picture within its border: that side of the border follows the hand.
  grabBorder(side) {
    const { across, along } = this.pieceBox;
    const [x, y, wide, high] = this.view.inner;
    const [width, height] = [this.view.picture[0] / wide, this.view.picture[1] / high];
    const was = { left: x * width, top: y * height, right: (1 - x - wide) * width, bottom: (1 - y - high) * height }[side];
    const by = { left: (dx) => dx / across, right: (dx) => -dx / across, top: (_, dy) => dy / along, bottom: (_, dy) => -dy / along }[side];
    return Object.assign((dx, dy) => ({ kind: "border", side, to: Math.max(0, was + by(dx, dy)) }), { freely: true });
  },
  wheel(event) {
    event.preventDefault();
    const turned = event.deltaY || event.deltaX; // Shift may turn the wheel sideways
    const factor = Math.min(1.2, Math.max(0.8, 1.0015 ** turned));
    if (event.shiftKey) this.small.add({ kind: "scale", factor: turned > 0 ? 1.02 : 1 / 1.02 });
    else this.zoomBy(event, 1 / factor ** 2);
  },
};
