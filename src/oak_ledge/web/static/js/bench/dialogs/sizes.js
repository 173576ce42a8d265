// Choosing another size for this piece, or for all of the job on its size: the work on it is kept.

import { ask } from "../../net/ask.js";
import { drawEntry, plain, readEntry } from "../../sizes/entry.js";

const MOST = 40; // of the library, until something is written

// A part of the bench, which it knows as `this.bench`.
export const sizes = {
  choices: { job: [], library: [], pieces: 1 },
  wanted: "",
  written: null,
  trouble: "",

  get word() {
    return (this.bench.view.own_size ?? this.bench.view.size).name;
  },
  async open() {
    await this.bench.small.settle();
    this.trouble = "";
    this.wanted = "";
    this.written = null;
    this.bench.$refs.sizeFind.value = "";
    this.bench.$refs.sizeReads.replaceChildren();
    this.bench.$refs.forPiece.checked = true;
    this.bench.$refs.sizes.showModal();
    try {
      this.choices = await ask(`${this.bench.path}/sizes`);
    } catch (problem) {
      this.trouble = problem.message;
    }
  },
  get lists() {
    const wanted = plain(this.wanted.split("@")[0]);
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
    return `all ${this.choices.pieces} pieces of this job on ${this.bench.view.size.name}`;
  },
  async find(event) {
    this.wanted = event.target.value.trim();
    this.trouble = "";
    const read = await readEntry(event.target);
    if (!read) return;
    this.written = read;
    const found = this.lists.length > 0;
    const said = read.right || !found ? read.said : []; // what is found stands below
    drawEntry(event.target, { ...read, said }, this.bench.$refs.sizeReads);
  },
  get noWritten() {
    return !this.written?.right;
  },
  get writtenWrong() {
    return this.written && !this.written.right && !this.lists.length ? "is-wrong" : "";
  },
  putWritten() {
    if (!this.noWritten) return this.putFromDialog({ text: this.written.text });
  },
  putChosen(event) {
    const { jobSize, size } = event.currentTarget.dataset;
    return this.putFromDialog(jobSize ? { job_size_id: Number(jobSize) } : { size_id: Number(size) });
  },
  async putFromDialog(asked) {
    const forAll = this.severalPieces && this.bench.$refs.forAll.checked;
    this.trouble = asked.text
      ? await this.bench.crop.putOnRatio(asked.text, { for_all: forAll })
      : await this.putOn({ ...asked, for_all: forAll });
    if (!this.trouble) this.bench.$refs.sizes.close();
  },
  // Gives what is wrong, or nothing.
  async putOn(asked) {
    await this.bench.small.settle();
    await this.bench.call("/size", () => ({ ...asked, step: this.bench.view.step }));
    const wrong = this.bench.trouble;
    this.bench.crop.writeRatio();
    if (!wrong) document.title = `${this.bench.view.photo.name} on ${this.word} · Oak Ledge`;
    return wrong;
  },
};
