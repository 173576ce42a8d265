// Tries side by side: grounds that continue the photo, or fills of what is painted over. They stand where
// the piece stood, the best first, and are taken by a click or a key.

import { ask } from "../../net/ask.js";

const TILES = 4;
const PAUSE = 500; // ms between two looks at how far they are

// What the page holds of it; the bench takes it over, getters and all.
export const tiling = {
  tries: { of: "", list: [], seed: 1, plain: null, made: 0 },
  triesTurn: 0,

  get tiled() {
    return this.tries.of === this.station && this.tries.list.length > 0;
  },
  get tiledMark() {
    return this.tiled ? "is-tiled" : "";
  },
  get triesBase() {
    return this.tries.of === "Ground"
      ? `${this.path}/grounds`
      : `${this.retouchesPath}/${this.retouchNumber}/tries`;
  },
  // Each stands at its number from the first to the last moment: what moved under a hand would be taken
  // by mistake. The plain ground is always the fourth.
  get tiles() {
    const { list, plain, seed, made } = this.tries;
    const over = this.triesDone;
    const tiles = places(list, plain ? TILES - 1 : TILES, over).map((one, n) => one && {
      n: n + 1,
      key: `try${one.try}`,
      takes: one.try,
      taken: one.taken,
      src: one.state === "made" ? `${this.triesBase}/${one.try}?edge=640&seed=${seed}&of=${made}-${encodeURIComponent(this.triesOf)}` : "",
      word: one.taken ? "taken" : over && one.order === 1 ? "best" : "",
      wait: waits(one),
    });
    if (plain) {
      const taken = this.view.ground === plain.fill;
      const src = `${this.path}/plain-ground/picture?edge=640&of=${encodeURIComponent(this.triesOf)}`;
      tiles.push({ n: TILES, key: "plain", takes: 0, taken, src, word: taken ? "taken" : `plain: ${plain.words}`, wait: "" });
    }
    return tiles.filter(Boolean).map((one) => ({
      ...one,
      number: String(one.n),
      mark: one.taken ? "is-taken" : "",
      pressed: String(one.taken),
      label: `Try ${one.n}${one.word ? `, ${one.word}` : ""}${one.wait ? `, ${one.wait}` : ""}`,
      takeWord: one.taken || !one.src ? "" : "Take it",
      closeWord: one.taken && one.src && this.tries.of === "Ground" ? "Look close" : "",
    }));
  },
  // All that the pictures of tries follow from, but their seed.
  get triesOf() {
    const { crop, lying, picture } = this.view;
    return String([crop, lying.angle, lying.quarter, lying.mirror, lying.corners, picture[0], this.view.photo.look, this.retouchNumber]);
  },
  get triesDone() {
    return this.tries.list.length > 0 && this.tries.list.every((one) => one.state === "made" || one.state === "failed");
  },
  get triesBusy() {
    return this.tiled && !this.triesDone;
  },
  get triesFailed() {
    return this.tiled && this.tries.list.some((one) => one.state === "failed");
  },
  async tryAgain() {
    const { of, seed } = this.tries;
    await this.stopTries();
    await this.showTries(of, seed);
  },
  get triesWord() {
    const { list } = this.tries;
    if (!list.length) return "";
    const made = list.filter((one) => one.state === "made").length;
    const failed = list.find((one) => one.state === "failed");
    if (failed && made + list.filter((one) => one.state === "failed").length === list.length && !made) return failed.reason;
    if (!this.triesDone) return `${made} of ${list.length} tries made`;
    const bold = list.some((one) => one.bold) ? " Over a quarter of the piece is made up: look closely." : "";
    const zones = this.tries.of === "Ground" ? ", keep zones never copied" : "";
    return `Made from this photo alone${zones}.${bold}`;
  },
  async showTries(of, seed) {
    this.tries = { of, list: [], seed: seed ?? 1, plain: null, made: 0 };
    if (of === "Ground") this.tries.plain = await ask(`${this.path}/plain-ground`).catch(() => null);
    await this.followTries();
  },
  // Looks how far they are until all are made, and what is taken is there at full size.
  async followTries() {
    this.triesTurn += 1;
    const turn = this.triesTurn;
    const { of, seed } = this.tries;
    while (turn === this.triesTurn && this.tries.of === of) {
      let list = [];
      try {
        list = await ask(`${this.triesBase}?seed=${seed}`);
      } catch (problem) {
        this.trouble = problem.message;
        return;
      }
      if (turn !== this.triesTurn) return;
      const before = this.tries.list;
      this.tries = { ...this.tries, list };
      const taken = list.find((one) => one.taken);
      const was = before.find((one) => one.taken);
      const newer = taken && (taken.state !== was?.state || taken.full !== was?.full);
      if (newer && taken.state === "made") await this.madeAnew();
      if (this.triesDone && (!taken || taken.full || taken.state === "failed")) {
        this.spoken = this.triesWord;
        return;
      }
      await new Promise((resolve) => setTimeout(resolve, PAUSE));
    }
  },
  // Something that is shown was made meanwhile: pictures of it are asked for anew.
  async madeAnew() {
    this.tries = { ...this.tries, made: this.tries.made + 1 };
    if (this.view.photo.retouches || this.tries.of === "Photo") await this.loadRetouches();
    this.pictures();
    await this.drawFine();
  },
  closeTries() {
    this.triesTurn += 1;
    this.tries = { of: "", list: [], seed: 1, plain: null, made: this.tries.made };
  },
  async stopTries() {
    this.triesTurn += 1;
    await ask(this.triesBase, { method: "DELETE" }).catch((problem) => {
      this.trouble = problem.message;
    });
    this.tries = { ...this.tries, list: this.tries.list.filter((one) => one.state === "made") };
  },
  fourMore() {
    return this.showTries(this.tries.of || this.station, this.tries.seed + 1);
  },
  takeTile(event) {
    return this.takeNumber(Number(event.currentTarget.dataset.n));
  },
  async takeNumber(n) {
    const tile = this.tiles.find((one) => one.n === n);
    if (!tile?.src) return;
    if (this.tries.of === "Photo") await this.takeRetouch({ try: tile.takes, seed: this.tries.seed });
    else if (tile.takes === 0) await this.keep({ kind: "ground", beyond: true, fill: this.tries.plain.fill });
    else await this.keep({ kind: "continue", try: tile.takes, seed: this.tries.seed });
    if (this.tries.of === "Ground" && tile.takes === 0) {
      this.tries = { ...this.tries, list: this.tries.list.map((one) => ({ ...one, taken: false })) };
      return;
    }
    await this.followTries();
  },
  // At true pixels across the seam: the middle of the side that reaches farthest beyond the photo.
  lookAtSeam() {
    const { reaches, crop } = this.view;
    const [side, by] = Object.entries(reaches).sort((one, other) => other[1] - one[1])[0];
    const share = Math.max(0, by) / (side === "left" || side === "right" ? crop[2] : crop[3]);
    const at = { left: { x: share, y: 0.5 }, right: { x: 1 - share, y: 0.5 }, top: { x: 0.5, y: share }, bottom: { x: 0.5, y: 1 - share } }[side];
    return this.lookClose(at);
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
