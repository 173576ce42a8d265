// What would be made of a job, what a receiver would say of it, and making it.

import { bytesWords, filesWord, rounded } from "../hand/figures.js";
import { ask } from "../net/ask.js";
import { takeWay } from "../net/ways.js";

const MOST_ASKED = 300; // files of a plan that receivers are asked about by themselves

// What the page holds of it; the ledge takes it over, getters and all.
export const planning = {
  plan: [],
  receivers: [],
  receiverWord: "",
  receiverAnswers: [], // what each said of what would be made for it
  receiverRefused: [],
  busy: false,
  planning: false, // it is being worked out

  // First what would be made; then, if it is right, the run.
  async makeAll() {
    this.plan = [];
    this.receiverWord = "";
    this.receiverAnswers = [];
    this.receiverRefused = [];
    this.planning = true;
    this.$refs.plan.showModal();
    await this.tried(async () => {
      this.plan = await ask(`${this.path}/deliveries/plan`);
      this.receivers = await ask("/api/receivers");
    });
    this.planning = false;
    if (this.plan.length <= MOST_ASKED) await this.askAll();
  },
  // Each receiver is asked by itself; those for whom nothing is meant say nothing.
  async askAll() {
    for (const { id, name } of this.receivers) {
      const answer = await this.checkedBy(id).catch(() => null);
      if (!this.$refs.plan.open) return;
      if (answer?.files.length) this.receiverAnswers.push({ id, words: `${name}: ${answer.words}.` });
    }
  },
  checkedBy(receiver) {
    return ask(`/api/receivers/${receiver}/check`, { method: "POST", body: { job: Number(this.$root.dataset.job) } });
  },
  // What a receiver would say, before anything is made.
  async askReceiver(event) {
    const { receiver } = event.currentTarget.dataset;
    const { name } = this.receivers.find((one) => one.id === Number(receiver));
    this.receiverRefused = [];
    try {
      const answer = await this.checkedBy(receiver);
      this.receiverWord = answered(name, answer);
      this.receiverRefused = answer.files
        .filter((one) => one.state !== "accepted")
        .map((one) => ({ ...one, why: one.reasons.join("; "), bench: `/jobs/${this.$root.dataset.job}/bench/${one.placement_id}` }));
    } catch (problem) {
      this.receiverWord = problem.message;
    }
  },
  // How the files are written is changed right here, for all or for those that are chosen.
  get planIds() {
    const all = [...new Set(this.plan.map((one) => one.placement_id))];
    return this.some && this.$refs.planChosen.checked ? this.chosenIds : all;
  },
  async setPlanFile(event) {
    const { dataset, value } = event.target;
    const said = value.trim();
    if (!said) return undefined;
    const file = { [dataset.plan]: said };
    if (dataset.plan === "quality") file.quality = Number(said);
    if (dataset.plan === "bits") Object.assign(file, said === "photo" ? { bits: undefined, as_photo: true } : { bits: Number(said) });
    if (dataset.plan === "at_most" && said === "none") Object.assign(file, { at_most: undefined, no_limit: true });
    if (dataset.plan === "metadata") Object.assign(file, { metadata: said === "no-place" ? "keep" : said, location: said !== "no-place" });
    return this.tried(async () => {
      const done = await ask(`${this.path}/batch`, { method: "POST", body: { placement_ids: this.planIds, doing: { do: "file", file } } });
      await this.after(done);
      this.plan = await ask(`${this.path}/deliveries/plan`);
    });
  },
  // A part of the name is put where the hand writes.
  putToken(event) {
    const field = this.$refs.planPattern;
    const at = field.selectionStart ?? field.value.length;
    field.setRangeText(event.currentTarget.dataset.token, at, field.selectionEnd ?? at, "end");
    field.focus();
  },
  get notPlanned() {
    return this.busy || this.planning;
  },
  get planWord() {
    if (this.planning) return "Working out what will be made.";
    const free = this.plan.filter((one) => !one.held);
    const looks = free.filter((one) => one.to_look_at).length;
    const known = free.filter((one) => one.about_bytes !== null);
    const bytes = known.reduce((sum, one) => sum + one.about_bytes, 0);
    const parts = [filesWord(free.length)];
    if (known.length) parts.push(`about ${bytesWords(bytes)}${known.length < free.length ? ` for ${known.length} of them` : ""}`);
    if (looks) parts.push(`${looks} with something to look at`);
    return `${parts.join(", ")}.`;
  },
  get planHeld() {
    const bench = `/jobs/${this.$root.dataset.job}/bench/`;
    // of a piece in several files the first speaks for all
    return this.plan.filter((one) => one.held && (one.panel ?? 1) === 1).map((one) => ({ ...one, key: one.placement_id, way: one.stop?.way ?? "", bench: bench + one.placement_id }));
  },
  // A stop's way out, taken right here; then what would be made is told anew.
  async takeWay(event) {
    const taken = { ...event.currentTarget.dataset };
    const { id } = event.currentTarget.dataset;
    const { stop } = this.plan.find((one) => one.placement_id === Number(id));
    await this.tried(async () => {
      await takeWay(stop, taken);
      await this.redraw();
      this.plan = await ask(`${this.path}/deliveries/plan`);
    });
  },
  get planSame() {
    const same = this.plan.filter((one) => one.same_as && !one.held).length;
    return same ? `Make what changed; ${same} stay as last time` : "";
  },
  get planRows() {
    return this.plan.filter((one) => !one.held).slice(0, 200).map((one) => ({
      ...one,
      key: `${one.placement_id} ${one.panel}`,
      resolution: one.ppi === null ? "" : `${rounded(one.ppi, 2)} ppi`,
      most: one.at_most === null ? "" : `at most ${bytesWords(one.at_most)}`,
      about: one.about_bytes === null ? "" : `about ${bytesWords(one.about_bytes)}`,
      look: one.to_look_at ? "look" : "",
    }));
  },
  makePlanned() {
    return this.make(null, false);
  },
  makeChanged() {
    return this.make(null, true);
  },
  makeChosen() {
    return this.make(this.chosenIds, false);
  },
  async make(placement_ids, only_changed) {
    this.busy = true;
    await this.tried(async () => {
      const { value } = this.$refs.planReceiver; // of the dialog, where it is open
      const send_to = this.$refs.plan.open && value ? Number(value) : null;
      const made = await ask(`${this.path}/deliveries`, { method: "POST", body: { placement_ids, only_changed, send_to } });
      window.location.assign(`/deliveries/${made.id}`);
    });
    this.busy = false;
  },
};

// What a receiver says of a plan, in a word before what it refuses.
function answered(name, { files, words }) {
  if (!files.length) return `${words}.`;
  return files.every((one) => one.state === "accepted") ? `${name} would take all of it.` : `${name} would not take:`;
}
