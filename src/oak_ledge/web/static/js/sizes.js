// The library: sizes are written, found, changed in place, copied, deleted and brought back.

import { ask } from "./ask.js";

const ORDER = ["print", "frame", "marketplace", "screen", "own"];
const json = (method, body) => ({ method, body });

document.addEventListener("alpine:init", () => {
  window.Alpine.data("sizes", () => {
    const seed = JSON.parse(document.getElementById("seed").textContent);
    return {
      all: seed.sizes,
      shelf: seed.group, // not `group`: the loop over groups has that name for itself
      chosen: null,
      query: "",
      reads: "",
      wrong: "false",
      ready: false,
      said: "",
      gone: null,
      trouble: "",
      editReads: "",
      editWrong: false,
      asksDelete: false,
      taking: null,

      // A form is gone once its row closes, and what it has begun goes on: so the page is held
      // here, not looked up from the form.
      init() {
        this.page = this.$root;
      },
      field(name) {
        return this.page.querySelector(`.editing [name=${name}]`);
      },

      // --- what the page shows

      get groups() {
        const largest = { in: 1e-9, px: 1e-9 };
        for (const { outline, outline_unit: unit } of this.all) {
          if (outline) largest[unit] = Math.max(largest[unit], ...outline);
        }
        const found = this.all.filter((size) => this.matches(size));
        return ORDER.map((name) => ({
          name,
          on: String(name === this.shelf),
          mark: name === this.shelf ? "is-on" : "",
          sizes: found
            .filter((size) => size.group === name)
            .map((size) => this.row(size, largest[size.outline_unit])),
        })).filter((group) => group.sizes.length);
      },
      get nothing() {
        return this.groups.length === 0;
      },
      matches(size) {
        const words = this.query.toLowerCase().split(/\s+/).filter(Boolean);
        const text = `${size.name} ${size.label} ${size.text} ${size.group} ${size.pixels}`.toLowerCase();
        return words.every((word) => text.includes(word));
      },
      row(size, largest) {
        const jobs = size.used_in.length;
        const open = size.id === this.chosen;
        return {
          ...size,
          open: String(open),
          chosen: open,
          mark: open ? "is-chosen" : "",
          says: size.text,
          used: jobs ? `used in ${jobs} job${jobs === 1 ? "" : "s"}` : "",
          thumb: thumb(size.outline, largest),
        };
      },
      get current() {
        return this.all.find((size) => size.id === this.chosen);
      },
      get notReady() {
        return !this.ready;
      },
      get readsClass() {
        return this.wrong === "true" ? "is-wrong" : "";
      },
      get editClass() {
        return this.editWrong ? "is-wrong" : "";
      },
      get wallWords() {
        const count = this.all.filter((size) => size.group === this.shelf && size.outline).length;
        return `${this.shelf}, ${count} at true relative scale`;
      },
      get noTwin() {
        return !this.current || ["percent", "photo"].includes(this.current.size.shape.kind);
      },
      get deleteWords() {
        const used = this.current ? this.current.used_in : [];
        return used.length ? `${used.join(", ")} took it and keep their copies.` : "No job took it.";
      },
      get asksTaking() {
        return this.taking !== null;
      },
      get takingWords() {
        if (!this.taking) return "";
        const { added, same, renamed } = this.taking.told;
        const parts = [`${added.length} new`, `${same.length} here already`];
        if (renamed.length) {
          parts.push(`${renamed.length} under new names: ${renamed.map(([, to]) => to).join(", ")}`);
        }
        return `${this.taking.name} holds ${parts.join("; ")}.`;
      },

      // --- writing a new one

      async write(event) {
        const told = await this.read(event.target);
        if (!told) return;
        this.ready = told.right;
        this.wrong = String(!told.right && told.text !== "");
        this.reads = told.says;
      },
      async read(field) {
        const text = field.value;
        if (!text.trim()) return { text: "", right: false, says: "" };
        try {
          const size = await ask("/api/sizes/read", json("POST", { text }));
          return text === field.value ? { text, right: true, says: size.sentence } : null;
        } catch (problem) {
          return text === field.value ? { text, right: false, says: problem.message } : null;
        }
      },
      async addSize() {
        if (!this.ready) return;
        const size = await this.call("/api/sizes", json("POST", { text: this.$refs.entry.value, group: this.shelf }));
        if (!size) return;
        this.$refs.entry.value = "";
        this.reads = "";
        this.ready = false;
        this.said = `Added ${size.name}.`;
        await this.refresh(size);
      },

      // --- finding and choosing

      search(event) {
        this.query = event.target.value;
        if (this.current && !this.matches(this.current)) this.close();
      },
      chooseGroup(event) {
        this.shelf = event.currentTarget.dataset.group;
        this.drawWall();
      },
      choose(event) {
        const id = Number(event.currentTarget.dataset.id);
        if (id === this.chosen) this.close();
        else this.show(this.all.find((size) => size.id === id));
      },
      show(size) {
        this.chosen = size.id;
        this.shelf = size.group;
        this.asksDelete = false;
        this.editWrong = false;
        this.editReads = size.sentence;
        this.drawWall();
        this.$nextTick(() => this.fill(size));
      },
      fill(size) {
        const { receiver, file } = size.size;
        const shown = {
          name: size.name,
          text: size.text,
          group: size.group,
          low: receiver ? receiver.low : "",
          high: receiver ? receiver.high : "",
          format: file.format,
          quality: file.quality,
        };
        for (const [name, value] of Object.entries(shown)) {
          const field = this.field(name);
          if (field) field.value = value; // a search may have hidden the row
        }
      },
      close() {
        this.chosen = null;
        this.drawWall();
      },
      async drawWall() {
        const chosen = this.chosen === null ? "" : `?chosen=${this.chosen}`;
        const answer = await fetch(`/sizes/wall/${this.shelf}${chosen}`);
        if (answer.ok) this.page.querySelector(".wall-here").innerHTML = await answer.text();
      },

      // --- changing

      async rewrite(event) {
        const told = await this.read(event.target);
        if (!told) return;
        this.editWrong = !told.right;
        this.editReads = told.says;
      },
      async keepChanges() {
        const told = (name) => this.field(name).value.trim();
        const low = told("low");
        const body = {
          version: this.current.version,
          name: told("name"),
          text: told("text"),
          group: told("group"),
          receiver: low ? { low: Number(low), high: Number(told("high") || low) } : null,
          file: { ...this.current.size.file, format: told("format"), quality: Number(told("quality")) },
        };
        const size = await this.call(`/api/sizes/${this.chosen}`, json("PUT", body));
        if (!size) return;
        this.said = `Kept ${size.name}.`;
        await this.refresh(size);
      },
      async copy() {
        await this.copied("");
      },
      async twin() {
        await this.copied("?twin=true");
      },
      async copied(how) {
        const size = await this.call(`/api/sizes/${this.chosen}/copy${how}`, json("POST"));
        if (!size) return;
        this.said = `Added ${size.name}.`;
        await this.refresh(size);
      },
      askDelete() {
        this.asksDelete = true;
      },
      keepIt() {
        this.asksDelete = false;
      },
      async deleteIt() {
        const size = await this.call(`/api/sizes/${this.chosen}`, json("DELETE"));
        if (!size) return;
        this.gone = size.id;
        this.said = `Deleted ${size.name}.`;
        this.chosen = null;
        await this.refresh(null);
      },
      async bringBack() {
        const size = await this.call(`/api/sizes/${this.gone}/restore`, json("POST"));
        if (!size) return;
        this.said = `${size.name} is back.`;
        await this.refresh(size);
      },

      // --- exchanging

      async takeIn(event) {
        const [file] = event.target.files;
        if (!file) return;
        const text = await file.text();
        event.target.value = "";
        const told = await this.send(text, "?only_tell=true");
        if (told) this.taking = { name: file.name, text, told };
      },
      async keepTaken() {
        const told = await this.send(this.taking.text, "");
        if (!told) return;
        this.said = `${told.added.length + told.renamed.length} sizes came in.`;
        this.taking = null;
        await this.refresh(null);
      },
      leaveTaken() {
        this.taking = null;
      },
      async send(text, how) {
        return this.call(`/api/sizes/file${how}`, { method: "POST", text });
      },

      async refresh(size) {
        const all = await this.call("/api/sizes", {});
        if (all) this.all = all;
        if (!size) return this.drawWall();
        this.gone = null;
        return this.show(size);
      },
      async call(path, how) {
        this.trouble = "";
        try {
          return await ask(path, how);
        } catch (problem) {
          this.trouble = problem.message;
          return null;
        }
      },
    };
  });
});

// A small outline on its own small ledge, at one scale with all others of its kind.
function thumb(outline, largest) {
  if (!outline) return { x: 0, y: 0, width: 0, height: 0 };
  const scale = 26 / largest;
  const width = outline[0] * scale;
  const height = outline[1] * scale;
  return { x: 17 - width / 2, y: 27 - height, width, height };
}
