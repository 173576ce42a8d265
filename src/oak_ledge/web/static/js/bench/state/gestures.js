// Gestures: told while a hand is at work, kept when it lets go, undone, redone. Every call that changes
// something goes through one queue, and names the step it was made on.

import { ask } from "../../net/ask.js";
import { remember } from "../choices.js";

// What the page holds of it; the bench takes it over, getters and all.
export const gestures = {
  // Every gesture names the step it was made on: one that was made on an older is not taken.
  async send(gesture, keep) {
    try {
      const step = this.view.step;
      if (gesture.kind === "face") return await ask(`${this.path}/face`, { method: "POST", body: { change: gesture.change, keep, step } });
      return await ask(`${this.path}/gesture`, { method: "POST", body: { gesture, keep, step } });
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
  // What was said is over when something is asked for, not when its turn comes: by then something else
  // may have been said.
  keep(gesture) {
    this.trouble = "";
    this.done = gesture.kind;
    this.forget();
    return this.inTurn(async () => this.kept(await this.send(gesture, true)));
  },
  kept(answer) {
    if (!answer) {
      this.leave(this.trouble); // in a turn of its own: this one must end first
      return undefined;
    }
    this.moving = false;
    this.level.lens = null;
    this.head.held = null;
    this.levelLine = null;
    if (this.tool === "level" || this.tool === "draw") this.use(this.tool);
    this.drawAsked = false;
    this.show(answer);
    this.showGround(answer);
    this.pixels.measure(answer);
    this.spoken = this.view.sentence;
    if (this.lines.shapesOf === "ratio") this.lines.askShapes();
    this.watchScene();
    this.mark.load();
    return this.drawFine();
  },
  // What a hand pulls beyond the photo shows its ground, with the choice of others; a ground that is
  // chosen is remembered for the next.
  showGround(answer) {
    if (answer.beyond && !this.wasBeyond && this.done === "pull") this.openStation("Ground");
    if (["ground", "continue"].includes(this.done)) remember("ground", answer.ground);
    this.wasBeyond = answer.beyond;
    this.done = "";
  },
  // What is laid over the photo is made by workers: until it is there, something stands in for it.
  watchScene() {
    clearTimeout(this.sceneSoon);
    if (this.view.not_made) this.trouble ||= this.view.not_made;
    if (!this.view.being_made || this.tries.set.of) return;
    this.sceneSoon = setTimeout(async () => {
      const now = await ask(this.path).catch(() => null);
      if (now && !now.being_made && !this.moving && now.step === this.view.step) {
        this.take(now);
        if (now.not_made) this.trouble ||= now.not_made;
        else await this.tries.madeAnew();
      } else this.watchScene();
    }, 1000);
  },
  // The first time a photo is on the bench its bytes are weighed, which takes a moment.
  async weigh() {
    const answer = await ask(`${this.path}?weigh=true`).catch(() => null);
    if (!answer || this.moving || answer.step !== this.view.step) return;
    this.take(answer);
    this.pixels.weighed(answer);
  },
  // Shows the placement as it is kept; `why` is told on.
  async leave(why = "") {
    this.forget();
    await this.call("");
    this.trouble ||= why;
    if (why) this.putControlsBack();
  },
  // What was refused is not shown by its control either: each says again what is.
  putControlsBack() {
    for (const control of this.$root.querySelectorAll("input, select")) {
      for (const [said, shown] of [[":checked", "checked"], [":value", "value"]]) {
        const expression = control.getAttribute(said);
        if (expression && !control.closest("template")) control[shown] = window.Alpine.evaluate(control, expression);
      }
    }
  },
  // `body` may be a function: what it gives is worked out when its turn has come.
  call(what, body, method = what ? "POST" : "GET") {
    this.trouble = "";
    return this.inTurn(async () => {
      try {
        const said = typeof body === "function" ? body() : body;
        this.kept(await ask(`${this.path}${what}`, { method, body: said }));
      } catch (problem) {
        const newer = this.newer(problem);
        if (newer) this.kept(newer);
        this.putControlsBack();
      }
    });
  },
  seen() {
    return { step: this.view.step };
  },
  async takeFix(event) {
    const { code, allow, way = null } = event.currentTarget.dataset;
    await this.small.settle();
    await this.call("/fix", () => ({ code, allow: allow === "yes", way, step: this.view.step }));
  },
  // What another window did is shown before this one's next gesture; nothing is asked under a hand.
  async takeNewest() {
    if (this.moving || this.drags?.some((drag) => drag.busy())) return;
    const newest = await ask(this.path).catch(() => null);
    if (!newest || this.moving || newest.step === this.view.step) return;
    this.kept(newest);
    this.trouble = "Changed in another window; shown as it is now.";
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
};
