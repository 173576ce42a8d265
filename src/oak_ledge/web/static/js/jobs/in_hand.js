// Photos in hand: brought in, in the order of their names, kept over a reload until a job has them.

import { ask, bringIn, byName } from "../net/ask.js";

const KEPT = "oak-ledge-in-hand";
const TOGETHER = 200; // photos that are asked for in one go

// What the page holds of it; the jobs page takes it over, getters and all.
export const inHand = {
  photos: [],
  refused: [],
  progress: "",

  get some() {
    return this.photos.length > 0;
  },
  get someRefused() {
    return this.refused.length > 0;
  },
  get begun() {
    return this.some ? "is-begun" : "";
  },
  get photoIds() {
    return this.photos.map((photo) => photo.id);
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
    this.loadSizes();
    try {
      await bringIn(files, (came, done) => {
        this.hold(came.photos);
        this.refused = [...this.refused, ...came.refused].map((one, key) => ({ ...one, key }));
        if (done < files.length) this.progress = `${done} of ${files.length} are in`;
      });
      this.tellHeld();
      this.tellQuick();
    } catch (problem) {
      this.progress = "";
      this.trouble = problem.message;
    }
  },
  // What came in joins what is in hand, each once, in the order of their names.
  hold(more) {
    const known = new Set(this.photoIds);
    const joined = [...this.photos, ...more.filter((photo) => !known.has(photo.id)).map(shown)];
    this.photos = joined.sort((one, other) => byName(one.name, other.name));
    localStorage.setItem(KEPT, JSON.stringify(this.photoIds));
  },
  tellHeld() {
    this.progress = this.some ? `${this.photos.length} in hand` : "";
  },
  async takeUpAgain() {
    const ids = JSON.parse(localStorage.getItem(KEPT) ?? "[]");
    if (!ids.length) return;
    try {
      const found = [];
      for (let at = 0; at < ids.length; at += TOGETHER) {
        const some = ids.slice(at, at + TOGETHER).map((id) => `id=${id}`);
        found.push(...(await ask(`/api/photos?${some.join("&")}`)));
      }
      this.hold(found);
    } catch (problem) {
      this.trouble = problem.message; // they are still kept, for when the server answers again
    }
    this.tellHeld();
    if (this.some) this.loadSizes();
  },
  // A job has them now.
  letGo() {
    localStorage.removeItem(KEPT);
  },
  putDown(event) {
    const id = Number(event.currentTarget.dataset.id);
    this.photos = this.photos.filter((photo) => photo.id !== id);
    localStorage.setItem(KEPT, JSON.stringify(this.photoIds));
    this.tellHeld();
    this.tellQuick();
  },
  putAllDown() {
    this.photos = [];
    this.letGo();
    this.tellHeld();
    this.tellQuick();
  },
  // Another photo can be asked for "like this one": its size is saved, and on at once.
  async keepLike(event) {
    const id = Number(event.currentTarget.dataset.id);
    try {
      const size = await ask(`/api/photos/${id}/keep-size`, { method: "POST" });
      const keeps = `Saved: ${size.name}`;
      this.photos = this.photos.map((photo) => (photo.id === id ? { ...photo, keeps } : photo));
      this.addChoice(size);
      this.sizeIds = [...this.sizeIds, size.id];
      this.tellQuick();
    } catch (problem) {
      this.trouble = problem.message;
    }
  },
};

function shown(photo) {
  const { facts } = photo;
  return {
    ...photo,
    keeps: "Take a size like this",
    becomes: [],
    src: `/api/photos/${photo.id}/preview?edge=256&look=${photo.look}`,
    pixels: `${facts.width} × ${facts.height} px`,
    label: photo.physical || "no resolution label",
    colour: facts.profile || "no profile, sRGB assumed",
  };
}
