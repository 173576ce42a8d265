// What came of a file at a receiver, in words and colour: the same on a card and on a delivery.

import { bytesWords } from "../hand/figures.js";

const KINDS = { accepted: "is-fine", refused: "is-stop", failed: "is-stop", waiting: "is-open", sending: "is-look" };

export function sentLine(one) {
  const part = one.bytes ? Math.floor((100 * one.sent) / one.bytes) : 0;
  const words = {
    accepted: one.receipt ?? "accepted",
    refused: `not taken: ${one.reasons.join("; ")}`,
    failed: one.reasons.join(" "),
    waiting: one.reasons.length ? `${one.reasons.join(" ")} Again in ${one.again_in ?? 0} s (try ${one.tries + 1}).` : "waiting",
    sending: `sending, ${part} %`,
  };
  return { ...one, key: `${one.file} ${one.id}`, kind: KINDS[one.state], words: words[one.state] };
}

// How far all of it is: `9 of 14 sent · 1.2 MB/s · 20 s left`.
export function progressWords(told, paused) {
  const { counts } = told;
  const left = (counts.waiting ?? 0) + (counts.sending ?? 0);
  if (!left) return "";
  if (paused) return `Paused, ${left} left to send`;
  const speed = told.bytes_per_second ? ` · ${bytesWords(told.bytes_per_second)}/s` : "";
  const seconds = told.seconds_left ? ` · ${told.seconds_left} s left` : "";
  return `Sending, ${left} left${speed}${seconds}`;
}

// One step towards what a receiver takes, and that the file is made again then.
export function fixWords(fixes) {
  if (!fixes.length) return "";
  const words = fixes.join("; ");
  return words.startsWith("Make it ") ? words.replace("Make it ", "Make it again ") : `${words}, then make it again`;
}
