// A piece in panels as it is swiped: one panel wide, the next follows without a step.

const ROOM = { wide: 520, high: 430 }; // CSS pixels a panel is shown in
const FAR = 0.18; // of a panel's width: dragged so far, the next one comes
const PAUSE = 1700; // milliseconds a panel stays while it runs by itself

// A part of the bench, which it knows as `this.bench`.
export const swipe = {
  at: 0,
  runs: false,

  get inPanels() {
    return this.bench.view.panels.length > 1;
  },
  get word() {
    return `Panel ${this.at + 1} of ${this.bench.view.panels.length}`;
  },
  get runWord() {
    return this.runs ? "Stop" : "Let it run";
  },
  get dots() {
    return this.bench.view.panels.map((_, n) => ({ n, label: `Panel ${n + 1}`, on: String(n === this.at) }));
  },
  async open() {
    await this.bench.small.settle();
    const { swipe, swipeStage, swipeImage } = this.bench.$refs;
    const [, , wide, high] = this.bench.view.panels[0];
    const [width, height] = [this.bench.view.face[0] * wide, this.bench.view.face[1] * high];
    const scale = Math.min(ROOM.wide / width, ROOM.high / height);
    Object.assign(swipeStage.style, { width: `${width * scale}px`, height: `${height * scale}px` });
    Object.assign(swipeImage.style, { width: `${this.bench.view.face[0] * scale}px`, height: `${this.bench.view.face[1] * scale}px` });
    swipeImage.src = `${this.bench.path}/preview?edge=1600&of=${encodeURIComponent(this.bench.view.sentence)}`;
    swipe.showModal();
    this.to(0);
    swipeStage.focus({ preventScroll: true });
  },
  to(n) {
    this.at = Math.min(this.bench.view.panels.length - 1, Math.max(0, n));
    this.draw(0);
  },
  draw(dx) {
    const { swipeImage } = this.bench.$refs;
    const [left, top] = this.bench.view.panels[this.at];
    const x = dx - left * parseFloat(swipeImage.style.width);
    const y = -top * parseFloat(swipeImage.style.height);
    swipeImage.style.transform = `translate(${x}px, ${y}px)`;
  },
  step(by) {
    const count = this.bench.view.panels.length;
    this.to((this.at + by + count) % count);
  },
  back() {
    this.step(-1);
  },
  on() {
    this.step(1);
  },
  pick(event) {
    this.to(Number(event.currentTarget.dataset.n));
  },
  key(event) {
    const does = { ArrowRight: 1, ArrowDown: 1, ArrowLeft: -1, ArrowUp: -1 }[event.key];
    const ends = { Home: 0, End: this.bench.view.panels.length - 1 }[event.key];
    if (does === undefined && ends === undefined) return;
    event.preventDefault();
    if (does) this.step(does);
    else this.to(ends);
  },
  run() {
    this.runs = !this.runs;
    clearInterval(this.swipeTimer);
    if (this.runs) this.swipeTimer = setInterval(() => this.step(1), PAUSE);
  },
  closed() {
    this.runs = false;
    clearInterval(this.swipeTimer);
  },
  drag(event) {
    const { swipeStage: stage } = this.bench.$refs;
    if (event.button !== 0) return;
    event.preventDefault();
    stage.focus({ preventScroll: true });
    stage.setPointerCapture(event.pointerId);
    stage.classList.add("is-held");
    const from = event.clientX;
    const move = (now) => this.draw(now.clientX - from);
    const end = (now) => {
      stage.removeEventListener("pointermove", move);
      stage.removeEventListener("pointercancel", end);
      stage.removeEventListener("pointerup", end);
      stage.classList.remove("is-held");
      const share = now.type === "pointerup" ? (now.clientX - from) / stage.clientWidth : 0;
      this.to(this.at - (Math.abs(share) > FAR ? Math.sign(share) * Math.max(1, Math.round(Math.abs(share))) : 0));
    };
    stage.addEventListener("pointermove", move);
    stage.addEventListener("pointerup", end);
    stage.addEventListener("pointercancel", end);
  },
};
