// Eyes, chin and crown, set by one click each.

import { pointerOn } from "../panes/panes.js";

export const head = {
  grab(bench, event) {
    const { x, y } = pointerOn(bench.$refs.whole, bench.wholeBox, event);
    bench.head.place([x, y]);
    return null;
  },
  cancel(bench) {
    bench.head.placing = [];
  },
};
