// The keys of the bench: one meaning each, never destructive; letters can be switched off.

import { remember } from "./choices.js";
import { tools } from "./tools/all.js";

// Fields in which a key is typed; a slide or a tick leaves keys to the bench.
const TEXT = "input:not([type=range], [type=checkbox], [type=radio], [type=color], [type=file]), textarea";
const TYPED = `${TEXT}, select`;
// Fields for figures: a letter can mean nothing in them.
const FIGURES = "[inputmode=decimal], [inputmode=numeric]";

// Every key once, with the words that `?` shows; `does` is what letters and signs do, where they are
// switched on. The others are answered where they are at work: in `key` below, by a drag, by a tool.
const tighten = (bench, event) => bench.crop.tighten(event);
const loosen = (bench, event) => bench.crop.loosen(event);
export const KEYS = [
  {
    keys: "J, K",
    words: "next, previous placement",
    does: { j: (bench) => bench.go(bench.$root.dataset.after), k: (bench) => bench.go(bench.$root.dataset.before) },
  },
  { keys: "Enter", words: "approve and next" },
  { keys: "R", words: "draw a fresh crop, wherever the hand begins", does: { r: (bench) => bench.useDraw() } },
  { keys: "T", words: "turn wide or tall", does: { t: (bench) => bench.crop.turn() } },
  { keys: "L", words: "level: draw a line along what should be level or plumb", does: { l: (bench) => bench.level.useLevel() } },
  { keys: "Q", words: "square up four corners", does: { q: (bench) => bench.level.useSquare() } },
  {
    keys: "D, F",
    words: "next composition lines, with Shift the ones before; turn or mirror them",
    does: { d: (bench, event) => bench.lines.step(event.shiftKey ? -1 : 1), f: (bench) => bench.lines.flip() },
  },
  { keys: "arrows", words: "nudge by one output pixel; with Shift by ten" },
  {
    keys: ". ,",
    words: "tighten, loosen by 2 %; with Shift by 10 %",
    does: { ".": tighten, ":": tighten, ">": tighten, ",": loosen, ";": loosen, "<": loosen },
  },
  { keys: "0", words: "start again from the suggestion", does: { 0: (bench) => bench.crop.startAgain() } },
  { keys: "P", words: "true pixels of the piece, and back", does: { p: (bench) => bench.lookTrue() } },
  { keys: "S", words: "shade stronger or weaker", does: { s: (bench) => bench.choices.nextShade() } },
  { keys: "W", words: "wall tone", does: { w: (bench) => bench.choices.nextTone() } },
  { keys: "Esc", words: "leave a drag, nothing changed" },
  { keys: "Ctrl Z", words: "undo; with Shift redo" },
  { keys: "Alt", words: "while dragging a corner: grow from the centre" },
  { keys: "Shift", words: "while dragging: hold the ratio, or one direction; whole degrees while turning" },
  { keys: "Enter, Esc", words: "in a field: take the figure, or put back what was there" },
  { keys: "Shift wheel", words: "tighten, loosen" },
  {
    keys: "+, −, wheel",
    words: "look nearer, further; Ctrl and drag to push aside; double-click for true pixels and back",
    does: { "+": (bench) => bench.look(1.25), "=": (bench) => bench.look(1.25), "-": (bench) => bench.look(1 / 1.25) },
  },
  { keys: "1 … 6", words: "the stations; where tries are shown, 1 … 4 take one" },
  { keys: "Space", words: "press the brush; arrows move it, with Shift by one pixel" },
  { keys: "Tab, arrows", words: "to the mark on the piece, and to another of its places; Enter says how it is laid, Delete hides it" },
  { keys: "H", words: "hide the drawer, the pictures larger", does: { h: (bench) => bench.hideDrawer() } },
  { keys: "M", words: "make the file", does: { m: (bench) => bench.file.makeFile() } },
  { keys: "Ctrl S", words: "download it" },
  { keys: "?", words: "this list", does: { "?": (bench) => bench.showKeys() } },
];

// What the page holds of it; the bench takes it over, getters and all.
export const keys = {
  keyList: KEYS.map(({ keys: written, words }) => ({ written, words })),

  showKeys() {
    this.$refs.letters.checked = this.letters();
    this.$refs.keys.showModal();
  },
  letters() {
    return localStorage.getItem("oak-ledge-letters") !== "off";
  },
  setLetters() {
    remember("letters", this.$refs.letters.checked ? "on" : "off");
  },

  // What a field held when it was come to.
  enterField({ target }) {
    if (target.matches(TEXT)) this.fieldWas = target.value;
  },
  // A figure is taken, or what was there put back; then keys mean the stage again.
  leaveField(field, keep) {
    if (keep) field.form?.requestSubmit();
    else {
      field.value = this.fieldWas;
      if (field.dataset.measure) this.pixels.measure(this.view);
    }
    field.blur();
    this.$refs.whole.focus({ preventScroll: true });
  },
  keyInField(event) {
    const { target, key } = event;
    const control = event.ctrlKey || event.metaKey;
    if (key === "Enter" || key === "Escape") {
      event.preventDefault();
      this.leaveField(target, key === "Enter");
      return true;
    }
    if (control && key.toLowerCase() === "z") return target.value !== this.fieldWas; // the field's own undo
    if (control || event.altKey || !target.matches(FIGURES) || !/^[a-z?]$/i.test(key)) return true;
    // A letter behind a figure that was typed takes it, unless a unit may begin with it.
    const written = target.value !== this.fieldWas && /^[\d.,/\s−-]+$/.test(target.value);
    if (!written || /^[cimp]$/i.test(key) || !this.letters() || !this.keyDoes(event)) return true;
    this.leaveField(target, true);
    return false;
  },

  key(event) {
    const { target } = event;
    if (this.$root.querySelector("dialog[open]")) return;
    const inField = target.matches(TEXT);
    if (inField && this.keyInField(event)) return;
    if ((event.ctrlKey || event.metaKey) && event.key.toLowerCase() === "z") {
      event.preventDefault();
      if (event.shiftKey) this.redo();
      else this.undo();
      return;
    }
    if ((event.ctrlKey || event.metaKey) && event.key.toLowerCase() === "s" && this.file.hasFile) {
      event.preventDefault();
      this.file.download();
      return;
    }
    if (event.key === "Escape") {
      const busy = this.drags.filter((drag) => drag.busy());
      for (const drag of busy) drag.leave();
      this.outline.stop();
      tools[this.tool]?.cancel?.(this);
      if (!busy.length && this.tool) this.use(this.tool);
      return;
    }
    if (event.ctrlKey || event.metaKey || event.altKey || (target.matches(TYPED) && !inField)) return;
    if (target.closest("[data-part=mark]") && this.mark.key(event)) {
      event.preventDefault();
      return;
    }
    const point = target.closest("[data-outline-point]");
    if (point && this.outline.key(event, Number(point.dataset.outlinePoint))) {
      event.preventDefault();
      return;
    }
    const face = target.closest("[data-face]");
    if (face && (event.key === "Enter" || event.key === " ")) {
      event.preventDefault();
      this.head.pick(Number(face.dataset.face));
      return;
    }
    const far = event.shiftKey ? 10 : 1;
    const arrows = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] };
    if (event.key in arrows && target.matches("input")) return; // a slide has them itself, and a field
    if (event.key in arrows) {
      event.preventDefault();
      const [dx, dy] = arrows[event.key];
      const knob = target.closest("[data-head]")?.dataset.head;
      if (knob) {
        this.head.nudge(knob, dx * far, dy * far);
        return;
      }
      if (tools[this.tool]?.keys?.(this, event, [dx * far, dy * far])) return;
      this.small.add({ kind: "nudge", dx: dx * far, dy: dy * far });
      return;
    }
    if (event.key === " " && tools[this.tool]?.press && !target.closest("a, button")) {
      event.preventDefault();
      tools[this.tool].press(this);
      return;
    }
    if (event.key === "Enter" && !target.closest("a, button")) {
      event.preventDefault();
      this.settleNext();
      return;
    }
    if (!this.letters()) return;
    const does = this.keyDoes(event);
    if (does) {
      event.preventDefault();
      does(this, event);
    }
  },
  // What a key does; where tries are shown, their numbers take them, else the numbers are stations.
  keyDoes({ key }) {
    const number = Number(key);
    if (this.tries.tiled && this.tries.tiles.some((tile) => tile?.n === number)) return (bench) => bench.tries.takeNumber(number);
    const station = this.view.stations[number - 1];
    if (station) return (bench) => bench.openStation(station.name);
    return KEYS.find(({ does }) => does?.[key.toLowerCase()])?.does[key.toLowerCase()];
  },
};
