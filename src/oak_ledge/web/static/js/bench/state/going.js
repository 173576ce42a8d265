// Going on: to the placement before or after, approved or as it is.

import { ask, bringIn } from "../../net/ask.js";

// What the page holds of it; the bench takes it over, getters and all.
export const going = {
  // Photos dropped or pasted here become the job's; they stand behind the others in the queue.
  async bring(files) {
    if (!files.length) return;
    this.trouble = "";
    this.spoken = files.length === 1 ? "Bringing in a photo." : `Bringing in ${files.length} photos.`;
    await this.small.settle();
    try {
      const { photos, refused } = await bringIn(files, () => {});
      const photo_ids = photos.map((photo) => photo.id);
      if (photo_ids.length) await this.inTurn(() => ask(`/api/jobs/${this.view.job_id}/members`, { method: "POST", body: { photo_ids } }));
      if (refused.length) this.trouble = `${refused[0].name} was not taken in. ${refused[0].reason}`;
      else window.location.reload(); // with the queue as it is now
    } catch (problem) {
      this.trouble = problem.message;
    }
  },
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
