// Saving what is on the bench as a size of the library, under a name and in a group.

import { ask } from "../../net/ask.js";

// What the page holds of it; the bench takes it over, getters and all.
export const saving = {
  saved: null,
  saveTrouble: "",

  async openSave() {
    await this.small.settle();
    this.saved = null;
    this.saveTrouble = "";
    const here = this.view.own_size ?? this.view.size;
    this.$refs.saveName.value = here.size.name || here.label;
    this.$refs.saveGroup.value = here.size.group;
    this.$refs.save.showModal();
    this.$refs.saveName.select();
  },
  get notSaved() {
    return this.saved === null;
  },
  get closeWord() {
    return this.saved === null ? "Cancel" : "Done";
  },
  get savedName() {
    return this.saved?.name ?? "";
  },
  get savedHref() {
    return this.saved ? `/sizes#size-${this.saved.id}` : "";
  },
  closeSave() {
    this.$refs.save.close();
  },
  async saveSize() {
    if (this.saved) return;
    const body = { name: this.$refs.saveName.value.trim(), group: this.$refs.saveGroup.value };
    try {
      this.saved = await this.inTurn(() => ask(`${this.path}/keep-size`, { method: "POST", body }));
      this.spoken = `Saved as ${this.saved.name}, in the library of sizes.`;
    } catch (problem) {
      this.saveTrouble = problem.message;
    }
  },
};
