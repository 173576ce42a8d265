// The bench: one placement. Sends gestures, shows what the server answers.

import { ask } from "../net/ask.js";
import { followed } from "../net/follow.js";
import { newestWins } from "../net/newest.js";
import { dragging } from "../hand/drag.js";
import { gathering } from "../hand/gather.js";
import { drawPiece, drawSquare, drawWhole, extentOf, handleAt, pointerOn } from "./panes/panes.js";
import { looking } from "./dialogs/close.js";
import { copying } from "./dialogs/copies.js";
import { lining } from "./panes/lines.js";
import { zooming } from "./panes/zoom.js";
import { onWall } from "./dialogs/wall.js";
import { choosing, PIECES, remembered, SHADES, TONES } from "./choices.js";
import { keying } from "./keys.js";
import { stations } from "./stations/all.js";
import { tools } from "./tools/all.js";
import { inTurn } from "../net/queue.js";

const STEP = 1.02;
const WORDS = 100; // milliseconds
// What of an answer the panes are drawn from.
const DRAWN = [
  "lying", "placement", "extent", "outline", "photo_extent", "crop", "asked", "face", "insets", "hung", "printed",
  "trimmed_sides", "uncovered", "ground", "keeps", "found", "edges",
];
const SIGNS = {
  stop: ["M-5.5 -5.5h11v11h-11z", "M-3 0h6", "Stop:"],
  look: ["M0 -7L7 0L0 7L-7 0z", "M0 -3v3.4M0 2.3v1", "Look:"],
  fine: ["M-5 0a5 5 0 1 0 10 0a5 5 0 1 0 -10 0z", "", "Fine:"],
};

document.addEventListener("alpine:init", () => {
  window.Alpine.data("bench", () => {
    const seed = JSON.parse(document.getElementById("seed").textContent);
    const bench = {
      view: seed.view,
      file: seed.file,
      making: false,
      marking: false,
      beyondWord: "",
      trouble: "",
      spoken: "",
      keepWord: "Keep this size",
      station: "Crop",
      unit: "px",
      wholeScale: "",
      pieceScale: "",

      room: {
        "@keydown.window"(event) {
          this.key(event);
        },
        "@pagehide.window"() {
          this.small.settle();
        },
      },

      init() {
        this.pieceView = remembered("piece", PIECES);
        this.tone = remembered("tone", TONES);
        this.shade = remembered("shade", SHADES);
        this.inTurn = inTurn(); // all that changes something, and what is told waits for it
        this.path = `/api/placements/${this.view.id}`;
        const tell = newestWins(
          (gesture) => this.inTurn(() => this.send(gesture, false)),
          (live) => this.show(live),
        );
        this.forget = tell.forget;
        const hands = {
          during: (gesture) => {
            this.moving = true;
            this.still(true);
            tell(gesture);
          },
          kept: (gesture) => this.keep(gesture),
          left: () => this.leave(),
        };
        this.hands = hands;
        this.small = gathering(hands);
        this.recallLines();
        const { whole, piece } = this.$refs;
        this.drags = [
          dragging(whole, (event) => this.grabWhole(event), hands),
          dragging(piece, (event) => this.grabPiece(event), hands),
        ];
        for (const pane of [whole, piece]) pane.addEventListener("dblclick", (event) => this.truePixels(event));
        piece.addEventListener("wheel", (event) => this.wheel(event), { passive: false });
        whole.addEventListener("wheel", (event) => this.wheel(event), { passive: false });
        this.applyTone();
        const resized = new ResizeObserver(() => {
          this.measureRooms();
          this.redraw();
        });
        this.measureRooms();
        for (const pane of [whole, piece]) resized.observe(pane);
        this.measure(this.view);
        if (this.view.about_bytes === null) this.weigh();
      },

      // --- what the page shows

      get line() {
        return Object.fromEntries(this.view.stations.map((one) => [one.name, one]));
      },
      get at() {
        const idle = (name) => (this.line[name].idle ? " is-idle" : "");
        return this.each((name) => (name === this.station ? "is-open" : "") + idle(name));
      },
      get opened() {
        return this.each((name) => name === this.station);
      },
      get expanded() {
        return this.each((name) => String(name === this.station));
      },
      each(give) {
        return Object.fromEntries(this.view.stations.map((one) => [one.name, give(one.name)]));
      },
      get sentence() {
        return this.view.sentence;
      },
      get state() {
        return this.view.state;
      },
      get notes() {
        const all = this.view.notes;
        const fine = all.filter((note) => note.level === "fine").map((note) => note.text);
        const told = all.filter((note) => note.level !== "fine");
        if (fine.length) told.push({ level: "fine", code: "fine", text: fine.join(" ") });
        return told.map((note) => {
          const [shape, sign, word] = SIGNS[note.level];
          return { ...note, shape, sign, word, mark: `is-${note.level}`, level: `is-${note.level}` };
        });
      },
      get noUndo() {
        return !this.view.can_undo;
      },
      get noRedo() {
        return !this.view.can_redo;
      },
      get undoWord() {
        return this.view.can_undo ? `Undo: ${this.view.steps[this.view.place]}` : "Undo";
      },
      get redoWord() {
        return this.view.can_redo ? `Redo: ${this.view.steps[this.view.place + 1]}` : "Redo";
      },
      get history() {
        return this.view.steps.map((what, place) => ({
          number: this.view.numbers[place],
          here: place === this.view.place,
          words: `${place}. ${what}`,
        }));
      },
      async goTo(event) {
        const step = Number(event.target.value);
        await this.small.settle();
        await this.call("/step", () => ({ step, seen: this.view.step }));
      },
      get noTurn() {
        return !this.view.turns;
      },
      get hasFile() {
        return Boolean(this.file && this.file.state === "made");
      },
      get fileHref() {
        return this.hasFile
          ? `/api/deliveries/${this.file.delivery_id}/files/${encodeURIComponent(this.file.name)}`
          : "#";
      },
      get fileWord() {
        if (this.making) return "";
        if (!this.file) return "Nothing made yet.";
        if (!this.hasFile) return `Not made: ${this.file.reason}`;
        return this.view.state === "made" ? this.file.name : `${this.file.name}, made before the last change`;
      },
      get makeWord() {
        if (this.making) return "Making and measuring";
        return this.hasFile ? "Make another" : "Make file";
      },
      get proof() {
        const words = { true: "as asked", false: "differs", null: "" };
        const kinds = { true: "is-fine", false: "is-stop", null: "" };
        return this.file
          ? this.file.proof.map((row) => ({ ...row, word: words[row.same], kind: kinds[row.same] }))
          : [];
      },

      // --- drawing

      // Under a hand the pictures follow at once, words and figures ten times a second: they cannot
      // be read quicker, and would cost the pictures half their frames.
      show(answer) {
        this.told = answer;
        if (this.moving) {
          this.take(answer, DRAWN);
          this.saying ||= setTimeout(() => this.say(), WORDS);
        } else this.say();
        this.draw();
      },
      say() {
        clearTimeout(this.saying);
        this.saying = 0;
        this.take(this.told);
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
        this.wholeScale = `1 px here = ${figure(1 / this.wholeBox.scale)} of photo`;
        const scale = `1 px here = ${figure(1 / this.pieceBox.across)} of file`;
        this.pieceScale = this.onWall
          ? this.wallWord
          : this.framed ? `${this.view.hung.words}; ${scale}` : scale;
        this.drawLines();
        piece.classList.remove("is-fine");
      },
      // The fields one can type in, but the one that is typed in now.
      writeFields() {
        const told = this.view.typed[this.unit] ?? this.view.typed.px;
        ["left", "top", "width", "height"].forEach((name, n) => {
          if (document.activeElement !== this.$refs[name]) this.$refs[name].value = told[n];
        });
        const { angle } = this.view.placement;
        for (const field of [this.$refs.angle, this.$refs.degrees]) {
          if (document.activeElement !== field || !this.moving) field.value = figure(angle, 2);
        }
      },
      // The picture the crop lies on: the photo as it is turned, or the plane its corners define.
      pictures() {
        const { quarter, mirror, corners } = this.view.lying;
        const source = corners && !this.squaring
          ? `${this.path}/plane?edge=2048&of=${corners}`
          : `/api/photos/${this.view.photo.id}/preview?edge=2048&quarter=${quarter}&mirror=${mirror}`;
        if (source === this.source) return;
        this.source = source;
        for (const image of this.$refs.stage.querySelectorAll("[data-part=photo], [data-part=under], [data-part=lens-photo]")) {
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
          const { crop, lying, asked, finish, ground } = this.view;
          return String([crop, lying.angle, lying.quarter, lying.mirror, lying.corners, asked.width, asked.height, finish, ground]);
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
      },

      // --- gestures

      grabWhole(event) {
        const scale = this.wholeBox.scale;
        if (event.ctrlKey || event.metaKey) return this.grabView(event);
        const tool = tools[this.tool];
        if (tool) return tool.grab(this, event);
        const at = event.target.closest("[data-at]")?.dataset.at;
        if (at) {
          const { x, y } = handleAt(this.view, at);
          return Object.assign(
            (dx, dy, now) => ({
              kind: "pull",
              at,
              x: x + dx / scale,
              y: y + dy / scale,
              centre: now.altKey,
              hold_ratio: now.shiftKey,
            }),
            { freely: true },
          );
        }
        if (!event.target.closest("[data-part=crop]")) return this.grabFresh(event);
        return (dx, dy) => ({ kind: "move", dx: dx / scale, dy: dy / scale });
      },
      // Beside the crop: a fresh one.
      grabFresh(event) {
        const { x, y } = pointerOn(this.$refs.whole, this.wholeBox, event);
        const { scale } = this.wholeBox;
        return Object.assign(
          (dx, dy, now) => ({
            kind: "draw",
            x0: x,
            y0: y,
            x1: x + dx / scale,
            y1: y + dy / scale,
            centre: now.altKey,
            hold_ratio: now.shiftKey,
          }),
          { freely: true },
        );
      },
      grabPiece(event) {
        if (event.ctrlKey || event.metaKey) return this.grabView(event);
        const { across, along } = this.pieceBox;
        return (dx, dy) => ({ kind: "slide", dx: dx / across, dy: dy / along });
      },
      wheel(event) {
        event.preventDefault();
        const factor = Math.min(1.2, Math.max(0.8, 1.0015 ** event.deltaY));
        if (event.ctrlKey || event.metaKey) return this.zoomBy(event, 1 / factor ** 2);
        this.small.add({ kind: "scale", factor });
      },
      // While a hand is at work notes may come and go, but nothing else on the page moves.
      still(held) {
        const { notes } = this.$refs;
        if (!held) notes.style.height = "";
        else if (!notes.style.height) notes.style.height = `${notes.offsetHeight}px`;
      },
      // Every gesture names the step it was made on: one that was made on an older is not taken.
      async send(gesture, keep) {
        try {
          this.trouble = "";
          const body = { gesture, keep, step: this.view.step };
          return await ask(`${this.path}/gesture`, { method: "POST", body });
        } catch (problem) {
          return this.newer(problem);
        }
      },
      // What another window did meanwhile is shown, and said, before anything else is done.
      newer(problem) {
        this.trouble = problem.message;
        if (!problem.newer) return null;
        this.forget();
        this.take(problem.newer);
        return problem.newer;
      },
      keep(gesture) {
        this.forget();
        return this.inTurn(async () => this.kept(await this.send(gesture, true)));
      },
      kept(answer) {
        if (!answer) return this.leave();
        this.still(false);
        this.moving = false;
        this.lens = null;
        this.drawnLine = null;
        if (this.tool === "line") this.use("line");
        this.show(answer);
        this.measure(answer);
        this.spoken = this.view.sentence;
        if (this.shapesOf === "ratio") this.askShapes();
        return this.drawFine();
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
        const told = await ask(`${this.path}/beyond`).catch(() => null);
        if (told && this.marking && step === this.view.step) this.beyondWord = told.text;
      },
      // The first time a photo is on the bench its bytes are weighed, which takes a moment.
      async weigh() {
        const answer = await ask(`${this.path}?weigh=true`).catch(() => null);
        if (!answer || this.moving || answer.step !== this.view.step) return;
        this.take(answer);
        this.weighed(answer);
      },
      async leave() {
        this.forget();
        await this.call("");
      },
      // `body` may be a function: what it gives is worked out when its turn has come.
      call(what, body, method = what ? "POST" : "GET") {
        return this.inTurn(async () => {
          try {
            this.trouble = "";
            const told = typeof body === "function" ? body() : body;
            this.kept(await ask(`${this.path}${what}`, { method, body: told }));
          } catch (problem) {
            const newer = this.newer(problem);
            if (newer) this.kept(newer);
          }
        });
      },
      seen() {
        return { step: this.view.step };
      },
      async takeFix(event) {
        const { code } = event.currentTarget.dataset;
        await this.small.settle();
        await this.call("/fix", () => ({ code, step: this.view.step }));
        if (!this.trouble) window.location.reload(); // the size at work is another: all says so
      },
      async undo() {
        await this.small.settle();
        await this.inTurn(() => {});
        if (!this.noUndo) await this.call("/undo", () => this.seen());
      },
      async redo() {
        await this.inTurn(() => {});
        if (!this.noRedo) await this.call("/redo", () => this.seen());
      },
      turn() {
        if (!this.noTurn) this.keep({ kind: "turn" });
      },
      tighten() {
        this.small.add({ kind: "scale", factor: 1 / STEP });
      },
      loosen() {
        this.small.add({ kind: "scale", factor: STEP });
      },
      startAgain() {
        this.keep({ kind: "start_again" });
      },
      async keepSize() {
        await this.small.settle();
        try {
          const size = await this.inTurn(() => ask(`${this.path}/keep-size`, { method: "POST" }));
          this.keepWord = `Kept as ${size.name}`;
          this.spoken = `${this.keepWord}, in the library of sizes.`;
        } catch (problem) {
          this.trouble = problem.message;
        }
      },
      typed(event) {
        const names = ["left", "top", "width", "height"];
        const fields = event.target.name ? [event.target] : names.slice(0, 3).map((n) => this.$refs[n]);
        const gesture = { kind: "type", unit: this.unit };
        for (const field of fields) {
          const value = Number(field.value.trim().replace(",", "."));
          if (!Number.isFinite(value) || field.value.trim() === "") {
            this.trouble = `“${field.value}” is not a number. Write it like 412.5.`;
            return;
          }
          gesture[field.name] = value;
        }
        if (document.activeElement?.form) document.activeElement.blur();
        this.keep(gesture);
      },

      get units() {
        return Object.keys(this.view.typed);
      },
      setUnit(event) {
        this.unit = event.target.value;
        this.writeFields();
      },

      // --- going on

      async go(where) {
        if (!where) return;
        await this.small.settle();
        await this.inTurn(() => {});
        window.location.assign(where);
      },
      async settleNext() {
        await this.small.settle();
        try {
          await this.inTurn(() => ask(`${this.path}/settle`, { method: "POST", body: this.seen() }));
        } catch (problem) {
          const newer = this.newer(problem);
          if (newer) this.kept(newer);
          return;
        }
        window.location.assign(this.$root.dataset.after || this.$root.dataset.ledge);
      },
      async makeFile() {
        if (this.making) return;
        await this.small.settle();
        this.making = true;
        this.trouble = "";
        try {
          const body = { placement_ids: [this.view.id] };
          const delivery = await this.inTurn(() => ask(`/api/jobs/${this.view.job_id}/deliveries`, { method: "POST", body }));
          [this.file] = (await followed(delivery, () => {})).files;
          this.take(await ask(this.path));
          this.spoken = this.fileWord;
        } catch (problem) {
          this.trouble = problem.message;
        }
        this.making = false;
      },

      // --- the viewer's choices

      open(event) {
        this.station = event.currentTarget.dataset.station;
      },
    };
    for (const part of [choosing, keying, ...Object.values(stations), looking, lining, copying, zooming, onWall]) {
      const twice = Object.keys(part).find((name) => name in bench);
      if (twice) throw new Error(`Two parts of the bench are called ${twice}.`);
      Object.defineProperties(bench, Object.getOwnPropertyDescriptors(part));
    }
    return bench;
  });
});

function figure(value, places = 1) {
  return String(Number(value.toFixed(places)));
}
