// The jobs page: photos are dropped, chosen or pasted; a job starts with them on a size.

import { dropping } from "../hand/drop.js";
import { ask, bringIn } from "../net/ask.js";
import { followed, outcome } from "../net/follow.js";
import { drawEntry, readEntry } from "../sizes/entry.js";

document.addEventListener("alpine:init", () => {
  window.Alpine.data("jobs", () => ({
    photos: [],
    refused: [],
    progress: "",
    over: false,
    sizeId: null,
    sizeText: "",
    wrong: "false",
    trouble: "",
    archive: "",
    made: "",

    room: {
      ...dropping((page, files) => page.take(files)),
      "@paste.window"(event) {
        if (event.clipboardData.files.length) this.take(event.clipboardData.files);
      },
    },

    get some() {
      return this.photos.length > 0;
    },
    get someRefused() {
      return this.refused.length > 0;
    },
    get notReady() {
      return !this.some || (this.sizeId === null && !this.sizeText);
    },
    get readsClass() {
      return this.wrong === "true" ? "is-wrong" : "";
    },

    chosen(event) {
      this.take(event.target.files);
      event.target.value = "";
    },
    async take(files) {
      if (!files.length) return;
      this.trouble = "";
      this.refused = [];
      this.progress = `Bringing in ${files.length === 1 ? "one photo" : `${files.length} photos`}`;
      setTimeout(() => this.$refs.begin.scrollIntoView({ block: "start" }), 50); // once drawn
      try {
        await bringIn(files, (came, done) => {
          const known = new Set(this.photos.map((photo) => photo.id));
          this.photos = [...this.photos, ...came.photos.filter((photo) => !known.has(photo.id)).map(shown)];
          this.refused = [...this.refused, ...came.refused].map((one, key) => ({ ...one, key }));
          if (done < files.length) this.progress = `${done} of ${files.length} are in`;
          if (this.photos.length && !this.$refs.name.value) {
            this.$refs.name.value = this.photos[0].name.replace(/\.\w+$/, "");
          }
        });
        this.progress = `${this.photos.length} in hand`;
        this.tellQuick();
      } catch (problem) {
        this.progress = "";
        this.trouble = problem.message;
      }
    },
    // Another photo can be asked for "like this one".
    async keepLike(event) {
      const id = Number(event.currentTarget.dataset.id);
      try {
        const size = await ask(`/api/photos/${id}/keep-size`, { method: "POST" });
        const keeps = `Kept as ${size.name}: ${size.text}`;
        this.photos = this.photos.map((photo) => (photo.id === id ? { ...photo, keeps } : photo));
      } catch (problem) {
        this.trouble = problem.message;
      }
    },
    pick(event) {
      this.sizeId = Number(event.target.value);
      this.sizeText = "";
      this.$refs.written.value = "";
      this.wrong = "false";
      const says = event.target.closest("label").title;
      drawEntry(this.$refs.written, { text: "", spans: [], said: [{ words: says }] }, this.$refs.reads);
      this.tellQuick();
    },
    async write(event) {
      this.sizeId = null;
      this.sizeText = "";
      for (const radio of this.$root.querySelectorAll("input[name=size]")) radio.checked = false;
      const read = await readEntry(event.target);
      if (!read) return;
      this.sizeText = read.right ? read.text : "";
      this.wrong = String(!read.right && read.text !== "");
      drawEntry(event.target, read, this.$refs.reads);
      this.tellQuick();
    },
    get file() {
      return { format: this.$refs.format.value || null, at_most: this.$refs.limit.value.trim() || null };
    },
    // What each photo would become, live; the newest answer counts.
    async tellQuick() {
      if (this.notReady) return;
      const turn = (this.turn = (this.turn ?? 0) + 1);
      const body = { photo_ids: this.photos.map((photo) => photo.id), size_id: this.sizeId, text: this.sizeText || null, file: this.file };
      try {
        const figures = await ask("/api/quick", { method: "POST", body });
        if (turn !== this.turn) return;
        this.trouble = "";
        const by = new Map(figures.map((one) => [one.photo_id, one]));
        this.photos = this.photos.map((photo) => {
          const one = by.get(photo.id);
          const becomes = one.stopped ? `Stop: ${one.stopped}` : `→ ${one.pixels}, ${one.weight}`;
          return { ...photo, becomes, becomesKind: one.stopped ? "is-stop" : "" };
        });
      } catch (problem) {
        if (turn === this.turn) this.trouble = problem.message;
      }
    },
    startJob() {
      return ask("/api/jobs", {
        method: "POST",
        body: {
          name: this.$refs.name.value,
          photo_ids: this.photos.map((photo) => photo.id),
          size_ids: this.sizeId === null ? [] : [this.sizeId],
          size_texts: this.sizeText ? [this.sizeText] : [],
          file: this.file,
        },
      });
    },
    async start() {
      if (this.notReady) return;
      this.trouble = "";
      try {
        const job = await this.startJob();
        window.location.assign(`/jobs/${job.id}`);
      } catch (problem) {
        this.trouble = problem.message;
      }
    },
    async makeNow() {
      this.trouble = "";
      this.archive = "";
      this.made = "Making and measuring.";
      try {
        const job = await this.startJob();
        const begun = await ask(`/api/jobs/${job.id}/deliveries`, { method: "POST", body: {} });
        const made = await followed(begun, (now) => {
          this.made = `${now.counts.made ?? 0} of ${now.files.length} are made.`;
        });
        this.made = outcome(made);
        this.archive = made.counts.made ? `/api/deliveries/${made.id}/archive` : "";
      } catch (problem) {
        this.made = "";
        this.trouble = problem.message;
      }
    },
    find(event) {
      const words = event.target.value.trim().toLowerCase().split(/\s+/);
      for (const shelf of this.$root.querySelectorAll("[data-found-by]")) {
        shelf.hidden = !words.every((word) => shelf.dataset.foundBy.includes(word));
      }
    },
    async restore(event) {
      try {
        await ask(`/api/jobs/${event.currentTarget.dataset.id}/restore`, { method: "POST" });
        window.location.reload();
      } catch (problem) {
        this.trouble = problem.message;
      }
    },
  }));
});

function shown(photo) {
  const { facts } = photo;
  return {
    ...photo,
    keeps: "Keep its size",
    becomes: "",
    becomesKind: "",
    src: `/api/photos/${photo.id}/preview?edge=256`,
    pixels: `${facts.width} × ${facts.height} px`,
    label: photo.physical || "no resolution label",
    colour: facts.profile || "no profile, sRGB assumed",
  };
}
