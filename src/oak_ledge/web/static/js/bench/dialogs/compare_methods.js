// Looking close: the methods side by side on a spot, pixel for pixel, and how much is enough.

import { ask } from "../../net/ask.js";
import { newestWins } from "../../net/newest.js";

const EDGE = 220;
const STEP = 40; // output pixels an arrow key goes

// A part of the bench, which it knows as `this.bench`.
export const compareMethods = {
  looks: [],
  at: { x: 0.5, y: 0.5 },
  adviceWords: "",
  curve: "",
  curveMark: "",
  curveEnds: ["", ""],

  // At a place of the piece, or where it shows most.
  async open(at) {
    await this.bench.small.settle();
    this.bench.$refs.compare_methods.showModal();
    this.at = at?.x === undefined ? await ask(`${this.bench.path}/busiest?edge=${EDGE}`).catch(() => this.at) : at;
    this.elsewhere(0, 0);
    await this.drawAdvice();
  },
  get word() {
    const [width, height] = this.bench.view.picture;
    const at = `${Math.round(this.at.x * width)}, ${Math.round(this.at.y * height)}`;
    return `About pixel ${at} of ${width} × ${height}, one pixel of the file to one of the screen. Drag a picture, or use the arrows, to look elsewhere.`;
  },
  // One question at a time, the newest wins: each takes the server a moment.
  draw() {
    this.tellLooks ??= newestWins(
      (query) => this.askAll(query),
      (spot) => this.showAll(spot),
    );
    const { x, y } = this.at;
    this.tellLooks(`?x=${x.toFixed(5)}&y=${y.toFixed(5)}&edge=${EDGE}`);
  },
  async askAll(query) {
    try {
      return { query, spot: await ask(`${this.bench.path}/methods${query}`) };
    } catch (problem) {
      this.bench.trouble = problem.message;
      return null;
    }
  },
  showAll({ query, spot }) {
    this.looks = spot.methods.map((one) => ({
      ...one,
      src: `${this.bench.path}/methods/${one.method}${query}&of=${encodeURIComponent(this.bench.view.sentence)}`,
      alt: `${one.name}: ${one.differs}`,
      mark: one.chosen ? "is-chosen" : "",
    }));
  },
  async drawAdvice() {
    try {
      const advice = await ask(`${this.bench.path}/advice`);
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
      this.bench.trouble = problem.message;
    }
  },
  elsewhere(dx, dy) {
    const [width, height] = this.bench.view.picture;
    const inside = (share, edge) => Math.min(1 - EDGE / 2 / edge, Math.max(EDGE / 2 / edge, share));
    this.at = {
      x: width > EDGE ? inside(this.at.x + dx / width, width) : 0.5,
      y: height > EDGE ? inside(this.at.y + dy / height, height) : 0.5,
    };
    this.draw();
  },
  key(event) {
    const arrows = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] };
    if (!(event.key in arrows)) return;
    event.preventDefault();
    const [dx, dy] = arrows[event.key];
    this.elsewhere(dx * STEP, dy * STEP);
  },
  // All pictures go along with the hand; on letting go they are drawn anew.
  drag(event) {
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
      this.elsewhere(clientX - now.clientX, clientY - now.clientY);
    };
    looks.addEventListener("pointermove", move);
    looks.addEventListener("pointerup", end, { once: true });
  },
  // Sharpening is judged on the same spot: off and on, and how strong.
  get sharpness() {
    return this.bench.view.sharpness;
  },
  get sharpOn() {
    return this.bench.view.sharpen_for !== "off";
  },
  async setSharp(event) {
    const { dataset, value, checked } = event.target;
    const said = dataset.sharp === "on" ? { sharpen_for: checked ? "smooth" : "off" } : { sharpen: Number(value) };
    await this.bench.keep({ kind: "finish", ...said });
    this.draw();
  },
  async takeMethod(event) {
    await this.bench.keep({ kind: "finish", method: event.currentTarget.dataset.method });
    this.draw();
  },
};
