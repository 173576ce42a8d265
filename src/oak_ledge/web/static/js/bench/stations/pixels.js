// Relabel and resample on the Pixels station: what comes out now, and what would, live.

import { ask } from "../../net/ask.js";
import { newestWins } from "../../net/newest.js";

const written = (value) => value.trim().replace(",", ".");

// A number, perhaps with its unit; what ends in a point or a stroke is half written.
const MEASURE = /^\d[\d\s.,/]*(?<![.,/])\s*(in|inch|inches|"|″|cm|mm|px|%|ppi)?$/i;

// A part of the bench, which it knows as `this.bench`.
export const pixels = {
  now: null,
  after: { relabel: null, resample: null },
  typing: "",
  tied: true, // width and height in pixels follow each other

  // What is kept is the new "now"; what was typed before is over.
  measure(view) {
    this.now = view.output;
    this.typing = "";
    this.stretchWord = "";
    this.after = { relabel: view.output, resample: view.output };
    this.fill();
  },
  // Bytes are known now: they are shown beside what is being typed, which stays.
  weighed(view) {
    if (!this.typing) return this.measure(view);
    this.now = view.output;
    for (const row of ["relabel", "resample"]) {
      if (row !== this.typing) this.after = { ...this.after, [row]: view.output };
    }
    return this.tellMeasure(this.asked);
  },
  fill() {
    for (const field of this.bench.$root.querySelectorAll("[data-measure]")) {
      const [row, name] = field.dataset.measure.split(".");
      if (field !== document.activeElement || !this.typing) field.value = this.after[row].fields[name];
    }
  },
  get nowShown() {
    return this.now ?? this.bench.view.output;
  },
  get relabelled() {
    return this.after.relabel ?? this.nowShown;
  },
  get resampled() {
    return this.after.resample ?? this.nowShown;
  },
  get noRelabel() {
    return this.typing !== "relabel";
  },
  get noResample() {
    return this.typing !== "resample";
  },
  get noSize() {
    return this.nowShown.fields.ppi === "";
  },
  get realWord() {
    const real = this.bench.view.real_ppi;
    if (real !== null) return `${Math.round(real)} real ppi in this crop`;
    return "No print size yet: relabel first";
  },
  // Typing is told and shown beside, not kept: the bench stays as it is until a person says so.
  typeMeasure(event) {
    const [row, name] = event.target.dataset.measure.split(".");
    const value = written(event.target.value);
    if (!value) return;
    const unit = /^[\d\s./]+$/.test(value) ? this.nowShown.fields.unit : "";
    if (this.typing !== row) this.after = { relabel: this.now, resample: this.now };
    this.typing = row;
    if (!this.tied && name.endsWith("_px")) return this.typeUntied(value);
    const exact = ["ppi", "percent"].includes(name) || name.endsWith("_px");
    this.asked = { kind: row, [name]: exact ? value.replace(/\s*(px|%|ppi)$/, "") : `${value}${unit}` };
    if (!MEASURE.test(value)) return; // half written, or nonsense that is refused once it is meant
    this.tellMeasure ??= newestWins(
      (gesture) => this.askMeasure(gesture),
      (live) => this.showMeasure(live),
    );
    this.tellMeasure(this.asked);
  },
  // Untied the two edges stretch the picture: how much is said in the line of notes once it is taken.
  typeUntied(value) {
    const [width_px, height_px] = ["width_px", "height_px"].map((name) => {
      const field = this.bench.$root.querySelector(`[data-measure="resample.${name}"]`);
      return Number(written(field.value).replace(/\s*px$/, ""));
    });
    if (!(width_px >= 1 && height_px >= 1) || !MEASURE.test(value)) return;
    this.asked = { kind: "resample", width_px, height_px };
    const [wide, high] = this.bench.view.face;
    const times = width_px / height_px / (wide / high);
    const share = Math.max(times, 1 / times) - 1;
    this.stretchWord = share < 0.0005 ? "" : `${(100 * share).toFixed(1)} % ${times > 1 ? "wider" : "taller"} than it is`;
  },
  stretchWord: "",
  untie(event) {
    this.tied = event.target.checked;
    this.stretchWord = "";
    this.measure(this.bench.view);
  },
  async askMeasure(gesture) {
    try {
      this.bench.trouble = "";
      const body = { gesture, keep: false };
      return { row: gesture.kind, live: await ask(`${this.bench.path}/gesture`, { method: "POST", body }) };
    } catch (problem) {
      this.bench.trouble = problem.message;
      return null;
    }
  },
  showMeasure({ row, live }) {
    if (this.typing !== row) return;
    this.after = { ...this.after, [row]: live.output };
    this.fill();
  },
  // How pixels are resampled and sharpened, chosen for this photo.
  async finish(event) {
    const { dataset, value } = event.target;
    await this.bench.small.settle();
    await this.bench.keep({ kind: "finish", [dataset.finish]: value });
  },
  async takeMeasure() {
    if (this.typing) await this.bench.keep(this.asked);
  },
};
