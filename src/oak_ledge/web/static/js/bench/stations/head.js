// The head that a size asks for: its points on the photo, its figures typed, the whole series by it.

import { ask } from "../../net/ask.js";

// The points in the order the server knows them, and what each is called.
export const POINTS = ["left", "right", "chin", "crown"];
const CALLED = { left: "the left eye", right: "the right eye", chin: "the chin", crown: "the crown" };

// A part of the bench, which it knows as `this.bench`.
export const head = {
  held: null, // the point in hand, shown by the lens
  placing: [], // points set so far, one click each
  seriesSaid: "",
  leftOut: [], // pieces the series could not take along

  get here() {
    return this.bench.view.head !== null;
  },
  get shown() {
    return this.here && this.bench.retouch.notBrushing;
  },
  get unknown() {
    return !this.known;
  },
  get known() {
    return Boolean(this.bench.view.head?.face);
  },
  get height() {
    return this.bench.view.head?.height ?? "";
  },
  get unit() {
    return this.bench.view.head?.unit ?? "";
  },
  get ofPiece() {
    return this.bench.view.head?.of_piece ?? "";
  },
  get eyes() {
    return this.bench.view.head?.eyes ?? "";
  },
  get eyesWords() {
    return this.bench.view.head?.eyes_words ?? "";
  },
  get setting() {
    return this.bench.tool === "head";
  },
  get setWord() {
    return this.setting ? `Click ${CALLED[POINTS[this.placing.length]]}` : this.known ? "Set all four anew" : "Set eyes, chin, crown";
  },
  get canFind() {
    return this.here && !this.setting;
  },
  useSet() {
    this.placing = [];
    this.bench.use("head");
    if (this.setting) this.bench.$refs.whole.focus({ preventScroll: true });
  },
  setHeight(event) {
    this.typed(event, "height", "a height of a head. Write it like 34");
  },
  setEyes(event) {
    this.typed(event, "eyes", "a height of the eyes. Write per cent, like 55");
  },
  typed(event, name, what) {
    const text = event.target.value.trim();
    const value = Number(text.replace(",", ".").replace(/\s*(mm|cm|in|px|%)$/, ""));
    if (!Number.isFinite(value) || value <= 0) {
      this.bench.trouble = `“${text}” is not ${what}.`;
      event.target.value = this[name];
      return;
    }
    this.bench.keep({ kind: "lay_head", [name]: value });
  },
  bySize() {
    this.bench.keep({ kind: "lay_head" });
  },
  findAnew() {
    this.change({ do: "find" });
  },
  pick(n) {
    this.change({ do: "pick", face: n });
  },
  change(change) {
    return this.bench.call("/face", () => ({ change, step: this.bench.view.step }));
  },
  // One point drags along; all four are told, so that nothing is held twice.
  grab(name) {
    const { points } = this.bench.view.head.face;
    const n = POINTS.indexOf(name);
    const [x, y] = points[n];
    this.held = name;
    return Object.assign(
      (dx, dy) => {
        const { scale } = this.bench.wholeBox;
        return this.gesture(points.map((point, m) => (m === n ? [x + dx / scale, y + dy / scale] : point)));
      },
      { freely: true },
    );
  },
  gesture(points) {
    return { kind: "face", change: { do: "set", points } };
  },
  // A click sets the next point; the fourth is told.
  place(at) {
    this.placing.push(at);
    if (this.placing.length < POINTS.length) return this.bench.draw();
    const points = this.placing;
    this.placing = [];
    this.bench.use("head");
    return this.bench.keep(this.gesture(points));
  },
  nudge(name, dx, dy) {
    const n = POINTS.indexOf(name);
    const points = this.nudged ?? this.bench.view.head.face.points;
    this.nudged = points.map(([x, y], m) => (m === n ? [x + dx, y + dy] : [x, y]));
    this.held = name;
    this.bench.hands.during(this.gesture(this.nudged));
    clearTimeout(this.nudgeRest);
    this.nudgeRest = setTimeout(() => {
      const gesture = this.gesture(this.nudged);
      this.nudged = null;
      this.bench.keep(gesture);
    }, 400);
  },

  // --- the whole series

  get seriesWord() {
    return this.seriesSaid;
  },
  get leftWord() {
    return this.leftOut.length ? `Show the ${this.leftOut.length === 1 ? "one" : this.leftOut.length}` : "";
  },
  get sheetWord() {
    return this.bench.view.head?.sheet?.words ?? "";
  },
  // As many of this picture as a small paper holds.
  async laySheet() {
    await this.bench.small.settle();
    await this.bench.inTurn(async () => {
      try {
        const { id, job_id } = this.bench.view;
        const { copies, paper, margin, gap } = this.bench.view.head.sheet;
        const body = { placement_ids: [id], copies, paper, margin, gap, marks: false };
        const sheet = await ask(`/api/jobs/${job_id}/sheets`, { method: "POST", body });
        window.location.assign(`/sheets/${sheet.id}`);
      } catch (problem) {
        this.bench.trouble = problem.message;
      }
    });
  },
  async allLikeThis() {
    await this.bench.small.settle();
    await this.bench.inTurn(async () => {
      try {
        const { id, job_id, job_size_id } = this.bench.view;
        const job = await ask(`/api/jobs/${job_id}`);
        const placement_ids = job.placements.filter((one) => one.size_id === job_size_id && one.id !== id).map((one) => one.id);
        if (!placement_ids.length) {
          this.seriesSaid = "This is the only piece on its size.";
          return;
        }
        const doing = { do: "heads", placement_id: id };
        const done = await ask(`/api/jobs/${job_id}/batch`, { method: "POST", body: { placement_ids, doing } });
        this.leftOut = done.refused.map((one) => one.placement_id);
        const alike = placement_ids.length - this.leftOut.length + 1;
        this.seriesSaid = `Of ${placement_ids.length + 1}: ${alike} alike${counted(done.refused)}.`;
      } catch (problem) {
        this.bench.trouble = problem.message;
      }
    });
  },
  showLeft() {
    const [first] = this.leftOut;
    const path = window.location.pathname.replace(/[^/]+$/, first);
    this.bench.go(path + window.location.search);
  },
};

// Of those left out, how many for which reason: what stands before the colon says it.
function counted(refused) {
  const reasons = new Map();
  for (const { reason } of refused) {
    const word = reason.startsWith("No head") ? "without a face" : reason.split(":")[0];
    reasons.set(word, (reasons.get(word) ?? 0) + 1);
  }
  return [...reasons].map(([word, count]) => `, ${count} ${word}`).join("");
}
