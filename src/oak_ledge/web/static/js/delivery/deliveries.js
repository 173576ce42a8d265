// The list of deliveries: paused, gone on with, made again where it changed.

import { trying } from "../hand/tried.js";
import { ask } from "../net/ask.js";

document.addEventListener("alpine:init", () => {
  window.Alpine.data("deliveries", () => ({
    ...trying,

    turn(event) {
      const { id, what } = event.currentTarget.dataset;
      return this.tried(async () => {
        await ask(`/api/deliveries/${id}/${what}`, { method: "POST" });
        window.location.reload();
      });
    },
    again(event) {
      const { job } = event.currentTarget.dataset;
      return this.tried(async () => {
        const made = await ask(`/api/jobs/${job}/deliveries`, { method: "POST", body: { only_changed: true } });
        window.location.assign(`/deliveries/${made.id}`);
      });
    },
  }));
});
