// The keys of the bench: one meaning each, never destructive; letters can be switched off.

import { remember, TONES } from "./choices.js";
import { tools } from "./tools/all.js";

// Fields in which a key is typed; a slide or a tick leaves keys to the bench.
const TYPED = "input:not([type=range], [type=checkbox], [type=radio]), select, textarea";

// What the page holds of it; the bench takes it over, getters and all.
export const keying = {
  showKeys() {
    this.$refs.letters.checked = this.letters();
    this.$refs.keys.showModal();
  },
  letters() {
    return localStorage.getItem("oak-ledge-letters") !== "off";
  },
  setLetters() {
    remember("letters", this.$refs.letters.checked ? "on" : "off");
  },

  key(event) {
    const { target } = event;
    if (this.$root.querySelector("dialog[open]")) return;
    if ((event.ctrlKey || event.metaKey) && event.key.toLowerCase() === "z") {
      if (target.matches("input:not([type=range], [type=checkbox], [type=radio])")) return;
      event.preventDefault();
      if (event.shiftKey) this.redo();
      else this.undo();
      return;
    }
    if ((event.ctrlKey || event.metaKey) && event.key.toLowerCase() === "s" && this.hasFile) {
      event.preventDefault();
      this.download();
      return;
    }
    if (event.key === "Escape") {
      const busy = this.drags.filter((drag) => drag.busy());
      for (const drag of busy) drag.leave();
      tools[this.tool]?.cancel?.(this);
      if (!busy.length && this.tool) this.use(this.tool);
      return;
    }
    if (event.ctrlKey || event.metaKey || event.altKey || target.matches(TYPED)) return;
    const far = event.shiftKey ? 10 : 1;
    const arrows = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] };
    if (event.key in arrows && target.matches("input")) return; // a slide has them itself
    if (event.key in arrows) {
      event.preventDefault();
      const [dx, dy] = arrows[event.key];
      if (tools[this.tool]?.keys?.(this, event, [dx * far, dy * far])) return;
      this.small.add({ kind: "nudge", dx: dx * far, dy: dy * far });
      return;
    }
    if (event.key === " " && tools[this.tool]?.press && !target.closest("a, button")) {
      event.preventDefault();
      tools[this.tool].press(this);
      return;
    }
    if (event.key === "Enter" && !target.closest("a, button")) {
      event.preventDefault();
      this.settleNext();
      return;
    }
    if (!this.letters()) return;
    const does = {
      j: () => this.go(this.$root.dataset.after),
      k: () => this.go(this.$root.dataset.before),
      t: () => this.turn(),
      l: () => this.useLevel(),
      q: () => this.useSquare(),
      d: () => this.stepLines(event.shiftKey ? -1 : 1),
      f: () => this.flipLines(),
      s: () => this.nextShade(),
      w: () => {
        this.tone = TONES[(TONES.indexOf(this.tone) + 1) % TONES.length];
        this.applyTone();
      },
      p: () => this.lookClose(),
      ".": () => this.tighten(event),
      ",": () => this.loosen(event),
      ":": () => this.tighten(event),
      ";": () => this.loosen(event),
      ">": () => this.tighten(event),
      "<": () => this.loosen(event),
      "+": () => this.look(1.25),
      "=": () => this.look(1.25),
      "-": () => this.look(1 / 1.25),
      h: () => this.hideDrawer(),
      m: () => this.makeFile(),
      0: () => this.startAgain(),
      "?": () => this.showKeys(),
      ...Object.fromEntries(this.view.stations.map(({ name }, n) => [n + 1, () => this.openStation(name)])),
      ...(this.tiled ? Object.fromEntries(this.tiles.map(({ n }) => [n, () => this.takeNumber(n)])) : {}),
    }[event.key.toLowerCase()];
    if (does) {
      event.preventDefault();
      does();
    }
  },
};
