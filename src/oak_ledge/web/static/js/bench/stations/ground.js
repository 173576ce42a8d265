// The Ground station: whether the crop may reach beyond the photo, what fills there, where it sits.

import { ask } from "../../net/ask.js";
import { pointerOn } from "../panes/panes.js";

// What the page holds of it; the bench takes it over, getters and all.
export const grounding = {
  get fillKind() {
    return this.view.ground.startsWith("#") ? "colour" : this.view.ground;
  },
  get fillColour() {
    return this.view.ground.startsWith("#") ? this.view.ground : "";
  },
  get pickWord() {
    return this.tool === "pick" ? "Now click the photo" : "Pick from the photo";
  },
  setBeyond(event) {
    this.keep({ kind: "ground", beyond: event.target.checked });
  },
  setFill(event) {
    const { value } = event.target;
    if (value === "continued") {
      event.target.blur(); // so that keys take a try
      return this.continueGround();
    }
    this.closeTries();
    return this.keep({ kind: "ground", beyond: true, fill: value === "colour" ? "white" : value });
  },
  // More of the scene: the first try is taken at once, and others made beside it.
  async continueGround() {
    this.openStation("Ground");
    const was = this.view.lying.continued;
    await this.keep({ kind: "continue", try: was?.try ?? 1, seed: was?.seed ?? 1 });
    await this.showGrounds();
  },
  showGrounds() {
    return this.showTries("Ground", this.view.lying.continued?.seed ?? 1);
  },
  // What is brushed alone may be copied; nothing brushed takes from all of the photo again.
  useGroundFrom() {
    this.closeTries();
    this.use("from");
  },
  get fromGround() {
    return this.tool === "from" && this.station === "Ground";
  },
  get notFromGround() {
    return !this.fromGround;
  },
  async takeFromHere() {
    const { take_from } = this.brushedBody();
    this.dropBrushed();
    this.use("from");
    const was = this.view.lying.continued;
    await this.keep({ kind: "continue", try: was?.try ?? 1, seed: was?.seed ?? 1, take_from });
    await this.showGrounds();
  },
  get takesFromWord() {
    return this.view.lying.continued?.take_from.length ? "Only what was brushed is copied." : "";
  },
  get isContinued() {
    return this.view.ground === "continued" && this.view.beyond;
  },
  get triesHidden() {
    return this.isContinued && !this.tiled;
  },
  setColour(event) {
    this.keep({ kind: "ground", beyond: true, fill: event.target.value });
  },
  get reachWord() {
    const sides = Object.entries(this.view.reaches).filter(([, by]) => by >= 0.5);
    return sides.length ? `Beyond now: ${sides.map(([side, by]) => `${Math.round(by)} px ${side}`).join(", ")}` : "Nothing reaches beyond now.";
  },
  setReach() {
    const { side, reach, reachUnit } = this.$refs;
    const by = Number(reach.value.trim().replace(",", "."));
    if (!Number.isFinite(by) || by < 0 || reach.value.trim() === "") {
      this.trouble = `“${reach.value}” is not how far. Write it like 300, in the unit beside it.`;
      return;
    }
    this.keep({ kind: "extend", side: side.value, by, unit: reachUnit.value });
  },
  setShape(event) {
    const ratio = event.target.value.trim();
    if (ratio) this.keep({ kind: "ground", beyond: true, ratio });
    event.target.value = "";
  },
  sit(event) {
    const { u, v } = event.currentTarget.dataset;
    this.keep({ kind: "ground", beyond: true, sit: [Number(u), Number(v)] });
  },
  usePick() {
    this.use("pick");
  },
  async pick(event) {
    const at = pointerOn(this.$refs.whole, this.wholeBox, event);
    const [wide, high] = this.view.extent;
    this.use("pick");
    await this.takeTone(`x=${at.x / wide}&y=${at.y / high}`);
  },
  async averageEdge(event) {
    if (event.target.value) await this.takeTone(`edge=${event.target.value}`);
    event.target.value = "";
  },
  async takeTone(query) {
    try {
      const { fill } = await ask(`${this.path}/tone?${query}`);
      await this.keep({ kind: "ground", beyond: true, fill });
    } catch (problem) {
      this.trouble = problem.message;
    }
  },
};
