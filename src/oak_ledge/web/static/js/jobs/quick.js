// Files at once: what each photo would become is told live, then a job is made of it and its archive.

import { bytesWords } from "../hand/figures.js";
import { ask } from "../net/ask.js";
import { followed, outcome } from "../net/follow.js";

const MOST = 3; // sizes that are told for each photo
const TOGETHER = 4; // photos that are told in one go: the first time each is weighed, which takes a moment

// What the page holds of it; the jobs page takes it over, getters and all.
export const quick = {
  archive: "",
  several: false, // files, in one archive
  made: "",
  floor: null,
  told: [],
  lastJob: null,
  busy: false,

  get file() {
    return { format: this.$refs.format.value || null, at_most: this.$refs.limit.value.trim() || null, floor: this.floor };
  },
  get notReady() {
    return !this.some || this.noSize || this.busy;
  },
  // A job may begin without a size: its photos lie on a free crop.
  get notStarted() {
    return !this.some || this.busy;
  },
  get startWord() {
    if (this.busy) return "Starting";
    return this.opensBench ? "Open the bench" : "Start the job";
  },
  // One photo on one size, or on none, is looked at on its bench.
  get opensBench() {
    return this.photos.length === 1 && this.sizeIds.length + this.written.length < 2;
  },
  changeFile() {
    this.floor = null;
    return this.tellQuick();
  },
  // What each photo would become, live; the newest answer counts.
  async tellQuick() {
    const turn = (this.turn = (this.turn ?? 0) + 1);
    if (this.notReady) {
      this.tellPhotos([]);
      return;
    }
    const { size_ids, size_texts } = this.sizesAsked;
    const asked = { size_ids: size_ids.slice(0, MOST), size_texts: size_texts.slice(0, MOST), file: this.file };
    const told = [];
    try {
      for (let at = 0; at < this.photoIds.length; at += TOGETHER) {
        const body = { ...asked, photo_ids: this.photoIds.slice(at, at + TOGETHER) };
        told.push(...(await ask("/api/quick", { method: "POST", body })));
        if (turn !== this.turn) return;
        this.trouble = "";
        this.tellPhotos(told);
      }
    } catch (problem) {
      if (turn === this.turn) this.trouble = problem.message;
    }
  },
  tellPhotos(told) {
    this.told = told;
    const several = new Set(told.map((one) => one.size_name)).size > 1;
    this.photos = this.photos.map((photo) => {
      const becomes = told.filter((one) => one.photo_id === photo.id).flatMap((one) => {
        const words = one.stopped ? (one.ways.length ? one.stopped : `Stop: ${one.stopped}`) : `→ ${one.pixels}, ${one.scale}, ${one.weight}`;
        const looks = one.looks.map((text, n) => ({ key: `${one.size_name} look ${n}`, words: `Look: ${text}`, kind: "is-look" }));
        return [{ key: one.size_name, words: several ? `${one.size_name}: ${words}` : words, kind: one.stopped ? "is-stop" : "" }, ...looks];
      });
      return { ...photo, becomes };
    });
  },
  // What was only estimated is measured once a file is made.
  tellMade(files) {
    const made = files.filter((file) => file.state === "made");
    const told = this.told.map((one) => {
      const its = made.filter((file) => file.photo_id === one.photo_id && file.size_name === one.size_name);
      return its.length ? { ...one, weight: bytesWords(its.reduce((sum, file) => sum + file.measured.bytes, 0)) } : one;
    });
    this.tellPhotos(told);
  },
  // Files that are likely to be too heavy, and what would do for all of them.
  get tooHeavy() {
    return this.told.filter((one) => one.ways.length);
  },
  get heavyWord() {
    const heavy = this.tooHeavy;
    if (!heavy.length) return "";
    const name = this.photos.find((photo) => photo.id === heavy[0].photo_id)?.name ?? "";
    const who = heavy.length === 1 ? name : `${heavy.length} of ${this.told.length} files, such as ${name},`;
    return `${who} ${heavy.length === 1 ? "is" : "are"} likely to have more than ${this.$refs.limit.value.trim()}.`;
  },
  get heavyWays() {
    const of = (kind) => this.tooHeavy.map((one) => one.ways.find((way) => way.kind === kind));
    const all = (ways) => ways.length && ways.every(Boolean);
    const found = [];
    const quality = of("quality");
    if (all(quality)) found.push({ kind: "quality", value: Math.min(...quality.map((way) => way.quality)) });
    const format = of("format");
    if (all(format)) found.push({ kind: "format", value: format[0].format });
    const pixels = of("pixels");
    if (all(pixels)) found.push({ kind: "pixels", value: Math.min(...pixels.map((way) => Math.max(...way.pixels))) });
    const words = { quality: (n) => `Quality down to ${n}`, format: (name) => `Make them ${name.toUpperCase()}`, pixels: (n) => `Make them ${n} px long` };
    return found.map((one) => ({ ...one, words: words[one.kind](one.value) }));
  },
  takeHeavyWay(event) {
    const { kind, value } = event.currentTarget.dataset;
    if (kind === "pixels") return this.writeOver(`long ${value}px`);
    if (kind === "format") this.$refs.format.value = value;
    else this.floor = Number(value);
    return this.tellQuick();
  },
  get joins() {
    const { value } = this.$refs.joins;
    return value ? Number(value) : null;
  },
  startJob() {
    const body = { name: this.$refs.name.value, photo_ids: this.photoIds, ...this.sizesAsked, file: this.file };
    return ask("/api/jobs", { method: "POST", body });
  },
  // Gives the job, and which of its pieces are meant.
  async startOrJoin() {
    const into = this.joins;
    if (into === null) {
      const job = await this.startJob();
      return { job, meant: null };
    }
    const before = new Set((await ask(`/api/jobs/${into}`)).placements.map((one) => one.id));
    const body = { photo_ids: this.photoIds, ...this.sizesAsked, file: this.file };
    const job = await ask(`/api/jobs/${into}/members`, { method: "POST", body });
    const added = job.placements.filter((one) => !before.has(one.id)).map((one) => one.id);
    const here = new Set(this.photoIds);
    const again = job.placements.filter((one) => here.has(one.photo_id)).map((one) => one.id);
    return { job, meant: added.length ? added : again };
  },
  // One at a time: a second press while the first is on its way starts no second job.
  async once(work) {
    if (this.busy) return;
    this.busy = true;
    this.trouble = "";
    try {
      await work();
    } catch (problem) {
      this.made = "";
      this.trouble = problem.message;
    }
    this.busy = false;
  },
  start() {
    if (this.takeFirst() || this.notStarted) return undefined;
    if (this.wrong === "true") {
      this.$refs.written.focus(); // what is wrong with it stands below
      return undefined;
    }
    return this.once(async () => {
      const bench = this.opensBench;
      const { job, meant } = await this.startOrJoin();
      this.letGo();
      const pieces = meant ?? job.placements.map((one) => one.id);
      window.location.assign(bench && pieces.length === 1 ? `/jobs/${job.id}/bench/${pieces[0]}` : `/jobs/${job.id}`);
    });
  },
  startEmpty() {
    return this.once(async () => {
      const job = await ask("/api/jobs", { method: "POST", body: { photo_ids: [] } });
      window.location.assign(`/jobs/${job.id}`);
    });
  },
  makeNow() {
    return this.once(async () => {
      this.archive = "";
      this.made = "Making and measuring.";
      const { job, meant } = await this.startOrJoin();
      this.letGo();
      this.lastJob = { id: job.id, name: job.name };
      const begun = await ask(`/api/jobs/${job.id}/deliveries`, { method: "POST", body: { placement_ids: meant } });
      const made = await followed(begun, (now) => {
        this.made = `${now.counts.made ?? 0} of ${now.files.length} are made.`;
        this.tellMade(now.files);
      });
      this.made = outcome(made) + this.looksWord(made);
      this.tellMade(made.files);
      const files = made.files.filter((file) => file.state === "made");
      this.several = files.length > 1;
      this.archive = "";
      if (files.length) this.archive = `/api/deliveries/${made.id}/${this.several ? "archive" : `files/${encodeURIComponent(files[0].name)}`}`;
      await this.showShelves();
    });
  },
  // Files that are as asked, and that somebody should look at all the same.
  looksWord(made) {
    const photos = new Set(made.files.filter((file) => file.state === "made").map((file) => file.photo_id));
    const noted = this.told.filter((one) => one.looks.length && photos.has(one.photo_id));
    if (!noted.length) return "";
    return ` Look at ${noted.length === 1 ? "one" : noted.length}: ${noted[0].looks[0]}`;
  },
  get archiveWord() {
    return this.several ? "Get the archive" : "Download the file";
  },
  get lastJobId() {
    return this.lastJob ? String(this.lastJob.id) : "";
  },
  get lastJobWord() {
    return this.lastJob ? `${this.lastJob.name}, just made` : "";
  },
};
