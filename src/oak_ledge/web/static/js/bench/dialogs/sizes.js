// Choosing another size for this piece, or for all of the job on its size: the work on it is kept.

import { ask } from "../../net/ask.js";
import { drawEntry, plain, readEntry } from "../../sizes/entry.js";

const MOST = 40; // of the library, until something is written

// What the page holds of it; the bench takes it over, getters and all.
export const sizing = {
  choices: { job: [], library: [], pieces: 1 },
  sizeWanted: "",
  written: null,
  sizeTrouble: "",

  get sizeWord() {
    return (this.view.own_size ?? this.view.size).name;
  },
  async openSizes() {
    await this.small.settle();
    this.sizeTrouble = "";
    this.sizeWanted = "";
    this.written = null;
    this.$refs.sizeFind.value = "";
    this.$refs.sizeReads.replaceChildren();
    this.$refs.forPiece.checked = true;
    this.$refs.sizes.showModal();
    try {
      this.choices = await ask(`${this.path}/sizes`);
    } catch (problem) {
      this.sizeTrouble = problem.message;
    }
  },
  get sizeLists() {
    const wanted = plain(this.sizeWanted.split("@")[0]);
    const found = (list) => list.filter((one) => plain(`${one.name} ${one.label}`).includes(wanted));
    const shown = (list, key) =>
      list.map((one) => ({ ...one, key: `${key}${one[key]}`, mark: one.here ? "is-here" : "", here: String(one.here) }));
    return [
      { name: "In this job", sizes: shown(found(this.choices.job), "job_size_id") },
      { name: "Library", sizes: shown(found(this.choices.library).slice(0, MOST), "size_id") },
    ].filter((part) => part.sizes.length);
  },
  get severalPieces() {
    return this.choices.pieces > 1;
  },
  get allWord() {
    return `all ${this.choices.pieces} pieces of this job on ${this.view.size.name}`;
  },
  async findSize(event) {
    this.sizeWanted = event.target.value.trim();
    this.sizeTrouble = "";
    const read = await readEntry(event.target);
    if (!read) return;
    this.written = read;
    const found = this.sizeLists.length > 0;
    const said = read.right || !found ? read.said : []; // what is found stands below
    drawEntry(event.target, { ...read, said }, this.$refs.sizeReads);
  },
  get noWritten() {
    return !this.written?.right;
  },
  get writtenWrong() {
    return this.written && !this.written.right && !this.sizeLists.length ? "is-wrong" : "";
  },
  putWritten() {
    if (!this.noWritten) return this.putFromDialog({ text: this.written.text });
  },
  putChosen(event) {
    const { jobSize, size } = event.currentTarget.dataset;
    return this.putFromDialog(jobSize ? { job_size_id: Number(jobSize) } : { size_id: Number(size) });
  },
  async putFromDialog(asked) {
    const forAll = this.severalPieces && this.$refs.forAll.checked;
    this.sizeTrouble = asked.text
      ? await this.putOnRatio(asked.text, { for_all: forAll })
      : await this.putOn({ ...asked, for_all: forAll });
    if (!this.sizeTrouble) this.$refs.sizes.close();
  },
  // Gives what is wrong, or nothing.
  async putOn(asked) {
    await this.small.settle();
    await this.call("/size", () => ({ ...asked, step: this.view.step }));
    const wrong = this.trouble;
    this.writeRatio();
    if (!wrong) document.title = `${this.view.photo.name} on ${this.sizeWord} · Oak Ledge`;
    return wrong;
  },
};
