// The page of desks: faults switched on and off, a sign that hangs reset.

import { ask } from "../net/ask.js";

document.addEventListener("alpine:init", () => {
  window.Alpine.data("desks", () => ({
    trouble: "",

    setFault(event) {
      return this.stand(event.target.dataset.desk, { fault: event.target.value });
    },
    async reset(event) {
      await this.stand(event.currentTarget.dataset.desk, { reset: true });
      window.location.reload();
    },
    async stand(name, body) {
      this.trouble = "";
      try {
        await ask(`/api/desks/${name}`, { method: "PUT", body });
      } catch (problem) {
        this.trouble = problem.message;
      }
    },
  }));
});
