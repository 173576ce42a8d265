// Retouching, at the Photo station: a thing painted over, texture copied, in a list that all pieces of the
// photo in this job show.

import { ask } from "../../net/ask.js";
import { drawBrush } from "../tools/brush.js";

const NONE = { retouches: [], version: 0, words: [], made: [], pieces: 0, others: 0 };

// What the page holds of it; the bench takes it over, getters and all.
export const retouching = {
  retouched: NONE,
  retouchNumber: 0,
  brush: { radius: 120, away: false, soft: 0.5 },
  brushed: { strokes: [], polygons: [] },
  spot: null, // where texture is copied from, and by how much that lies away
  copying: null, // the offset while texture is copied
  before: false,
  copiedElsewhere: "",

  get brushing() {
    return ["paint", "outline", "texture", "from"].includes(this.tool);
  },
  get retouchesPath() {
    return `/api/jobs/${this.view.job_id}/photos/${this.view.photo.id}/retouches`;
  },
  get notBrushing() {
    return !this.brushing;
  },
  get retouchWord() {
    const count = this.retouched.retouches.length;
    if (!count) return "Take a thing out, or cover it.";
    const pieces = this.retouched.pieces === 1 ? "its piece shows" : `all ${this.retouched.pieces} pieces show`;
    return `${count === 1 ? "1 retouch" : `${count} retouches`}; ${pieces} ${count === 1 ? "it" : "them"}.`;
  },
  get brushWord() {
    if (this.tiled) return this.triesWord;
    const spot = this.spot ? "Drag over what should be covered. Press Alt and click for another spot." : "Click the spot to copy from, then drag over what should be covered.";
    return {
      paint: this.nothingBrushed ? "Brush over the thing that should go; arrows and Space do it by keys." : "Fill it, or brush on.",
      outline: "Click around the thing; click the first point again to close.",
      texture: spot,
      from: "Brush over what alone may be copied.",
    }[this.tool] ?? "";
  },
  get isPaint() {
    return this.tool === "paint" || this.tool === "outline" || this.tool === "from";
  },
  get isTexture() {
    return this.tool === "texture";
  },
  get toolMark() {
    return Object.fromEntries(["paint", "outline", "texture", "from"].map((name) => [name, String(this.tool === name)]));
  },
  get addMark() {
    return { add: String(!this.brush.away), away: String(this.brush.away) };
  },
  get nothingBrushed() {
    return !this.brushed.strokes.some((stroke) => !stroke.away && !stroke.from) && !this.brushed.polygons.length;
  },
  get retouchList() {
    return this.retouched.retouches.map((one, n) => ({ number: one.number, words: this.retouched.words[n], here: one.number === this.retouchNumber }));
  },
  get retouchNow() {
    return this.retouched.retouches.find((one) => one.number === this.retouchNumber) ?? null;
  },
  get noRetouch() {
    return this.retouchNow === null;
  },
  get hasRetouches() {
    return this.retouched.retouches.length > 0;
  },
  get canTry() {
    return this.retouchNow?.kind === "paint_over";
  },
  get canAddTo() {
    return this.isPaint && this.canTry && this.brushed.strokes.length + this.brushed.polygons.length > 0;
  },
  get shownWord() {
    return this.retouchNow?.shown === false ? "Show it again" : "Show without";
  },
  get beforeMark() {
    return String(this.before);
  },
  stroke: null, // the one in hand
  brushAt: null,
  outlined: null,
  drawBrush() {
    drawBrush(this);
  },
  async loadRetouches() {
    const found = await ask(this.retouchesPath).catch(() => null);
    if (!found) return;
    const { patched } = this;
    this.retouched = found;
    if (patched !== this.patched) this.redraw(); // its pictures are others
    if (this.noRetouch) this.retouchNumber = found.retouches.at(-1)?.number ?? 0;
  },
  get patched() {
    return this.retouched.made.filter(Boolean).length + this.retouched.version * 1000;
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
  useBrush(name) {
    this.openStation("Photo");
    if (this.isSquared) {
      this.trouble = "Retouching is done on the photo itself. Remove the squaring first, then square it up again.";
      return;
    }
    if (this.tool !== name) this.use(name);
    this.closeTries();
    this.loadRetouches();
  },
  endBrush() {
    this.dropBrushed();
    this.closeTries();
    if (this.brushing) this.use(this.tool);
  },
  dropBrushed() {
    this.brushed = { strokes: [], polygons: [] };
    this.copying = null;
    this.drawBrush();
  },
  setRadius(event) {
    const radius = Number(String(event.target.value).replace(",", "."));
    if (!(radius >= 0.5 && radius <= 20000)) {
      this.trouble = `“${event.target.value}” is no brush. Give its radius in photo pixels, like 120.`;
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
    if (this.tool === "outline" && this.brush.away) this.use("paint");
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
    const done = await this.brushNow({ kind: "paint_over", ...this.brushedBody() });
    if (done) await this.showTries("Photo", this.retouchNow?.seed ?? 1);
  },
  async fillMore() {
    const done = await this.brushNow({ kind: "paint_over", number: this.retouchNumber, ...this.brushedBody() });
    if (done) await this.showTries("Photo", this.retouchNow?.seed ?? 1);
  },
  async copyTexture(stroke, offset) {
    const done = await this.brushNow({ kind: "copy_texture", strokes: [stroke], offset, soft: this.brush.soft });
    if (done) await this.waitForTexture();
  },
  // The stroke stays drawn by the hand's own picture until the photo itself shows it.
  async waitForTexture() {
    for (let look = 0; look < 40; look += 1) {
      await this.loadRetouches();
      if (this.retouched.made.every(Boolean)) break;
      await new Promise((resolve) => setTimeout(resolve, 250));
    }
    this.pictures();
    await this.drawFine();
    this.dropBrushed();
  },
  // Says whether it is kept.
  async brushNow(body) {
    let done = false;
    await this.inTurn(async () => {
      try {
        this.trouble = "";
        this.copiedElsewhere = "";
        this.retouched = await ask(`${this.path}/retouches`, { method: "POST", body });
        this.retouchNumber = body.number ?? this.retouched.retouches.at(-1).number;
        if (body.kind === "paint_over") this.dropBrushed();
        done = true;
      } catch (problem) {
        this.trouble = problem.message;
        this.dropBrushed();
      }
    });
    await this.refreshed();
    return done;
  },
  async refreshed() {
    const { trouble } = this;
    await this.call("");
    this.trouble = trouble;
    this.pictures();
  },
  chooseRetouch(event) {
    this.retouchNumber = Number(event.target.value);
    this.closeTries();
  },
  showRetouchTries() {
    return this.showTries("Photo", this.retouchNow?.seed ?? 1);
  },
  takeRetouch({ try: attempt, seed }) {
    return this.putRetouches((one) => (one.number === this.retouchNumber ? { ...one, try: attempt, seed } : one));
  },
  toggleShown() {
    return this.putRetouches((one) => (one.number === this.retouchNumber ? { ...one, shown: !one.shown } : one));
  },
  removeRetouch() {
    this.closeTries();
    return this.putRetouches((one) => (one.number === this.retouchNumber ? null : one));
  },
  get othersWord() {
    const { others } = this.retouched;
    return `Also in ${others === 1 ? "1 other job" : `${others} other jobs`}`;
  },
  get canGoElsewhere() {
    return this.hasRetouches && this.retouched.others > 0;
  },
  async retouchEverywhere() {
    const { others } = this.retouched;
    await this.inTurn(async () => {
      try {
        this.trouble = "";
        this.retouched = await ask(`${this.retouchesPath}/everywhere`, { method: "POST" });
        this.copiedElsewhere = `Copied to ${others === 1 ? "1 other job" : `${others} other jobs`}, where it can be undone.`;
      } catch (problem) {
        this.trouble = problem.message;
      }
    });
  },
  async putRetouches(change) {
    await this.inTurn(async () => {
      const retouches = this.retouched.retouches.map(change).filter(Boolean);
      const body = { retouches, version: this.retouched.version, placement_id: this.view.id };
      try {
        this.trouble = "";
        this.retouched = await ask(this.retouchesPath, { method: "PUT", body });
      } catch (problem) {
        this.trouble = problem.message;
        if (problem.newer) this.retouched = problem.newer;
      }
      if (this.noRetouch) this.retouchNumber = this.retouched.retouches.at(-1)?.number ?? 0;
    });
    await this.refreshed();
  },
  // The photo as it came, for as long as the button is down.
  showBefore() {
    this.before = !this.before;
    this.pictures();
  },
};
