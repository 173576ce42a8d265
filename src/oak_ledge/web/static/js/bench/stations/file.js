// The File station: made, measured, downloaded.

import { ask } from "../../net/ask.js";
import { followed } from "../../net/follow.js";

// What the page holds of it; the bench takes it over, getters and all.
export const filing = {
  making: false,

  get hasFile() {
    return Boolean(this.file && this.file.state === "made");
  },
  get fileHref() {
    return this.hasFile
      ? `/api/deliveries/${this.file.delivery_id}/files/${encodeURIComponent(this.file.name)}`
      : "#";
  },
  get fileWord() {
    if (this.making) return "";
    if (!this.file) return "Nothing made yet.";
    if (!this.hasFile) return `Not made: ${this.file.reason}`;
    return this.view.state === "made" ? this.file.name : `${this.file.name}, made before the last change`;
  },
  get makeWord() {
    if (this.making) return "Making and measuring";
    return this.hasFile ? "Make another" : "Make file";
  },
  get proof() {
    const words = { true: "as asked", false: "differs", null: "" };
    const kinds = { true: "is-fine", false: "is-stop", null: "" };
    return this.file
      ? this.file.proof.map((row) => ({ ...row, word: words[row.same], kind: kinds[row.same] }))
      : [];
  },

  async makeFile() {
    if (this.making) return;
    await this.small.settle();
    this.making = true;
    this.trouble = "";
    try {
      const body = { placement_ids: [this.view.id] };
      const delivery = await this.inTurn(() => ask(`/api/jobs/${this.view.job_id}/deliveries`, { method: "POST", body }));
      [this.file] = (await followed(delivery, () => {})).files;
      this.take(await ask(this.path));
      this.spoken = this.fileWord;
    } catch (problem) {
      this.trouble = problem.message;
    }
    this.making = false;
  },

  download() {
    if (this.hasFile) this.$refs.download.click();
  },
};
