// Drawing the two panes from what the server answered.

import { ask } from "../../net/ask.js";
import { tools } from "../tools/all.js";
import { drawPiece, drawSquare, drawWhole, extentOf } from "./panes.js";

const WORDS = 100; // milliseconds
// What of an answer the panes are drawn from.
const DRAWN = [
  "lying", "placement", "extent", "outline", "photo_extent", "crop", "picture", "panels", "sides", "joints", "face", "insets", "hung", "printed",
  "trimmed_sides", "uncovered", "ground", "keeps", "found", "edges", "edge", "outside",
];

// What the page holds of it; the bench takes it over, getters and all.
export const drawing = {
  marking: false,
  beyondWord: "",
  wholeScale: "photo",
  pieceScale: "piece",

  // Under a hand the pictures follow at once, words and figures ten times a second: they cannot
  // be read quicker, and would cost the pictures half their frames.
  show(answer) {
    this.newest = answer;
    if (this.moving) {
      this.take(answer, DRAWN);
      this.saying ||= setTimeout(() => this.say(), WORDS);
    } else this.say();
    this.draw();
  },
  say() {
    clearTimeout(this.saying);
    this.saying = 0;
    this.take(this.newest);
    this.writeFields();
  },
  // Only what changed is set: what stays is not bound anew, which would cost half a frame.
  take(answer, names = Object.keys(answer)) {
    for (const name of names) {
      const value = answer[name];
      if (JSON.stringify(value) !== JSON.stringify(this.view[name])) this.view[name] = value;
    }
  },
  draw() {
    const { whole, piece } = this.$refs;
    // A drag may carry the crop beyond the photo; the pane makes room once the hand lets go.
    if (!this.moving) this.extent = extentOf(this.view);
    this.pictures();
    whole.classList.toggle("is-squaring", this.squaring);
    if (this.squaring) this.wholeBox = drawSquare(whole, this.quad, this.view.photo_extent, this.lens, { room: this.rooms.whole, zoom: this.zooms.whole });
    else this.wholeBox = drawWhole(whole, this.view, this.extent, {
      room: this.rooms.whole,
      zoom: this.zooms.whole,
      alike: this.pieceView === "scale",
    });
    for (const tool of Object.values(tools)) tool.draw?.(this);
    this.drawZones();
    this.drawShapes();
    this.pieceBox = drawPiece(piece, this.view, this.view.edges, {
      framed: this.framed,
      widest: this.pieceView === "scale" ? (this.view.crop[2] * this.wholeBox.scale) / this.zooms.whole.z : Infinity,
      exactly: this.wallWidth,
      room: this.rooms.piece,
      zoom: this.zooms.piece,
    });
    this.wholeScale = `photo · shown at ${share(this.wholeBox.scale)}`;
    const scale = `piece · shown at ${share(this.pieceBox.across)}`;
    this.pieceScale = this.onWall
      ? `piece · ${this.wallWord}`
      : this.framed ? `${scale} · ${this.view.hung.words}` : scale;
    this.drawLines();
    piece.classList.remove("is-fine");
  },
  // The fields one can type in, but the one that is typed in now.
  writeFields() {
    const figures = this.view.typed[this.unit] ?? this.view.typed.px;
    ["left", "top", "width", "height"].forEach((name, n) => {
      if (document.activeElement !== this.$refs[name]) this.$refs[name].value = figures[n];
    });
    const { angle } = this.view.placement;
    if (!this.tightFrom) this.$refs.tightness.value = 102 - 100 * this.view.tightness;
    for (const field of [this.$refs.angle, this.$refs.degrees]) {
      if (document.activeElement !== field || !this.moving) field.value = figure(angle, 2);
    }
  },
  // The picture the crop lies on: the photo as it is turned, or the plane its corners define.
  pictures() {
    const { quarter, mirror, corners } = this.view.lying;
    const source = corners && !this.squaring
      ? `${this.path}/plane?edge=2048&of=${corners}`
      : `/api/photos/${this.view.photo.id}/preview?edge=2048&quarter=${quarter}&mirror=${mirror}&look=${this.before ? "original" : this.view.photo.look}&of=${this.patched}`;
    if (source === this.source) return;
    this.source = source;
    for (const image of this.$refs.stage.querySelectorAll("[data-part=photo], [data-part=under], [data-part=lens-photo], [data-part=texture]")) {
      image.setAttribute("href", source);
    }
  },
  measureRooms() {
    const of = (pane) => ({ wide: pane.clientWidth, high: pane.clientHeight });
    this.rooms = { whole: of(this.$refs.whole), piece: of(this.$refs.piece) };
  },
  redraw() {
    this.draw();
    this.writeFields();
    this.drawFine();
  },
  async drawFine() {
    const { piece } = this.$refs;
    const image = piece.querySelector("[data-part=fine]");
    const edge = Math.round(
      Math.max(this.pieceBox.width, this.pieceBox.height) * Math.min(2, window.devicePixelRatio),
    );
    const of = () => {
      const { crop, lying, picture, finish, ground } = this.view;
      const scene = `${this.view.photo.look} ${this.patched} ${this.tries.made} ${JSON.stringify(lying.continued)}`;
      return String([crop, lying.angle, lying.quarter, lying.mirror, lying.corners, picture, finish, ground, scene]);
    };
    const crop = of();
    const marks = this.marking && this.view.marks_for !== null;
    const source = `${this.path}/preview?edge=${Math.min(1600, Math.max(64, edge))}&marks=${marks}&of=${encodeURIComponent(crop)}`;
    if (marks) this.sayBeyond();
    const loaded = new Image();
    loaded.src = source;
    try {
      await loaded.decode();
    } catch {
      return; // the photo itself stays shown
    }
    if (crop !== of()) return;
    if (marks !== (this.marking && this.view.marks_for !== null)) return;
    image.setAttribute("href", source);
    piece.classList.add("is-fine");
    this.drawFolded();
  },

  drawFolded() {
    if (!this.view.sides) return;
    const source = `${this.path}/sides?edge=1000&of=${encodeURIComponent(this.view.sentence)}`;
    for (const image of this.$refs.piece.querySelectorAll(".folded image")) image.setAttribute("href", source);
  },
  get marksFor() {
    return this.view.marks_for ?? "";
  },
  setMarking(event) {
    this.marking = event.target.checked;
    this.beyondWord = "";
    this.drawFine();
  },
  async sayBeyond() {
    const { step } = this.view;
    const found = await ask(`${this.path}/beyond`).catch(() => null);
    if (found && this.marking && step === this.view.step) this.beyondWord = found.text;
  },
};

// How large a pane shows it, in per cent.
const share = (scale) => `${figure(100 * scale, scale < 0.1 ? 1 : 0)} %`;

function figure(value, places = 1) {
  return String(Number(value.toFixed(places)));
}
