// Looking nearer at a pane, which changes nothing of the placement.

import { FIT, nearer } from "./panes.js";

const MOST = 8; // screen pixels to one of the picture

// Device pixels: a picture's own are shown one to one of them.
const one = () => 1 / window.devicePixelRatio;

// Above true pixels a picture is shown in whole multiples of them; one that is stepped to goes on.
function wholeTimes(wish, now, step) {
  if (wish <= 1 + 1e-6) return wish;
  const whole = Math.round(wish);
  if (step > 1) return Math.min(MOST, Math.max(whole, Math.floor(now + 1e-6) + 1));
  if (step < 1) return Math.max(1, Math.min(whole, Math.ceil(now - 1e-6) - 1));
  return whole;
}

// What the page holds of it; the bench takes it over, getters and all.
export const zoom = {
  zooms: { whole: FIT, piece: FIT },
  wishes: { whole: null, piece: null },

  get zoomed() {
    return Object.values(this.zooms).some(({ z, x, y }) => z > 1 || x !== 0 || y !== 0);
  },
  paneOf(event) {
    return this.$refs.piece.contains(event.target) ? "piece" : "whole";
  },
  // CSS pixels to one of the picture in a pane.
  shownAt(pane) {
    return pane === "piece" ? this.pieceBox.across : this.wholeBox.scale;
  },
  // `steps` goes on by one whole multiple at least; without it small turns of a wheel add up.
  zoomAt(pane, at, factor, steps = false) {
    const now = this.shownAt(pane) / one();
    const wish = Math.min(MOST, (steps ? now : this.wishes[pane] ?? now) * factor);
    const { left, top } = this.$refs[pane].getBoundingClientRect();
    const to = wholeTimes(wish, now, steps ? factor : 1) / now;
    this.setZoom(pane, nearer(this.zooms[pane], to, { x: at.x - left, y: at.y - top }));
    this.wishes[pane] = this.zooms[pane].z > 1 ? wish : null;
  },
  zoomBy(event, factor) {
    this.zoomAt(this.paneOf(event), { x: event.clientX, y: event.clientY }, factor);
  },
  middleOf(pane) {
    const { left, top, width, height } = this.$refs[pane].getBoundingClientRect();
    return { x: left + width / 2, y: top + height / 2 };
  },
  // By keys: both panes nearer or further about their middles.
  look(factor) {
    for (const pane of ["whole", "piece"]) this.zoomAt(pane, this.middleOf(pane), factor, true);
  },
  setZoom(pane, zoom) {
    this.zooms = { ...this.zooms, [pane]: zoom };
    this.wishes[pane] = null;
    this.$refs[pane].classList.toggle("is-zoomed", zoom.z > 1);
    this.redraw();
  },
  // One pixel of the photo, or of the file, to one of the screen; and back.
  truePixels(pane, event) {
    if (this.zooms[pane].z > 1) return this.setZoom(pane, FIT);
    const at = event ? { x: event.clientX, y: event.clientY } : this.middleOf(pane);
    const to = one() / this.shownAt(pane);
    if (to > 1.001) return this.zoomAt(pane, at, to);
    return this.zoomAt(pane, at, 2, true); // it is shown so already: then twice
  },
  lookTrue() {
    this.truePixels("piece");
  },
  fitAll() {
    this.setZoom("whole", FIT);
    this.setZoom("piece", FIT);
  },
  grabView(event) {
    const pane = this.paneOf(event);
    const begun = this.zooms[pane];
    return Object.assign(
      (dx, dy) => {
        this.pushTo(pane, begun, dx, dy);
        return null;
      },
      { freely: true, ended: () => {} },
    );
  },
  pushTo(pane, from, dx, dy) {
    if (from.z > 1 || (pane === "piece" && this.wall.shown)) this.setZoom(pane, { ...from, x: from.x + dx, y: from.y + dy });
  },
  // Two fingers look, or turn the crop; they never move or draw one.
  fingers(pane) {
    const name = pane === this.$refs.piece ? "piece" : "whole";
    let [was, last] = [0, null];
    return {
      begun: () => {
        for (const drag of this.drags) if (drag.busy()) drag.leave();
        was = this.view.placement.angle;
        last = null;
      },
      looked: ({ at, factor, dx, dy }) => {
        this.zoomAt(name, at, factor);
        this.pushTo(name, this.zooms[name], dx, dy);
      },
      turned: (degrees) => {
        last = this.turnedTo(was + (name === "piece" ? -degrees : degrees));
        this.hands.during(last);
      },
      ended: () => {
        if (last) this.keep(last);
        last = null;
      },
    };
  },
};
