// An entry line that is read back: each part of its text is underlined like its part of the sentence;
// where it must be guessed, what may be meant stands there to choose from.

import { ask } from "../net/ask.js";

const part = (words, name) => {
  const mark = document.createElement("span");
  mark.className = `part is-${name}`;
  mark.textContent = words;
  return mark;
};

// 5x7in, 5 x 7 in and 5 × 7 in are found alike.
export const plain = (words) => words.toLowerCase().replaceAll("×", "x").replaceAll(/\s/g, "");

const turns = new WeakMap(); // how often a field was read: answers may overtake each other

// Gives what is read of a field, or null where something newer has been typed meanwhile: `sizes` it
// says, else `readings` of what it may mean.
export async function readEntry(field, more = {}) {
  const text = field.value;
  keepMarks(field, text);
  const turn = (turns.get(field) ?? 0) + 1;
  turns.set(field, turn);
  const none = { text, right: false, size: null, sizes: [], readings: [], says: "", spans: [], said: [] };
  if (!text.trim()) return none;
  const still = (read) => (turn === turns.get(field) ? read : null);
  try {
    const read = await ask("/api/sizes/entry", { method: "POST", body: { text, more } });
    const { at } = read;
    const wrong = at === null ? [] : [{ part: "wrong", start: Math.min(at, text.length - 1), end: text.length }];
    const says = read.trouble ?? read.said.map(({ words }) => words).join("");
    return still({ ...read, text, right: read.sizes.length > 0, size: read.first, says, spans: read.trouble ? wrong : read.spans });
  } catch (problem) {
    return still({ ...none, says: problem.message, said: [{ words: problem.message }] });
  }
}

// Draws the marks behind a field, and below it the sentence and the readings to choose from.
export function drawEntry(field, read, sentence) {
  drawMarks(field, read);
  sentence.replaceChildren(...read.said.map(({ words, part: name }) => (name ? part(words, name) : words)), ...meant(field, read));
}

function meant(field, read) {
  if (!read.readings?.length) return [];
  const choices = read.readings.map(({ text, sentence }) => {
    const choice = document.createElement("button");
    Object.assign(choice, { type: "button", className: "way", textContent: text, title: sentence });
    choice.addEventListener("click", () => {
      field.value = text;
      field.dispatchEvent(new Event("input", { bubbles: true }));
      field.focus();
    });
    return choice;
  });
  return [" Did you mean ", ...choices.flatMap((choice, n) => (n ? [" or ", choice] : [choice])), "?"];
}

const drawn = new WeakMap(); // what of a field is underlined

// Until the answer comes, marks stay under what of the text is as it was.
function keepMarks(field, text) {
  const before = drawn.get(field);
  if (!before || before.text === text) return;
  let same = 0;
  while (same < text.length && text[same] === before.text[same]) same += 1;
  const cut = before.spans.filter(({ start }) => start < same).map((span) => ({ ...span, end: Math.min(span.end, same) }));
  drawMarks(field, { text, spans: cut });
}

function drawMarks(field, read) {
  drawn.set(field, { text: read.text, spans: read.spans });
  const marks = field.parentElement.querySelector(".marks");
  if (!marks) return;
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
}
