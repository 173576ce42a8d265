// Copying this placement's way of lying to others of the job: seen before it is done.

import { ask } from "../../net/ask.js";

// What the page holds of it; the bench takes it over, getters and all.
export const copying = {
  copies: [],
  copied: "",

  async openCopies() {
    await this.small.settle();
    this.copied = "";
    this.$refs.copies.showModal();
    const others = await ask(`${this.path}/copies`).catch((problem) => {
      this.copied = problem.message;
      return [];
    });
    this.copies = others.map((one) => ({
      ...one,
      chosen: one.same_size && one.reason === null,
      cannot: one.reason !== null,
      label: `${one.photo_name} on ${one.size_name}`,
      drawing: drawing({ id: one.photo_id, look: one.look }, one.after ?? one.before, one.before),
      words: one.reason ?? looks(one.before.to_look_at, one.after.to_look_at),
    }));
  },
  chooseCopy(event) {
    const id = Number(event.target.value);
    this.copies = this.copies.map((one) => (one.placement_id === id ? { ...one, chosen: event.target.checked } : one));
  },
  get chosenCopies() {
    return this.copies.filter((one) => one.chosen).map((one) => one.placement_id);
  },
  get noCopies() {
    return this.chosenCopies.length === 0;
  },
  get copyWord() {
    const count = this.chosenCopies.length;
    return count ? `Copy to ${count}` : "Choose at least one";
  },
  get noOthers() {
    return this.copies.length === 0 && !this.copied;
  },
  async copyNow() {
    try {
      const body = { placement_ids: this.chosenCopies };
      const { length } = await ask(`${this.path}/copies`, { method: "POST", body });
      const [pieces, each] = length === 1 ? ["1 piece", "it"] : [`${length} pieces`, "each"];
      this.copied = `Copied to ${pieces}; ${each} can be undone on its own bench.`;
      this.copies = [];
      this.spoken = this.copied;
    } catch (problem) {
      this.copied = problem.message;
    }
  },
};

const looks = (before, after) => (before === after ? `${after} to look at` : `${before} to look at → ${after}`);

// A small picture: the photo as it is turned, its crop, and where the crop was.
function drawing({ id, look }, lie, was) {
  const [wide, high] = lie.extent;
  const source = `/api/photos/${id}/preview?edge=256&look=${look}&quarter=${lie.quarter}&mirror=${lie.mirror}`;
  const same = was.quarter === lie.quarter && was.mirror === lie.mirror;
  return { box: `0 0 ${wide} ${high}`, source, wide, high, crop: outline(lie), was: same ? outline(was) : "" };
}

function outline({ crop: [x, y, width, height], angle }) {
  const turn = (angle * Math.PI) / 180;
  const corners = [[-1, -1], [1, -1], [1, 1], [-1, 1]].map(([u, v]) => {
    const [dx, dy] = [(u * width) / 2, (v * height) / 2];
    const across = dx * Math.cos(turn) - dy * Math.sin(turn);
    const along = dx * Math.sin(turn) + dy * Math.cos(turn);
    return `${x + width / 2 + across} ${y + height / 2 + along}`;
  });
  return `M${corners.join("L")}z`;
}
