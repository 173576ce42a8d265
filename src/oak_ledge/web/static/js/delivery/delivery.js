// A delivery as it goes on: what is made, asked against measured, and where it goes.

import { bytesWords, filesWord, rounded } from "../hand/figures.js";
import { ask } from "../net/ask.js";
import { followed } from "../net/follow.js";
import { takeWay } from "../net/ways.js";
import { fixWords, progressWords, sentLine } from "../receivers/sent.js";

const MARKS = {
  made: ["M-6 0a6 6 0 1 0 12 0a6 6 0 1 0 -12 0z", "M-2.8 .2l2 2 3.6-4", "is-fine", "as asked"],
  failed: ["M-5.5 -5.5h11v11h-11z", "M-2.5 -2.5l5 5M2.5 -2.5l-5 5", "is-stop", "failed"],
  held: ["M-5.5 -5.5h11v11h-11z", "M-3 0h6", "is-stop", "not made"],
  running: ["M-5 0a5 5 0 1 0 10 0a5 5 0 1 0 -10 0z", "", "is-open", "being made"],
  queued: ["M-5 0a5 5 0 1 0 10 0a5 5 0 1 0 -10 0z", "", "is-open", "waiting"],
};
const WORDS = { made: "as asked", failed: "failed", held: "not made", running: "being made", queued: "waiting" };
const WORDS_OF_PLACE = { made: "made on", running: "on" };
const VIEWS = { latest: "latest", all: "all", failed: "failed", held: "not made" };
const LATEST = 14;
const LEFT = ["waiting", "sending"];
const LOOK = 1000; // ms between two looks at how sending goes
const MOST_LINES = 8; // files told under a receiver

const resolution = (ppi) => (ppi === null || ppi === undefined ? "none" : rounded(ppi, 2));

document.addEventListener("alpine:init", () => {
  window.Alpine.data("delivery", () => ({
    delivery: JSON.parse(document.getElementById("seed").textContent),
    view: "latest",
    receivers: [],
    sendings: { files: [], counts: {} }, // what came of its files, for all receivers
    answers: {}, // what a receiver said when it was asked, by its number
    by: "none",
    paper: "a4",
    putting: false,
    putWord: "",
    putFailed: [],
    trouble: "",

    init() {
      this.path = `/api/deliveries/${this.delivery.id}`;
      this.fill();
      this.follow();
      this.loadReceivers();
    },
    follow() {
      return followed(this.delivery, (now) => {
        this.delivery = now;
        this.fill();
      });
    },
    // Pieces on the ledge fill in as their files are made.
    fill() {
      const by = new Map();
      for (const file of this.delivery.files) {
        const key = String(file.placement_id); // of several panels the first that is not made counts
        if ((by.get(key) ?? "made") === "made") by.set(key, file.state);
      }
      for (const piece of document.querySelectorAll("[data-placement]")) {
        piece.setAttribute("class", `is-${by.get(piece.dataset.placement) ?? "queued"}`);
      }
    },

    get headline() {
      return `${this.delivery.counts.made ?? 0} of ${this.delivery.files.length} files made`;
    },
    get left() {
      const seconds = this.delivery.seconds_left;
      if (!seconds) return "";
      return seconds < 90 ? `${seconds} s` : `${Math.round(seconds / 60)} min`;
    },
    get running() {
      return ["queued", "running"].includes(this.delivery.state);
    },
    get paused() {
      return this.delivery.state === "paused";
    },
    get open() {
      return this.running || this.paused;
    },
    get over() {
      return !this.open;
    },
    get repeatable() {
      return this.over && !this.delivery.files.some((file) => file.sheet);
    },
    get someMade() {
      return (this.delivery.counts.made ?? 0) > 0;
    },
    get archiveWord() {
      return this.someMade ? `zip, ${filesWord(this.delivery.counts.made)}, ${bytesWords(this.delivery.bytes)}` : "nothing made yet";
    },
    get counted() {
      return Object.keys(MARKS)
        .filter((name) => this.delivery.counts[name])
        .map((name) => {
          const [shape, sign, mark, words] = MARKS[name];
          return { name, shape, sign, mark, kind: `count-${name}`, words: `${this.delivery.counts[name]} ${words}` };
        });
    },
    get shown() {
      const { files } = this.delivery;
      const wanted = { latest: () => true, all: () => true, failed: (file) => file.state === "failed", held: (file) => file.state === "held" }[this.view];
      const chosen = files.filter(wanted);
      if (this.view !== "latest" || files.length <= LATEST) return chosen.map((file) => this.row(file));
      const done = chosen.filter((file) => file.state !== "queued");
      return (done.length >= LATEST ? done.slice(-LATEST) : chosen.slice(0, LATEST)).map((file) => this.row(file));
    },
    row(file) {
      const { asked, measured: found } = file;
      const made = file.state === "made";
      return {
        ...file,
        kind: `is-${file.state}`,
        href: made ? `${this.path}/files/${encodeURIComponent(file.name)}` : "",
        plain: !made,
        why: file.reason ?? "",
        again: (made || file.state === "failed" || (file.state === "held" && !file.stop)) && this.over,
        bench: file.sheet ? "" : file.state === "held" || file.stop || file.changed ? `/jobs/${this.delivery.job_id}/bench/${file.placement_id}` : "",
        benchWord: file.changed ? "See it on the bench" : "Fix it on the bench",
        since: file.changed ? "Worked on since it was made." : "",
        offers: file.state === "held" || Boolean(file.stop) || file.changed,
        way: file.stop?.way ?? "",
        ways: file.stop?.ways ?? [],
        held: file.state === "held" && Boolean(file.stop),
        askedPixels: `${asked.width} × ${asked.height}`,
        askedPpi: asked.ppi === null ? "any" : resolution(asked.ppi),
        atMost: bytesWords(asked.at_most),
        pixels: found ? `${found.width} × ${found.height}` : "",
        ppi: found ? resolution(found.ppi) : "",
        bytes: found ? bytesWords(found.bytes) : "",
        word: WORDS[file.state],
        where: file.machine && ["made", "running"].includes(file.state) ? `${WORDS_OF_PLACE[file.state]} ${file.machine}` : "",
      };
    },
    get views() {
      const count = (name) => (["latest", "all"].includes(name) ? this.delivery.files.length : (this.delivery.counts[name] ?? 0));
      return Object.keys(VIEWS)
        .filter((name) => count(name) > 0)
        .map((name) => ({ name, words: name === "latest" ? name : `${VIEWS[name]} ${count(name)}`, pressed: String(name === this.view) }));
    },
    setView(event) {
      this.view = event.currentTarget.dataset.view;
    },

    // --- where it goes

    get archiveHref() {
      return `${this.path}/archive?by=${this.by}`;
    },
    get sheetHref() {
      return `${this.path}/contact-sheet?paper=${this.paper}`;
    },
    get hasHeads() {
      return this.delivery.files.some((file) => file.head && file.state === "made");
    },
    get headsHref() {
      return `${this.sheetHref}&heads=true`;
    },
    setBy(event) {
      this.by = event.target.value;
    },
    setPaper(event) {
      this.paper = event.target.value;
    },
    async put() {
      this.putting = true;
      this.trouble = "";
      try {
        const put = await ask(`${this.path}/folder?by=${this.by}`, { method: "POST" });
        this.putWord = put.words;
        this.putFailed = put.files.filter((file) => file.state === "failed");
        if (this.putFailed.length) await this.look();
      } catch (problem) {
        this.trouble = problem.message;
      }
      this.putting = false;
    },
    async look() {
      this.delivery = await ask(this.path);
      this.fill();
    },

    async turn(what) {
      this.trouble = "";
      try {
        this.delivery = await ask(`${this.path}/${what}`, { method: "POST" });
        this.fill();
        if (this.running) this.follow();
      } catch (problem) {
        await this.look();
        this.trouble = problem.message;
      }
    },
    pause() {
      return this.turn("pause");
    },
    goOn() {
      return this.turn("go-on");
    },
    stop() {
      return this.turn("stop");
    },
    again(event) {
      return this.turn(`files/${event.currentTarget.dataset.id}/again`);
    },
    // A stop's way out, taken right here; the file is then made.
    async takeWay(event) {
      const taken = { ...event.currentTarget.dataset };
      const { id } = taken;
      const { stop } = this.delivery.files.find((file) => file.id === Number(id));
      this.trouble = "";
      try {
        await takeWay(stop, taken);
      } catch (problem) {
        this.trouble = problem.message;
        return this.look();
      }
      return this.turn(`files/${id}/again`);
    },
    async repeat() {
      this.trouble = "";
      try {
        const body = { only_changed: true };
        const next = await ask(`/api/jobs/${this.delivery.job_id}/deliveries`, { method: "POST", body });
        window.location.assign(`/deliveries/${next.id}`);
      } catch (problem) {
        this.trouble = problem.message;
      }
    },

    // --- receivers

    async loadReceivers() {
      this.receivers = await ask("/api/receivers").catch(() => []);
      await this.lookAtSendings();
    },
    // How sending goes: asked again as long as something is left to send.
    async lookAtSendings() {
      clearTimeout(this.looking);
      this.sendings = await ask(`${this.path}/sendings`).catch(() => this.sendings);
      if (this.sendings.files.some((one) => LEFT.includes(one.state))) this.looking = setTimeout(() => this.lookAtSendings(), LOOK);
    },
    get receiverCards() {
      return this.receivers.map((one) => {
        const files = this.sendings.files.filter((file) => file.receiver_id === one.id);
        const counts = { waiting: 0, sending: 0, accepted: 0 };
        for (const file of files) counts[file.state] = (counts[file.state] ?? 0) + 1;
        const progress = progressWords({ ...this.sendings, counts }, one.paused);
        const told = this.answers[one.id];
        const sent = files.length ? `${counts.accepted} of ${files.length} accepted` : "";
        const lines = told?.files.length ? told.files.map((file) => sentLine({ ...file, id: file.file_id, bytes: 0, sent: 0 })) : files.map(sentLine);
        const order = { sending: 0, refused: 1, failed: 1, waiting: 2, accepted: 3 };
        return {
          ...one,
          short: one.facts.join(" · "),
          words: told?.words ?? sent,
          progress,
          going: Boolean(progress),
          pauseWord: one.paused ? "Go on" : "Pause",
          sendWord: one.rehearsing ? "Send to its stand-in" : "Send",
          lines: lines
            .filter((line) => !told || line.state !== "accepted")
            .sort((left, right) => order[left.state] - order[right.state])
            .slice(0, MOST_LINES)
            .map((line) => ({ ...line, fix: ["refused"].includes(line.state) ? fixWords(line.fixes) : "" })),
        };
      });
    },
    tell(id, answer) {
      this.answers = { ...this.answers, [id]: answer };
    },
    async askReceiver(event) {
      const { receiver } = event.currentTarget.dataset;
      await this.asked(receiver);
    },
    async asked(receiver) {
      try {
        const { words, files } = await ask(`/api/receivers/${receiver}/check`, { method: "POST", body: { delivery: this.delivery.id } });
        this.tell(receiver, { words, files });
      } catch (problem) {
        this.tell(receiver, { words: problem.message, files: [] });
      }
    },
    async sendTo(event) {
      const { receiver } = event.currentTarget.dataset;
      try {
        await ask(`${this.path}/send`, { method: "POST", body: { receiver_id: Number(receiver) } });
        this.tell(receiver, undefined);
      } catch (problem) {
        this.tell(receiver, { words: problem.message, files: [] });
      }
      await this.lookAtSendings();
    },
    async pauseSending(event) {
      const { receiver } = event.currentTarget.dataset;
      const { paused } = this.receivers.find((one) => one.id === Number(receiver));
      await ask(`/api/receivers/${receiver}/${paused ? "go-on" : "pause"}`, { method: "POST" }).catch((problem) => {
        this.trouble = problem.message;
      });
      await this.loadReceivers();
    },
    async stopSending(event) {
      const { receiver } = event.currentTarget.dataset;
      await ask(`/api/receivers/${receiver}/stop`, { method: "POST", body: { delivery: this.delivery.id } }).catch((problem) => {
        this.trouble = problem.message;
      });
      await this.loadReceivers();
    },
    // One step of its piece, which can be undone there; then it is asked again.
    async fix(event) {
      const { receiver, id } = event.currentTarget.dataset;
      try {
        this.delivery = await ask(`/api/receivers/${receiver}/fix`, { method: "POST", body: { delivery: this.delivery.id, file_id: Number(id) } });
        this.fill();
        this.tell(receiver, { words: "Fixed; being made again.", files: [] });
        await this.follow();
        await this.asked(receiver);
      } catch (problem) {
        this.tell(receiver, { words: problem.message, files: [] });
      }
    },
  }));
});
