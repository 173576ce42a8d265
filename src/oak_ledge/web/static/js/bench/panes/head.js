// Draws a head: its points and three lines on the photo, its lines and figures on the piece. Decides nothing.

import { POINTS } from "../stations/head.js";
import { drawLens, put } from "./panes.js";

const BEYOND = 0.55; // of the head's height, to either side: how long a line is
const LEAST = 46; // CSS pixels to either side
const PAST = 14; // CSS pixels a line goes past the piece's edge
const WORDS = 12; // CSS pixels from a line to its word

const NAMES = { crown: "crown", eyes: "eyes", chin: "chin" };

const between = ([x0, y0], [x1, y1]) => [(x0 + x1) / 2, (y0 + y1) / 2];

// Three lines of a face in CSS pixels: the middle of each, the step along it, and ± of what was found.
function linesOf(face, { scale, left, top }) {
  const [l, r, chin, crown] = face.points.map(([x, y]) => [left + x * scale, top + y * scale]);
  const apart = Math.hypot(r[0] - l[0], r[1] - l[1]) || 1;
  const along = [(r[0] - l[0]) / apart, (r[1] - l[1]) / apart];
  const reach = Math.max(LEAST, BEYOND * Math.hypot(crown[0] - chin[0], crown[1] - chin[1]));
  return {
    along,
    reach,
    crown: { at: crown, within: face.crown_within * scale },
    eyes: { at: between(l, r), within: 0 },
    chin: { at: chin, within: face.chin_within * scale },
    knobs: { left: l, right: r, chin, crown },
  };
}

export function drawHead(svg, bench) {
  const group = svg.querySelector("[data-part=head]");
  const { head } = bench.view;
  const shown = head && !bench.level.squaring;
  svg.classList.toggle("has-head", Boolean(shown));
  const lens = svg.querySelector("[data-part=lens]");
  if (!bench.level.squaring) lens.style.display = "none";
  if (!shown) return;
  drawChoices(group, head, bench.wholeBox);
  drawPlacing(group, bench);
  const face = bench.head.setting ? null : head.face;
  group.querySelector("[data-part=face]").style.display = face ? "" : "none";
  const name = bench.head.held;
  lens.style.display = face && name && bench.moving ? "inline" : "none";
  if (!face) return;
  const { along, reach, knobs, ...lines } = linesOf(face, bench.wholeBox);
  const turn = (Math.atan2(along[1], along[0]) * 180) / Math.PI;
  for (const key of Object.keys(NAMES)) {
    const { at, within } = lines[key];
    const line = group.querySelector(`[data-head-line=${key}]`);
    put(line, { transform: `translate(${at[0]} ${at[1]}) rotate(${turn})` });
    for (const path of line.querySelectorAll("path")) put(path, { d: `M${-reach} 0H${reach}` });
    put(line.querySelector("rect"), { x: -reach, y: -within, width: 2 * reach, height: 2 * within });
    put(line.querySelector("text"), { x: reach + WORDS - 6, y: 5 });
  }
  for (const [key, [x, y]] of Object.entries(knobs)) {
    put(group.querySelector(`[data-head=${key}]`), { transform: `translate(${x} ${y})` });
  }
  if (name && bench.moving) {
    const n = POINTS.indexOf(name);
    drawLens(svg, face.points[n], knobs[name], bench.view.extent, bench.wholeBox.scale, bench.rooms.whole, true);
  }
}

// Several faces: a box around each, one of which is chosen.
function drawChoices(group, head, { scale, left, top }) {
  const boxes = head.others.map(({ points }, n) => {
    const [, , chin, crown] = points;
    const tall = Math.hypot(chin[0] - crown[0], chin[1] - crown[1]) * scale;
    const [x, y] = between(chin, crown);
    const meant = head.face && String(head.face.points) === String(points);
    return `<g data-face="${n}" class="face-choice${meant ? " is-meant" : ""}" tabindex="0" role="button" aria-label="Face ${n + 1} of ${head.others.length}" aria-pressed="${meant}"
      transform="translate(${left + x * scale} ${top + y * scale})"><rect x="${-0.42 * tall}" y="${-0.56 * tall}" width="${0.84 * tall}" height="${1.12 * tall}" rx="4"/></g>`;
  });
  const written = boxes.join("");
  const part = group.querySelector("[data-part=faces]");
  if (part.dataset.written !== written) {
    part.innerHTML = written;
    part.dataset.written = written;
  }
}

// The points clicked so far.
function drawPlacing(group, bench) {
  const { scale, left, top } = bench.wholeBox;
  const dots = bench.head.placing.map(([x, y]) => `<circle r="6" cx="${left + x * scale}" cy="${top + y * scale}"/>`);
  group.querySelector("[data-part=placing]").innerHTML = dots.join("");
}

// Lines through the piece, and how tall the head is beside it.
export function drawHeadOnPiece(svg, view, box) {
  const group = svg.querySelector("[data-part=head]");
  const points = view.head?.on_piece;
  svg.classList.toggle("has-head", Boolean(points));
  if (!points) return;
  const y = (v) => box.top + v * box.height;
  const [left, right] = [box.left - PAST, box.left + box.width + PAST];
  const [l, r, chin, crown] = points;
  const heights = { crown: y(crown[1]), eyes: y((l[1] + r[1]) / 2), chin: y(chin[1]) };
  for (const [key, at] of Object.entries(heights)) {
    for (const path of group.querySelectorAll(`[data-head-line=${key}] path`)) put(path, { d: `M${left} ${at}H${right}` });
  }
  const x = right + 12;
  put(group.querySelector("[data-part=head-bracket]"), { d: `M${x - 5} ${heights.crown}h10M${x} ${heights.crown}V${heights.chin}M${x - 5} ${heights.chin}h10` });
  const middle = (heights.crown + heights.chin) / 2;
  const [tall, asked] = group.querySelectorAll("text");
  for (const [text, words, at] of [[tall, view.head.height_words, middle], [asked, `asked ${view.head.asked}`, middle + 20]]) {
    if (text.textContent !== words) text.textContent = words;
    put(text, { x: x + 10, y: at });
  }
  group.classList.toggle("is-within", view.head.within);
}
