// A line drawn on the photo that shall be level or plumb.

import { pointerOn } from "../panes/panes.js";

export const level = {
  grab(bench, event) {
    const from = pointerOn(bench.$refs.whole, bench.wholeBox, event);
    return (dx, dy) => {
      const { scale } = bench.wholeBox;
      const to = { x: from.x + dx / scale, y: from.y + dy / scale };
      bench.levelLine = [from, to];
      return { kind: "level", x0: from.x, y0: from.y, x1: to.x, y1: to.y };
    };
  },
  draw(bench) {
    const shown = bench.$refs.whole.querySelector("[data-part=level]");
    shown.style.display = bench.tool === "level" && bench.levelLine ? "" : "none";
    if (!bench.levelLine) return;
    const { scale, left, top } = bench.wholeBox;
    const [from, to] = bench.levelLine;
    shown.setAttribute("d", `M${left + from.x * scale} ${top + from.y * scale}L${left + to.x * scale} ${top + to.y * scale}`);
  },
  cancel(bench) {
    bench.levelLine = null;
  },
};
