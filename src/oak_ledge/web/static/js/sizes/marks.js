// The library of marks: added from files or as lines of text, changed, deleted, brought back.

import { ask } from "../net/ask.js";

const picture = (part) => `/api/marks/pictures/${part.hash}?edge=400`;

document.addEventListener("alpine:init", () => {
  window.Alpine.data("marks", () => ({
    list: JSON.parse(document.getElementById("seed").textContent),
    text: "",
    font: "slab",
    colour: "#10201c",
    dark: "#f3efe6",
    twin: true,
    gone: 0, // the mark deleted last
    said: "",
    trouble: "",
    busy: false,

    get shown() {
      return this.list.map((one) => ({
        ...one,
        anchor: `mark-${one.id}`,
        onLight: picture(one.mark.picture),
        onDark: picture(one.mark.on_dark ?? one.mark.picture),
        nameLabel: `Name of ${one.name}`,
        firstLabel: `How ${one.name} is laid at first`,
      }));
    },
    get noMarks() {
      return !this.list.length;
    },
    get noTwin() {
      return !this.twin;
    },
    get sample() {
      return this.text.trim() || "Quay studio";
    },
    get fontClass() {
      return `is-${this.font}`;
    },
    get lightStyle() {
      return { color: this.colour };
    },
    get darkStyle() {
      return { color: this.twin ? this.dark : this.colour };
    },
    // Whatever is done: the list is shown as it is then, and what was refused is said.
    async done(call) {
      [this.trouble, this.said, this.gone] = ["", "", 0];
      this.busy = true;
      let answer = null;
      try {
        answer = await call();
      } catch (problem) {
        this.trouble = problem.message;
      }
      this.list = await ask("/api/marks").catch(() => this.list);
      this.busy = false;
      return answer;
    },
    async addFile() {
      const { file, other, fileName } = this.$refs;
      const form = new FormData();
      form.append("file", file.files[0]);
      if (other.files[0]) form.append("other", other.files[0]);
      form.append("name", fileName.value.trim());
      const added = await this.done(async () => {
        const answer = await fetch("/api/marks", { method: "POST", body: form });
        const content = await answer.json();
        if (!answer.ok) throw new Error(content.detail);
        return content;
      });
      if (!added) return;
      this.said = `${added.name} is added.`;
      [file.value, other.value, fileName.value] = ["", "", ""];
    },
    async addLine() {
      const body = { text: this.text, font: this.font, colour: this.colour, on_dark: this.twin ? this.dark : null };
      const added = await this.done(() => ask("/api/marks/line", { method: "POST", body }));
      if (!added) return;
      this.said = `${added.name} is added.`;
      this.text = "";
    },
    // A field that was refused says again what is.
    async change(event) {
      const { target } = event;
      const { id, of } = target.dataset;
      const value = of === "opacity" ? Number(target.value.replace("%", "")) : target.value.trim();
      await this.done(() => ask(`/api/marks/${id}`, { method: "PUT", body: { [of]: value } }));
      const now = this.list.find((one) => String(one.id) === id);
      if (now) target.value = of === "name" ? now.name : now.mark[of];
    },
    async remove(event) {
      const id = Number(event.currentTarget.dataset.id);
      const gone = await this.done(() => ask(`/api/marks/${id}`, { method: "PUT", body: { deleted: true } }));
      if (!gone) return;
      this.gone = id;
      this.said = `${gone.name} is deleted. Pieces that have it keep it.`;
    },
    async bringBack() {
      const id = this.gone;
      const back = await this.done(() => ask(`/api/marks/${id}`, { method: "PUT", body: { deleted: false } }));
      if (back) this.said = `${back.name} is back.`;
    },
  }));
});
