// What a pointer takes hold of on the panes: the crop, its corners and edges, the photo under the piece.

import { tools } from "../tools/all.js";
import { handleAt, pointerOn } from "./panes.js";

const SLIP = 4; // CSS pixels; a press that moves less draws no new crop

// What the page holds of it; the bench takes it over, getters and all.
export const grabs = {
  grabWhole(event) {
    const scale = this.wholeBox.scale;
    if (this.turning) return null;
    if (event.ctrlKey || event.metaKey) return this.grabView(event);
    const tool = tools[this.tool];
    if (tool) return tool.grab(this, event);
    const at = event.target.closest("[data-at]")?.dataset.at;
    if (at) {
      const { x, y } = handleAt(this.view, at);
      return Object.assign(
        (dx, dy, now) => ({
          kind: "pull",
          at,
          x: x + dx / scale,
          y: y + dy / scale,
          centre: now.altKey,
          hold_ratio: now.shiftKey,
        }),
        { freely: true },
      );
    }
    if (!event.target.closest("[data-part=crop]")) return this.grabFresh(event);
    return (dx, dy) => ({ kind: "move", dx: dx / scale, dy: dy / scale });
  },
  // Beside the crop: a fresh one.
  grabFresh(event) {
    const { x, y } = pointerOn(this.$refs.whole, this.wholeBox, event);
    const { scale } = this.wholeBox;
    let begun = false;
    return Object.assign(
      (dx, dy, now) => {
        begun ||= Math.hypot(dx, dy) >= SLIP;
        if (!begun) return null;
        const [x1, y1] = [x + dx / scale, y + dy / scale];
        return { kind: "draw", x0: x, y0: y, x1, y1, centre: now.altKey, hold_ratio: now.shiftKey };
      },
      { freely: true },
    );
  },
  grabPiece(event) {
    if (this.turning) return null;
    if (event.ctrlKey || event.metaKey) return this.grabView(event);
    const { across, along } = this.pieceBox;
    return (dx, dy) => ({ kind: "slide", dx: dx / across, dy: dy / along });
  },
  wheel(event) {
    event.preventDefault();
    const turned = event.deltaY || event.deltaX; // Shift may turn the wheel sideways
    const factor = Math.min(1.2, Math.max(0.8, 1.0015 ** turned));
    if (event.shiftKey) this.small.add({ kind: "scale", factor: turned > 0 ? 1.02 : 1 / 1.02 });
    else this.zoomBy(event, 1 / factor ** 2);
  },
};
