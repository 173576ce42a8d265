// The viewer's own choices, remembered by the browser.

import { TONES } from "../hand/tones.js";

export const PIECES = ["bare", "framed", "scale", "wall"];
export const SHADES = ["strong", "weak", "pale", "none"];

export const remembered = (name, choices) => {
  const kept = localStorage.getItem(`oak-ledge-${name}`);
  return choices.includes(kept) ? kept : choices[0];
};
export const remember = (name, value) => localStorage.setItem(`oak-ledge-${name}`, value);

// The ground a hand chose last fills what is pulled beyond a photo.
const GROUND = /^(#[0-9a-f]{6}|blur|mirror|edge|continued)$/;
export const rememberedGround = () => {
  const kept = localStorage.getItem("oak-ledge-ground") ?? "";
  return GROUND.test(kept) ? kept : "";
};

// A part of the bench, which it knows as `this.bench`.
export const choices = {
  pieceView: "bare",
  tone: "light",
  shade: "strong",

  get tones() {
    return Object.fromEntries(TONES.map((tone) => [tone, String(tone === this.tone)]));
  },
  setTone(event) {
    this.tone = event.currentTarget.dataset.tone;
    this.applyTone();
  },
  nextTone() {
    this.tone = TONES[(TONES.indexOf(this.tone) + 1) % TONES.length];
    this.applyTone();
  },
  get pieceShown() {
    return this.pieceWays.includes(this.pieceView) ? this.pieceView : "bare";
  },
  get framed() {
    return this.pieceShown === "framed" || (this.bench.wall.shown && this.bench.view.hung !== null);
  },
  get pieceWays() {
    return PIECES.filter((way) => (way !== "framed" || this.bench.view.hung) && (way !== "wall" || this.bench.view.printed));
  },
  get pieceWord() {
    return { bare: "print only", framed: "framed", scale: "beside the photo", wall: "true size" }[this.pieceShown];
  },
  nextPieceView() {
    const ways = this.pieceWays;
    this.pieceView = ways[(ways.indexOf(this.pieceShown) + 1) % ways.length];
    remember("piece", this.pieceView);
    this.bench.redraw();
  },
  nextShade() {
    this.shade = SHADES[(SHADES.indexOf(this.shade) + 1) % SHADES.length];
    this.applyTone();
  },
  applyTone() {
    remember("tone", this.tone);
    remember("shade", this.shade);
    document.documentElement.dataset.tone = this.tone;
    this.bench.$refs.stage.dataset.shade = this.shade;
  },
};
