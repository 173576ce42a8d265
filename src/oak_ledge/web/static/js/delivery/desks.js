// The page of desks: the newest delivery rehearsed, faults switched on and off, a desk restarted.

import { ask } from "../net/ask.js";

document.addEventListener("alpine:init", () => {
  window.Alpine.data("desks", () => ({
    trouble: "",

    setFault(event) {
      const { desk, fault } = event.currentTarget.dataset;
      return this.stand(desk, { fault });
    },
    reset(event) {
      return this.stand(event.currentTarget.dataset.desk, { reset: true });
    },
    async stand(name, body) {
      this.trouble = "";
      try {
        await ask(`/api/desks/${name}`, { method: "PUT", body });
        window.location.reload();
      } catch (problem) {
        this.trouble = problem.message;
      }
    },
    // What a desk would say to the newest files; nothing is sent.
    async rehearse(event) {
      const { desk } = event.currentTarget.dataset;
      const answer = this.$root.querySelector(`[data-answer=${desk}]`);
      const line = (words, kind) => Object.assign(document.createElement("p"), { textContent: words, className: kind });
      try {
        const body = { delivery_id: Number(this.$root.dataset.newest) };
        const told = await ask(`/api/desks/${desk}/rehearse`, { method: "POST", body });
        const refused = told.refused.slice(0, 4).map((one) => line(`${one.file} ${one.why}`, "is-stop"));
        answer.replaceChildren(line(`${told.words}.`, "words"), ...refused);
      } catch (problem) {
        answer.replaceChildren(line(problem.message, "words"));
      }
    },
  }));
});
