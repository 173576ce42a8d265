// The jobs page: photos are dropped, chosen or pasted; a job starts with them on a size.

import { ask, sendFiles } from "./ask.js";
import { drawEntry, readEntry } from "./entry.js";

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

    room: {
      "@dragover.window.prevent"(event) {
        this.over = event.dataTransfer.types.includes("Files");
      },
      "@dragleave.window"(event) {
        if (!event.relatedTarget) this.over = false;
      },
      "@drop.window.prevent"(event) {
        this.over = false;
        this.take(event.dataTransfer.files);
      },
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
      const count = files.length === 1 ? "one photo" : `${files.length} photos`;
      try {
        const told = await sendFiles("/api/photos", [...files], (share) => {
          this.progress =
            share < 1 ? `Bringing in ${count}: ${Math.round(share * 100)} %` : `Looking at ${count}`;
        });
        const known = new Set(this.photos.map((photo) => photo.id));
        this.photos = [...this.photos, ...told.photos.filter((photo) => !known.has(photo.id)).map(shown)];
        this.refused = told.refused.map((one, key) => ({ ...one, key }));
        this.progress = `${this.photos.length} in hand`;
        if (this.photos.length && !this.$refs.name.value) {
          this.$refs.name.value = this.photos[0].name.replace(/\.\w+$/, "");
        }
        setTimeout(() => this.$refs.begin.scrollIntoView({ block: "start" }), 50); // once drawn
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
    },
    async write(event) {
      this.sizeId = null;
      this.sizeText = "";
      for (const radio of this.$root.querySelectorAll("input[name=size]")) radio.checked = false;
      const told = await readEntry(event.target);
      if (!told) return;
      this.sizeText = told.right ? told.text : "";
      this.wrong = String(!told.right && told.text !== "");
      drawEntry(event.target, told, this.$refs.reads);
    },
    async start() {
      if (this.notReady) return;
      this.trouble = "";
      try {
        const job = await ask("/api/jobs", {
          method: "POST",
          body: {
            name: this.$refs.name.value,
            photo_ids: this.photos.map((photo) => photo.id),
            size_ids: this.sizeId === null ? [] : [this.sizeId],
            size_texts: this.sizeText ? [this.sizeText] : [],
          },
        });
        window.location.assign(`/jobs/${job.id}`);
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
    src: `/api/photos/${photo.id}/preview?edge=256`,
    pixels: `${facts.width} × ${facts.height} px`,
    label: photo.physical || "no resolution label",
    colour: facts.profile || "no profile, sRGB assumed",
  };
}
