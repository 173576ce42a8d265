// The mark on the piece: laid from the library, dragged to another of its nine places, hidden, given to others.

import { ask } from "../../net/ask.js";

// CSS pixels: what moves less is a press, which opens how it is laid.
const PRESS = 4;
// From each place to the one beside it, across and down.
const ROWS = [["top-left", "top", "top-right"], ["left", "centre", "right"], ["bottom-left", "bottom", "bottom-right"]];
const STEPS = { ArrowLeft: [0, -1], ArrowRight: [0, 1], ArrowUp: [-1, 0], ArrowDown: [1, 0] };

// A part of the bench, which it knows as `this.bench`.
export const mark = {
  seen: { mark: null, own: false, lies: null },
  known: [], // the library
  outcome: "",
  trouble: "",
  by: null, // how far a hand has dragged it, in shares of the picture
  nearest: "",

  // Where it lies follows from the picture below it: asked anew when the piece rests.
  async load() {
    const { step } = this.bench.view;
    const seen = await ask(`${this.bench.path}/mark`).catch(() => null); // one that can't be laid is told by a note
    if (step !== this.bench.view.step) return;
    this.seen = seen ?? { mark: this.bench.view.lying.mark ?? null, own: Boolean(this.bench.view.lying.mark), lies: null };
    this.by = null;
    this.draw();
  },
  draw() {
    const { piece } = this.bench.$refs;
    const here = piece.querySelector("[data-part=mark]");
    const { lies } = this.seen;
    here.style.display = lies && !this.bench.tries.tiled ? "" : "none";
    piece.querySelector("[data-part=mark-places]").setAttribute("d", this.by && lies ? Object.values(lies.places).map((box) => this.path(box)).join("") : "");
    if (!lies) return;
    const [x, y, width, height] = lies.box;
    const [dx, dy] = this.by ?? [0, 0];
    const box = this.onPane([x + dx, y + dy, width, height]);
    const [image, edge] = [here.querySelector("image"), here.querySelector("rect")];
    for (const [name, value] of Object.entries(box)) for (const one of [image, edge]) one.setAttribute(name, value);
    image.setAttribute("href", `/api/marks/pictures/${lies.picture}?edge=1024`);
    image.setAttribute("opacity", this.seen.mark.opacity / 100);
  },
  onPane([x, y, width, height]) {
    const box = this.bench.pieceBox;
    return { x: box.left + x * box.width, y: box.top + y * box.height, width: width * box.width, height: height * box.height };
  },
  path(box) {
    const { x, y, width, height } = this.onPane(box);
    return `M${x} ${y}h${width}v${height}h${-width}z`;
  },

  // Dragged, it stops at the nearest of its nine places; pressed, it says how it is laid.
  grab() {
    const { lies } = this.seen;
    if (!lies) return null;
    const { width, height } = this.bench.pieceBox;
    let far = 0;
    const gesture = (dx, dy) => {
      far = Math.max(far, Math.hypot(dx, dy));
      if (far < PRESS) return null;
      this.by = [dx / width, dy / height];
      const [x, y] = [lies.box[0] + this.by[0], lies.box[1] + this.by[1]];
      const away = ([left, top]) => Math.hypot((left - x) * width, (top - y) * height);
      [this.nearest] = Object.keys(lies.places).sort((one, other) => away(lies.places[one]) - away(lies.places[other]));
      this.draw();
      return null;
    };
    const ended = (keep) => {
      const moved = this.by !== null;
      this.by = null;
      if (keep && moved && this.nearest !== this.seen.mark.place) this.lay({ place: this.nearest });
      else this.draw();
      if (keep && !moved) this.open();
    };
    return Object.assign(gesture, { freely: true, ended });
  },
  // Keys on the mark itself; true where one meant something.
  key(event) {
    if (event.key === "Enter") this.open();
    else if (event.key === "Delete") this.hide();
    else if (STEPS[event.key]) {
      const [down, across] = STEPS[event.key];
      const row = ROWS.findIndex((places) => places.includes(this.seen.lies.place));
      const column = ROWS[row].indexOf(this.seen.lies.place);
      const place = ROWS[row + down]?.[column + across];
      if (place) this.lay({ place });
    } else return false;
    return true;
  },

  // What the bench refused is said here too, as long as the dialog is open over it.
  get why() {
    return this.trouble || this.bench.trouble;
  },
  get word() {
    if (!this.seen.mark) return "none";
    return this.seen.mark.hidden ? "hidden" : this.seen.mark.name;
  },
  get there() {
    return this.seen.mark !== null;
  },
  get own() {
    return this.seen.own;
  },
  get noneThere() {
    return !this.known.length;
  },
  get someThere() {
    return this.known.length > 0;
  },
  get shown() {
    return this.seen.mark ?? { width: "", margin: "", opacity: "" };
  },
  get placeMark() {
    return Object.fromEntries([...ROWS.flat(), "calm"].map((place) => [place.replace("-", "_"), place === this.seen.mark?.place]));
  },
  get list() {
    return this.known.map((one) => ({
      ...one,
      here: one.mark.picture.hash === this.seen.mark?.picture.hash,
      src: `/api/marks/pictures/${one.mark.picture.hash}?edge=200`,
    }));
  },
  get hideWord() {
    return this.seen.mark?.hidden ? "Show on this piece" : "Hide on this piece";
  },
  get backWord() {
    return this.bench.view.size.size.mark ? "As its size has it" : "Take away";
  },
  async open() {
    await this.bench.small.settle();
    [this.outcome, this.trouble] = ["", ""];
    this.bench.$refs.mark.showModal();
    this.known = await ask("/api/marks").catch(() => []);
  },
  // What is said of it is kept at once; a refusal leaves it as it was, and each field says again what is.
  async lay(change) {
    [this.outcome, this.trouble] = ["", ""];
    await this.bench.keep({ kind: "mark", mark: change && { ...this.seen.mark, ...change } });
    await this.load();
    for (const field of this.bench.$refs.mark.querySelectorAll("[data-mark]")) field.value = this.shown[field.dataset.mark];
  },
  take(event) {
    const id = Number(event.currentTarget.dataset.id);
    return this.lay({ ...this.known.find((one) => one.id === id).mark, hidden: false });
  },
  setPlace(event) {
    return this.lay({ place: event.currentTarget.dataset.place });
  },
  setHow(event) {
    const { dataset, value } = event.target;
    return this.lay({ [dataset.mark]: dataset.mark === "opacity" ? Number(value.replace("%", "")) : value.trim() });
  },
  hide() {
    return this.lay({ hidden: !this.seen.mark.hidden });
  },
  giveBack() {
    return this.lay(null);
  },
  // The same on others: one step for all of them, undone on the ledge as one.
  async same(event) {
    const whole = event.currentTarget.dataset.of === "job";
    [this.outcome, this.trouble] = ["", ""];
    const { job_id: job, job_size_id: size } = this.bench.view;
    try {
      const { placements } = await this.bench.inTurn(() => ask(`/api/jobs/${job}`));
      const ids = placements.filter((one) => whole || one.size_id === size).map((one) => one.id);
      const { hidden, ...laid } = this.seen.mark;
      const doing = hidden ? { do: "mark", hidden } : { do: "mark", mark: laid };
      const done = await this.bench.inTurn(() => ask(`/api/jobs/${job}/batch`, { method: "POST", body: { placement_ids: ids, doing } }));
      const left = done.refused.length ? ` ${done.refused.length} left as they are: ${done.refused[0].reason}.` : "";
      this.outcome = `${done.changed} changed.${left} Undone on the ledge as one.`;
      await this.bench.takeNewest();
      this.bench.trouble = "";
    } catch (problem) {
      this.trouble = problem.message;
    }
  },
};
