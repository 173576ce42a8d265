// The Crop station: ratio, tall or wide, figures, tightness.

import { ask } from "../../net/ask.js";
import { remember } from "../choices.js";

const STEP = 1.02;
const FAR = 1.1;

// A part of the bench, which it knows as `this.bench`.
export const crop = {
  unit: "px",
  ratioTyped: false,
  ratioAsked: null, // a ratio that is wanted on a print, until it is said what stays

  get noTurn() {
    return !this.bench.view.turns;
  },
  turn() {
    if (!this.noTurn) this.bench.keep({ kind: "turn" });
  },
  tighten(event) {
    this.bench.small.add({ kind: "scale", factor: 1 / (event?.shiftKey ? FAR : STEP) });
  },
  loosen(event) {
    this.bench.small.add({ kind: "scale", factor: event?.shiftKey ? FAR : STEP });
  },
  // The slide says how much of the largest crop is cut away: to the right it is tighter.
  slideTightness(event) {
    this.bench.tightFrom ??= this.bench.view.tightness;
    const wanted = Math.max(0.02, (102 - Number(event.target.value)) / 100);
    this.tightened = { kind: "scale", factor: wanted / this.bench.tightFrom };
    this.bench.hands.during(this.tightened);
  },
  keepTightness() {
    if (this.tightened) this.bench.keep(this.tightened);
    this.tightened = this.bench.tightFrom = null;
  },
  startAgain() {
    this.bench.keep({ kind: "start_again" });
  },

  // --- ratio

  // Ratios that were written for this job stay in its list.
  get ownRatios() {
    const kept = JSON.parse(localStorage.getItem(`oak-ledge-ratios-${this.bench.view.job_id}`) ?? "[]");
    return kept.filter((ratio) => /^[\d.]+:[\d.]+$/.test(ratio) && !this.bench.commonRatios.includes(ratio));
  },
  keepRatio(text) {
    const ratios = [...new Set([...this.ownRatios, text.replaceAll(/\s/g, "")])].slice(-6);
    remember(`ratios-${this.bench.view.job_id}`, JSON.stringify(ratios));
  },
  get ratios() {
    const { own_size: own } = this.bench.view;
    const text = own?.shape_text.replace(/ extend$/, "");
    const here = own === null ? "size" : { "100%": "free", photo: "photo" }[text] ?? text;
    const list = [
      { value: "size", words: this.bench.view.size_shape ? `${this.bench.view.size_shape}, from the size` : "from the size" },
      { value: "100%", words: "free" },
      { value: "photo", words: "the photo's" },
      ...this.bench.commonRatios.map((ratio) => ({ value: ratio, words: ratio })),
      ...this.ownRatios.map((ratio) => ({ value: ratio, words: ratio })),
    ];
    const known = own === null || list.some(({ value }) => value === text);
    if (!known) list.push({ value: "own", words: own.label });
    list.push({ value: "typed", words: "another…" });
    const at = known ? { size: "size", free: "100%" }[here] ?? here : "own";
    return list.map((one) => ({ ...one, here: one.value === at }));
  },
  async setRatio(event) {
    const { value } = event.target;
    this.ratioTyped = value === "typed";
    if (this.ratioTyped) return this.bench.$nextTick(() => this.bench.$refs.ratioText.focus());
    if (value === "own") return;
    event.target.blur(); // so that keys mean the crop again
    if (value === "size") await this.bench.sizes.putOn({ job_size_id: this.bench.view.job_size_id });
    else await this.putOnRatio(value);
  },
  // The field stands where the list stood, so that nothing else moves.
  get ratioListed() {
    return !this.ratioTyped;
  },
  leaveTypedRatio() {
    this.ratioTyped = false;
    this.writeRatio();
  },
  async typeRatio(event) {
    const text = event.target.value.trim();
    event.target.value = "";
    this.ratioTyped = false;
    if (!text) return;
    if (/^[\d.]+\s*:\s*[\d.]+$/.test(text)) this.keepRatio(text);
    await this.putOnRatio(text);
  },
  // On a print a bare ratio may mean two things: which of them is asked in the line of notes.
  async putOnRatio(text, more = {}) {
    this.ratioAsked = null;
    const choice = await ask(`${this.bench.path}/ratio?text=${encodeURIComponent(text)}`).catch(() => null);
    if (!choice?.as_print) return this.bench.sizes.putOn({ text, ...more });
    this.ratioAsked = { ...choice, text, more };
    this.writeRatio();
    await this.bench.$nextTick(() => this.bench.$refs.keepPrint.focus());
    return "";
  },
  get isAsked() {
    return this.ratioAsked !== null;
  },
  get notAsked() {
    return this.ratioAsked === null;
  },
  get askedRatio() {
    return this.ratioAsked?.ratio ?? "";
  },
  get askedPrint() {
    return this.ratioAsked?.as_print ?? "";
  },
  get askedPixels() {
    return this.ratioAsked?.as_pixels ?? "";
  },
  keepPrint() {
    return this.answerRatio("print");
  },
  keepPixels() {
    return this.answerRatio("pixels");
  },
  answerRatio(keep) {
    const { text, more } = this.ratioAsked;
    this.ratioAsked = null;
    return this.bench.sizes.putOn({ text, keep, ...more });
  },
  leaveRatio() {
    this.ratioAsked = null;
    this.bench.$refs.ratio.focus();
  },
  // The list says what the piece is on, whatever was looked at in it.
  writeRatio() {
    const at = this.ratios.findIndex((one) => one.here);
    if (this.bench.$refs.ratio) this.bench.$refs.ratio.selectedIndex = at;
  },

  // One entry is one step: what a field says when it is left, by Enter or otherwise.
  typed(event) {
    const field = event.target;
    const value = Number(field.value.trim().replace(",", "."));
    if (!Number.isFinite(value) || field.value.trim() === "") {
      this.bench.trouble = `“${field.value}” is not a number. Write it like 412.5.`;
      return;
    }
    field.blur();
    this.bench.keep({ kind: "type", unit: this.unit, [field.name]: value });
  },
  endTyping() {
    document.activeElement?.blur();
  },

  get units() {
    return Object.keys(this.bench.view.typed);
  },
  setUnit(event) {
    this.unit = event.target.value;
    this.bench.writeFields();
  },

};
