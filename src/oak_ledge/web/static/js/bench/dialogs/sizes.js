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
  at: 0, // which of those found is marked
  moved: false, // by arrows

  get word() {
    return (this.bench.view.own_size ?? this.bench.view.size).name;
  },
  async open() {
    await this.bench.small.settle();
    this.trouble = "";
    this.wanted = "";
    this.written = null;
    this.markFirst();
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
    const marked = (n) => (this.isMarking && n === this.at ? " is-marked" : "");
    let n = -1;
    const shown = (list, key) =>
      list.map((one) => {
        n += 1;
        return { ...one, key: `${key}${one[key]}`, mark: (one.here ? "is-here" : "") + marked(n), here: String(one.here) };
      });
    return [
      { name: "In this job", sizes: shown(found(this.choices.job), "job_size_id") },
      { name: "Library", sizes: shown(found(this.choices.library).slice(0, MOST), "size_id") },
    ].filter((part) => part.sizes.length);
  },
  // What Enter takes is marked: what is written where it is a size, else the first that is found.
  get isMarking() {
    return this.wanted !== "" && (this.moved || this.noWritten);
  },
  markFirst() {
    this.at = 0;
    this.moved = false;
  },
  moveMark(event) {
    const by = { ArrowDown: 1, ArrowUp: -1 }[event.key];
    const all = this.lists.flatMap((part) => part.sizes);
    if (!by || !all.length) return;
    event.preventDefault();
    this.at = this.moved || this.isMarking ? Math.min(Math.max(this.at + by, 0), all.length - 1) : 0;
    this.wanted ||= " ";
    this.moved = true;
    this.bench.$nextTick(() => this.bench.$refs.sizes.querySelector(".is-marked")?.scrollIntoView({ block: "nearest" }));
  },
  get severalPieces() {
    return this.choices.pieces > 1;
  },
  get allWord() {
    return `all ${this.choices.pieces} pieces of this job on ${this.bench.view.size.name}`;
  },
  async find(event) {
    this.wanted = event.target.value.trim();
    this.markFirst();
    this.trouble = "";
    const read = await readEntry(event.target);
    if (!read) return;
    this.written = read;
    const found = this.lists.length > 0;
    const said = read.right || !found ? read.said : []; // what is found stands below
    drawEntry(event.target, { ...read, said }, this.bench.$refs.sizeReads);
  },
  get noUse() {
    return this.noWritten && !(this.isMarking && this.lists.length);
  },
  get noWritten() {
    return !this.written?.right;
  },
  get writtenWrong() {
    return this.written && !this.written.right && !this.lists.length ? "is-wrong" : "";
  },
  putWritten() {
    const marked = this.isMarking && this.lists.flatMap((part) => part.sizes)[this.at];
    if (marked) return this.putFromDialog(marked.job_size_id ? { job_size_id: marked.job_size_id } : { size_id: marked.size_id });
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
