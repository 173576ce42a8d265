// A sheet: pieces on a paper or in cells. Sends changes, shows what the server answers.

import { newestWins } from "../net/newest.js";
import { inTurn } from "../net/queue.js";
import { together } from "../hand/parts.js";
import { trying } from "../hand/tried.js";
import { ask } from "../net/ask.js";
import { drawing } from "./drawing.js";
import { laying } from "./laying.js";
import { moving } from "./moving.js";

const core = (seed) => ({
  view: seed,
  page: 0,
  chosen: null,

  room: {
    "@keydown.window"(event) {
      this.key(event);
    },
  },

  init() {
    this.path = `/api/sheets/${this.view.id}`;
    this.inTurn = inTurn(); // what changes something goes one after the other
    this.telling = newestWins(
      (change) => this.inTurn(() => ask(`${this.path}/tell`, { method: "POST", body: { change } }).catch(() => null)),
      (told) => this.showTold(told),
    );
    this.sliding = newestWins(
      ({ at, gesture }) => ask(`/api/placements/${at}/gesture`, { method: "POST", body: { gesture } }).catch(() => null),
      (live) => this.showSlid(live),
    );
    new ResizeObserver(() => this.draw()).observe(this.$refs.stage);
    this.listen();
    this.draw();
  },
  // A change becomes a step; one that was decided on an older one is shown the newer instead.
  change(change) {
    return this.tried(() =>
      this.inTurn(async () => {
        try {
          this.take(await ask(`${this.path}/gesture`, { method: "POST", body: { change, step: this.view.step } }));
        } catch (problem) {
          if (problem.newer) this.take(problem.newer);
          this.draw();
          throw problem;
        }
      }),
    );
  },
  take(view) {
    this.view = view;
    this.page = Math.min(this.page, view.pages - 1);
    if (this.chosen !== null && this.chosen >= view.pieces.length) this.chosen = null;
    this.draw();
  },
  walk(way) {
    return this.tried(() =>
      this.inTurn(async () => {
        this.take(await ask(`${this.path}/${way}`, { method: "POST", body: { step: this.view.step } }));
      }),
    );
  },
  undo() {
    return this.walk("undo");
  },
  redo() {
    return this.walk("redo");
  },
  get noUndo() {
    return !this.view.can_undo;
  },
  get noRedo() {
    return !this.view.can_redo;
  },
  get undoWord() {
    return this.view.undo_word;
  },
  get redoWord() {
    return this.view.redo_word;
  },
});

document.addEventListener("alpine:init", () => {
  const seed = JSON.parse(document.getElementById("seed").textContent);
  window.Alpine.data("sheet", () => together(core(seed), [trying, drawing, moving, laying]));
});
