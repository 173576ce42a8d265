// The Ground station: whether the crop may reach beyond the photo, what fills there, where it sits.

import { ask } from "./ask.js";
import { pointerOn } from "./panes.js";

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
    this.keep({ kind: "ground", beyond: true, fill: value === "colour" ? "white" : value });
  },
  setColour(event) {
    this.keep({ kind: "ground", beyond: true, fill: event.target.value });
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
    const [wide, high] = this.view.photo_held;
    this.use("pick");
    await this.takeTone(`x=${within(at.x / wide)}&y=${within(at.y / high)}`);
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

const within = (share) => Math.min(1, Math.max(0, share)).toFixed(5);
