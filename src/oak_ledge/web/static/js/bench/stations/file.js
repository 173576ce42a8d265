// The File station: made, measured, downloaded.

import { ask } from "../../net/ask.js";
import { followed } from "../../net/follow.js";

// A part of the bench, which it knows as `this.bench`.
export const file = {
  making: false,
  copied: "",
  earlier: [],

  get lossy() {
    return !["png", "tiff"].includes(this.bench.view.file.format);
  },
  get deep() {
    return !this.lossy;
  },
  get bits() {
    return String(this.bench.view.file.bits ?? "");
  },
  get limited() {
    return this.lossy && this.bench.view.limit !== "";
  },
  get metadataKept() {
    const { metadata, location } = this.bench.view.file;
    return metadata === "keep" && !location ? "no-place" : metadata;
  },
  // What is settled is kept at once, for this piece or for all on its size.
  async setFile(event) {
    const { dataset, value } = event.target;
    const said = value.trim();
    const asked = { [dataset.file]: dataset.file === "bits" ? Number(said) || null : said };
    if (dataset.file === "bits" && !said) Object.assign(asked, { as_photo: true });
    if (dataset.file === "metadata") Object.assign(asked, { metadata: said === "no-place" ? "keep" : said, location: said !== "no-place" });
    if (dataset.file === "at_most" && !said) Object.assign(asked, { at_most: null, no_limit: true });
    if (["quality", "floor"].includes(dataset.file)) {
      const quality = Number(said);
      if (!Number.isInteger(quality) || quality < 1 || quality > 100) {
        this.bench.trouble = `“${said}” is no quality. Write a whole number from 1 to 100.`;
        event.target.value = this.bench.view.file[dataset.file];
        return;
      }
      asked[dataset.file] = quality;
    }
    if (event.target.matches("select")) event.target.blur(); // so that keys mean the bench again
    await this.bench.small.settle();
    await this.bench.call("/file", () => ({ ...asked, for_all: this.bench.$refs.fileForAll.checked, step: this.bench.view.step }));
    if (this.bench.trouble) event.target.value = dataset.file === "at_most" ? this.bench.view.limit : this.bench.view.file[dataset.file];
  },
  async openProof() {
    this.bench.$refs.proof.showModal();
    this.earlier = await ask(`${this.bench.path}/files`).catch(() => []);
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
    return Boolean(this.bench.newestFile && this.bench.newestFile.state === "made");
  },
  // A piece in several files is taken as all of them, in one archive.
  get several() {
    return this.bench.view.panels.length > 1;
  },
  get downloadWord() {
    return this.several ? `Download all ${this.bench.view.panels.length}` : "Download";
  },
  get href() {
    if (this.hasFile && this.several) return `/api/deliveries/${this.bench.newestFile.delivery_id}/archive?placement=${this.bench.view.id}`;
    return this.hasFile
      ? `/api/deliveries/${this.bench.newestFile.delivery_id}/files/${encodeURIComponent(this.bench.newestFile.name)}`
      : "#";
  },
  get cutCard() {
    return `${this.bench.path}/cut-card`;
  },
  get word() {
    if (this.making) return "";
    if (!this.bench.newestFile) return "Nothing made yet.";
    if (!this.hasFile) return `Not made: ${this.bench.newestFile.reason}`;
    return this.bench.view.state === "made" ? this.bench.newestFile.name : `${this.bench.newestFile.name}, made before the last change`;
  },
  get makeWord() {
    if (this.making) return "Making and measuring";
    return this.hasFile ? "Make another" : "Make file";
  },
  get proof() {
    const words = { true: "as asked", false: "differs", null: "" };
    const kinds = { true: "is-fine", false: "is-stop", null: "" };
    return this.bench.newestFile
      ? this.bench.newestFile.proof.map((row) => ({ ...row, word: words[row.same], kind: kinds[row.same] }))
      : [];
  },

  async makeFile() {
    if (this.making) return;
    await this.bench.small.settle();
    this.making = true;
    this.bench.trouble = "";
    try {
      const body = { placement_ids: [this.bench.view.id] };
      const delivery = await this.bench.inTurn(() => ask(`/api/jobs/${this.bench.view.job_id}/deliveries`, { method: "POST", body }));
      [this.bench.newestFile] = (await followed(delivery, () => {})).files;
      this.bench.take(await ask(this.bench.path));
      this.bench.spoken = this.word;
    } catch (problem) {
      this.bench.trouble = problem.message;
    }
    this.making = false;
  },

  // The piece as it is now, on the clipboard; the browser wants to be told at once what will come.
  async copy() {
    this.bench.trouble = "";
    await this.bench.small.settle();
    const picture = this.bench.inTurn(async () => {
      const answer = await fetch(`${this.bench.path}/picture.png`);
      if (!answer.ok) throw new Error((await answer.json()).detail);
      return answer.blob();
    });
    try {
      await navigator.clipboard.write([new ClipboardItem({ "image/png": picture })]);
      const [W, H] = this.bench.view.picture;
      this.copied = `Copied: ${W} × ${H} px, in sRGB.`;
    } catch (problem) {
      const why = await picture.then(() => problem.message, (refused) => refused.message);
      this.bench.trouble = `The piece was not copied. ${why}`;
    }
  },
  download() {
    if (this.hasFile) this.bench.$refs.download.click();
  },
};
