// Looking close: the methods side by side on a spot, pixel for pixel, and how much is enough.

import { ask } from "../../net/ask.js";
import { newestWins } from "../../net/newest.js";

const EDGE = 220;
const STEP = 40; // output pixels an arrow key goes

// What the page holds of it; the bench takes it over, getters and all.
export const looking = {
  looks: [],
  lookAt: { x: 0.5, y: 0.5 },
  adviceWords: "",
  curve: "",
  curveMark: "",
  curveEnds: ["", ""],

  // At a place of the piece, or where it shows most.
  async lookClose(at) {
    await this.small.settle();
    this.$refs.compare_methods.showModal();
    this.lookAt = at?.x === undefined ? await ask(`${this.path}/busiest?edge=${EDGE}`).catch(() => this.lookAt) : at;
    this.lookElsewhere(0, 0);
    await this.drawAdvice();
  },
  get lookWord() {
    const [width, height] = this.view.picture;
    const at = `${Math.round(this.lookAt.x * width)}, ${Math.round(this.lookAt.y * height)}`;
    return `About pixel ${at} of ${width} × ${height}, one pixel of the file to one of the screen. Drag a picture, or use the arrows, to look elsewhere.`;
  },
  // One question at a time, the newest wins: each takes the server a moment.
  drawLooks() {
    this.tellLooks ??= newestWins(
      (query) => this.askLooks(query),
      (spot) => this.showLooks(spot),
    );
    const { x, y } = this.lookAt;
    this.tellLooks(`?x=${x.toFixed(5)}&y=${y.toFixed(5)}&edge=${EDGE}`);
  },
  async askLooks(query) {
    try {
      return { query, spot: await ask(`${this.path}/methods${query}`) };
    } catch (problem) {
      this.trouble = problem.message;
      return null;
    }
  },
  showLooks({ query, spot }) {
    this.looks = spot.methods.map((one) => ({
      ...one,
      src: `${this.path}/methods/${one.method}${query}&of=${encodeURIComponent(this.view.sentence)}`,
      alt: `${one.name}: ${one.differs}`,
      mark: one.chosen ? "is-chosen" : "",
    }));
  },
  async drawAdvice() {
    try {
      const advice = await ask(`${this.path}/advice`);
      this.adviceWords = advice.text;
      const low = advice.curve[0]?.ppi ?? 0;
      const high = advice.curve.at(-1)?.ppi ?? 1;
      const x = (ppi) => 30 + (220 * (ppi - low)) / Math.max(1, high - low);
      const least = Math.min(0.9, ...advice.curve.map((point) => point.kept));
      const y = (kept) => 10 + (60 * (1 - kept)) / (1 - least);
      this.curve = advice.curve.map((point, n) => `${n ? "L" : "M"}${x(point.ppi).toFixed(1)} ${y(point.kept).toFixed(1)}`).join("");
      this.curveMark = advice.ppi ? `M${x(advice.ppi).toFixed(1)} 4v70` : "";
      this.curveEnds = advice.curve.length ? [`${low} ppi`, `${high} ppi`] : ["", ""];
    } catch (problem) {
      this.trouble = problem.message;
    }
  },
  lookElsewhere(dx, dy) {
    const [width, height] = this.view.picture;
    const inside = (share, edge) => Math.min(1 - EDGE / 2 / edge, Math.max(EDGE / 2 / edge, share));
    this.lookAt = {
      x: width > EDGE ? inside(this.lookAt.x + dx / width, width) : 0.5,
      y: height > EDGE ? inside(this.lookAt.y + dy / height, height) : 0.5,
    };
    this.drawLooks();
  },
  lookKey(event) {
    const arrows = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] };
    if (!(event.key in arrows)) return;
    event.preventDefault();
    const [dx, dy] = arrows[event.key];
    this.lookElsewhere(dx * STEP, dy * STEP);
  },
  // All pictures go along with the hand; on letting go they are drawn anew.
  lookDrag(event) {
    const { currentTarget: looks, clientX, clientY, pointerId } = event;
    if (event.button !== 0 || !event.target.closest("img")) return;
    event.preventDefault();
    looks.setPointerCapture(pointerId);
    const shift = (dx, dy) => {
      for (const image of looks.querySelectorAll("img")) image.style.transform = `translate(${dx}px, ${dy}px)`;
    };
    const move = (now) => shift(now.clientX - clientX, now.clientY - clientY);
    const end = (now) => {
      looks.removeEventListener("pointermove", move);
      for (const image of looks.querySelectorAll("img")) {
        image.addEventListener("load", () => (image.style.transform = ""), { once: true });
      }
      this.lookElsewhere(clientX - now.clientX, clientY - now.clientY);
    };
    looks.addEventListener("pointermove", move);
    looks.addEventListener("pointerup", end, { once: true });
  },
  // Sharpening is judged on the same spot: off and on, and how strong.
  get sharpness() {
    return this.view.sharpness;
  },
  get sharpOn() {
    return this.view.sharpen_for !== "off";
  },
  async setSharp(event) {
    const { dataset, value, checked } = event.target;
    const said = dataset.sharp === "on" ? { sharpen_for: checked ? "smooth" : "off" } : { sharpen: Number(value) };
    await this.keep({ kind: "finish", ...said });
    this.drawLooks();
  },
  async takeMethod(event) {
    await this.keep({ kind: "finish", method: event.currentTarget.dataset.method });
    this.drawLooks();
  },
};
