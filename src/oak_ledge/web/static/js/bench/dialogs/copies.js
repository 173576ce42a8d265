// Copying this placement's way of lying to others of the job: seen before it is done.

import { ask } from "../../net/ask.js";

// A part of the bench, which it knows as `this.bench`.
export const copies = {
  list: [],
  outcome: "",

  async open() {
    await this.bench.small.settle();
    this.outcome = "";
    this.bench.$refs.copies.showModal();
    const others = await ask(`${this.bench.path}/copies`).catch((problem) => {
      this.outcome = problem.message;
      return [];
    });
    this.list = others.map((one) => ({
      ...one,
      chosen: one.same_size && one.reason === null,
      cannot: one.reason !== null,
      label: `${one.photo_name} on ${one.size_name}`,
      drawing: drawing({ id: one.photo_id, look: one.look }, one.after ?? one.before, one.before),
      words: one.reason ?? looks(one.before.to_look_at, one.after.to_look_at),
    }));
  },
  choose(event) {
    const id = Number(event.target.value);
    this.list = this.list.map((one) => (one.placement_id === id ? { ...one, chosen: event.target.checked } : one));
  },
  get chosen() {
    return this.list.filter((one) => one.chosen).map((one) => one.placement_id);
  },
  get none() {
    return this.chosen.length === 0;
  },
  get word() {
    const count = this.chosen.length;
    return count ? `Copy to ${count}` : "Choose at least one";
  },
  get noOthers() {
    return this.list.length === 0 && !this.outcome;
  },
  async copy() {
    try {
      const body = { placement_ids: this.chosen };
      const { length } = await ask(`${this.bench.path}/copies`, { method: "POST", body });
      const [pieces, each] = length === 1 ? ["1 piece", "it"] : [`${length} pieces`, "each"];
      this.outcome = `Copied to ${pieces}; ${each} can be undone on its own bench.`;
      this.list = [];
      this.bench.spoken = this.outcome;
    } catch (problem) {
      this.outcome = problem.message;
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
