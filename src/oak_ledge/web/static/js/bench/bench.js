// The bench: one placement. Sends gestures, shows what the server answers. It is put together from parts,
// each of which says what the page holds of it.

import { newestWins } from "../net/newest.js";
import { inTurn } from "../net/queue.js";
import { dragging } from "../hand/drag.js";
import { gathering } from "../hand/gather.js";
import { together } from "../hand/parts.js";
import { choosing, PIECES, remembered, SHADES, TONES } from "./choices.js";
import { looking } from "./dialogs/compare_methods.js";
import { copying } from "./dialogs/copies.js";
import { saving } from "./dialogs/save_size.js";
import { sizing } from "./dialogs/sizes.js";
import { swiping } from "./dialogs/swipe.js";
import { onWall } from "./dialogs/wall.js";
import { keying } from "./keys.js";
import { drawing } from "./panes/drawing.js";
import { grabbing } from "./panes/grabs.js";
import { lining } from "./panes/lines.js";
import { tiling } from "./panes/tries.js";
import { zooming } from "./panes/zoom.js";
import { gesturing } from "./state/gestures.js";
import { going } from "./state/going.js";
import { showing } from "./state/shown.js";
import { stations } from "./stations/all.js";
import { retouching } from "./stations/retouch.js";
import { hover } from "./tools/brush.js";

const PARTS = [
  showing, gesturing, going, choosing, keying, drawing, grabbing, lining, zooming,
  tiling, retouching, looking, copying, saving, sizing, swiping, onWall, ...Object.values(stations),
];

const core = (seed) => ({
  view: seed.view,
  file: seed.file,
  trouble: "",
  spoken: "",

  room: {
    "@keydown.window"(event) {
      this.key(event);
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
    this.pieceView = remembered("piece", PIECES);
    this.tone = remembered("tone", TONES);
    this.shade = remembered("shade", SHADES);
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
        tell(gesture);
        if (this.squaring) this.seePassing(gesture);
      },
      kept: (gesture) => this.keep(gesture),
      left: () => this.leave(),
    };
    this.small = gathering(this.hands);
    this.recallLines();
    const { whole, piece } = this.$refs;
    this.drags = [
      dragging(whole, (event) => this.grabWhole(event), this.hands),
      dragging(piece, (event) => this.grabPiece(event), this.hands),
    ];
    for (const pane of [whole, piece]) {
      pane.addEventListener("dblclick", (event) => this.truePixels(event));
      pane.addEventListener("wheel", (event) => this.wheel(event), { passive: false });
    }
    whole.addEventListener("pointermove", (event) => hover(this, event));
    this.watchScene();
    if (this.view.photo.retouches) this.loadRetouches();
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
});

document.addEventListener("alpine:init", () => {
  const seed = JSON.parse(document.getElementById("seed").textContent);
  window.Alpine.data("bench", () => together(core(seed), PARTS));
});
