// Photos chosen: brought in, in the order of their names, kept over a reload until a job has them. They
// are this visit's; those of an earlier one are offered, never added.

import { ask, bringIn, byName } from "../net/ask.js";

const KEPT = "oak-ledge-in-hand";
const TOGETHER = 200; // photos that are asked for in one go

// What the page holds of it; the jobs page takes it over, getters and all.
export const inHand = {
  photos: [],
  refused: [],
  progress: "",
  earlier: [], // ids of photos that an earlier visit left

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
  // An address that is pasted, dropped or written: the server looks there.
  async takeFrom(url) {
    this.trouble = "";
    this.progress = "Fetching it";
    this.loadSizes();
    try {
      this.hold([await ask("/api/photos/from", { method: "POST", body: { url } })]);
      this.$refs.address.value = "";
    } catch (problem) {
      this.trouble = `Nothing was fetched: ${problem.message}`;
    }
    this.tellHeld();
    this.tellQuick();
  },
  fetchWritten() {
    const url = this.$refs.address.value.trim();
    if (url) this.takeFrom(url);
  },
  // What came in joins what is in hand, each once, in the order of their names.
  hold(more) {
    const known = new Set(this.photoIds);
    const joined = [...this.photos, ...more.filter((photo) => !known.has(photo.id)).map(shown)];
    this.photos = joined.sort((one, other) => byName(one.name, other.name));
    this.keepHeld();
  },
  keepHeld() {
    const kept = JSON.stringify(this.photoIds);
    sessionStorage.setItem(KEPT, kept);
    localStorage.setItem(KEPT, kept);
    if (this.some) this.earlier = [];
  },
  tellHeld() {
    this.progress = this.some ? photosWord(this.photos.length, "chosen") : "";
  },
  takeUpAgain() {
    const ids = kept(sessionStorage);
    this.earlier = ids.length ? [] : kept(localStorage);
    return this.bringBack(ids);
  },
  get someEarlier() {
    return this.earlier.length > 0;
  },
  get earlierWord() {
    return `${photosWord(this.earlier.length, "left")} from last time`;
  },
  takeEarlier() {
    return this.bringBack(this.earlier);
  },
  async bringBack(ids) {
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
    sessionStorage.removeItem(KEPT);
    this.earlier = [];
  },
  putDown(event) {
    const id = Number(event.currentTarget.dataset.id);
    this.photos = this.photos.filter((photo) => photo.id !== id);
    this.keepHeld();
    this.tellHeld();
    this.tellQuick();
  },
  putAllDown() {
    this.photos = [];
    this.letGo();
    this.tellHeld();
    this.tellQuick();
  },
  // The others are wanted "like this one": they take its size, once it may be saved.
  askLike(event) {
    const id = Number(event.currentTarget.dataset.id);
    this.photos = this.photos.map((photo) => ({ ...photo, asksLike: photo.id === id && !photo.asksLike }));
  },
  async keepLike(event) {
    const id = Number(event.currentTarget.dataset.id);
    try {
      const size = await ask(`/api/photos/${id}/keep-size`, { method: "POST" });
      const keeps = `Saved: ${size.name}`;
      this.photos = this.photos.map((photo) => (photo.id === id ? { ...photo, keeps, asksLike: false } : photo));
      // it has that size itself; only the others are put on it
      if (this.photos.length > 1) this.photos = this.photos.filter((photo) => photo.id !== id);
      this.keepHeld();
      this.tellHeld();
      this.addChoice(size);
      this.sizeIds = [...this.sizeIds, size.id];
      this.tellQuick();
    } catch (problem) {
      this.trouble = problem.message;
    }
  },
};

const kept = (storage) => JSON.parse(storage.getItem(KEPT) ?? "[]");

const photosWord = (count, what) => `${count === 1 ? "1 photo" : `${count} photos`} ${what}`;

function shown(photo) {
  const { facts } = photo;
  return {
    ...photo,
    keeps: "Use its size for the others",
    asksLike: false,
    likeWord: `Save a size of ${facts.width} × ${facts.height} px${facts.ppi ? ` at ${Math.round(facts.ppi)} ppi` : ""}, and put the others on it?`,
    becomes: [],
    src: `/api/photos/${photo.id}/preview?edge=256&look=${photo.look}`,
    pixels: `${facts.width} × ${facts.height} px`,
    label: photo.physical || "no resolution label",
    colour: facts.profile || "no profile, sRGB assumed",
  };
}
