// A review for the client: saved as one file, its answers taken in.

import { ask } from "../net/ask.js";

// What the page holds of it; the ledge takes it over, getters and all.
export const reviewing = {
  reviewSaid: "",
  reviewTrouble: "",

  get reviewWord() {
    return this.some ? this.someWord : "all pieces";
  },
  openReview() {
    [this.reviewSaid, this.reviewTrouble] = ["", ""];
    this.$refs.review.showModal();
  },
  async saveReview() {
    [this.busy, this.reviewSaid, this.reviewTrouble] = [true, "", ""];
    try {
      const body = JSON.stringify({ placement_ids: this.some ? this.chosenIds : null });
      const headers = { "Content-Type": "application/json" };
      const answer = await fetch(`${this.path}/review`, { method: "POST", headers, body });
      if (!answer.ok) throw new Error((await answer.json()).detail);
      const link = document.createElement("a");
      link.href = URL.createObjectURL(await answer.blob());
      link.download = `${document.querySelector("h1").textContent.trim()}-review.html`;
      link.click();
      setTimeout(() => URL.revokeObjectURL(link.href), 1000);
      this.reviewSaid = "Saved. Send the file to your client.";
    } catch (problem) {
      this.reviewTrouble = problem.message;
    }
    this.busy = false;
  },
  async takeAnswers(event) {
    const [file] = event.target.files;
    if (!file) return;
    [this.reviewSaid, this.reviewTrouble] = ["", ""];
    try {
      const taken = await ask(`${this.path}/review/answers`, { method: "POST", body: { text: await file.text() } });
      this.reviewSaid = taken.words;
      [this.said, this.canUndo] = [taken.words, taken.approved > 0];
      await this.redraw();
    } catch (problem) {
      this.reviewTrouble = problem.message;
    }
    event.target.value = "";
  },
};
