// Tries side by side: grounds that continue the photo, or fills of what is painted over. They stand where
// the piece stood, the best first, and are taken by a click or a key.

import { ask } from "../../net/ask.js";

const TILES = 4;
const PAUSE = 500; // ms between two looks at how far they are

// A part of the bench, which it knows as `this.bench`.
export const tries = {
  set: { of: "", list: [], seed: 1, plain: null, made: 0 },
  turn: 0,

  get tiled() {
    return this.set.of === this.bench.station && this.set.list.length > 0;
  },
  get tiledMark() {
    return this.tiled ? "is-tiled" : "";
  },
  get base() {
    return this.set.of === "Ground"
      ? `${this.bench.path}/grounds`
      : `${this.bench.retouch.path}/${this.bench.retouch.number}/tries`;
  },
  // Each stands at its number from the first to the last moment: what moved under a hand would be taken
  // by mistake. The plain ground is always the fourth.
  get tiles() {
    const { list, plain, seed, made } = this.set;
    const over = this.done;
    const tiles = places(list, plain ? TILES - 1 : TILES, over).map((one, n) => one && {
      n: n + 1,
      key: `try${one.try}`,
      takes: one.try,
      taken: one.taken,
      src: one.state === "made" ? `${this.base}/${one.try}?edge=640&seed=${seed}&of=${made}-${encodeURIComponent(this.of)}` : "",
      word: one.taken ? "taken" : over && one.order === 1 ? "best" : "",
      wait: waits(one),
    });
    if (plain) {
      const taken = this.bench.view.ground === plain.fill;
      const src = `${this.bench.path}/plain-ground/picture?edge=640&of=${encodeURIComponent(this.of)}`;
      tiles.push({ n: TILES, key: "plain", takes: 0, taken, src, word: taken ? "taken" : `plain: ${plain.words}`, wait: "" });
    }
    return tiles.filter(Boolean).map((one) => ({
      ...one,
      number: String(one.n),
      mark: one.taken ? "is-taken" : "",
      pressed: String(one.taken),
      label: `Try ${one.n}${one.word ? `, ${one.word}` : ""}${one.wait ? `, ${one.wait}` : ""}`,
      takeWord: one.taken || !one.src ? "" : "Take it",
      closeWord: one.taken && one.src && this.set.of === "Ground" ? "Look close" : "",
    }));
  },
  // All that the pictures of tries follow from, but their seed.
  get of() {
    const { crop, lying, picture } = this.bench.view;
    return String([crop, lying.angle, lying.quarter, lying.mirror, lying.corners, picture[0], this.bench.view.photo.look, this.bench.retouch.number]);
  },
  get done() {
    return this.set.list.length > 0 && this.set.list.every((one) => one.state === "made" || one.state === "failed");
  },
  get busy() {
    return this.tiled && !this.done;
  },
  get failed() {
    return this.tiled && this.set.list.some((one) => one.state === "failed");
  },
  async again() {
    const { of, seed } = this.set;
    await this.stop();
    await this.show(of, seed);
  },
  get word() {
    const { list } = this.set;
    if (!list.length) return "";
    const made = list.filter((one) => one.state === "made").length;
    const failed = list.find((one) => one.state === "failed");
    if (failed && made + list.filter((one) => one.state === "failed").length === list.length && !made) return failed.reason;
    if (!this.done) return `${made} of ${list.length} tries made.`;
    if (this.set.of === "Photo" && this.bench.retouch.now?.kind === "cut_out") {
      const unsure = list.find((one) => one.taken)?.bold;
      return unsure ? "Colours tell little of its edge, as with hair or glass: look closely." : "Edges that are plausible, the likeliest taken first.";
    }
    const bold = list.some((one) => one.bold) ? " Over a quarter of the piece is made up: look closely." : "";
    const zones = this.set.of === "Ground" ? ", keep zones never copied" : "";
    return `Made from this photo alone${zones}.${bold}`;
  },
  async show(of, seed) {
    this.set = { of, list: [], seed: seed ?? 1, plain: null, made: 0 };
    if (of === "Ground") this.set.plain = await ask(`${this.bench.path}/plain-ground`).catch(() => null);
    await this.follow();
  },
  // Looks how far they are until all are made, and what is taken is there at full size.
  async follow() {
    this.turn += 1;
    const turn = this.turn;
    const { of, seed } = this.set;
    while (turn === this.turn && this.set.of === of) {
      let list = [];
      try {
        list = await ask(`${this.base}?seed=${seed}`);
      } catch (problem) {
        this.bench.trouble = problem.message;
        return;
      }
      if (turn !== this.turn) return;
      const before = this.set.list;
      this.set = { ...this.set, list };
      const taken = list.find((one) => one.taken);
      const was = before.find((one) => one.taken);
      const newer = taken && (taken.state !== was?.state || taken.full !== was?.full);
      if (newer && taken.state === "made") await this.madeAnew();
      if (this.done && (!taken || taken.full || taken.state === "failed")) {
        this.bench.spoken = this.word;
        return;
      }
      await new Promise((resolve) => setTimeout(resolve, PAUSE));
    }
  },
  // Something that is shown was made meanwhile: pictures of it are asked for anew.
  async madeAnew() {
    this.set = { ...this.set, made: this.set.made + 1 };
    if (this.bench.view.photo.retouches || this.set.of === "Photo") await this.bench.retouch.load();
    this.bench.pictures();
    await this.bench.drawFine();
  },
  close() {
    this.turn += 1;
    this.set = { of: "", list: [], seed: 1, plain: null, made: this.set.made };
  },
  async stop() {
    this.turn += 1;
    await ask(this.base, { method: "DELETE" }).catch((problem) => {
      this.bench.trouble = problem.message;
    });
    this.set = { ...this.set, list: this.set.list.filter((one) => one.state === "made") };
  },
  fourMore() {
    return this.show(this.set.of || this.bench.station, this.set.seed + 1);
  },
  take(event) {
    return this.takeNumber(Number(event.currentTarget.dataset.n));
  },
  async takeNumber(n) {
    const tile = this.tiles.find((one) => one.n === n);
    if (!tile?.src) return;
    if (this.set.of === "Photo") await this.bench.retouch.take({ try: tile.takes, seed: this.set.seed });
    else if (tile.takes === 0) await this.bench.keep({ kind: "ground", beyond: true, fill: this.set.plain.fill });
    else await this.bench.keep({ kind: "continue", try: tile.takes, seed: this.set.seed });
    if (this.set.of === "Ground" && tile.takes === 0) {
      this.set = { ...this.set, list: this.set.list.map((one) => ({ ...one, taken: false })) };
      return;
    }
    await this.follow();
  },
  // At true pixels across the seam: the middle of the side that reaches farthest beyond the photo.
  lookAtSeam() {
    const { reaches, crop } = this.bench.view;
    const [side, by] = Object.entries(reaches).sort((one, other) => other[1] - one[1])[0];
    const share = Math.max(0, by) / (side === "left" || side === "right" ? crop[2] : crop[3]);
    const at = { left: { x: share, y: 0.5 }, right: { x: 1 - share, y: 0.5 }, top: { x: 0.5, y: share }, bottom: { x: 0.5, y: 1 - share } }[side];
    return this.bench.compareMethods.open(at);
  },
};

// The tries at their places, by their own numbers. Where there is room for three of four, the fourth takes
// the place of the worst once all are made and it is better. What is as good as another leaves its place empty.
function places(list, room, over) {
  const inOrder = [...list].sort((a, b) => a.try - b.try);
  const rank = (one) => (one.taken ? 0 : one.left_out ? TILES + 1 : one.order ?? TILES + 1);
  const placed = inOrder.slice(0, room);
  for (const one of inOrder.slice(room)) {
    const worst = placed.reduce((a, b) => (rank(b) >= rank(a) ? b : a), one);
    if (over && worst !== one && rank(worst) > rank(one)) placed[placed.indexOf(worst)] = one;
  }
  return placed.map((one) => (over && one.left_out && !one.taken ? null : one));
}

function waits({ state, seconds, reason }) {
  if (state === "made") return "";
  if (state === "failed") return reason ?? "not made";
  if (state === "waiting") return "waiting";
  return seconds > 1 ? `being made, about ${seconds} s` : "being made, nearly there";
}
