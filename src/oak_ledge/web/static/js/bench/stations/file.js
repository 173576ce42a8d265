// The File station: made, measured, downloaded.

import { ask } from "../../net/ask.js";
import { followed } from "../../net/follow.js";

// What the page holds of it; the bench takes it over, getters and all.
export const filing = {
  making: false,
  earlier: [],

  get lossy() {
    return !["png", "tiff"].includes(this.view.file.format);
  },
  get limited() {
    return this.lossy && this.view.limit !== "";
  },
  get metadataKept() {
    const { metadata, location } = this.view.file;
    return metadata === "keep" && !location ? "no-place" : metadata;
  },
  // What is settled is kept at once, for this piece or for all on its size.
  async setFile(event) {
    const { dataset, value } = event.target;
    const said = value.trim();
    const asked = { [dataset.file]: said };
    if (dataset.file === "metadata") Object.assign(asked, { metadata: said === "no-place" ? "keep" : said, location: said !== "no-place" });
    if (dataset.file === "at_most" && !said) Object.assign(asked, { at_most: null, no_limit: true });
    if (["quality", "floor"].includes(dataset.file)) {
      const quality = Number(said);
      if (!Number.isInteger(quality) || quality < 1 || quality > 100) {
        this.trouble = `“${said}” is no quality. Write a whole number from 1 to 100.`;
        event.target.value = this.view.file[dataset.file];
        return;
      }
      asked[dataset.file] = quality;
    }
    if (event.target.matches("select")) event.target.blur(); // so that keys mean the bench again
    await this.small.settle();
    await this.call("/file", () => ({ ...asked, for_all: this.$refs.fileForAll.checked, step: this.view.step }));
    if (this.trouble) event.target.value = dataset.file === "at_most" ? this.view.limit : this.view.file[dataset.file];
  },
  async openProof() {
    this.$refs.proof.showModal();
    this.earlier = await ask(`${this.path}/files`).catch(() => []);
  },
  get earlierFiles() {
    const when = new Intl.DateTimeFormat("en-GB", { dateStyle: "medium", timeStyle: "short" });
    return this.earlier.map((one) => ({
      key: `${one.delivery_id} ${one.name}`,
      href: `/deliveries/${one.delivery_id}`,
      name: one.name,
      when: one.made ? when.format(new Date(one.made)) : "",
    }));
  },

  get hasFile() {
    return Boolean(this.file && this.file.state === "made");
  },
  get fileHref() {
    return this.hasFile
      ? `/api/deliveries/${this.file.delivery_id}/files/${encodeURIComponent(this.file.name)}`
      : "#";
  },
  get cutCard() {
    return `${this.path}/cut-card`;
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
