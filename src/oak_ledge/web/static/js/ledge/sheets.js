// Chosen pieces laid on a sheet: a paper, or the cells of one face.

import { ask } from "../net/ask.js";

// What the page holds of it; the ledge takes it over, getters and all.
export const sheeting = {
  get sheetWord() {
    const count = this.chosenIds.length;
    return count === 1 ? "1 piece is chosen." : `${count} pieces are chosen.`;
  },
  openSheet() {
    this.trouble = "";
    this.$refs.sheet.showModal();
  },
  layOn(event) {
    const { paper, layout, face, wide, high } = event.currentTarget.dataset;
    if (layout) return this.startSheet({ layout_id: Number(layout) });
    if (paper) return this.startSheet({ paper });
    return this.startSheet({ size_id: Number(face), cells: this.cellsOn(Number(wide), Number(high)) });
  },
  // Side by side on a wide face, else one below the other.
  cellsOn(wide, high) {
    const count = this.chosenIds.length;
    return wide >= high ? `${count}x1` : `1x${count}`;
  },
  layOnOwnFace() {
    const paper = this.$refs.ownFace.value;
    const [wide, high] = (paper.match(/[\d.,]+/g) ?? []).map(Number);
    return this.startSheet({ paper, cells: this.cellsOn(wide, high) });
  },
  layOnOwn() {
    return this.startSheet({ paper: this.$refs.ownPaper.value });
  },
  async startSheet(said) {
    await this.tried(async () => {
      const body = { placement_ids: this.chosenIds, ...said };
      const made = await ask(`${this.path}/sheets`, { method: "POST", body });
      window.location.assign(`/sheets/${made.id}`);
    });
  },
};
