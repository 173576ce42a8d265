// Looking nearer at a pane, which changes nothing of the placement.

import { FIT, nearer } from "./panes.js";

// What the page holds of it; the bench takes it over, getters and all.
export const zoom = {
  zooms: { whole: FIT, piece: FIT },

  get zoomed() {
    return Object.values(this.zooms).some(({ z, x, y }) => z > 1 || x !== 0 || y !== 0);
  },
  paneOf(event) {
    return this.$refs.piece.contains(event.target) ? "piece" : "whole";
  },
  zoomBy(event, factor) {
    const pane = this.paneOf(event);
    const { left, top } = this.$refs[pane].getBoundingClientRect();
    const at = { x: event.clientX - left, y: event.clientY - top };
    this.setZoom(pane, nearer(this.zooms[pane], factor, at));
  },
  // By keys: both panes nearer or further about their middles.
  look(factor) {
    for (const pane of ["whole", "piece"]) {
      const { clientWidth: wide, clientHeight: high } = this.$refs[pane];
      this.setZoom(pane, nearer(this.zooms[pane], factor, { x: wide / 2, y: high / 2 }));
    }
  },
  setZoom(pane, zoom) {
    this.zooms = { ...this.zooms, [pane]: zoom };
    this.$refs[pane].classList.toggle("is-zoomed", zoom.z > 1);
    this.redraw();
  },
  // One pixel of the photo, or of the file, to one of the screen; and back.
  truePixels(event) {
    const pane = this.paneOf(event);
    const shown = pane === "piece" ? this.pieceBox.across : this.wholeBox.scale;
    if (this.zooms[pane].z > 1) this.setZoom(pane, FIT);
    else this.zoomBy(event, Math.max(1.5, 1 / shown));
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
        if (begun.z > 1 || (pane === "piece" && this.wall.shown)) this.setZoom(pane, { ...begun, x: begun.x + dx, y: begun.y + dy });
        return null;
      },
      { freely: true, ended: () => {} },
    );
  },
};
