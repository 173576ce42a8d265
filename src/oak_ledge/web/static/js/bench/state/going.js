// Going on: to the placement before or after, approved or as it is.

import { ask } from "../../net/ask.js";

// What the page holds of it; the bench takes it over, getters and all.
export const going = {
  async go(where) {
    if (!where) return;
    await this.small.settle();
    await this.inTurn(() => {});
    window.location.assign(where);
  },
  async settleNext() {
    await this.small.settle();
    try {
      await this.inTurn(() => ask(`${this.path}/settle`, { method: "POST", body: this.seen() }));
    } catch (problem) {
      const newer = this.newer(problem);
      if (newer) this.kept(newer);
      return;
    }
    window.location.assign(this.$root.dataset.after || this.$root.dataset.ledge);
  },
};
