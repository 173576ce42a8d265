// Saving what is on the bench as a size of the library, under a name and in a group.

import { ask } from "../../net/ask.js";

// A part of the bench, which it knows as `this.bench`.
export const saveSize = {
  saved: null,
  trouble: "",

  async open() {
    await this.bench.small.settle();
    this.saved = null;
    this.trouble = "";
    const here = this.bench.view.own_size ?? this.bench.view.size;
    this.bench.$refs.saveName.value = here.size.name || here.label;
    this.bench.$refs.saveGroup.value = here.size.group;
    this.bench.$refs.save.showModal();
    this.bench.$refs.saveName.select();
  },
  get notSaved() {
    return this.saved === null;
  },
  get closeWord() {
    return this.saved === null ? "Cancel" : "Done";
  },
  get name() {
    return this.saved?.name ?? "";
  },
  get href() {
    return this.saved ? `/sizes#size-${this.saved.id}` : "";
  },
  close() {
    this.bench.$refs.save.close();
  },
  async save() {
    if (this.saved) return;
    const body = { name: this.bench.$refs.saveName.value.trim(), group: this.bench.$refs.saveGroup.value };
    try {
      this.saved = await this.bench.inTurn(() => ask(`${this.bench.path}/keep-size`, { method: "POST", body }));
      this.bench.spoken = `Saved as ${this.saved.name}, in the library of sizes.`;
    } catch (problem) {
      this.trouble = problem.message;
    }
  },
};
