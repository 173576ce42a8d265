// An entry line that is read back: each part of its text is underlined like its part of the sentence.

import { ask } from "../net/ask.js";

const part = (words, name) => {
  const mark = document.createElement("span");
  mark.className = `part is-${name}`;
  mark.textContent = words;
  return mark;
};

const turns = new WeakMap(); // how often a field was read: answers may overtake each other

// Gives what is read of a field, or null where something newer has been typed meanwhile.
export async function readEntry(field, more = {}) {
  const text = field.value;
  const turn = (turns.get(field) ?? 0) + 1;
  turns.set(field, turn);
  if (!text.trim()) return { text, right: false, size: null, says: "", spans: [], said: [] };
  const still = (read) => (turn === turns.get(field) ? read : null);
  try {
    const size = await ask("/api/sizes/read", { method: "POST", body: { text, ...more } });
    return still({ text, right: true, size, says: size.sentence, spans: size.spans, said: size.said });
  } catch (problem) {
    const { at } = problem;
    const spans = at === undefined ? [] : [{ part: "wrong", start: Math.min(at, text.length - 1), end: text.length }];
    return still({ text, right: false, size: null, says: problem.message, spans, said: [{ words: problem.message }] });
  }
}

// Draws the marks behind a field and the sentence below it.
export function drawEntry(field, read, sentence) {
  const marks = field.parentElement.querySelector(".marks");
  const { fontSize, paddingLeft } = getComputedStyle(field);
  Object.assign(marks.style, { fontSize, paddingLeft, lineHeight: `${marks.clientHeight}px` });
  const cut = [];
  let at = 0;
  for (const { part: name, start, end } of read.spans) {
    cut.push(read.text.slice(at, start), part(read.text.slice(start, end), name));
    at = end;
  }
  marks.replaceChildren(...cut, read.text.slice(at));
  marks.scrollLeft = field.scrollLeft;
  sentence.replaceChildren(...read.said.map(({ words, part: name }) => (name ? part(words, name) : words)));
}
