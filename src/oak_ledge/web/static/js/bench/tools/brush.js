// The brush on the photo: what is painted over, where texture is copied to, what alone may be copied.
// What is drawn here is the hand's own picture; the server makes the photo's.

import { pointerOn } from "../panes/panes.js";

const THIN = 0.12; // of the radius: points of a stroke nearer than that are left out
const KEY = 0.5; // of the radius: how far an arrow moves the brush

const svgOf = (bench, name) => bench.$refs.whole.querySelector(`[data-part=${name}]`);
const far = ([x, y], [x1, y1]) => Math.hypot(x - x1, y - y1);

export function pathOf({ points }) {
  const [[x, y]] = points;
  const rest = points.length > 1 ? points.slice(1) : [[x + 0.01, y]];
  return `M${x} ${y}${rest.map(([a, b]) => `L${a} ${b}`).join("")}`;
}

// Draws what is brushed so far; `bench.retouch.stroke` is the one in hand.
export function drawBrush(bench) {
  const { scale, left, top } = bench.wholeBox;
  const place = `translate(${left} ${top}) scale(${scale})`;
  const strokes = bench.retouch.stroke ? [...bench.retouch.brushed.strokes, bench.retouch.stroke] : bench.retouch.brushed.strokes;
  const line = (one) => `<path d="${pathOf(one)}" stroke-width="${2 * one.radius}" stroke="${one.away ? "#000" : "#fff"}" fill="none" stroke-linecap="round" stroke-linejoin="round"/>`;
  const shape = (points) => `<path d="M${points.map(([x, y]) => `${x} ${y}`).join("L")}z" fill="#fff"/>`;
  const texture = bench.tool === "texture";
  const painted = strokes.filter((one) => !one.from);
  const inMask = svgOf(bench, "mask-strokes");
  inMask.innerHTML = bench.retouch.brushed.polygons.map(shape).join("") + painted.map(line).join("");
  inMask.setAttribute("transform", place);
  bound(inMask.parentElement, painted, bench.retouch.brushed.polygons, bench.wholeBox);
  inMask.style.filter = texture ? `blur(${(bench.retouch.brush.soft * bench.retouch.brush.radius * scale) / 2}px)` : "";
  const photo = bench.$refs.whole.querySelector("[data-part=photo]");
  for (const name of ["brushed", "texture"]) {
    const shown = svgOf(bench, name);
    shown.style.display = bench.retouch.brushing && painted.length + bench.retouch.brushed.polygons.length > 0 && (name === "texture") === texture ? "" : "none";
    const around = name === "brushed" ? inMask.parentElement : photo; // beyond the photo, too
    for (const edge of ["x", "y", "width", "height"]) shown.setAttribute(edge, around.getAttribute(edge) ?? 0);
  }
  const copied = svgOf(bench, "texture");
  if (texture && bench.retouch.copying) {
    const [dx, dy] = bench.retouch.copying;
    copied.setAttribute("x", Number(photo.getAttribute("x")) - dx * scale);
    copied.setAttribute("y", Number(photo.getAttribute("y")) - dy * scale);
  }
  const from = svgOf(bench, "taken-from");
  from.innerHTML = strokes.filter((one) => one.from).map((one) => `<path d="${pathOf(one)}" stroke-width="${2 * one.radius}"/>`).join("");
  from.setAttribute("transform", place);
  drawCursor(bench);
}

// A mask costs by its extent: no more of it than is brushed.
function bound(mask, strokes, polygons, { scale, left, top }) {
  const points = [...polygons.flat().map((at) => [at, 0]), ...strokes.flatMap((one) => one.points.map((at) => [at, one.radius]))];
  if (!points.length) return;
  const room = 4 / scale;
  const edge = (give, sign, axis) => give(...points.map(([at, radius]) => at[axis] + sign * (radius + room)));
  const [x, y] = [edge(Math.min, -1, 0), edge(Math.min, -1, 1)];
  const [right, bottom] = [edge(Math.max, 1, 0), edge(Math.max, 1, 1)];
  const box = { x: left + x * scale, y: top + y * scale, width: (right - x) * scale, height: (bottom - y) * scale };
  for (const [name, value] of Object.entries(box)) mask.setAttribute(name, value);
}

function drawCursor(bench) {
  const { scale, left, top } = bench.wholeBox;
  const shown = bench.retouch.brushing && bench.retouch.brushAt;
  const cursor = svgOf(bench, "brush-cursor");
  cursor.style.display = shown && bench.tool !== "outline" ? "" : "none";
  const spot = svgOf(bench, "brush-spot");
  spot.style.display = bench.tool === "texture" && bench.retouch.spot ? "" : "none";
  const outline = svgOf(bench, "brush-outline");
  const points = bench.retouch.outlined ?? [];
  outline.style.display = bench.tool === "outline" && points.length ? "" : "none";
  outline.setAttribute("d", points.length ? `M${points.map(([x, y]) => `${left + x * scale} ${top + y * scale}`).join("L")}` : "");
  if (bench.retouch.spot && bench.tool === "texture") {
    const [x, y] = bench.retouch.copying && bench.retouch.brushAt ? [bench.retouch.brushAt[0] + bench.retouch.copying[0], bench.retouch.brushAt[1] + bench.retouch.copying[1]] : bench.retouch.spot;
    spot.setAttribute("transform", `translate(${left + x * scale} ${top + y * scale})`);
  }
  if (!shown) return;
  const [x, y] = bench.retouch.brushAt;
  cursor.setAttribute("cx", left + x * scale);
  cursor.setAttribute("cy", top + y * scale);
  cursor.setAttribute("r", Math.max(2, bench.retouch.brush.radius * scale));
}

// The brush follows the pointer also while nothing is pressed.
export function hover(bench, event) {
  if (!bench.retouch.brushing) return;
  const { x, y } = pointerOn(bench.$refs.whole, bench.wholeBox, event);
  bench.retouch.brushAt = [x, y];
  drawCursor(bench);
}

function stroking(bench, first, kind) {
  const { radius, away } = bench.retouch.brush;
  bench.retouch.stroke = { points: [first], radius, away: away && (kind === "paint" || kind === "cut"), from: kind === "from" };
  drawBrush(bench);
  return bench.retouch.stroke;
}

function ended(bench, kind) {
  const { stroke } = bench.retouch;
  bench.retouch.stroke = null;
  if (!stroke) return;
  bench.retouch.addStroke(stroke);
  if (kind === "cut") bench.retouch.cutMore(stroke);
  if (kind === "texture") {
    const { points, radius } = stroke;
    bench.retouch.copyTexture({ points, radius }, bench.retouch.copying);
  }
}

// Texture needs a spot first; the way from there to where the first stroke begins stays.
function begins(bench, at, kind, event) {
  if (kind !== "texture") return true;
  if (!bench.retouch.spot || event?.altKey) {
    bench.retouch.spot = at;
    bench.retouch.copying = null;
    drawCursor(bench);
    return false;
  }
  bench.retouch.copying ??= [bench.retouch.spot[0] - at[0], bench.retouch.spot[1] - at[1]];
  return true;
}

const brushing = (kind) => ({
  grab(bench, event) {
    const from = pointerOn(bench.$refs.whole, bench.wholeBox, event);
    const first = [from.x, from.y];
    bench.retouch.brushAt = first;
    if (!begins(bench, first, kind, event)) return null;
    const stroke = stroking(bench, first, kind);
    const { scale } = bench.wholeBox;
    return Object.assign(
      (dx, dy) => {
        const at = [from.x + dx / scale, from.y + dy / scale];
        bench.retouch.brushAt = at;
        if (far(at, stroke.points.at(-1)) >= Math.max(0.5, THIN * stroke.radius)) stroke.points.push(at);
        drawBrush(bench);
        return null;
      },
      {
        freely: true,
        ended: (keep) => {
          if (keep) ended(bench, kind);
          else bench.retouch.stroke = null;
          drawBrush(bench);
        },
      },
    );
  },
  draw(bench) {
    if (bench.tool === kind) drawBrush(bench);
  },
  // Arrows move the brush; Space presses it.
  keys(bench, event, [dx, dy]) {
    const [x, y] = bench.retouch.brushAt ?? bench.view.extent.map((edge) => edge / 2);
    const step = Math.abs(dx + dy) > 1 ? 1 : Math.max(1, KEY * bench.retouch.brush.radius); // Shift: by one pixel
    bench.retouch.brushAt = [x + Math.sign(dx) * step, y + Math.sign(dy) * step];
    drawBrush(bench);
    return true;
  },
  press(bench) {
    bench.retouch.brushAt ??= bench.view.extent.map((edge) => edge / 2);
    if (!begins(bench, bench.retouch.brushAt, kind, null)) return;
    stroking(bench, bench.retouch.brushAt, kind);
    ended(bench, kind);
  },
  cancel(bench) {
    bench.retouch.stroke = null;
    bench.retouch.dropBrushed();
  },
});

export const paint = brushing("paint");
export const from = brushing("from");
export const texture = brushing("texture");
export const cut = brushing("cut");

const CLOSE = 12; // CSS pixels: a click so near to the first point closes

// A shape set point by point.
export const outline = {
  grab(bench, event) {
    const { x, y } = pointerOn(bench.$refs.whole, bench.wholeBox, event);
    this.set(bench, [x, y]);
    return null;
  },
  set(bench, at) {
    const points = bench.retouch.outlined ?? [];
    if (points.length > 2 && far(at, points[0]) * bench.wholeBox.scale < CLOSE) {
      bench.retouch.outlined = null;
      bench.retouch.addPolygon(points);
    } else bench.retouch.outlined = [...points, at];
    drawBrush(bench);
  },
  draw(bench) {
    if (bench.tool === "outline") drawBrush(bench);
  },
  keys: (bench, event, by) => paint.keys(bench, event, by),
  press(bench) {
    this.set(bench, bench.retouch.brushAt ?? bench.view.extent.map((edge) => edge / 2));
  },
  cancel(bench) {
    bench.retouch.outlined = null;
    bench.retouch.dropBrushed();
  },
};
