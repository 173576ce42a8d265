// The bench: one placement. Sends gestures, shows what the server answers. It is put together from parts,
// each of which says what the page holds of it.

import { newestWins } from "../net/newest.js";
import { inTurn } from "../net/queue.js";
import { dropping } from "../hand/drop.js";
import { dragging } from "../hand/drag.js";
import { gathering } from "../hand/gather.js";
import { twoFingers } from "../hand/two_fingers.js";
import { named, together } from "../hand/parts.js";
import { TONES } from "../hand/tones.js";
import { choices, PIECES, remembered, SHADES } from "./choices.js";
import { compareMethods } from "./dialogs/compare_methods.js";
import { copies } from "./dialogs/copies.js";
import { mark } from "./dialogs/mark.js";
import { saveSize } from "./dialogs/save_size.js";
import { sizes } from "./dialogs/sizes.js";
import { swipe } from "./dialogs/swipe.js";
import { wall } from "./dialogs/wall.js";
import { keys } from "./keys.js";
import { drawing } from "./panes/drawing.js";
import { grabs } from "./panes/grabs.js";
import { lines } from "./panes/lines.js";
import { outline } from "./panes/outline.js";
import { tries } from "./panes/tries.js";
import { zoom } from "./panes/zoom.js";
import { gestures } from "./state/gestures.js";
import { going } from "./state/going.js";
import { shown } from "./state/shown.js";
import { tool } from "./state/tool.js";
import { stations } from "./stations/all.js";
import { retouch } from "./stations/retouch.js";
import { hover } from "./tools/brush.js";

// What the bench itself is: the view and what is told of it, gestures, the panes, the keys.
const CORE = [shown, gestures, going, tool, keys, drawing, grabs, zoom];

// What it has: parts with names of their own, each of which knows it as `this.bench`.
const PARTS = {
  choices, lines, mark, outline, tries, retouch, compareMethods, copies, saveSize, sizes, swipe, wall, ...stations,
};

const core = (seed) => ({
  /** @type {import("./state/view.js").View} */
  view: seed.view,
  newestFile: seed.file, // the file made last
  commonRatios: seed.ratios,
  backdrops: seed.backdrops, // the job's other photos, each of which can stand behind this piece
  trouble: "",
  spoken: "",

  over: false,

  room: {
    ...dropping((page, files) => page.bring(files)),
    "@paste.window"(event) {
      if (event.clipboardData.files.length) this.bring(event.clipboardData.files);
    },
    "@keydown.window"(event) {
      this.key(event);
    },
    "@focusin"(event) {
      this.enterField(event);
    },
    "@pagehide.window"() {
      this.small.settle();
    },
    // A tab that comes to the front shows what another did meanwhile, before its own next gesture.
    "@focus.window"() {
      this.takeNewest();
    },
  },

  init() {
    this.choices.pieceView = remembered("piece", PIECES);
    this.choices.tone = remembered("tone", TONES);
    this.choices.shade = remembered("shade", SHADES);
    this.inTurn = inTurn(); // all that changes something, and what is told waits for it
    this.path = `/api/placements/${this.view.id}`;
    const tell = newestWins(
      (gesture) => {
        this.trouble = "";
        return this.inTurn(() => this.send(gesture, false));
      },
      (live) => this.show(live),
    );
    this.seePassing = newestWins((gesture) => this.askPassing(gesture), (picture) => this.showPassing(picture));
    this.forget = () => {
      tell.forget();
      this.seePassing.forget();
    };
    this.hands = {
      during: (gesture) => {
        this.moving = true;
        this.drawAsked = false;
        tell(gesture);
        if (this.level.squaring) this.seePassing(gesture);
      },
      kept: (gesture) => this.keep(gesture),
      left: () => this.leave(),
    };
    this.small = gathering(this.hands);
    this.wasBeyond = this.view.beyond;
    this.done = "";
    this.lines.recall();
    this.mark.load();
    const { whole, piece } = this.$refs;
    this.drags = [
      dragging(whole, (event) => this.grabWhole(event), this.hands),
      dragging(piece, (event) => this.grabPiece(event), this.hands),
    ];
    for (const pane of [whole, piece]) {
      twoFingers(pane, this.fingers(pane));
      pane.addEventListener("dblclick", (event) => this.truePixels(this.paneOf(event), event));
      pane.addEventListener("wheel", (event) => this.wheel(event), { passive: false });
    }
    whole.addEventListener("pointermove", (event) => hover(this, event));
    this.watchScene();
    if (this.view.photo.retouches) this.retouch.load();
    this.choices.applyTone();
    const resized = new ResizeObserver(() => {
      this.measureRooms();
      this.redraw();
    });
    this.measureRooms();
    for (const pane of [whole, piece]) resized.observe(pane);
    this.pixels.measure(this.view);
    if (this.view.about_bytes === null) this.weigh();
  },
});

document.addEventListener("alpine:init", () => {
  const seed = JSON.parse(document.getElementById("seed").textContent);
  window.Alpine.data("bench", () => named(together(core(seed), CORE), PARTS));
});
