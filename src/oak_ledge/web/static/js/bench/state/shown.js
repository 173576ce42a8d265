// What the page says of a placement: figures of the stations, its notes, its history.

const SIGNS = {
  stop: ["M-4 -5.5h8q1.5 0 1.5 1.5v8q0 1.5 -1.5 1.5h-8q-1.5 0 -1.5 -1.5v-8q0 -1.5 1.5 -1.5z", "M-3 0h6", "Stop"],
  look: ["M0 -7L7 0L0 7L-7 0z", "M0 -3v3.4M0 2.3v1", "Look"],
  fine: ["M-5.6 .2l3.6 3.8 7.4 -8", "", "Fine"],
};
// The same marks as templates/_state.html draws.
const MADE = "M-6 0a6 6 0 1 0 12 0a6 6 0 1 0 -12 0z";
const DISC = "M-5 0a5 5 0 1 0 10 0a5 5 0 1 0 -10 0z";

// What the page holds of it; the bench takes it over, getters and all.
export const shown = {
  station: "Crop",
  drawer: true,
  notesOpen: "false",

  get figures() {
    return Object.fromEntries(this.view.stations.map((one) => [one.name, one]));
  },
  get at() {
    return this.each((name) => (name === this.station && this.drawer ? "is-open" : "") + (this.figures[name].idle ? " is-idle" : ""));
  },
  get opened() {
    return this.each((name) => name === this.station);
  },
  get selected() {
    return this.each((name) => String(name === this.station));
  },
  each(give) {
    return Object.fromEntries(this.view.stations.map((one) => [one.name, give(one.name)]));
  },
  open(event) {
    this.openStation(event.currentTarget.dataset.station);
  },
  openStation(name) {
    this.station = name;
    this.drawer = true;
  },
  hideDrawer() {
    this.drawer = !this.drawer;
  },
  // The mark of this piece in the queue follows what is done to it.
  get queueMark() {
    const { state, notes } = this.view;
    const level = notes[0]?.level;
    if (level === "stop") return { shape: SIGNS.stop[0], sign: SIGNS.stop[1], mark: "is-stop" };
    if (state === "made") return { shape: MADE, sign: "M-2.8 .2l2 2 3.6-4", mark: "is-fine" };
    if (state === "settled") return { shape: DISC, sign: "", mark: "is-fine" };
    if (level === "look") return { shape: SIGNS.look[0], sign: SIGNS.look[1], mark: "is-look" };
    return { shape: "M-4.2 0a4.2 4.2 0 1 0 8.4 0a4.2 4.2 0 1 0 -8.4 0z", sign: "", mark: "is-open" };
  },
  get stateWord() {
    return this.view.state_word;
  },
  get sentence() {
    return this.view.sentence;
  },
  // The gravest first; notes that ask for nothing count as one.
  get notes() {
    const all = this.view.notes;
    const fine = all.filter((note) => note.level === "fine").map((note) => note.text);
    const grave = all.filter((note) => note.level !== "fine");
    if (fine.length) grave.push({ level: "fine", code: "fine", text: fine.join(" "), ways: [] });
    return grave.map((note) => {
      const [shape, sign, word] = SIGNS[note.level];
      const stops = note.level === "stop";
      return { ...note, shape, sign, word, stops, mark: `is-${note.level}`, level: `is-${note.level}` };
    });
  },
  get gravest() {
    const [shape, sign] = SIGNS.fine;
    return this.notes[0] ?? { level: "is-fine", mark: "is-fine", code: "none", stops: false, ways: [], text: "Nothing to look at.", shape, sign, word: "" };
  },
  get otherNotes() {
    return this.notes.slice(1);
  },
  get moreWord() {
    const looks = this.view.notes.filter((note) => note.level !== "fine").length;
    const fine = this.view.notes.length - looks;
    const more = looks ? looks - 1 + fine : 0; // what is only fine stands in one line
    if (!more) return "";
    return more === 1 ? "1 more note" : `${more} more notes`;
  },
  get notesShown() {
    return this.notesOpen === "true" && this.moreWord !== "";
  },
  get notesWord() {
    return this.notesShown ? "Hide" : "Show";
  },
  showNotes() {
    this.notesOpen = String(this.notesOpen !== "true");
  },
  get noUndo() {
    return !this.view.can_undo;
  },
  get noRedo() {
    return !this.view.can_redo;
  },
  get undoWord() {
    return this.view.can_undo ? `Undo: ${this.view.steps[this.view.place]}` : "Undo";
  },
  get redoWord() {
    return this.view.can_redo ? `Redo: ${this.view.steps[this.view.place + 1]}` : "Redo";
  },
  get history() {
    return this.view.steps.map((what, place) => ({
      number: this.view.numbers[place],
      here: place === this.view.place,
      words: `${place}. ${what}`,
    }));
  },
  async goTo(event) {
    const step = Number(event.target.value);
    await this.small.settle();
    await this.call("/step", () => ({ step, seen: this.view.step }));
  },
};
