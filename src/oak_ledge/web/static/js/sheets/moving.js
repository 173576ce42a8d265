// Moving pieces on a sheet by hand and key, and sliding photos in their cells.

import { ask } from "../net/ask.js";

const TYPED = "input, select, textarea";

// What the page holds of it.
export const moving = {
  toldWord: "",

  listen() {
    const { paper } = this.$refs;
    paper.addEventListener("pointerdown", (event) => this.grab(event));
    paper.addEventListener("focusin", (event) => {
      const piece = event.target.closest(".piece-on");
      if (piece) this.choosePiece(Number(piece.dataset.n));
    });
  },
  choosePiece(n) {
    this.chosen = n;
    for (const one of this.$refs.paper.querySelectorAll(".piece-on")) one.classList.toggle("is-chosen", Number(one.dataset.n) === n);
  },
  grab(event) {
    const piece = event.target.closest(".piece-on");
    if (event.button !== 0 || !piece) return;
    event.preventDefault();
    piece.focus({ preventScroll: true });
    const n = Number(piece.dataset.n);
    this.choosePiece(n);
    const drag = this.divides && !event.shiftKey ? this.slide(n) : this.carry(n, event);
    const { paper } = this.$refs;
    paper.setPointerCapture(event.pointerId);
    paper.classList.add("is-held");
    const move = (now) => drag.move((now.clientX - event.clientX) / this.scale, (now.clientY - event.clientY) / this.scale, now);
    const end = (now) => {
      for (const kind of ["pointermove", "pointerup", "pointercancel"]) paper.removeEventListener(kind, kind === "pointermove" ? move : end);
      paper.classList.remove("is-held");
      drag.end(now.type === "pointerup", now);
    };
    paper.addEventListener("pointermove", move);
    paper.addEventListener("pointerup", end);
    paper.addEventListener("pointercancel", end);
  },
  // A piece goes with the hand; the server says where its edges meet others, and what is in its way.
  carry(n) {
    const one = this.view.pieces[n];
    let last = null;
    return {
      move: (dx, dy, now) => {
        last = { kind: "move", n, x: one.x + dx, y: one.y + dy, snap: !now.altKey };
        this.pieceAt(n).setAttribute("transform", `translate(${last.x} ${last.y})`);
        if (this.packs) this.telling(last);
      },
      end: (keep, now) => {
        this.telling.forget();
        this.drawGuides({ vertical: [], horizontal: [] });
        this.toldWord = "";
        if (!keep || !last) return this.draw();
        if (this.packs) return this.change(last);
        const other = this.cellUnder(now, n);
        if (other === null) return this.draw();
        return this.change({ kind: "swap", n, other });
      },
    };
  },
  cellUnder({ clientX, clientY }, n) {
    for (const one of this.$refs.paper.querySelectorAll(".piece-on")) {
      const box = one.querySelector(".piece-edge").getBoundingClientRect();
      const over = clientX >= box.left && clientX <= box.right && clientY >= box.top && clientY <= box.bottom;
      if (over && Number(one.dataset.n) !== n) return Number(one.dataset.n);
    }
    return null;
  },
  showTold(told) {
    const piece = this.pieceAt(told.n);
    if (!piece) return;
    piece.setAttribute("transform", `translate(${told.x} ${told.y})`);
    piece.classList.toggle("is-over", told.why !== "");
    this.drawGuides(told);
    this.toldWord = told.why;
  },
  // A photo slides in its cell: by as many of the cell's own pixels as the hand went.
  slide(n) {
    const one = this.view.pieces[n];
    const times = one.asked[0] / one.width;
    let gesture = null;
    return {
      move: (dx, dy) => {
        gesture = { kind: "slide", dx: dx * times, dy: dy * times };
        this.sliding({ at: one.placement_id, gesture });
      },
      end: (keep) => {
        this.sliding.forget();
        if (!keep || !gesture) return this.draw();
        return this.keepSlid(one.placement_id, gesture);
      },
    };
  },
  showSlid(live) {
    const n = this.view.pieces.findIndex((one) => one.placement_id === live.id);
    if (n < 0) return;
    Object.assign(this.view.pieces[n], { crop: live.crop, angle: live.placement.angle });
    this.pieceAt(n)?.replaceWith(this.drawPiece(this.view.pieces[n], 1 / this.scale));
  },
  keepSlid(at, gesture) {
    return this.tried(() =>
      this.inTurn(async () => {
        await ask(`/api/placements/${at}/gesture`, { method: "POST", body: { gesture, keep: true } });
        this.take(await ask(this.path));
      }),
    );
  },

  key(event) {
    if (event.target.matches(TYPED) || event.altKey) return;
    if ((event.ctrlKey || event.metaKey) && event.key.toLowerCase() === "z") {
      event.preventDefault();
      this.walk(event.shiftKey ? "redo" : "undo");
      return;
    }
    if (event.ctrlKey || event.metaKey) return;
    if (event.key === "PageDown" || event.key === "PageUp") {
      event.preventDefault();
      this.turnPage(event.key === "PageDown" ? 1 : -1);
      return;
    }
    if (this.chosen === null || !this.chosenPiece) return;
    const arrows = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] };
    const does = {
      t: () => this.turnChosen(),
      delete: () => this.takeChosenOff(),
      backspace: () => this.takeChosenOff(),
    }[event.key.toLowerCase()];
    if (event.key in arrows) {
      event.preventDefault();
      const [dx, dy] = arrows[event.key];
      this.nudge(dx, dy, event.shiftKey ? 10 : 1);
    } else if (does) {
      event.preventDefault();
      does();
    }
  },
  nudge(dx, dy, times) {
    const one = this.view.pieces[this.chosen];
    if (this.divides) return this.keepSlid(one.placement_id, { kind: "slide", dx: dx * times, dy: dy * times });
    const by = times * ({ in: 0.04, cm: 0.1, mm: 1 }[this.view.unit] ?? 1); // about a millimetre
    return this.change({ kind: "move", n: one.n, x: one.x + dx * by, y: one.y + dy * by, snap: false });
  },
};
