// The sizes a job starts with: saved ones that are put on and off, and what is written, one or several.

import { ask } from "../net/ask.js";
import { drawEntry, plain, readEntry } from "../sizes/entry.js";

const FREE = "100%"; // where no size is chosen
const WRITTEN = "oak-ledge-written";
const MOST = 60; // that are shown at once; more are found by their names

// What the page holds of it; the jobs page takes it over, getters and all.
export const choosingSizes = {
  choices: [], // the recent ones, until all are asked for
  whole: false,
  allSizes: false,
  sizeIds: [],
  written: [],
  wanted: "",
  wrong: "false",
  finds: false, // what is typed is no size, but part of the name of one

  get readsClass() {
    return this.wrong === "true" ? "is-wrong" : "";
  },
  get noSize() {
    return !this.sizeIds.length && !this.written.length;
  },
  // Those found by what is typed; those that are on always.
  get chips() {
    const wanted = this.written.length ? "" : plain(this.wanted.split("@")[0]);
    const on = (one) => this.sizeIds.includes(one.id);
    const fit = (one) => on(one) || plain(`${one.name} ${one.label}`).includes(wanted);
    const found = this.choices.filter(fit);
    const some = wanted || this.allSizes ? found.slice(0, MOST) : found.filter((one, n) => n < 9 || on(one));
    const first = wanted && some.find((one) => !on(one));
    const words = (one) => (some.some((other) => other !== one && other.name === one.name) ? `${one.name} · ${one.facts}` : one.name);
    return some.map((one) => ({
      ...one,
      words: words(one),
      about: [one.sentence, one.facts].filter(Boolean).join(" "),
      pressed: String(on(one)),
      mark: one === first && this.finds ? "is-marked" : "",
    }));
  },
  get allWord() {
    return this.allSizes ? "Fewer sizes" : "All sizes";
  },
  async loadSizes() {
    if (this.whole) return;
    this.whole = true;
    try {
      this.choices = await ask("/api/sizes/choices");
    } catch {
      this.whole = false; // asked for again the next time
    }
  },
  showAll() {
    this.allSizes = !this.allSizes;
    return this.loadSizes();
  },
  addChoice({ id, name, label, sentence, group }) {
    this.choices = [{ id, name, label, sentence, group }, ...this.choices];
  },
  toggleSize(event) {
    const id = Number(event.currentTarget.dataset.id);
    this.sizeIds = this.sizeIds.includes(id) ? this.sizeIds.filter((one) => one !== id) : [...this.sizeIds, id];
    const says = this.choices.find((one) => one.id === id).sentence;
    if (!this.written.length) this.sayOf(this.sizeIds.includes(id) ? says : "");
    this.tellQuick();
  },
  sayOf(words) {
    const said = words ? [{ words }] : [];
    drawEntry(this.$refs.written, { text: this.$refs.written.value, spans: [], said }, this.$refs.reads);
  },
  async write(event) {
    this.loadSizes();
    this.wanted = event.target.value.trim();
    sessionStorage.setItem(WRITTEN, event.target.value);
    const read = await readEntry(event.target);
    if (!read) return;
    this.written = read.sizes;
    const finds = !read.right && read.text.trim() !== "" && this.chips.some((one) => one.pressed === "false");
    this.finds = finds;
    this.wrong = String(!read.right && read.text.trim() !== "" && !finds);
    const first = this.chips.find((one) => one.mark)?.name;
    const nearly = /^\s*\d/.test(read.text); // of a name there is nothing to say
    const takes = { words: ` Enter takes ${first}.` };
    const found = { ...read, spans: [], said: nearly ? [...read.said, takes] : [takes], readings: nearly ? read.readings : [] };
    drawEntry(event.target, finds ? found : read, this.$refs.reads);
    this.tellQuick();
  },
  // What was typed before the page was loaded again.
  writeAgain() {
    const before = sessionStorage.getItem(WRITTEN);
    if (before) this.writeOver(before);
  },
  // Enter takes the first that is found; what is typed has done its work then.
  takeFirst() {
    const first = this.chips.find((one) => one.mark);
    if (!first) return false;
    this.sizeIds = [...this.sizeIds, first.id];
    this.finds = false;
    this.wanted = "";
    this.$refs.written.value = "";
    sessionStorage.removeItem(WRITTEN);
    this.sayOf(first.sentence);
    this.tellQuick();
    return true;
  },
  // What is written, as an answer to what would be: other than what was typed.
  writeOver(text) {
    this.$refs.written.value = text;
    this.sizeIds = [];
    this.$refs.written.dispatchEvent(new Event("input", { bubbles: true }));
  },
  get sizesAsked() {
    const named = this.written.filter((one) => one.saved_id !== null).map((one) => one.saved_id);
    return {
      size_ids: [...new Set([...this.sizeIds, ...named])],
      size_texts: this.noSize && this.joins === null ? [FREE] : this.written.filter((one) => one.saved_id === null).map((one) => one.text),
    };
  },
};
