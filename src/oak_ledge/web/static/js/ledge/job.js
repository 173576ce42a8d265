// What belongs to a job: its photos and sizes, its name and notes, its framing card.

import { ask, bringIn, byName } from "../net/ask.js";
import { drawEntry, readEntry } from "../sizes/entry.js";

const TOGETHER = 12; // photos that join a job in one go

// What the page holds of it; the ledge takes it over, getters and all.
export const belonging = {
  sure: false,
  takenOut: null,
  survival: [],
  camera: "3:2",

  addPhotos(event) {
    this.bring(event.target.files);
  },
  async bring(files) {
    if (!files.length) return;
    await this.tried(async () => {
      let waiting = [];
      let job = null;
      const join = async () => {
        const photo_ids = waiting.map((one) => one.id);
        waiting = [];
        if (photo_ids.length) job = await ask(`${this.path}/members`, { method: "POST", body: { photo_ids } });
      };
      this.said = `Bringing in ${files.length}`;
      const taken = await bringIn(files, async (came, done) => {
        this.said = `${done} of ${files.length} are in`;
        waiting.push(...came.photos);
        if (done % TOGETHER === 1) await join().then(() => this.redraw()); // the first at once
      });
      await join();
      await this.inOrder(job, new Set(taken.photos.map((one) => one.id)));
      if (taken.refused.length) {
        const [one] = taken.refused;
        this.trouble = `${one.name} was not taken in. ${one.reason}`;
        this.said = `${taken.photos.length} joined.`;
        await this.redraw();
      } else window.location.reload();
    });
  },
  // What came in stands behind what was there, in the order of its names, whatever arrived first.
  async inOrder(job, came) {
    if (!job) return;
    const fresh = job.photos.filter((one) => came.has(one.photo_id)).sort((one, other) => byName(one.name, other.name));
    const photo_order = [...job.photos.filter((one) => !came.has(one.photo_id)), ...fresh].map((one) => one.id);
    if (photo_order.some((id, n) => id !== job.photos[n].id)) await ask(this.path, { method: "PUT", body: { photo_order } });
  },
  openSizes() {
    this.$refs.sizes.showModal();
  },
  async write(event) {
    const read = await readEntry(event.target);
    if (read) drawEntry(event.target, read, this.$refs.reads);
  },
  async addSizes() {
    const size_ids = [...this.$refs.sizes.querySelectorAll("[name=size]:checked")].map((one) => Number(one.value));
    const size_texts = this.$refs.written.value.trim() ? [this.$refs.written.value] : [];
    if (!size_ids.length && !size_texts.length) return;
    await this.tried(async () => {
      await ask(`${this.path}/members`, { method: "POST", body: { size_ids, size_texts } });
      window.location.reload();
    });
  },
  mouldingWord: "",
  async tellMouldings() {
    const found = await ask(`/api/jobs/${this.$root.dataset.job}/mouldings`).catch(() => []);
    this.mouldingWord = found.length ? `To frame them: ${found.map((one) => one.words).join("; ")}, no waste counted.` : "";
  },
  openAbout() {
    this.tellMouldings();
    this.sure = false;
    this.$refs.about.showModal();
  },
  closeDialog(event) {
    event.currentTarget.closest("dialog").close();
  },
  async saveAbout(event) {
    const { name, due, notes } = event.target.elements;
    const orders = {};
    for (const of of ["photo", "size"]) {
      const rows = this.$refs.about.querySelectorAll(`[aria-label="${of}s of this job"] li`);
      orders[`${of}_order`] = [...rows].map((row) => Number(row.dataset.place));
    }
    const body = { name: name.value, notes: notes.value, due: due.value || null, no_due: !due.value, ...orders };
    await this.tried(async () => {
      await ask(this.path, { method: "PUT", body });
      window.location.reload();
    });
  },
  moveMember(event) {
    const row = event.currentTarget.closest("li");
    const other = event.currentTarget.dataset.by === "1" ? row.nextElementSibling : row.previousElementSibling;
    if (!other) return;
    if (event.currentTarget.dataset.by === "1") other.after(row);
    else other.before(row);
    event.currentTarget.focus();
  },
  async takeOut(event) {
    const { of, place } = event.currentTarget.dataset;
    await this.tried(async () => {
      await ask(`${this.path}/members/${of}/${place}`, { method: "DELETE" });
      window.location.reload();
    });
  },
  // Under each photo: a size like it, or out with it, which asks nothing and can be taken back.
  async photoMenu(event) {
    const { menu, photo, place, name } = event.target.closest?.("[data-menu]")?.dataset ?? {};
    if (menu === "like") {
      await this.tried(async () => {
        const size = await ask(`/api/photos/${photo}/keep-size`, { method: "POST" });
        await ask(`${this.path}/members`, { method: "POST", body: { size_ids: [size.id] } });
        this.said = `${size.name} is saved, and in this job.`;
        await this.redraw();
      });
    }
    if (menu === "out") {
      await this.tried(async () => {
        await ask(`${this.path}/members/photo/${place}`, { method: "DELETE" });
        this.takenOut = { photo: Number(photo), name };
        this.said = `${name} is taken out.`;
        this.canUndo = false;
        await this.redraw();
      });
    }
  },
  get outWord() {
    return this.takenOut ? `Put ${this.takenOut.name} back` : "";
  },
  async putBack() {
    const { photo, name } = this.takenOut;
    await this.tried(async () => {
      await ask(`${this.path}/members`, { method: "POST", body: { photo_ids: [photo] } });
      this.takenOut = null;
      this.said = `${name} is back, as it was left.`;
      await this.redraw();
    });
  },
  async copyJob() {
    await this.tried(async () => {
      const job = await ask(`${this.path}/copy`, { method: "POST" });
      window.location.assign(`/jobs/${job.id}`);
    });
  },
  async putAway(event) {
    const away = event.currentTarget.dataset.away === "yes";
    await this.tried(async () => {
      await ask(this.path, { method: "PUT", body: { away } });
      window.location.assign("/");
    });
  },
  get deleteWord() {
    return this.sure ? "Yes, delete it" : "Delete the job";
  },
  async deleteJob() {
    if (!this.sure) {
      this.sure = true;
      return;
    }
    await this.tried(async () => {
      await ask(this.path, { method: "DELETE" });
      window.location.assign("/");
    });
  },
  async openCard() {
    this.$refs.card.showModal();
    const found = await ask(`${this.path}/survival`).catch(() => []);
    this.survival = found.map((one) => {
      const short = one.sizes.filter((size) => !size.keeps);
      return {
        ...one,
        words: `${Math.round(one.share * 100)} %`,
        short: short.length ? short.map((size) => `${size.size_name}: ${size.text}`).join("; ") : "every size keeps it",
      };
    });
  },
  setCamera(event) {
    this.camera = event.target.value.trim() || "3:2";
  },
  get cardPdf() {
    return `/api/jobs/${this.$root.dataset.job}/framing-card?kind=pdf&camera=${this.camera}`;
  },
  get cardPng() {
    return `/api/jobs/${this.$root.dataset.job}/framing-card?kind=png&camera=${this.camera}`;
  },
};
