// Keep zones and lines that must not be cut: drawn on the photo, known to all its placements.

import { ask } from "../../net/ask.js";

// A part of the bench, which it knows as `this.bench`.
export const photo = {
  get zoneWord() {
    return this.bench.tool === "zone" ? "Now drag it on the photo" : "Mark a keep zone";
  },
  get markWord() {
    return this.bench.tool === "mark" ? "Now drag it on the photo" : "Mark a line";
  },
  get keepsWord() {
    const zones = this.bench.view.keeps.filter(([kind]) => kind === "zone").length;
    const marks = this.bench.view.keeps.length - zones;
    const parts = [];
    if (zones) parts.push(zones === 1 ? "1 keep zone" : `${zones} keep zones`);
    if (marks) parts.push(marks === 1 ? "1 line" : `${marks} lines`);
    return parts.length ? `${parts.join(", ")}, known to every size of this photo` : "Nothing marked that must stay whole.";
  },
  // Where a head is asked for, its tools stand in their place.
  get factsShown() {
    return this.bench.retouch.notBrushing && !this.bench.head.here;
  },
  get hasKeeps() {
    return this.bench.view.keeps.length > 0;
  },
  get foundHere() {
    return this.factsShown && this.bench.view.found.length > 0;
  },
  get foundWord() {
    return this.bench.view.found.length ? this.bench.view.found_word : "";
  },
  async decideFound(event) {
    const take = event.currentTarget.dataset.take === "yes";
    try {
      await this.bench.inTurn(() => ask("/api/photos/found", { method: "POST", body: { photo_ids: [this.bench.view.photo.id], take } }));
      await this.bench.call("");
    } catch (problem) {
      this.bench.trouble = problem.message;
    }
  },
  useZone() {
    this.bench.use("zone");
  },
  useMark() {
    this.bench.use("mark");
  },
  async keepZone(keep) {
    const zone = this.bench.drawnZone;
    this.bench.drawnZone = null;
    if (!zone) return;
    if (!keep) return this.drawZones();
    this.bench.use(this.bench.tool);
    await this.bench.call("/keep-zones", zone);
  },
  forgetZones() {
    return this.bench.call(`/keep-zones?seen=${this.bench.view.keeps.length}`, undefined, "DELETE");
  },
  drawZones() {
    const { scale, left, top } = this.bench.wholeBox;
    const shapes = this.bench.view.keeps.map(([kind, points]) => [kind, points]);
    if (!this.bench.head.here) shapes.push(...this.bench.view.found.map(([, points]) => ["found", points]));
    if (this.bench.drawnZone) {
      const { kind, x0, y0, x1, y1 } = this.bench.drawnZone;
      shapes.push([kind, kind === "zone" ? [[x0, y0], [x1, y0], [x1, y1], [x0, y1]] : [[x0, y0], [x1, y1]]]);
    }
    const path = (wanted) =>
      shapes
        .filter(([kind]) => kind === wanted)
        .map(([, points]) => `M${points.map(([x, y]) => `${left + x * scale} ${top + y * scale}`).join("L")}${wanted === "mark" ? "" : "z"}`)
        .join("");
    const { whole } = this.bench.$refs;
    whole.querySelector("[data-part=zones]").setAttribute("d", path("zone"));
    whole.querySelector("[data-part=found]").setAttribute("d", path("found"));
    whole.querySelector("[data-part=marks]").setAttribute("d", path("mark"));
  },
};
