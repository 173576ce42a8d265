// The library: sizes are written, found, changed in place, copied, deleted and brought back.

import { ask } from "../net/ask.js";
import { drawEntry, readEntry } from "./entry.js";
import { fillForm, writtenIn } from "./form.js";

const json = (method, body) => ({ method, body });

document.addEventListener("alpine:init", () => {
  window.Alpine.data("sizes", () => {
    return {
      shelf: "print",
      profile: null, // the receiver's, as its name and its bytes in base64
      current: null,
      nothing: false,
      query: "",
      wrong: "false",
      ready: false,
      meant: [],
      said: "",
      gone: null,
      trouble: "",
      editWrong: false,
      asksDelete: false,
      taking: null,

      init() {
        this.mark();
      },

      // --- what the page shows

      get editing() {
        return this.current !== null;
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
      // What went wrong is said where the hand is: in the open form, else above the list.
      get formTrouble() {
        return this.editing ? this.trouble : "";
      },
      get listTrouble() {
        return this.editing ? "" : this.trouble;
      },
      get noTwin() {
        const { kind, edge } = this.current?.size.shape ?? { kind: "photo" };
        return ["percent", "photo"].includes(kind) || ["long", "short"].includes(edge); // each is its own
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
        const { added, same, renamed } = this.taking.outcome;
        const parts = [`${added.length} new`, `${same.length} here already`]; // told before it is kept
        if (renamed.length) {
          parts.push(`${renamed.length} under new names: ${renamed.map(([, to]) => to).join(", ")}`);
        }
        return `${this.taking.name} holds ${parts.join("; ")}.`;
      },

      // --- writing a new one

      async write() {
        const read = await readEntry(this.$refs.entry);
        if (!read) return;
        this.ready = read.right;
        this.meant = read.sizes;
        this.wrong = String(!read.right && read.text !== "");
        drawEntry(this.$refs.entry, read, this.$refs.reads);
      },
      async addSize() {
        if (!this.ready) return;
        const added = [];
        for (const { text, saved_id } of this.meant) {
          if (saved_id !== null) continue; // it is here already
          const size = await this.call("/api/sizes", json("POST", { text, group: this.shelf }));
          if (!size) return;
          added.push(size);
        }
        this.$refs.entry.value = "";
        const known = this.meant.find((one) => one.saved_id !== null);
        await this.write();
        this.said = added.length ? `Added ${added.map((size) => size.name).join(" and ")}.` : "It is here already.";
        await this.refresh(added.at(-1) ?? (await this.call(`/api/sizes/${known.saved_id}`, {})));
      },
      // Marks lie behind the text and go along with it.
      scrolled(event) {
        event.target.parentElement.querySelector(".marks").scrollLeft = event.target.scrollLeft;
      },

      // --- finding and choosing

      search(event) {
        this.query = event.target.value;
        this.filter();
        if (this.current && this.row(this.current.id)?.hidden) this.close();
      },
      // Rows are the server's; here they are only hidden and shown.
      filter() {
        const words = this.query.toLowerCase().split(/\s+/).filter(Boolean);
        this.$root.querySelector(".groups").classList.toggle("is-found", words.length > 0);
        let count = 0;
        for (const group of this.$root.querySelectorAll(".group")) {
          let here = 0;
          for (const row of group.querySelectorAll("li")) {
            row.hidden = !words.every((word) => row.dataset.find.includes(word));
            if (!row.hidden) here += 1;
          }
          group.hidden = here === 0;
          count += here;
        }
        this.nothing = count === 0;
      },
      row(id) {
        return this.$root.querySelector(`[data-id="${id}"]`)?.closest("li");
      },
      // Shows which group is on the wall and which size is open.
      mark() {
        for (const group of this.$root.querySelectorAll(".group")) {
          const on = group.dataset.shelf === this.shelf;
          group.classList.toggle("is-on", on);
          group.querySelector(".group-name").setAttribute("aria-pressed", String(on));
        }
        for (const button of this.$root.querySelectorAll(".size-row")) {
          const open = Number(button.dataset.id) === this.current?.id;
          button.setAttribute("aria-expanded", String(open));
          button.parentElement.classList.toggle("is-chosen", open);
        }
      },
      // Enter in the field opens the first that was found.
      async openFound(event) {
        event.preventDefault();
        const row = [...this.$root.querySelectorAll(".group:not([hidden]) li:not([hidden]) .size-row")][0];
        const size = row ? await this.call(`/api/sizes/${row.dataset.id}`, {}) : null;
        if (size) this.show(size);
      },
      async press(event) {
        const back = event.target.closest("[data-back]")?.dataset.back;
        if (back) return this.bringBack(Number(back));
        const group = event.target.closest(".group-name")?.dataset.group;
        const id = Number(event.target.closest(".size-row")?.dataset.id);
        if (group) {
          this.shelf = group;
          this.mark();
          await this.drawWall();
        } else if (id && id === this.current?.id) {
          this.close();
        } else if (id) {
          const size = await this.call(`/api/sizes/${id}`, {});
          if (size) this.show(size);
        }
      },
      async show(size) {
        this.current = size;
        this.shelf = size.group;
        this.asksDelete = false;
        this.row(size.id)?.append(this.form());
        this.fill(size);
        this.mark();
        const seen = () => this.current?.id === size.id && this.row(size.id)?.scrollIntoView({ block: "nearest" });
        this.$nextTick(seen); // with its form
        await Promise.all([this.reread(), this.drawWall()]); // read once, so that its parts are marked
        seen(); // what was read may take more lines than the form had for it
      },
      form() {
        return this.$root.querySelector(".editing");
      },
      field(name) {
        return this.form().elements[name];
      },
      fill(size) {
        fillForm(this.form(), size);
        this.profile = size.size.file.icc;
      },
      written() {
        return writtenIn(this.form(), this.current.size, this.profile);
      },
      // An SVG file's one closed path becomes the outline in the text, in place of one that was there.
      async takeOutline(event) {
        const [file] = event.target.files;
        if (!file) return;
        const text = this.field("text");
        const path = `/api/sizes/outline?size_text=${encodeURIComponent(text.value)}`;
        const read = await this.call(path, { method: "POST", text: file });
        event.target.value = "";
        if (!read) return;
        text.value = read.size;
        this.reread();
      },
      async chooseOutline(event) {
        const text = this.field("text");
        const { outline } = event.currentTarget.dataset;
        const read = await this.call(`/api/sizes/outline?size_text=${encodeURIComponent(text.value)}&outline=${encodeURIComponent(outline)}`);
        if (!read) return;
        text.value = read.size;
        this.reread();
      },
      async takeProfile(event) {
        const [file] = event.target.files;
        if (!file) return;
        const bytes = new Uint8Array(await file.arrayBuffer());
        let text = "";
        for (let at = 0; at < bytes.length; at += 8192) text += String.fromCharCode(...bytes.subarray(at, at + 8192));
        this.profile = { name: file.name.replace(/\.[^.]+$/, "").slice(0, 80) || "receiver", data: btoa(text) };
        this.reread();
      },
      close() {
        this.current = null;
        this.mark();
        this.drawWall();
      },
      async drawWall() {
        const chosen = this.current ? `?chosen=${this.current.id}` : "";
        const answer = await fetch(`/sizes/wall/${this.shelf}${chosen}`);
        if (answer.ok) this.$root.querySelector(".wall-here").innerHTML = await answer.text();
      },

      // --- changing

      // Whatever is typed is read at once. The text is the truth of shape, resolution, dot, turn
      // and what differs: choosing the last writes it into the text.
      // What is written behind a shape is taken into the fields below, which say it from then on.
      async takeLine(event) {
        const read = await readEntry(event.target);
        const more = ["edges", "frame", "file", "pixels", "differ"];
        if (!read?.size || !read.spans.some(({ part }) => more.includes(part))) return;
        const { size, shape_text } = read.size;
        const { receiver, greatest_enlargement, file } = this.current.size;
        const kept = { receiver, greatest_enlargement, file: { ...file, ...size.file } };
        fillForm(this.form(), {
          name: this.field("name").value,
          group: this.field("group").value,
          shape_text,
          size: { ...size, ...kept },
          at_most: size.file.at_most === null ? "" : `${size.file.at_most}`,
        });
        await this.reread();
      },
      async reread(event) {
        const text = this.field("text");
        const more = { ...this.written(), name: this.field("name").value.trim() || null };
        const supplied = this.form().querySelector(".profile-file");
        supplied.hidden = more.file.profile !== "receiver";
        supplied.querySelector("span").textContent = this.profile ? `Its file: ${this.profile.name}` : "Its file, .icc or .icm";
        if (event?.target.name === "differ") more.differ = event.target.value;
        const read = await readEntry(text, more);
        if (!read) return;
        this.editWrong = !read.right;
        if (read.size) {
          text.value = read.text = read.size.text;
          this.field("differ").value = read.size.size.differ;
          this.form().querySelector(".such-as").textContent = read.size.file_name;
        }
        drawEntry(text, read, this.form().querySelector(".reads"));
      },
      async keepChanges() {
        const body = {
          ...this.written(),
          version: this.current.version,
          name: this.field("name").value.trim(),
          text: this.field("text").value.trim(),
          group: this.field("group").value,
        };
        const size = await this.call(`/api/sizes/${this.current.id}`, json("PUT", body));
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
        const size = await this.call(`/api/sizes/${this.current.id}/copy${how}`, json("POST"));
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
        const size = await this.call(`/api/sizes/${this.current.id}`, json("DELETE"));
        if (!size) return;
        this.gone = size.id;
        this.said = `Deleted ${size.name}.`;
        this.current = null;
        await this.refresh(null);
      },
      async bringBack(id) {
        const size = await this.call(`/api/sizes/${typeof id === "number" ? id : this.gone}/restore`, json("POST"));
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
        const outcome = await this.send(text, "?only_tell=true");
        if (outcome) this.taking = { name: file.name, text, outcome };
      },
      async keepTaken() {
        const outcome = await this.send(this.taking.text, "");
        if (!outcome) return;
        this.said = came(outcome);
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
        const answer = await fetch("/sizes/list");
        this.$root.querySelector(".library-list").append(this.form()); // rows go, the form stays
        if (answer.ok) this.$root.querySelector(".groups-list").innerHTML = await answer.text();
        this.filter();
        if (!size) {
          this.mark();
          return this.drawWall();
        }
        this.gone = null;
        return this.show(size);
      },
      async call(path, how) {
        this.trouble = "";
        try {
          return await ask(path, how);
        } catch (problem) {
          this.trouble = problem.message;
          if (this.editing) this.$nextTick(() => this.form().querySelector(".trouble-line").scrollIntoView({ block: "nearest" }));
          return null;
        }
      },
    };
  });
});

// What an import brought, in one line.
function came({ added, same, renamed }) {
  const parts = [`${added.length === 1 ? "1 size" : `${added.length} sizes`} imported`];
  if (added.length && added.length <= 4) parts[0] += `: ${added.join(", ")}`;
  if (renamed.length) parts.push(`${renamed.length} under new names: ${renamed.map(([, to]) => to).join(", ")}`);
  if (same.length) parts.push(`${same.length} were here already`);
  return `${parts.join("; ")}.`;
}
