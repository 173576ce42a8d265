// The Ground station: whether the crop may reach beyond the photo, what fills there, where it sits.

import { ask } from "../../net/ask.js";
import { pointerOn } from "../panes/panes.js";

// A part of the bench, which it knows as `this.bench`.
export const ground = {
  get fillKind() {
    return this.bench.view.ground.startsWith("#") ? "colour" : this.bench.view.ground;
  },
  get fillColour() {
    return this.bench.view.ground.startsWith("#") ? this.bench.view.ground : "";
  },
  get pickWord() {
    return this.bench.tool === "pick" ? "Now click the photo" : "Pick from the photo";
  },
  setBeyond(event) {
    this.bench.keep({ kind: "ground", beyond: event.target.checked });
  },
  setFill(event) {
    const { value } = event.target;
    if (value === "continued") {
      event.target.blur(); // so that keys take a try
      return this.continueGround();
    }
    this.bench.tries.close();
    const { target } = event;
    return this.bench
      .keep({ kind: "ground", beyond: true, fill: value === "colour" ? "white" : value })
      .then(() => (target.value = this.fillKind)); // what was refused is not shown as if it were so
  },
  // More of the scene: the first try is taken at once, and others made beside it.
  async continueGround() {
    this.bench.openStation("Ground");
    const was = this.bench.view.lying.continued;
    await this.bench.keep({ kind: "continue", try: was?.try ?? 1, seed: was?.seed ?? 1 });
    await this.showGrounds();
  },
  showGrounds() {
    return this.bench.tries.show("Ground", this.bench.view.lying.continued?.seed ?? 1);
  },
  // What is brushed alone may be copied; nothing brushed takes from all of the photo again.
  useGroundFrom() {
    this.bench.tries.close();
    this.bench.use("from");
  },
  get fromGround() {
    return this.bench.tool === "from" && this.bench.station === "Ground";
  },
  get notFromGround() {
    return !this.fromGround;
  },
  async takeFromHere() {
    const { take_from } = this.bench.retouch.brushedBody();
    this.bench.retouch.dropBrushed();
    this.bench.use("from");
    const was = this.bench.view.lying.continued;
    const side = this.bench.$refs.sourceSide.value || null;
    await this.bench.keep({ kind: "continue", try: was?.try ?? 1, seed: was?.seed ?? 1, take_from, side });
    await this.showGrounds();
  },
  get reached() {
    return Object.entries(this.bench.view.reaches).filter(([, by]) => by >= 0.5);
  },
  // Sides a source can be said for alone, where more than one reaches beyond.
  get sourceSides() {
    return this.reached.length > 1 ? this.reached.map(([side]) => side) : [];
  },
  get asksForSide() {
    return this.fromGround && this.sourceSides.length > 0;
  },
  // How far tries are, then where they are copied from, if a person said that.
  get word() {
    const { tries, view } = this.bench;
    return (!tries.busy && view.source_words) || tries.word;
  },
  get isContinued() {
    return this.bench.view.ground === "continued" && this.bench.view.beyond;
  },
  get triesHidden() {
    return this.isContinued && !this.bench.tries.tiled;
  },
  setColour(event) {
    this.bench.keep({ kind: "ground", beyond: true, fill: event.target.value });
  },
  get reachWord() {
    return this.reached.length ? `Beyond now: ${this.reached.map(([side, by]) => `${Math.round(by)} px ${side}`).join(", ")}` : "Nothing reaches beyond now.";
  },
  setReach() {
    const { side, reach, reachUnit } = this.bench.$refs;
    const by = Number(reach.value.trim().replace(",", "."));
    if (!Number.isFinite(by) || by < 0 || reach.value.trim() === "") {
      this.bench.trouble = `“${reach.value}” is not how far. Write it like 300, in the unit beside it.`;
      return;
    }
    this.bench.keep({ kind: "extend", side: side.value, by, unit: reachUnit.value });
  },
  get backdropHash() {
    const { own_size: own, size } = this.bench.view;
    return (own ?? size).size.backdrop?.hash ?? "";
  },
  get canStandBefore() {
    return this.bench.backdrops.length > 0 && !this.isContinued;
  },
  // Seen where the ground is: around the photo, or around what is cut out of it.
  async setBackdrop(event) {
    const { target } = event;
    const backdrop = this.bench.backdrops.find((one) => one.hash === target.value) ?? null;
    const cut = this.bench.retouch.kept.retouches.some((one) => one.kind === "cut_out" && one.shown);
    await this.bench.keep({ kind: "backdrop", backdrop, beyond: backdrop && !cut ? true : null });
    target.value = this.backdropHash; // what was refused is not shown as if it were so
  },
  async setBorder(event) {
    const border = event.target.value.trim();
    await this.bench.keep({ kind: "border", border: border || null });
    event.target.value = this.bench.view.border_text; // what was refused is not shown as if it were so
  },
  setShape(event) {
    const ratio = event.target.value.trim();
    if (ratio) this.bench.keep({ kind: "ground", beyond: true, ratio });
    event.target.value = "";
  },
  sit(event) {
    const { u, v } = event.currentTarget.dataset;
    this.bench.keep({ kind: "ground", beyond: true, sit: [Number(u), Number(v)] });
  },
  usePick() {
    this.bench.use("pick");
  },
  async pick(event) {
    const at = pointerOn(this.bench.$refs.whole, this.bench.wholeBox, event);
    const [wide, high] = this.bench.view.extent;
    this.bench.use("pick");
    await this.takeTone(`x=${at.x / wide}&y=${at.y / high}`);
  },
  async averageEdge(event) {
    if (event.target.value) await this.takeTone(`edge=${event.target.value}`);
    event.target.value = "";
  },
  async takeTone(query) {
    try {
      const { fill } = await ask(`${this.bench.path}/tone?${query}`);
      await this.bench.keep({ kind: "ground", beyond: true, fill });
    } catch (problem) {
      this.bench.trouble = problem.message;
    }
  },
};
