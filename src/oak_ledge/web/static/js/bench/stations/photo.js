// Keep zones and lines that must not be cut: drawn on the photo, known to all its placements.

import { ask } from "../../net/ask.js";

// What the page holds of it; the bench takes it over, getters and all.
export const keeping = {
  get zoneWord() {
    return this.tool === "zone" ? "Now drag it on the photo" : "Mark a keep zone";
  },
  get markWord() {
    return this.tool === "mark" ? "Now drag it on the photo" : "Mark a line";
  },
  get keepsWord() {
    const zones = this.view.keeps.filter(([kind]) => kind === "zone").length;
    const marks = this.view.keeps.length - zones;
    const parts = [];
    if (zones) parts.push(zones === 1 ? "1 keep zone" : `${zones} keep zones`);
    if (marks) parts.push(marks === 1 ? "1 line" : `${marks} lines`);
    return parts.length ? `${parts.join(", ")}, known to every size of this photo` : "Nothing marked that must stay whole.";
  },
  get hasKeeps() {
    return this.view.keeps.length > 0;
  },
  get foundHere() {
    return this.notBrushing && this.view.found.length > 0;
  },
  get foundWord() {
    return this.view.found.length ? this.view.found_word : "";
  },
  async decideFound(event) {
    const take = event.currentTarget.dataset.take === "yes";
    try {
      await this.inTurn(() => ask("/api/photos/found", { method: "POST", body: { photo_ids: [this.view.photo.id], take } }));
      await this.call("");
    } catch (problem) {
      this.trouble = problem.message;
    }
  },
  useZone() {
    this.use("zone");
  },
  useMark() {
    this.use("mark");
  },
  async keepZone(keep) {
    const zone = this.drawnZone;
    this.drawnZone = null;
    if (!zone) return;
    if (!keep) return this.drawZones();
    this.use(this.tool);
    await this.call("/keep-zones", zone);
  },
  forgetZones() {
    return this.call(`/keep-zones?seen=${this.view.keeps.length}`, undefined, "DELETE");
  },
  drawZones() {
    const { scale, left, top } = this.wholeBox;
    const shapes = this.view.keeps.map(([kind, points]) => [kind, points]);
    shapes.push(...this.view.found.map(([, points]) => ["found", points]));
    if (this.drawnZone) {
      const { kind, x0, y0, x1, y1 } = this.drawnZone;
      shapes.push([kind, kind === "zone" ? [[x0, y0], [x1, y0], [x1, y1], [x0, y1]] : [[x0, y0], [x1, y1]]]);
    }
    const path = (wanted) =>
      shapes
        .filter(([kind]) => kind === wanted)
        .map(([, points]) => `M${points.map(([x, y]) => `${left + x * scale} ${top + y * scale}`).join("L")}${wanted === "mark" ? "" : "z"}`)
        .join("");
    const { whole } = this.$refs;
    whole.querySelector("[data-part=zones]").setAttribute("d", path("zone"));
    whole.querySelector("[data-part=found]").setAttribute("d", path("found"));
    whole.querySelector("[data-part=marks]").setAttribute("d", path("mark"));
  },
};
