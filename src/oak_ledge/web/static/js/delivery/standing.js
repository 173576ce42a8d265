// Standing orders: given, paused, ended; what came of the photos that arrived is looked at again and again.

import { filesWord } from "../hand/figures.js";
import { ask } from "../net/ask.js";

const EVERY = 2000; // ms between two looks
const DRAWN = 40; // a size's longer edge on its little drawing
const WORDS = { watching: "Watching", paused: "Paused", "not watching": "Not watching" };
const KINDS = { watching: "is-fine", paused: "is-open", "not watching": "is-stop" };

const RECEIVERS = new Map(JSON.parse(document.getElementById("receivers").textContent));

const counted = (count, what) => `${count} ${what}${count === 1 ? "" : "s"}`;

function drawn(size) {
  const [wide, high] = [size.across * DRAWN, size.along * DRAWN];
  return { ...size, wide, high, left: (DRAWN - wide) / 2, top: DRAWN - high };
}

// A moment as the other pages say it: today, 09:41.
function said(when) {
  const then = new Date(when);
  const days = Math.round((new Date().setHours(0, 0, 0, 0) - new Date(then).setHours(0, 0, 0, 0)) / 86_400_000);
  const day = ["today", "yesterday"][days] ?? then.toLocaleDateString("en-GB", { day: "numeric", month: "long" });
  return `${day}, ${then.toLocaleTimeString("en-GB", { hour: "2-digit", minute: "2-digit" })}`;
}

// What the photo's name says already is left out of its files' names.
function arrived(one) {
  const stem = one.photo.replace(/[.][^.]*$/, "");
  const names = one.files.map((file) => (file.startsWith(`${stem}_`) ? file.slice(stem.length + 1) : file));
  return { ...one, at: said(one.when), made: names.join(", "), why: one.reasons.join(" "), sentWords: one.sent.join("; "), kind: one.reasons.length ? "is-stop" : "is-fine" };
}

document.addEventListener("alpine:init", () => {
  window.Alpine.data("standing", () => ({
    orders: JSON.parse(document.getElementById("seed").textContent),
    folder: "",
    sizes: "",
    out: "",
    receiver: "",
    trouble: "",
    busy: false,
    sure: 0, // the order that is ended by the next press

    init() {
      setInterval(() => document.visibilityState === "visible" && this.look(), EVERY);
    },
    async look() {
      const found = await ask("/api/standing-orders").catch(() => null);
      if (found && !this.busy) this.orders = found;
    },
    get shown() {
      return this.orders.map((order) => ({
        ...order,
        kind: KINDS[order.state],
        words: WORDS[order.state],
        sizes: order.sizes.map(drawn),
        latest: order.latest.map(arrived),
        count: `${counted(order.photos, "photo")}, ${filesWord(order.files)} made${order.failed ? `, ${counted(order.failed, "photo")} failed` : ""}`,
        turn: order.on ? "Pause" : "Go on",
        then: order.receiver_id ? `, then to ${RECEIVERS.get(order.receiver_id) ?? "a receiver that is gone"}` : "",
        endWord: this.sure === order.id ? "Really end it" : "End",
      }));
    },
    get outHint() {
      return this.folder.trim() ? `${this.folder.trim().replace(/[/]+$/, "")}/made` : "made, within that folder";
    },
    async change(path, method, body) {
      this.trouble = "";
      this.busy = true;
      let done = true;
      try {
        await ask(path, { method, body });
      } catch (problem) {
        this.trouble = problem.message;
        done = false;
      }
      this.busy = false;
      await this.look();
      return done;
    },
    async give() {
      const body = { folder: this.folder, size_texts: [this.sizes], out: this.out, receiver_id: this.receiver ? Number(this.receiver) : null };
      if (await this.change("/api/standing-orders", "POST", body)) [this.folder, this.sizes, this.out, this.receiver] = ["", "", "", ""];
    },
    turn(event) {
      const id = Number(event.currentTarget.dataset.id);
      const { on } = this.orders.find((order) => order.id === id);
      return this.change(`/api/standing-orders/${id}`, "PUT", { on: !on });
    },
    end(event) {
      const id = Number(event.currentTarget.dataset.id);
      if (this.sure !== id) {
        this.sure = id;
        return null;
      }
      this.sure = 0;
      return this.change(`/api/standing-orders/${id}`, "DELETE");
    },
  }));
});
