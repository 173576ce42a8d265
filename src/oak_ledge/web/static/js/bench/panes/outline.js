// The outline of the piece: drawn on it by hand, a closed line around what shall be seen, its points dragged.

const STEP = 0.004; // of the piece: how far an arrow moves a point; with Shift five times as far
const ARROWS = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] };
const NEAR = 3; // CSS pixels: points of a line nearer than that are left out

// A part of the bench, which it knows as `this.bench`.
export const outline = {
  drawing: false, // the next drag on the piece draws it
  line: null,

  get mark() {
    return String(this.drawing);
  },
  get word() {
    return this.drawing ? "Now on the piece" : "Draw an outline";
  },
  use() {
    this.drawing = !this.drawing;
    this.bench.trouble = "";
    this.bench.$refs.piece.classList.toggle("is-traced", this.drawing);
  },
  stop() {
    if (this.drawing) this.use();
  },
  async choose(event) {
    const { target } = event;
    await this.bench.keep({ kind: "outline", outline: target.value || null });
    target.value = this.bench.view.outline_text; // what was refused is not shown as if it were so
  },
  shareOf({ clientX, clientY }) {
    const pane = this.bench.$refs.piece.getBoundingClientRect();
    const { left, top, width, height } = this.bench.pieceBox;
    return [(clientX - pane.left - left) / width, (clientY - pane.top - top) / height];
  },
  onPane([x, y]) {
    const { left, top, width, height } = this.bench.pieceBox;
    return [left + x * width, top + y * height];
  },
  // A line as the hand draws it; let go, it is closed and made smooth.
  grab(event) {
    this.line = [this.shareOf(event)];
    return Object.assign(
      (dx, dy, now) => {
        const at = this.shareOf(now);
        const [x, y] = this.onPane(at);
        const [x0, y0] = this.onPane(this.line.at(-1));
        if (Math.hypot(x - x0, y - y0) >= NEAR && this.line.length < 2000) this.line.push(at);
        this.drawTrace();
        return null;
      },
      {
        freely: true,
        ended: (keep) => {
          const points = this.line.map(within);
          this.line = null;
          this.drawTrace();
          if (!keep) return;
          this.stop();
          this.bench.keep({ kind: "outline", points, drawn: true });
        },
      },
    );
  },
  grabPoint(n) {
    const { width, height } = this.bench.pieceBox;
    const was = this.bench.view.outline_points;
    return Object.assign((dx, dy) => this.moved(was, n, [dx / width, dy / height]), { freely: true });
  },
  moved(points, n, [dx, dy]) {
    const moved = points.map(([x, y], at) => (at === n ? within([x + dx, y + dy]) : [x, y]));
    return { kind: "outline", points: moved };
  },
  // Arrows on a point move it; true where one did.
  key(event, n) {
    const by = ARROWS[event.key];
    if (!by) return false;
    const step = STEP * (event.shiftKey ? 5 : 1);
    this.bench
      .keep(this.moved(this.bench.view.outline_points, n, by.map((way) => way * step)))
      .then(() => this.bench.$refs.piece.querySelector(`[data-outline-point="${n}"]`)?.focus());
    return true;
  },
  drawTrace() {
    const path = this.line ? `M${this.line.map((at) => this.onPane(at).join(" ")).join("L")}` : "";
    this.bench.$refs.piece.querySelector("[data-part=trace]").setAttribute("d", path);
  },
  draw() {
    const here = this.bench.$refs.piece.querySelector("[data-part=outline-points]");
    const shown = this.bench.station === "Crop" && !this.bench.choices.framed && !this.bench.tries.tiled;
    const points = shown ? this.bench.view.outline_points : [];
    while (here.childElementCount > points.length) here.lastElementChild.remove();
    while (here.childElementCount < points.length) here.append(this.knob(here.childElementCount));
    points.forEach((point, n) => here.children[n].setAttribute("transform", `translate(${this.onPane(point)})`));
  },
  knob(n) {
    const knob = document.createElementNS("http://www.w3.org/2000/svg", "g");
    for (const [name, value] of Object.entries({ "data-outline-point": n, tabindex: 0, role: "button", "aria-label": `Point ${n + 1} of the outline; arrows move it` })) knob.setAttribute(name, value);
    knob.innerHTML = '<circle r="14" class="reach"/><circle r="5" class="knob"/>';
    return knob;
  },
};

const within = ([x, y]) => [Math.min(1, Math.max(0, x)), Math.min(1, Math.max(0, y))].map((share) => Number(share.toFixed(4)));
