// The page of receivers: each on a card, edited in place, tried, rehearsed, followed while files go.

import { ask } from "../net/ask.js";
import { bodyOf, EMPTY, formOf } from "./form.js";
import { progressWords, sentLine } from "./sent.js";

const FAULTS = JSON.parse(document.getElementById("faults").textContent);
const LOOK = 1500; // ms between two looks at how sending goes
const CALM = 250; // ms after the last letter, until it is read back

document.addEventListener("alpine:init", () => {
  window.Alpine.data("receivers", () => ({
    list: JSON.parse(document.getElementById("seed").textContent),
    received: {}, // what each got, by its number
    answers: {}, // what each said of what it was asked about
    keys: {}, // host keys as they are shown now, to be confirmed
    trying: 0, // the receiver that is asked just now
    isEditing: false,
    editing: {}, // the receiver as it was read; {} for a new one
    form: { ...EMPTY },
    sentence: "",
    wayWords: "",
    wrong: "",
    gone: 0,
    said: "",
    trouble: "",

    init() {
      this.look();
      setInterval(() => document.hidden || this.look(), LOOK);
    },
    async look() {
      const all = await Promise.all(this.list.map((one) => ask(`/api/receivers/${one.id}/sendings`).catch(() => null)));
      this.received = Object.fromEntries(all.filter(Boolean).map((told) => [told.receiver_id, told]));
    },
    get cards() {
      return this.list.map((one) => {
        const told = this.received[one.id];
        const answer = this.answers[one.id];
        const key = this.keys[one.id];
        const progress = told ? progressWords(told.open, one.paused) : "";
        return {
          ...one,
          anchor: `receiver-${one.id}`,
          kind: one.face ? "has-face" : "",
          way: one.rehearsing ? `${one.way_words} · stand-in running here` : one.way_words,
          lines: told ? told.latest.map(sentLine) : [],
          nothing: told ? !told.latest.length : false,
          progress,
          going: Boolean(progress),
          pauseWord: one.paused ? "Go on" : "Pause",
          box: one.face ? `0 0 ${one.face[0]} ${one.face[1]}` : "0 0 1 1",
          wide: one.face?.[0] ?? 1,
          high: one.face?.[1] ?? 1,
          mask: `url(#dots-${one.id})`,
          maskName: `dots-${one.id}`,
          picture: told?.shows && one.face ? `/api/receivers/${one.id}/shown?of=${encodeURIComponent(told.shows)}-${told.latest[0]?.changed ?? ""}` : null,
          pictureWords: told?.shows ? `The sign shows ${told.shows}` : "The sign is dark",
          caption: told?.shows && one.face ? `${told.shows}, dot by dot` : "",
          tries: this.trying === one.id,
          rehearseWord: one.rehearsing ? "End the rehearsal" : "Rehearse",
          faults: one.rehearsing && one.way.kind !== "folder",
          choices: FAULTS.map(([key, words]) => ({ key: key ?? "", words, on: String(key === one.fault) })),
          answer: answer?.words ?? "",
          answers: answer?.files.filter((file) => file.state !== "accepted").slice(0, 4) ?? [],
          asksKey: one.way.kind === "sftp" && !one.way.host_key && !one.rehearsing,
          key: key?.fingerprint ?? "",
          hasKey: Boolean(key && !key.known),
        };
      });
    },
    get none() {
      return !this.list.length;
    },
    of(event) {
      return this.list.find((one) => one.id === Number(event.currentTarget.dataset.id));
    },
    // Whatever is done: the list is shown as it is then, and what was refused is said.
    async done(call) {
      [this.trouble, this.said, this.gone] = ["", "", 0];
      let answer = null;
      try {
        answer = await call();
      } catch (problem) {
        this.trouble = problem.message;
      }
      this.list = await ask("/api/receivers").catch(() => this.list);
      await this.look();
      return answer;
    },

    // --- asked

    tryIt(event) {
      const { id } = this.of(event);
      this.trying = this.trying === id ? 0 : id;
    },
    async askDelivery(event) {
      const { id, value } = { id: this.of(event).id, value: event.currentTarget.value };
      if (!value) return;
      await this.asked(id, () => ask(`/api/receivers/${id}/check`, { method: "POST", body: { delivery: Number(value) } }));
    },
    async askFile(event) {
      const { id } = this.of(event);
      const [file] = event.currentTarget.files;
      if (!file) return;
      const form = new FormData();
      form.append("file", file, file.name);
      form.append("receiver_id", id);
      await this.asked(id, () => ask("/api/receivers/check-file", { method: "POST", text: form }));
      event.target.value = "";
    },
    async asked(id, call) {
      try {
        const { words, files } = await call();
        const told = files.map((file) => ({ ...file, why: file.reasons.join("; "), fix: file.fixes.join("; ") }));
        const one = files.length === 1 ? `${files[0].file} ${files[0].state === "accepted" ? "would be accepted" : "would not be accepted"}` : words;
        this.answers = { ...this.answers, [id]: { words: `${one}.`, files: told } };
      } catch (problem) {
        this.answers = { ...this.answers, [id]: { words: problem.message, files: [] } };
      }
    },

    // --- rehearsed, paused, stopped

    rehearse(event) {
      const one = this.of(event);
      return this.done(() => ask(`/api/receivers/${one.id}/rehearsal`, { method: "PUT", body: { rehearsing: !one.rehearsing } }));
    },
    setFault(event) {
      const { id, fault } = event.currentTarget.dataset;
      return this.done(() => ask(`/api/receivers/${id}/rehearsal`, { method: "PUT", body: { rehearsing: true, fault: fault || null } }));
    },
    pause(event) {
      const one = this.of(event);
      return this.done(() => ask(`/api/receivers/${one.id}/${one.paused ? "go-on" : "pause"}`, { method: "POST" }));
    },
    stop(event) {
      const { id } = this.of(event);
      return this.done(() => ask(`/api/receivers/${id}/stop`, { method: "POST", body: {} }));
    },

    // --- the key of a host, confirmed once

    async showKey(event) {
      const { id } = this.of(event);
      await this.done(async () => {
        this.keys = { ...this.keys, [id]: await ask(`/api/receivers/${id}/host-key`) };
      });
    },
    takeKey(event) {
      const { id, version } = this.of(event);
      const body = { host_key: this.keys[id].host_key, version };
      return this.done(() => ask(`/api/receivers/${id}/host-key`, { method: "PUT", body }));
    },

    // --- edited

    begin(event) {
      const one = event.currentTarget.dataset.id ? this.of(event) : null;
      this.editing = one ?? {};
      this.isEditing = true;
      this.form = one ? formOf(one) : { ...EMPTY };
      this.wrong = "";
      this.readBack();
      this.$nextTick(() => {
        this.$refs.name.focus();
        this.$refs.edit.scrollIntoView({ block: "nearest" });
      });
    },
    get title() {
      return this.editing.id ? `Edit: ${this.editing.name}` : "New receiver";
    },
    get isFolder() {
      return this.form.kind === "folder";
    },
    get isSftp() {
      return this.form.kind === "sftp";
    },
    get isWeb() {
      return ["http", "webdav"].includes(this.form.kind);
    },
    get isRemote() {
      return !this.isFolder;
    },
    get urlSuch() {
      return { sftp: "sftp://prints@lab.example/in", http: "https://shop.example/in", webdav: "https://sign.example/now" }[this.form.kind] ?? "";
    },
    cancel() {
      this.isEditing = false;
    },
    changed() {
      clearTimeout(this.calm);
      this.calm = setTimeout(() => this.readBack(), CALM);
    },
    async readBack() {
      const { takes, way } = bodyOf(this.form, this.editing);
      const said = way.path || way.url;
      try {
        const told = await ask("/api/receivers/read", { method: "POST", body: { takes, way: said ? way : null } });
        this.wrong = told.trouble ?? "";
        if (!told.trouble) [this.sentence, this.wayWords] = [told.sentence, told.way_words];
      } catch (problem) {
        this.wrong = problem.message;
      }
    },
    async save() {
      const body = bodyOf(this.form, this.editing);
      const { id } = this.editing;
      try {
        const kept = await ask(id ? `/api/receivers/${id}` : "/api/receivers", { method: id ? "PUT" : "POST", body });
        this.isEditing = false;
        await this.done(async () => {});
        this.said = `${kept.name} is saved.`;
      } catch (problem) {
        this.wrong = problem.message;
      }
    },
    async remove() {
      const one = this.editing;
      this.isEditing = false;
      const taken = await this.done(() => ask(`/api/receivers/${one.id}`, { method: "DELETE" }));
      if (!taken) return;
      this.gone = one.id;
      this.said = `${one.name} is deleted; what it received stays on record.`;
    },
    bringBack() {
      const id = this.gone;
      return this.done(() => ask(`/api/receivers/${id}/restore`, { method: "POST" }));
    },
    async takeIn(event) {
      const [file] = event.target.files;
      if (!file) return;
      const text = await file.text();
      event.target.value = "";
      const kept = await this.done(() => ask("/api/receivers/file", { method: "POST", body: { text } }));
      if (kept) this.said = `${kept.map((one) => one.name).join(", ")} added.`;
    },
    chooseFile() {
      this.$refs.file.click();
    },
  }));
});
