// The jobs page: photos are dropped, chosen or pasted; a job starts with them on one size or several.

import { dropping } from "../hand/drop.js";
import { together } from "../hand/parts.js";
import { ask } from "../net/ask.js";
import { inHand } from "./in_hand.js";
import { quick } from "./quick.js";
import { choosingSizes } from "./sizes.js";

document.addEventListener("alpine:init", () => {
  window.Alpine.data("jobs", () => together(core(), [inHand, choosingSizes, quick]));
});

const core = () => ({
  over: false,
  trouble: "",

  room: {
    ...dropping((page, files) => page.take(files)),
    "@paste.window"(event) {
      if (event.clipboardData.files.length) this.take(event.clipboardData.files);
      else if (!event.target.matches("input, textarea")) this.takeAddress(event.clipboardData.getData("text"), event);
    },
    // A picture dragged from another page is its address.
    "@drop.window"(event) {
      if (!event.dataTransfer.files.length) this.takeAddress(event.dataTransfer.getData("text/uri-list"), event);
    },
  },

  init() {
    this.choices = JSON.parse(document.getElementById("recent-sizes").textContent);
    this.takeUpAgain();
    this.$nextTick(() => this.writeAgain()); // once the field answers
  },
  takeAddress(text, event) {
    const [url] = text.trim().split(/\s/);
    if (!/^https?:\/\//.test(url)) return;
    event.preventDefault();
    this.takeFrom(url);
  },
  find(event) {
    const words = event.target.value.trim().toLowerCase().split(/\s+/);
    let shown = 0;
    for (const shelf of this.$root.querySelectorAll("[data-found-by]")) {
      // of a job with very many photos not all are named here: it stays in sight until Enter looks through all
      shelf.hidden = !("more" in shelf.dataset) && !words.every((word) => shelf.dataset.foundBy.includes(word));
      if (!shelf.hidden) shown += 1;
    }
    this.$refs.noneFound.hidden = shown > 0 || event.target.value.trim() === "";
  },
  // What is in hand as it stands now, without letting go of what is being done on the page.
  async showShelves() {
    const answer = await fetch(window.location.href).catch(() => null);
    if (!answer?.ok) return;
    const page = new DOMParser().parseFromString(await answer.text(), "text/html");
    for (const part of [".shelves", ".headline h1", ".headline > p"]) {
      const [old, now] = [this.$root.querySelector(part), page.querySelector(part)];
      if (old && now) old.replaceWith(now);
    }
    for (const empty of this.$root.querySelectorAll("p.empty:not([hidden])")) empty.hidden = true;
  },
  async restore(event) {
    try {
      await ask(`/api/jobs/${event.currentTarget.dataset.id}/restore`, { method: "POST" });
      window.location.reload();
    } catch (problem) {
      this.trouble = problem.message;
    }
  },
});
