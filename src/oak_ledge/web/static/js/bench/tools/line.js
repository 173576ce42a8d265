// A line drawn on the photo that shall be level or plumb.

import { pointerOn } from "../panes/panes.js";

export const line = {
  grab(bench, event) {
    const from = pointerOn(bench.$refs.whole, bench.wholeBox, event);
    return (dx, dy) => {
      const { scale } = bench.wholeBox;
      const to = { x: from.x + dx / scale, y: from.y + dy / scale };
      bench.drawnLine = [from, to];
      return { kind: "level", x0: from.x, y0: from.y, x1: to.x, y1: to.y };
    };
  },
  draw(bench) {
    const shown = bench.$refs.whole.querySelector("[data-part=level]");
    shown.style.display = bench.tool === "line" && bench.drawnLine ? "" : "none";
    if (!bench.drawnLine) return;
    const { scale, left, top } = bench.wholeBox;
    const [from, to] = bench.drawnLine;
    shown.setAttribute("d", `M${left + from.x * scale} ${top + from.y * scale}L${left + to.x * scale} ${top + to.y * scale}`);
  },
  cancel(bench) {
    bench.drawnLine = null;
  },
};
