// Saving what is on the bench as a size of the library, under a name and in a group.

import { ask } from "../../net/ask.js";

// A part of the bench, which it knows as `this.bench`.
export const saveSize = {
  saved: null,
  trouble: "",
  sentence: "", // what will be saved

  async open() {
    await this.bench.small.settle();
    this.saved = null;
    this.trouble = "";
    this.sentence = "";
    this.bench.$refs.saveName.value = "";
    this.bench.$refs.save.showModal();
    try {
      const { name, sentence, size } = await this.bench.inTurn(() => ask(`${this.bench.path}/keep-size`));
      this.sentence = sentence;
      this.bench.$refs.saveName.value = name;
      this.bench.$refs.saveGroup.value = size.group;
    } catch (problem) {
      this.trouble = problem.message;
    }
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
