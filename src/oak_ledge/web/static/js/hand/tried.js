// Work that may fail: its trouble is told in the page's own line.

// What a page holds of it.
export const trying = {
  trouble: "",

  async tried(work) {
    this.trouble = "";
    try {
      await work();
    } catch (problem) {
      this.trouble = problem.message;
    }
  },
};
