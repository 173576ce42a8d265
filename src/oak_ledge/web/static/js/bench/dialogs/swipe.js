// A piece in panels as it is swiped: one panel wide, the next follows without a step.

const ROOM = { wide: 520, high: 430 }; // CSS pixels a panel is shown in
const FAR = 0.18; // of a panel's width: dragged so far, the next one comes
const PAUSE = 1700; // milliseconds a panel stays while it runs by itself

// What the page holds of it; the bench takes it over, getters and all.
export const swiping = {
  swipeAt: 0,
  swipeRuns: false,

  get inPanels() {
    return this.view.panels.length > 1;
  },
  get swipeWord() {
    return `Panel ${this.swipeAt + 1} of ${this.view.panels.length}`;
  },
  get swipeRunWord() {
    return this.swipeRuns ? "Stop" : "Let it run";
  },
  get swipeDots() {
    return this.view.panels.map((_, n) => ({ n, label: `Panel ${n + 1}`, on: String(n === this.swipeAt) }));
  },
  async openSwipe() {
    await this.small.settle();
    const { swipe, swipeStage, swipeImage } = this.$refs;
    const [, , wide, high] = this.view.panels[0];
    const [width, height] = [this.view.face[0] * wide, this.view.face[1] * high];
    const scale = Math.min(ROOM.wide / width, ROOM.high / height);
    Object.assign(swipeStage.style, { width: `${width * scale}px`, height: `${height * scale}px` });
    Object.assign(swipeImage.style, { width: `${this.view.face[0] * scale}px`, height: `${this.view.face[1] * scale}px` });
    swipeImage.src = `${this.path}/preview?edge=1600&of=${encodeURIComponent(this.view.sentence)}`;
    swipe.showModal();
    this.swipeTo(0);
    swipeStage.focus({ preventScroll: true });
  },
  swipeTo(n) {
    this.swipeAt = Math.min(this.view.panels.length - 1, Math.max(0, n));
    this.swipeDraw(0);
  },
  swipeDraw(dx) {
    const { swipeImage } = this.$refs;
    const [left, top] = this.view.panels[this.swipeAt];
    const x = dx - left * parseFloat(swipeImage.style.width);
    const y = -top * parseFloat(swipeImage.style.height);
    swipeImage.style.transform = `translate(${x}px, ${y}px)`;
  },
  swipeStep(by) {
    const count = this.view.panels.length;
    this.swipeTo((this.swipeAt + by + count) % count);
  },
  swipeBack() {
    this.swipeStep(-1);
  },
  swipeOn() {
    this.swipeStep(1);
  },
  swipePick(event) {
    this.swipeTo(Number(event.currentTarget.dataset.n));
  },
  swipeKey(event) {
    const does = { ArrowRight: 1, ArrowDown: 1, ArrowLeft: -1, ArrowUp: -1 }[event.key];
    const ends = { Home: 0, End: this.view.panels.length - 1 }[event.key];
    if (does === undefined && ends === undefined) return;
    event.preventDefault();
    if (does) this.swipeStep(does);
    else this.swipeTo(ends);
  },
  swipeRun() {
    this.swipeRuns = !this.swipeRuns;
    clearInterval(this.swipeTimer);
    if (this.swipeRuns) this.swipeTimer = setInterval(() => this.swipeStep(1), PAUSE);
  },
  swipeClosed() {
    this.swipeRuns = false;
    clearInterval(this.swipeTimer);
  },
  swipeDrag(event) {
    const { swipeStage: stage } = this.$refs;
    if (event.button !== 0) return;
    event.preventDefault();
    stage.focus({ preventScroll: true });
    stage.setPointerCapture(event.pointerId);
    stage.classList.add("is-held");
    const from = event.clientX;
    const move = (now) => this.swipeDraw(now.clientX - from);
    const end = (now) => {
      stage.removeEventListener("pointermove", move);
      stage.removeEventListener("pointercancel", end);
      stage.removeEventListener("pointerup", end);
      stage.classList.remove("is-held");
      const share = now.type === "pointerup" ? (now.clientX - from) / stage.clientWidth : 0;
      this.swipeTo(this.swipeAt - (Math.abs(share) > FAR ? Math.sign(share) * Math.max(1, Math.round(Math.abs(share))) : 0));
    };
    stage.addEventListener("pointermove", move);
    stage.addEventListener("pointerup", end);
    stage.addEventListener("pointercancel", end);
  },
};
