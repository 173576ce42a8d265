// Retouching, at the Photo station: a thing painted over, texture copied, in a list that all pieces of the
// photo in this job show.

import { ask } from "../../net/ask.js";
import { drawBrush } from "../tools/brush.js";

const NONE = { retouches: [], version: 0, words: [], made: [], pieces: 0, others: 0 };

// A part of the bench, which it knows as `this.bench`.
export const retouch = {
  kept: NONE,
  number: 0,
  brush: { radius: 120, away: false, soft: 0.5 },
  brushed: { strokes: [], polygons: [] },
  spot: null, // where texture is copied from, and by how much that lies away
  copying: null, // the offset while texture is copied
  before: false,
  copiedElsewhere: "",
  grownBy: 0, // photo pixels by which what was brushed last was grown
  fillsGround: false, // a place in the ground is being filled

  get brushing() {
    return ["paint", "outline", "texture", "from", "cut"].includes(this.bench.tool);
  },
  get path() {
    return `/api/jobs/${this.bench.view.job_id}/photos/${this.bench.view.photo.id}/retouches`;
  },
  get notBrushing() {
    return !this.brushing;
  },
  get word() {
    const count = this.kept.retouches.length;
    if (!count) return "Take a thing out, or cover it.";
    const pieces = this.kept.pieces === 1 ? "its piece shows" : `all ${this.kept.pieces} pieces show`;
    return `${count === 1 ? "1 retouch" : `${count} retouches`}; ${pieces} ${count === 1 ? "it" : "them"}.`;
  },
  get brushWord() {
    if (this.bench.tries.tiled) return `${this.grownWord} ${this.bench.tries.word}`.trim();
    if (this.fillsGround) return "The place in the ground is being filled.";
    const spot = this.spot ? "Drag over what should be covered. Press Alt and click for another spot." : "Click the spot to copy from, then drag over what should be covered.";
    return {
      paint: this.nothingBrushed ? "Brush over the thing that should go; arrows and Space do it by keys." : "Fill it, or brush on.",
      outline: "Click around the thing; click the first point again to close.",
      texture: spot,
      from: "Brush over what alone may be copied.",
      cut: this.cutting ? "The thing is being cut out." : "Brush over what belongs to the thing, or take away what does not.",
    }[this.bench.tool] ?? "";
  },
  get grownWord() {
    return this.grownBy >= 0.5 ? `What you brushed was grown by ${Math.round(this.grownBy)} px, for the thing's soft edge.` : "";
  },
  get isPaint() {
    return this.bench.tool === "paint" || this.bench.tool === "outline" || this.bench.tool === "from";
  },
  get isCut() {
    return this.bench.tool === "cut";
  },
  get notCut() {
    return !this.isCut;
  },
  // The brush adds to what is painted over, or to what is cut out, and takes away from it.
  get takesAway() {
    return this.isPaint || this.isCut;
  },
  get isTexture() {
    return this.bench.tool === "texture";
  },
  get toolMark() {
    return Object.fromEntries(["paint", "outline", "texture", "from", "cut"].map((name) => [name, String(this.bench.tool === name)]));
  },
  get addMark() {
    return { add: String(!this.brush.away), away: String(this.brush.away) };
  },
  get nothingBrushed() {
    return !this.brushed.strokes.some((stroke) => !stroke.away && !stroke.from) && !this.brushed.polygons.length;
  },
  get list() {
    return this.kept.retouches.map((one, n) => ({ number: one.number, words: this.kept.words[n], here: one.number === this.number }));
  },
  get now() {
    return this.kept.retouches.find((one) => one.number === this.number) ?? null;
  },
  get none() {
    return this.now === null;
  },
  get some() {
    return this.kept.retouches.length > 0;
  },
  get canTry() {
    return ["paint_over", "cut_out"].includes(this.now?.kind);
  },
  get hasMore() {
    return this.now?.kind === "paint_over";
  },
  get canAddTo() {
    return this.isPaint && this.hasMore && this.brushed.strokes.length + this.brushed.polygons.length > 0;
  },
  get shownWord() {
    return this.now?.shown === false ? "Show it again" : "Show without";
  },
  get beforeMark() {
    return String(this.before);
  },
  stroke: null, // the one in hand
  brushAt: null,
  outlined: null,
  drawBrush() {
    drawBrush(this.bench);
  },
  async load() {
    const found = await ask(this.path).catch(() => null);
    if (!found) return;
    const { patched } = this;
    this.kept = found;
    if (patched !== this.patched) this.bench.redraw(); // its pictures are others
    if (this.none) this.number = found.retouches.at(-1)?.number ?? 0;
  },
  get patched() {
    return this.kept.made.filter(Boolean).length + this.kept.version * 1000;
  },
  usePaint() {
    this.useBrush("paint");
  },
  useOutline() {
    this.useBrush("outline");
  },
  useTexture() {
    this.useBrush("texture");
  },
  useFrom() {
    this.useBrush("from");
  },
  // A thing is cut out at once, its tries side by side; then it is brushed to and from, over the photo as it came.
  async useCut() {
    this.useBrush("cut");
    if (this.bench.tool !== "cut") return;
    await this.load();
    const there = this.kept.retouches.findLast((one) => one.kind === "cut_out");
    if (there?.shown) this.number = there.number;
    else if (!(await this.keepCut([]))) return;
    this.before = true;
    this.bench.pictures();
    await this.bench.tries.show("Photo", this.now?.seed ?? 1);
  },
  cutting: false,
  async cutMore({ points, radius, away }) {
    this.bench.tries.close();
    if (await this.keepCut([{ points, radius, away }])) await this.waitForCut();
  },
  async keepCut(strokes) {
    const done = await this.send("/cut-out", { strokes });
    if (done) this.number = this.kept.retouches.findLast((one) => one.kind === "cut_out").number;
    return done;
  },
  async waitForCut() {
    this.cutting = true;
    await this.waitForTexture();
    this.cutting = false;
    this.bench.spoken = "The thing is cut out anew.";
  },
  useBrush(name) {
    this.bench.openStation("Photo");
    if (this.bench.level.isSquared) {
      this.bench.trouble = "Retouching is done on the photo itself. Remove the squaring first, then square it up again.";
      return;
    }
    if (this.bench.tool !== name) this.bench.use(name);
    this.bench.tries.close();
    this.load();
  },
  endBrush() {
    this.dropBrushed();
    if (this.isCut) this.showAfter();
    this.bench.tries.close();
    if (this.brushing) this.bench.use(this.bench.tool);
  },
  dropBrushed() {
    this.brushed = { strokes: [], polygons: [] };
    this.copying = null;
    this.drawBrush();
  },
  setRadius(event) {
    const radius = Number(String(event.target.value).replace(",", "."));
    if (!(radius >= 0.5 && radius <= 20000)) {
      this.bench.trouble = `“${event.target.value}” is no brush. Give its radius in photo pixels, like 120.`;
      return;
    }
    this.brush = { ...this.brush, radius };
    this.drawBrush();
  },
  setSoft(event) {
    this.brush = { ...this.brush, soft: Number(event.target.value) / 100 };
    this.drawBrush();
  },
  setAway(event) {
    this.brush = { ...this.brush, away: event.currentTarget.dataset.away === "yes" };
    if (this.bench.tool === "outline" && this.brush.away) this.bench.use("paint");
  },
  addStroke(stroke) {
    this.brushed = { ...this.brushed, strokes: [...this.brushed.strokes, stroke] };
    this.drawBrush();
  },
  addPolygon(points) {
    this.brushed = { ...this.brushed, polygons: [...this.brushed.polygons, points] };
    this.drawBrush();
  },
  brushedBody() {
    const plain = ({ points, radius, away = false }) => ({ points, radius, away });
    return {
      strokes: this.brushed.strokes.filter((one) => !one.from).map(plain),
      polygons: this.brushed.polygons,
      take_from: this.brushed.strokes.filter((one) => one.from).map(plain),
    };
  },
  // What is brushed is filled: a new retouch, with its tries.
  async fillBrushed() {
    if (this.nothingBrushed) return;
    const done = await this.keep({ kind: "paint_over", ...this.brushedBody() });
    if (done && this.kept.in_ground) await this.waitForGround();
    else if (done) await this.bench.tries.show("Photo", this.now?.seed ?? 1);
  },
  // What is brushed in the continued ground is filled there: the hand's own picture stays until it is.
  async waitForGround() {
    this.fillsGround = true;
    const { step } = this.bench.view;
    while (this.bench.view.step === step) {
      const tries = await ask(`${this.bench.path}/grounds`).catch(() => []);
      const taken = tries.find((one) => one.taken);
      if (taken?.state === "failed") this.bench.trouble = taken.reason;
      if (!taken || taken.full || taken.state === "failed") break;
      await new Promise((resolve) => setTimeout(resolve, 500));
    }
    this.fillsGround = false;
    this.dropBrushed();
    this.bench.pictures();
    await this.bench.drawFine();
    this.bench.spoken = "The place in the ground is filled.";
  },
  async fillMore() {
    const done = await this.keep({ kind: "paint_over", number: this.number, ...this.brushedBody() });
    if (done) await this.bench.tries.show("Photo", this.now?.seed ?? 1);
  },
  async copyTexture(stroke, offset) {
    const done = await this.keep({ kind: "copy_texture", strokes: [stroke], offset, soft: this.brush.soft });
    if (done) await this.waitForTexture();
  },
  // The stroke stays drawn by the hand's own picture until the photo itself shows it.
  async waitForTexture() {
    for (let look = 0; look < 40; look += 1) {
      await this.load();
      if (this.kept.made.every(Boolean)) break;
      await new Promise((resolve) => setTimeout(resolve, 250));
    }
    this.bench.pictures();
    await this.bench.drawFine();
    this.dropBrushed();
  },
  // Says whether it is kept.
  keep(body) {
    return this.send("/retouches", body);
  },
  async send(path, body) {
    let done = false;
    await this.bench.inTurn(async () => {
      try {
        this.bench.trouble = "";
        this.copiedElsewhere = "";
        this.kept = await ask(`${this.bench.path}${path}`, { method: "POST", body });
        if (!this.kept.in_ground) {
          this.number = body.number ?? this.kept.retouches.at(-1).number;
          this.grownBy = this.kept.grown;
          if (body.kind === "paint_over") this.dropBrushed();
        }
        done = true;
      } catch (problem) {
        this.bench.trouble = problem.message;
        this.dropBrushed();
      }
    });
    await this.refreshed();
    return done;
  },
  async refreshed() {
    const { trouble } = this.bench;
    await this.bench.call("");
    this.bench.trouble = trouble;
    this.bench.pictures();
  },
  choose(event) {
    this.grownBy = 0;
    this.number = Number(event.target.value);
    this.bench.tries.close();
  },
  showTries() {
    return this.bench.tries.show("Photo", this.now?.seed ?? 1);
  },
  take({ try: attempt, seed }) {
    return this.put((one) => (one.number === this.number ? { ...one, try: attempt, seed } : one));
  },
  toggleShown() {
    return this.put((one) => (one.number === this.number ? { ...one, shown: !one.shown } : one));
  },
  remove() {
    this.bench.tries.close();
    return this.put((one) => (one.number === this.number ? null : one));
  },
  get othersWord() {
    const { others } = this.kept;
    return `Also in ${others === 1 ? "1 other job" : `${others} other jobs`}`;
  },
  get canGoElsewhere() {
    return this.some && this.kept.others > 0;
  },
  async everywhere() {
    const { others } = this.kept;
    await this.bench.inTurn(async () => {
      try {
        this.bench.trouble = "";
        this.kept = await ask(`${this.path}/everywhere`, { method: "POST" });
        this.copiedElsewhere = `Copied to ${others === 1 ? "1 other job" : `${others} other jobs`}, where it can be undone.`;
      } catch (problem) {
        this.bench.trouble = problem.message;
      }
    });
  },
  async put(change) {
    await this.bench.inTurn(async () => {
      const retouches = this.kept.retouches.map(change).filter(Boolean);
      const body = { retouches, version: this.kept.version, placement_id: this.bench.view.id };
      try {
        this.bench.trouble = "";
        this.kept = await ask(this.path, { method: "PUT", body });
      } catch (problem) {
        this.bench.trouble = problem.message;
        if (problem.newer) this.kept = problem.newer;
      }
      if (this.none) this.number = this.kept.retouches.at(-1)?.number ?? 0;
    });
    await this.refreshed();
  },
  showAfter() {
    this.before = false;
    this.bench.pictures();
  },
  // The photo as it came, for as long as the button is down.
  showBefore() {
    this.before = !this.before;
    this.bench.pictures();
  },
};
