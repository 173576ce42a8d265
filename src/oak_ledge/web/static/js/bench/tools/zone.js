// A keep zone, or a line that must not be cut, drawn on the photo.

import { pointerOn } from "../panes/panes.js";

// The drawing itself is told to the server once, when the hand lets go.
const drawing = (kind) => ({
  grab(bench, event) {
    const from = pointerOn(bench.$refs.whole, bench.wholeBox, event);
    return Object.assign(
      (dx, dy) => {
        const { scale } = bench.wholeBox;
        bench.drawnZone = { kind, x0: from.x, y0: from.y, x1: from.x + dx / scale, y1: from.y + dy / scale };
        bench.photo.drawZones();
        return null;
      },
      { ended: (keep) => bench.photo.keepZone(keep) },
    );
  },
});

export const zone = drawing("zone");
export const mark = drawing("mark");
