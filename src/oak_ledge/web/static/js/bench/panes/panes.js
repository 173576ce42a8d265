// Draws the two panes of the bench from the server's figures, in CSS pixels. Decides nothing.
// `room` is a pane's extent, measured when it changes: to ask while drawing costs a layout each time.

const BESIDE = 84; // CSS pixels beside a piece for the figures of its head
const TOP = 44; // CSS pixels above what stands in a pane: its name lies there, and a grip is in reach

const part = (svg, name) => svg.querySelector(`[data-part=${name}]`);

// What is set is styled and painted anew, even where it is as it was: only what changed is set.
export function put(element, attributes) {
  for (const [name, value] of Object.entries(attributes)) {
    const written = typeof value === "number" ? value.toFixed(2) : value;
    if (element.getAttribute(name) !== written) element.setAttribute(name, written);
  }
}

function letter(text, words) {
  if (text.textContent !== words) text.textContent = words;
}

// A box of the given shape, as large as fits, standing on the ledge.
function standing(width, height, roomWide, roomHigh, left, top, most = Infinity) {
  const scale = Math.min(roomWide / width, roomHigh / height, most);
  return {
    scale,
    left: left + (roomWide - width * scale) / 2,
    top: top + roomHigh - height * scale,
    width: width * scale,
    height: height * scale,
  };
}

export const FIT = { z: 1, x: 0, y: 0 };

// A box as it is looked at: zoomed, and pushed aside.
function looked(box, { z, x, y }) {
  return { scale: box.scale * z, left: box.left * z + x, top: box.top * z + y, width: box.width * z, height: box.height * z };
}

// The view that is nearer by a factor, the point under the pointer staying where it is.
export function nearer({ z, x, y }, factor, at) {
  const next = Math.max(1, z * factor);
  const f = next / z;
  return next === 1 ? FIT : { z: next, x: f * x + at.x * (1 - f), y: f * y + at.y * (1 - f) };
}

// A point of the crop's own frame, as shares of it, on the photo: turned about the crop's middle.
export function onPhoto(view, u, v) {
  const [left, top, width, height] = view.crop;
  const turn = (view.placement.angle * Math.PI) / 180;
  const dx = (u - 0.5) * width;
  const dy = (v - 0.5) * height;
  return {
    x: left + width / 2 + Math.cos(turn) * dx - Math.sin(turn) * dy,
    y: top + height / 2 + Math.sin(turn) * dx + Math.cos(turn) * dy,
  };
}

export const CORNERS = { nw: [0, 0], ne: [1, 0], se: [1, 1], sw: [0, 1] };
const EDGES = { n: ["nw", "ne"], e: ["ne", "se"], s: ["se", "sw"], w: ["sw", "nw"] };

// The middle of a corner or an edge of the crop, on the photo.
export function handleAt(view, name) {
  const ends = (EDGES[name] ?? [name]).map((corner) => CORNERS[corner]);
  const u = ends.reduce((sum, end) => sum + end[0], 0) / ends.length;
  const v = ends.reduce((sum, end) => sum + end[1], 0) / ends.length;
  return onPhoto(view, u, v);
}

// How far a crop about `middle` is turned whose foot points to a place of the photo, in degrees clockwise.
export const angleUnder = (middle, { x, y }) => (Math.atan2(middle.x - x, y - middle.y) * 180) / Math.PI;

// Whether a place lies within a convex outline, clockwise.
export function isWithin(outline, { x, y }) {
  return outline.every(([ax, ay], n) => {
    const [bx, by] = outline[(n + 1) % outline.length];
    return (bx - ax) * (y - ay) - (by - ay) * (x - ax) >= 0;
  });
}

// Where the pointer is, in photo pixels.
export function pointerOn(svg, box, event) {
  const pane = svg.getBoundingClientRect();
  return {
    x: (event.clientX - pane.left - box.left) / box.scale,
    y: (event.clientY - pane.top - box.top) / box.scale,
  };
}

// The unit square, laid over a rectangle.
const over = (rect) => `translate(${rect.x} ${rect.y}) scale(${rect.width} ${rect.height})`;

const groundFill = (view) => {
  if (view.ground === "clear") return "none";
  return view.ground.startsWith("#") ? view.ground : "url(#from-photo)";
};

// The photo as it is turned, four corners on it, and a lens at the one in hand.
export function drawSquare(svg, quad, photo, lens, { room, zoom }) {
  const { wide, high } = room;
  const all = looked(standing(photo[0], photo[1], wide - 48, high - TOP - 22, 24, TOP), zoom);
  const { scale } = all;
  const box = { scale, left: all.left, top: all.top };
  put(part(svg, "photo"), { x: all.left, y: all.top, width: all.width, height: all.height });
  const at = quad.map(([x, y]) => ({ x: all.left + x * scale, y: all.top + y * scale }));
  put(part(svg, "quad"), { d: `M${at.map((one) => `${one.x} ${one.y}`).join("L")}z` });
  Object.keys(CORNERS).forEach((name, n) => {
    put(svg.querySelector(`[data-square=${name}]`), { transform: `translate(${at[n].x} ${at[n].y})` });
  });
  const glass = part(svg, "lens");
  const n = Object.keys(CORNERS).indexOf(lens);
  glass.style.display = n < 0 ? "none" : "inline";
  if (n >= 0) drawLens(svg, quad[n], [at[n].x, at[n].y], photo, scale, room);
  return box;
}

// A lens beside a point of the photo, where it lies in the pane: four times as near. With `aside` it stands at
// the pane's edge, so that nothing about the point is hidden.
export function drawLens(svg, [x, y], [paneX, paneY], photo, scale, { wide, high }, aside = false) {
  const glass = part(svg, "lens");
  const seen = LENS / (LENS_SCALE * (aside ? scale : Math.max(scale, 0.5)));
  const beside = paneX > wide / 2 ? paneX - LENS - 24 : paneX + 24;
  put(glass, {
    x: aside ? LENS_EDGE : beside,
    y: paneY > high / 2 ? paneY - LENS - 24 : paneY + 24,
    viewBox: `${x - seen / 2} ${y - seen / 2} ${seen} ${seen}`,
  });
  put(part(svg, "lens-photo"), { x: 0, y: 0, width: photo[0], height: photo[1] });
  for (const name of ["lens-back", "lens-rim"]) {
    put(part(svg, name), { x: x - seen / 2, y: y - seen / 2, width: seen, height: seen });
  }
  put(part(svg, "lens-cross"), { d: `M${x - seen} ${y}H${x + seen}M${x} ${y - seen}V${y + seen}` });
}

const LENS_EDGE = 12; // CSS pixels from the pane's edge
const LENS = 110; // CSS pixels of its edge
const LENS_SCALE = 4; // how much larger it shows than the pane

// The upright box around points.
function boxAround(points) {
  const x = Math.min(...points.map((at) => at.x));
  const y = Math.min(...points.map((at) => at.y));
  const right = Math.max(...points.map((at) => at.x));
  const bottom = Math.max(...points.map((at) => at.y));
  return { x, y, width: right - x, height: bottom - y };
}

const outlineOf = (view) => view.outline.map(([x, y]) => ({ x, y }));

// All that the left pane must show: the photo, and the crop where it reaches beyond.
export function extentOf(view) {
  return boxAround([...outlineOf(view), ...Object.values(CORNERS).map(([u, v]) => onPhoto(view, u, v))]);
}

// Whole photo: gives the scale, CSS pixels per photo pixel, and the photo's corner.
// At one scale with the piece beside it, the photo is no larger than lets that piece stand, too.
export function drawWhole(svg, view, extent, { room, zoom, alike }) {
  const { wide, high } = room;
  const most = alike ? Math.min((wide - 130) / view.crop[2], (high - TOP - 34) / view.crop[3]) : Infinity;
  const all = looked(standing(extent.width, extent.height, wide - 16, high - TOP, 8, TOP, most), zoom);
  const { scale } = all;
  const box = { scale, left: all.left - extent.x * scale, top: all.top - extent.y * scale };
  const sheet = boxAround(outlineOf(view));
  const [left, top, width, height] = view.crop;
  const crop = {
    x: box.left + left * box.scale,
    y: box.top + top * box.scale,
    width: width * box.scale,
    height: height * box.scale,
  };
  const photo = {
    x: box.left + sheet.x * scale,
    y: box.top + sheet.y * scale,
    width: sheet.width * scale,
    height: sheet.height * scale,
  };
  const end = { x: photo.x + photo.width, y: photo.y + photo.height };
  const right = crop.x + crop.width;
  const bottom = crop.y + crop.height;
  const transform = `rotate(${view.placement.angle} ${crop.x + crop.width / 2} ${crop.y + crop.height / 2})`;
  put(part(svg, "photo"), photo);
  // A clip costs a third of a frame; only a squared plane, or a crop beyond the photo, needs one.
  svg.classList.toggle("is-window", view.window);
  svg.classList.toggle("is-cut", view.lying.corners !== null || view.uncovered > 0);
  const around = view.outline.map(([x, y]) => `${box.left + x * scale} ${box.top + y * scale}`);
  for (const name of ["clip", "photo-edge"]) put(part(svg, name), { d: `M${around.join("L")}z` });
  put(part(svg, "ground"), { ...crop, transform, fill: groundFill(view) });
  put(part(svg, "ground-picture"), { ...crop, transform });
  put(part(svg, "edge"), { ...crop, transform });
  put(part(svg, "crop"), { ...crop, transform });
  put(part(svg, "lines"), { transform: `${transform} ${over(crop)}` });
  put(part(svg, "cut-edge"), { d: view.edge, transform: `${transform} ${over(crop)}` });
  put(part(svg, "joints"), { d: view.joints, transform: `${transform} ${over(crop)}` });
  for (const [name, [from, to]] of Object.entries(EDGES)) {
    const ends = [CORNERS[from], CORNERS[to]].map(([u, v]) => onPhoto(view, u, v));
    const [a, b] = ends.map((at) => ({ x: box.left + at.x * scale, y: box.top + at.y * scale }));
    const side = svg.querySelector(`[data-at=${name}]`);
    put(side.firstElementChild, { x1: a.x, y1: a.y, x2: b.x, y2: b.y });
    const turn = view.placement.angle + (name === "e" || name === "w" ? 90 : 0);
    put(side.lastElementChild, { transform: `translate(${(a.x + b.x) / 2} ${(a.y + b.y) / 2}) rotate(${turn})` });
  }
  drawPlumb(svg, view, box);
  const corners = Object.entries(CORNERS).map(([name, [u, v]]) => {
    const at = onPhoto(view, u, v);
    const x = box.left + at.x * scale;
    const y = box.top + at.y * scale;
    put(svg.querySelector(`[data-at=${name}]`), { transform: `translate(${x.toFixed(2)} ${y.toFixed(2)})` });
    return `${x} ${y}`;
  });
  put(part(svg, "shade"), { d: `${outline(photo.x, photo.y, photo.width, photo.height)}M${corners.join("L")}z` });
  const middle = { x: crop.x + crop.width / 2, y: crop.y + crop.height / 2 };
  const sides = view.trimmed_sides;
  side(svg, "left", sides.left, (photo.x + crop.x) / 2, middle.y + 5, crop.x - photo.x);
  side(svg, "right", sides.right, (right + end.x) / 2, middle.y + 5, end.x - right);
  side(svg, "top", sides.top, middle.x, (photo.y + crop.y) / 2 + 5, 2 * (crop.y - photo.y));
  side(svg, "bottom", sides.bottom, middle.x - 36, (bottom + end.y) / 2 + 5, 2 * (end.y - bottom)); // beside the plumb line
  return box;
}

// The handle that turns: a line with a bob below the middle of the crop's foot, the angle beside it.
function drawPlumb(svg, view, { scale, left, top }) {
  const { x, y } = handleAt(view, "s");
  const { angle } = view.placement;
  const at = `translate(${left + x * scale} ${top + y * scale})`;
  put(part(svg, "plumb"), { transform: `${at} rotate(${angle})` });
  put(part(svg, "plumb-angle"), { transform: `${at} rotate(${angle}) translate(14 24) rotate(${-angle})` });
  letter(part(svg, "plumb-angle"), angle ? `${Number(angle.toFixed(2))}°` : "");
}

const outline = (x, y, width, height) => `M${x} ${y}h${width}v${height}h${-width}z`;

function side(svg, name, share, x, y, room) {
  const text = svg.querySelector(`[data-side=${name}]`);
  letter(text, room >= 38 ? `${Math.round(share * 100)} %` : "");
  put(text, { x, y });
}

// The piece in the proportions it is seen in: gives the scales, CSS pixels per output pixel.
// Framed, the whole of it stands on the ledge, moulding and mat over what they hide; at the photo's
// scale it is as large as its crop on the whole photo: `widest`, in CSS pixels.
export function drawPiece(svg, view, lengths, { framed, widest, exactly, room, zoom }) {
  const { wide, high } = room;
  const hung = framed ? view.hung : null;
  const [around, below] = hung ? hung.frame : [1, 1];
  const own = view.picture[0] / view.face[0] / devicePixelRatio; // its pixels one to one of the screen's
  const [x, y, wideShare, highShare] = view.inner; // where the picture lies on its print
  const [printWide, printHigh] = [view.face[0] / wideShare, view.face[1] / highShare];
  const fitting = standing(printWide * around, printHigh * below, wide - 130 - (view.head?.on_piece ? BESIDE : 0), high - TOP - 34, 80, TOP, Math.min(widest / view.face[0], own));
  const printed = printWide * (1 - 2 * (view.insets?.[0][0] ?? 0));
  const whole = looked(exactly ? enlarged(fitting, exactly / printed / fitting.scale, wide, high) : fitting, zoom);
  const paper = about(whole, 1 / around, 1 / below);
  const box = { left: paper.left + x * paper.width, top: paper.top + y * paper.height, width: wideShare * paper.width, height: highShare * paper.height };
  const frame = { x: box.left, y: box.top, width: box.width, height: box.height };
  const across = box.width / view.crop[2];
  const along = box.height / view.crop[3];
  const out = { x: whole.left, y: whole.top, width: whole.width, height: whole.height };
  put(part(svg, "cast"), { ...out, x: whole.left + 3, y: whole.top + 4, opacity: (view.edge && !view.outside) || view.ground === "clear" ? "0" : "1" });
  put(part(svg, "rim"), { opacity: view.edge && !view.outside ? "0" : "1" });
  put(part(svg, "window"), { ...frame, viewBox: `0 0 ${box.width} ${box.height}` });
  put(part(svg, "ground"), { x: 0, y: 0, width: box.width, height: box.height, fill: groundFill(view) });
  put(part(svg, "lines"), { transform: over(frame) });
  put(part(svg, "cut-edge"), { d: view.edge, transform: over(frame) });
  put(part(svg, "joints"), { d: view.joints, transform: over(frame) });
  put(part(svg, "outside"), { d: view.edge && `M0 0h1v1h-1z${view.edge}`, transform: over(frame) });
  part(svg, "outside").style.fill = view.outside;
  fold(svg, view, frame);
  const sheet = boxAround(outlineOf(view));
  put(part(svg, "under"), {
    x: (sheet.x - view.crop[0]) * across,
    y: (sheet.y - view.crop[1]) * along,
    width: sheet.width * across,
    height: sheet.height * along,
    transform: `rotate(${-view.placement.angle} ${box.width / 2} ${box.height / 2})`,
  });
  put(part(svg, "fine"), { x: 0, y: 0, width: box.width, height: box.height });
  part(svg, "fine").style.clipPath = view.ground === "clear" ? photoIn(view) : "";
  put(part(svg, "paper"), { d: view.paper && rect(paper) + rect(box), fill: view.paper });
  gripBorder(svg, box, view.paper && !hung);
  put(part(svg, "rim"), { x: paper.left, y: paper.top, width: paper.width, height: paper.height });
  const [print, seen] = view.insets ?? [null, null];
  put(part(svg, "print"), { d: hung ? "" : inner(frame, print) });
  const seenPath = view.hung?.round ? ovalIn : inner;
  put(part(svg, "seen"), { d: hung ? "" : seenPath(frame, seen) });
  const taken = seen && !hung && Math.max(...seen) > 0;
  put(part(svg, "taken"), { d: taken ? outline(frame.x, frame.y, frame.width, frame.height) + seenPath(frame, seen) : swallowed(view.panels, box) });
  const sight = hung && about(paper, ...hung.sight);
  const window = hung?.window && about(paper, ...hung.window);
  put(part(svg, "mat"), { d: window ? rect(sight) + (hung.round ? oval(window) : rect(window)) : "" });
  put(part(svg, "moulding"), { d: hung ? rect(whole) + rect(sight) : "" });
  const low = whole.top + whole.height + 16;
  const away = whole.left - 16;
  const edge = print ? [frame.width * print[0], frame.height * print[1]] : [0, 0];
  put(part(svg, "across"), { d: ruler(paper.left + edge[0], low, paper.width - 2 * edge[0], 0) });
  put(part(svg, "along"), { d: ruler(away, paper.top + edge[1], 0, paper.height - 2 * edge[1]) });
  put(part(svg, "width"), { x: paper.left + paper.width / 2, y: low + 5 });
  put(part(svg, "height"), { x: away + 4, y: paper.top + paper.height / 2 + 5 });
  letter(part(svg, "width"), lengths[0]);
  letter(part(svg, "height"), lengths[1]);
  return { ...box, across: box.width / view.picture[0], along: box.height / view.picture[1] };
}

// The sides a canvas is turned over by, folded back to the right and below: as far as each is wide.
function fold(svg, view, { x, y, width, height }) {
  part(svg, "folded").style.display = view.sides ? "" : "none";
  if (!view.sides) return;
  const [wide, high] = [view.sides[0] * width, view.sides[1] * height];
  const whole = { width: width + 2 * wide, height: height + 2 * high };
  const sides = [
    ["fold-right", `matrix(.7 .35 0 1 ${x + width} ${y})`, wide, height, -(wide + width), -high],
    ["fold-below", `matrix(1 0 .7 .35 ${x} ${y + height})`, width, high, -wide, -(high + height)],
  ];
  for (const [name, transform, across, along, left, top] of sides) {
    const side = part(svg, name);
    put(side, { transform });
    put(side.firstElementChild, { width: across, height: along, viewBox: `0 0 ${across} ${along}` });
    put(side.querySelector("image"), { x: left, y: top, ...whole });
    put(side.lastElementChild, { width: across, height: along });
  }
}

// A box at a scale of its own: on the ledge where it fits, else about the pane's middle.
function enlarged(box, times, wide, high) {
  const width = box.width * times;
  const height = box.height * times;
  const foot = box.top + box.height;
  const top = height < foot ? foot - height : (high - height) / 2;
  return { scale: box.scale * times, left: Math.max((wide - width) / 2, box.left + (box.width - width) / 2), top, width, height };
}

// A rectangle about the same middle, so many times as wide and high.
function about(box, wide, high) {
  const width = box.width * wide;
  const height = box.height * high;
  return { left: box.left + (box.width - width) / 2, top: box.top + (box.height - height) / 2, width, height };
}

// The photo's own edge within its crop, as CSS clips to it: what lies beyond is clear.
function photoIn({ outline, crop: [left, top, width, height], placement: { angle } }) {
  const turn = (-angle * Math.PI) / 180;
  const [cos, sin] = [Math.cos(turn), Math.sin(turn)];
  const points = outline.map(([x, y]) => {
    const [dx, dy] = [x - left - width / 2, y - top - height / 2];
    return `${50 + (100 * (dx * cos - dy * sin)) / width}% ${50 + (100 * (dx * sin + dy * cos)) / height}%`;
  });
  return `polygon(${points.join(",")}) fill-box`;
}

// A grip on each edge of the picture that has a border; none where there is none.
function gripBorder(svg, { left, top, width, height }, there) {
  part(svg, "border-grips").style.display = there ? "" : "none";
  if (!there) return;
  const edges = {
    top: [left + width / 2, top, width, 0],
    bottom: [left + width / 2, top + height, width, 0],
    left: [left, top + height / 2, height, 90],
    right: [left + width, top + height / 2, height, 90],
  };
  for (const [edge, [x, y, long, turn]] of Object.entries(edges)) {
    const grip = svg.querySelector(`[data-border=${edge}]`);
    put(grip, { transform: `translate(${x.toFixed(2)} ${y.toFixed(2)}) rotate(${turn})` });
    put(grip.querySelector("line"), { x1: -long / 2, x2: long / 2 });
  }
}

// What lies between panels that hang apart, and is not printed; nothing where they touch or overlap.
function swallowed(panels, box) {
  const printed = panels.reduce((sum, [, , wide, high]) => sum + wide * high, 0);
  if (panels.length < 2 || printed > 0.9999) return "";
  const each = ([x, y, wide, high]) =>
    rect({ left: box.left + x * box.width, top: box.top + y * box.height, width: wide * box.width, height: high * box.height });
  return rect(box) + panels.map(each).join("");
}

const rect = (box) => outline(box.left, box.top, box.width, box.height);

const oval = ({ left, top, width, height }) =>
  `M${left} ${top + height / 2}a${width / 2} ${height / 2} 0 1 0 ${width} 0a${width / 2} ${height / 2} 0 1 0 ${-width} 0z`;

// A rectangle inside a frame, its edges so many shares in; nothing where there is none.
function inner(frame, shares) {
  if (!shares || Math.max(...shares) === 0) return "";
  const x = frame.width * shares[0];
  const y = frame.height * shares[1];
  return outline(frame.x + x, frame.y + y, frame.width - 2 * x, frame.height - 2 * y);
}

// The same, round.
function ovalIn(frame, shares) {
  if (!shares || Math.max(...shares) === 0) return "";
  const [x, y] = [frame.width * shares[0], frame.height * shares[1]];
  return oval({ left: frame.x + x, top: frame.y + y, width: frame.width - 2 * x, height: frame.height - 2 * y });
}

// A measuring line with a foot at each end.
function ruler(x, y, across, along) {
  return across
    ? `M${x} ${y - 5}v10M${x} ${y}h${across}M${x + across} ${y - 5}v10`
    : `M${x - 5} ${y}h10M${x} ${y}v${along}M${x - 5} ${y + along}h10`;
}
