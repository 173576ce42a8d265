// Drawing the two panes from what the server answered.

import { ask, askPicture } from "../../net/ask.js";
import { tools } from "../tools/all.js";
import { drawHead, drawHeadOnPiece } from "./head.js";
import { drawPiece, drawSquare, drawWhole, extentOf } from "./panes.js";

const WORDS = 100; // milliseconds
const MOST_EDGE = 1600; // pixels of the piece's picture
const MOST_PART = 3000; // of what is looked at of it at true pixels
// What of an answer the panes are drawn from.
const DRAWN = [
  "lying", "placement", "extent", "outline", "photo_extent", "crop", "picture", "panels", "sides", "joints", "face", "insets", "inner", "paper", "hung", "printed",
  "trimmed_sides", "uncovered", "ground", "window", "keeps", "found", "edges", "edge", "outline_points", "outside", "head",
];

// What the page holds of it; the bench takes it over, getters and all.
export const drawing = {
  turning: false, // what the crop lies on is on its way: the panes stay as they are
  passing: "", // the picture of a gesture under way that is shown
  fetched: "",
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
    whole.setAttribute("aria-busy", String(this.turning));
    if (this.turning) return;
    whole.classList.toggle("is-squaring", this.level.squaring);
    if (this.level.squaring) this.wholeBox = drawSquare(whole, this.level.quad, this.view.photo_extent, this.level.lens, { room: this.rooms.whole, zoom: this.zooms.whole });
    else this.wholeBox = drawWhole(whole, this.view, this.extent, {
      room: this.rooms.whole,
      zoom: this.zooms.whole,
      alike: this.choices.pieceView === "scale",
    });
    for (const tool of Object.values(tools)) tool.draw?.(this);
    this.photo.drawZones();
    this.lines.drawShapes();
    // While corners are set the photo under the crop shows another part: the piece is drawn with its picture.
    if (!this.level.squaring) {
      this.drawPiece();
      piece.classList.remove("is-fine", "is-close");
    }
    whole.classList.remove("shows-ground");
    for (const [pane, shown] of [[whole, this.wholeBox.scale], [piece, this.pieceBox.across]]) {
      pane.classList.toggle("is-enlarged", shown * window.devicePixelRatio > 1.5);
    }
    whole.classList.toggle("draws-inside", !this.view.has_room);
    whole.classList.toggle("draws-beside", !this.view.worked_on);
    this.wholeScale = `photo · shown at ${share(this.wholeBox.scale)}`;
    const scale = `piece · shown at ${share(this.pieceBox.across)}`;
    this.pieceScale = this.wall.shown
      ? `piece · ${this.wall.word}`
      : this.choices.framed ? `${scale} · ${this.view.hung.words}` : scale;
    this.lines.draw();
    drawHead(whole, this);
  },
  drawPiece() {
    this.pieceBox = drawPiece(this.$refs.piece, this.view, this.view.edges, {
      framed: this.choices.framed,
      widest: this.choices.pieceView === "scale" ? (this.view.crop[2] * this.wholeBox.scale) / this.zooms.whole.z : Infinity,
      exactly: this.wall.width,
      room: this.rooms.piece,
      zoom: this.zooms.piece,
    });
    drawHeadOnPiece(this.$refs.piece, this.view, this.pieceBox);
    this.mark.draw();
    this.outline.draw();
  },
  // The fields one can type in, but the one that is typed in now.
  writeFields() {
    const figures = this.view.typed[this.crop.unit] ?? this.view.typed.px;
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
    const source = corners && !this.level.squaring
      ? `${this.path}/plane?edge=2048&of=${corners}`
      : `/api/photos/${this.view.photo.id}/preview?edge=2048&quarter=${quarter}&mirror=${mirror}&look=${this.retouch.before ? "original" : this.view.photo.look}&of=${this.retouch.patched}`;
    if (source === this.source) return;
    this.source = source;
    // Another plane, or the photo turned: nothing is drawn on it before it is there.
    const surface = String([quarter, mirror, this.level.squaring ? "" : corners]);
    if (this.surface !== undefined && surface !== this.surface) this.turnTo(source, surface);
    else {
      this.surface ??= surface;
      this.turning = false;
      this.setPicture(source);
    }
  },
  async turnTo(source, surface) {
    this.turning = true;
    const loaded = new Image();
    loaded.src = source;
    await loaded.decode().catch(() => {}); // it is drawn without its picture then
    if (source !== this.source) return;
    this.turning = false;
    this.surface = surface;
    this.setPicture(source);
    this.redraw();
  },
  setPicture(source) {
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
    const edge = this.pieceEdge;
    const of = () => {
      const { crop, lying, picture, finish, ground } = this.view;
      const scene = `${this.view.photo.look} ${this.retouch.patched} ${this.tries.set.made} ${JSON.stringify(lying.continued)}`;
      return String([crop, lying.angle, lying.quarter, lying.mirror, lying.corners, picture, finish, ground, this.ground.backdropHash, scene]);
    };
    const crop = of();
    const marks = this.marking && this.view.marks_for !== null;
    const source = `${this.path}/preview?edge=${edge}&marks=${marks}&mark=false&of=${encodeURIComponent(crop)}`;
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
    if (this.level.squaring || this.turning) this.drawPiece();
    this.showFine(source);
    this.showScene(source);
    this.drawFolded();
    await this.drawClose();
  },
  // Where more is seen of the piece than its picture holds: the part in sight, at true pixels.
  async drawClose() {
    const { piece } = this.$refs;
    const close = piece.querySelector("[data-part=close]");
    const { across, along, left, top, width, height } = this.pieceBox;
    const more = across * window.devicePixelRatio * Math.max(...this.view.picture) > 1.01 * MOST_EDGE;
    piece.classList.remove("is-close");
    if (!more || this.moving || this.view.edge || this.level.squaring) return;
    const { wide, high } = this.rooms.piece;
    const [W, H] = this.view.picture;
    const box = {
      left: Math.max(0, Math.floor(-left / across)),
      top: Math.max(0, Math.floor(-top / along)),
      right: Math.min(W, Math.ceil((wide - left) / across)),
      bottom: Math.min(H, Math.ceil((high - top) / along)),
    };
    const [w, h] = [box.right - box.left, box.bottom - box.top];
    if (w < 1 || h < 1 || Math.max(w, h) > MOST_PART) return;
    const of = `${this.view.step} ${[left, top, width, height]}`;
    const source = `${this.path}/part?left=${box.left}&top=${box.top}&width=${w}&height=${h}&of=${encodeURIComponent(of)}`;
    this.closeOf = source;
    const loaded = new Image();
    loaded.src = source;
    if (!(await loaded.decode().then(() => true).catch(() => false)) || this.closeOf !== source || this.moving) return;
    for (const [name, value] of Object.entries({ x: box.left * across, y: box.top * along, width: w * across, height: h * along, href: source })) close.setAttribute(name, value);
    piece.classList.add("is-close");
  },
  // How large a picture the piece is shown with, in device pixels of its longer edge.
  get pieceEdge() {
    const shown = Math.max(this.pieceBox.width, this.pieceBox.height);
    return Math.min(MOST_EDGE, Math.max(64, Math.round(shown * Math.min(2, window.devicePixelRatio))));
  },
  showFine(source) {
    const { piece } = this.$refs;
    piece.querySelector("[data-part=fine]").setAttribute("href", source);
    piece.classList.add("is-fine");
    if (this.passing && this.passing !== source) URL.revokeObjectURL(this.passing);
    this.passing = source.startsWith("blob:") ? source : "";
  },
  // More of the scene stands around the photo too: it is brushed over there.
  showScene(source) {
    const { whole } = this.$refs;
    if (this.view.ground !== "continued" || !this.view.beyond || this.view.lying.corners || this.level.squaring) return;
    whole.querySelector("[data-part=ground-picture]").setAttribute("href", source);
    whole.classList.add("shows-ground");
  },
  // The piece as the gesture would make it: what is under its crop can't show that while corners are set.
  async askPassing(gesture) {
    if (this.fetched !== this.passing) URL.revokeObjectURL(this.fetched); // one that came too late
    const body = { gesture, step: this.view.step };
    const source = await askPicture(`${this.path}/picture?edge=${Math.min(900, this.pieceEdge)}`, body).catch(() => null);
    if (!source) return null;
    this.fetched = source;
    const loaded = new Image();
    loaded.src = source;
    await loaded.decode().catch(() => {});
    return source;
  },
  showPassing(source) {
    if (!this.level.squaring) return;
    this.drawPiece();
    this.showFine(source);
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

// How large a pane shows it, in per cent: at 100 a pixel takes one of the screen.
const share = (scale) => `${figure(100 * scale * window.devicePixelRatio, scale < 0.1 ? 1 : 0)} %`;

function figure(value, places = 1) {
  return String(Number(value.toFixed(places)));
}
