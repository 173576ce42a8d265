// A job's ledge: more shelves as they come into view, many pieces at once, and what the job is.

import { dropping } from "../hand/drop.js";
import { together } from "../hand/parts.js";
import { TONES } from "../hand/tones.js";
import { trying } from "../hand/tried.js";
import { ask } from "../net/ask.js";
import { choosing } from "./chosen.js";
import { belonging } from "./job.js";
import { many } from "./many.js";
import { planning } from "./plan.js";
import { reviewing } from "./review.js";
import { sheeting } from "./sheets.js";

const WORDS = { stop: "Stop:", look: "Look:", fine: "Fine:" };
const [SHORTEST, LONGEST] = [300, 1200]; // drawing units of a shelf, one to a CSS pixel
const MARGIN = 40; // CSS pixels beside the shelves
const AHEAD = "900px"; // shelves so far below are asked for already

document.addEventListener("alpine:init", () => {
  window.Alpine.data("ledge", () => together(core(), [trying, many, planning, reviewing, sheeting, belonging]));
});

const core = () => ({
  held: "",
  prints: true,
  perPixel: "",
  overview: null, // how far the job is, once it is known
  over: false,
  tells: null,
  tone: localStorage.getItem("oak-ledge-tone") ?? "light",

  room: {
    ...dropping((page, files) => page.bring(files)),
    "@keydown.escape.window"() {
      this.tells = null;
    },
    "@keydown.window"(event) {
      this.key(event);
    },
    // Another way up, or another window: once it rests, and nothing is in hand.
    "@resize.window"() {
      clearTimeout(this.resized);
      this.resized = setTimeout(() => this.some || document.querySelector("dialog[open]") || this.fitShelves(), 400);
    },
  },

  init() {
    this.path = `/api/jobs/${this.$root.dataset.job}`;
    this.held = this.$root.querySelector("[x-text=holdsWord]").textContent; // until it is counted
    this.chosen = choosing(this.$refs.shelves);
    this.said = this.$root.querySelector(".said [role=status]").textContent.trim();
    this.canUndo = this.said !== "";
    this.applyTone();
    this.ahead = new IntersectionObserver((seen) => seen.some((one) => one.isIntersecting) && this.moreShelves(), {
      rootMargin: AHEAD,
    });
    this.fitShelves();
    this.watchMore();
    const { shelves } = this.$refs;
    for (const kind of ["pointerover", "focusin"]) shelves.addEventListener(kind, (event) => this.tell(event));
    for (const kind of ["pointerleave", "focusout"]) shelves.addEventListener(kind, () => (this.tells = null));
    this.count();
  },

  // --- shelves

  // Shelves are as long as the page is wide, so that their letters keep their size.
  fitShelves() {
    const wide = Math.min(LONGEST, Math.max(SHORTEST, this.$refs.shelves.clientWidth - 2 * MARGIN));
    if (Math.abs(wide / Number(this.$root.dataset.wide) - 1) < 0.15) return;
    const to = new URL(window.location);
    to.searchParams.set("wide", wide);
    window.location.replace(to);
  },

  // What the shelves drawn so far say of themselves: units to a pixel, and whether there are prints.
  tellShelves() {
    const facts = [...this.$refs.shelves.querySelectorAll(".shelf-facts")];
    this.perPixel = facts[0]?.dataset.perPixel ?? "";
    this.prints = facts.some((one) => one.dataset.prints === "yes");
  },
  // The first shelves are drawn at the scale that suits what they hold now, the others at theirs.
  shelvesFrom(first) {
    const scale = Number(first) > 0 && this.perPixel ? `&per_pixel=${this.perPixel}` : "";
    return `${this.$root.dataset.shelves}&first=${first}${scale}`;
  },
  watchMore() {
    this.tellShelves();
    this.more = this.$refs.shelves.querySelector(".more-shelves");
    this.ahead.disconnect();
    if (this.more) this.ahead.observe(this.more);
  },
  async moreShelves() {
    const place = this.more;
    if (!place || place.dataset.asked) return;
    place.dataset.asked = "yes";
    const answer = await fetch(this.shelvesFrom(place.dataset.first)).catch(() => null);
    if (!answer?.ok) {
      place.textContent = "The other shelves did not come. Load the page again.";
      return;
    }
    const part = document.createRange().createContextualFragment(await answer.text());
    place.replaceWith(part);
    this.chosen.mark();
    this.watchMore();
  },
  async count() {
    this.overview = await ask(`${this.path}/overview`).catch(() => null);
  },
  get holdsWord() {
    return this.overview?.holds ?? this.held;
  },
  get counted() {
    if (!this.overview) return [];
    return Object.entries(this.overview.counts).map(([name, count]) => ({
      name,
      words: `${count} ${name}`,
      kind: `is-${name.replaceAll(" ", "-")}`,
    }));
  },
  get lookCount() {
    return this.overview ? String(this.overview.to_look_at) : "";
  },
  get codes() {
    // each with how many pieces have it
    const here = new URL(window.location).searchParams.get("show");
    return Object.entries(this.overview?.codes ?? {}).map(([code, count]) => ({ code, words: `${this.overview.code_words[code]}, ${count}`, here: code === here }));
  },
  get nextHref() {
    return this.$refs.shelves.querySelector(".is-stopped, .is-to-look-at")?.getAttribute("href") ?? "";
  },
  goWith(name, value) {
    const to = new URL(window.location);
    to.searchParams.set(name, value);
    window.location.assign(to);
  },
  withNote(event) {
    this.goWith("show", event.target.value);
  },
  setScale(event) {
    this.goWith("scale", event.target.value);
  },
  get tones() {
    return Object.fromEntries(TONES.map((tone) => [tone, String(tone === this.tone)]));
  },
  setTone(event) {
    this.tone = event.currentTarget.dataset.tone;
    localStorage.setItem("oak-ledge-tone", this.tone);
    this.applyTone();
  },
  applyTone() {
    document.documentElement.dataset.tone = this.tone;
  },

  // J and K go from piece to piece, Enter opens one: as on the bench.
  key(event) {
    if ((event.ctrlKey || event.metaKey) && event.key.toLowerCase() === "a") {
      if (event.target.matches("input:not([type=checkbox]), select, textarea") || document.querySelector("dialog[open]")) return;
      event.preventDefault();
      this.chooseAll();
      return;
    }
    const step = { j: 1, k: -1 }[event.key.toLowerCase()];
    if (!step || event.ctrlKey || event.metaKey || event.altKey || localStorage.getItem("oak-ledge-letters") === "off") return;
    if (event.target.matches("input:not([type=checkbox]), select, textarea") || document.querySelector("dialog[open]")) return;
    const pieces = [...this.$refs.shelves.querySelectorAll(".piece-stood")];
    const at = pieces.indexOf(document.activeElement);
    pieces[at < 0 ? 0 : Math.min(Math.max(at + step, 0), pieces.length - 1)]?.focus();
  },

  // --- what a piece tells

  tell(event) {
    const piece = event.target.closest(".piece-stood");
    if (!piece) {
      this.tells = null;
      return;
    }
    this.tells = JSON.parse(piece.dataset.tells);
    const at = piece.getBoundingClientRect();
    const { tells } = this.$refs;
    const right = at.right + 440 < window.innerWidth;
    Object.assign(tells.style, {
      left: right ? `${at.right + 14}px` : "",
      right: right ? "" : `${Math.max(12, window.innerWidth - at.left + 14)}px`,
      top: `${Math.max(12, Math.min(at.top, window.innerHeight - 230))}px`,
    });
  },
  get tellsName() {
    return this.tells ? (this.tells.own ?? this.tells.size_name) : "";
  },
  get tellsPhoto() {
    return this.tells?.photo_name ?? "";
  },
  get tellsSentence() {
    return this.tells?.sentence ?? "";
  },
  get tellsNotes() {
    return (this.tells?.notes ?? []).map((note) => ({ ...note, word: WORDS[note.level], kind: `is-${note.level}` }));
  },
});
