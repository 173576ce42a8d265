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

// Draws what is brushed so far; `bench.stroke` is the one in hand.
export function drawBrush(bench) {
  const { scale, left, top } = bench.wholeBox;
  const place = `translate(${left} ${top}) scale(${scale})`;
  const strokes = bench.stroke ? [...bench.brushed.strokes, bench.stroke] : bench.brushed.strokes;
  const line = (one) => `<path d="${pathOf(one)}" stroke-width="${2 * one.radius}" stroke="${one.away ? "#000" : "#fff"}" fill="none" stroke-linecap="round" stroke-linejoin="round"/>`;
  const shape = (points) => `<path d="M${points.map(([x, y]) => `${x} ${y}`).join("L")}z" fill="#fff"/>`;
  const texture = bench.tool === "texture";
  const painted = strokes.filter((one) => !one.from);
  const inMask = svgOf(bench, "mask-strokes");
  inMask.innerHTML = bench.brushed.polygons.map(shape).join("") + painted.map(line).join("");
  inMask.setAttribute("transform", place);
  bound(inMask.parentElement, painted, bench.brushed.polygons, bench.wholeBox);
  inMask.style.filter = texture ? `blur(${(bench.brush.soft * bench.brush.radius * scale) / 2}px)` : "";
  const photo = bench.$refs.whole.querySelector("[data-part=photo]");
  for (const name of ["brushed", "texture"]) {
    const shown = svgOf(bench, name);
    shown.style.display = bench.brushing && painted.length + bench.brushed.polygons.length > 0 && (name === "texture") === texture ? "" : "none";
    for (const edge of ["x", "y", "width", "height"]) shown.setAttribute(edge, photo.getAttribute(edge) ?? 0);
  }
  const copied = svgOf(bench, "texture");
  if (texture && bench.copying) {
    const [dx, dy] = bench.copying;
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
  const shown = bench.brushing && bench.brushAt;
  const cursor = svgOf(bench, "brush-cursor");
  cursor.style.display = shown && bench.tool !== "outline" ? "" : "none";
  const spot = svgOf(bench, "brush-spot");
  spot.style.display = bench.tool === "texture" && bench.spot ? "" : "none";
  const outline = svgOf(bench, "brush-outline");
  const points = bench.outlined ?? [];
  outline.style.display = bench.tool === "outline" && points.length ? "" : "none";
  outline.setAttribute("d", points.length ? `M${points.map(([x, y]) => `${left + x * scale} ${top + y * scale}`).join("L")}` : "");
  if (bench.spot && bench.tool === "texture") {
    const [x, y] = bench.copying && bench.brushAt ? [bench.brushAt[0] + bench.copying[0], bench.brushAt[1] + bench.copying[1]] : bench.spot;
    spot.setAttribute("transform", `translate(${left + x * scale} ${top + y * scale})`);
  }
  if (!shown) return;
  const [x, y] = bench.brushAt;
  cursor.setAttribute("cx", left + x * scale);
  cursor.setAttribute("cy", top + y * scale);
  cursor.setAttribute("r", Math.max(2, bench.brush.radius * scale));
}

// The brush follows the pointer also while nothing is pressed.
export function hover(bench, event) {
  if (!bench.brushing) return;
  const { x, y } = pointerOn(bench.$refs.whole, bench.wholeBox, event);
  bench.brushAt = [x, y];
  drawCursor(bench);
}

function stroking(bench, first, kind) {
  const { radius, away } = bench.brush;
  bench.stroke = { points: [first], radius, away: away && kind === "paint", from: kind === "from" };
  drawBrush(bench);
  return bench.stroke;
}

function ended(bench, kind) {
  const { stroke } = bench;
  bench.stroke = null;
  if (!stroke) return;
  bench.addStroke(stroke);
  if (kind === "texture") {
    const { points, radius } = stroke;
    bench.copyTexture({ points, radius }, bench.copying);
  }
}

// Texture needs a spot first; the way from there to where the first stroke begins stays.
function begins(bench, at, kind, event) {
  if (kind !== "texture") return true;
  if (!bench.spot || event?.altKey) {
    bench.spot = at;
    bench.copying = null;
    drawCursor(bench);
    return false;
  }
  bench.copying ??= [bench.spot[0] - at[0], bench.spot[1] - at[1]];
  return true;
}

const brushing = (kind) => ({
  grab(bench, event) {
    const from = pointerOn(bench.$refs.whole, bench.wholeBox, event);
    const first = [from.x, from.y];
    bench.brushAt = first;
    if (!begins(bench, first, kind, event)) return null;
    const stroke = stroking(bench, first, kind);
    const { scale } = bench.wholeBox;
    return Object.assign(
      (dx, dy) => {
        const at = [from.x + dx / scale, from.y + dy / scale];
        bench.brushAt = at;
        if (far(at, stroke.points.at(-1)) >= Math.max(0.5, THIN * stroke.radius)) stroke.points.push(at);
        drawBrush(bench);
        return null;
      },
      {
        freely: true,
        ended: (keep) => {
          if (keep) ended(bench, kind);
          else bench.stroke = null;
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
    const [x, y] = bench.brushAt ?? bench.view.extent.map((edge) => edge / 2);
    const step = Math.abs(dx + dy) > 1 ? 1 : Math.max(1, KEY * bench.brush.radius); // Shift: by one pixel
    bench.brushAt = [x + Math.sign(dx) * step, y + Math.sign(dy) * step];
    drawBrush(bench);
    return true;
  },
  press(bench) {
    bench.brushAt ??= bench.view.extent.map((edge) => edge / 2);
    if (!begins(bench, bench.brushAt, kind, null)) return;
    stroking(bench, bench.brushAt, kind);
    ended(bench, kind);
  },
  cancel(bench) {
    bench.stroke = null;
    bench.dropBrushed();
  },
});

export const paint = brushing("paint");
export const from = brushing("from");
export const texture = brushing("texture");

const CLOSE = 12; // CSS pixels: a click so near to the first point closes

// A shape set point by point.
export const outline = {
  grab(bench, event) {
    const { x, y } = pointerOn(bench.$refs.whole, bench.wholeBox, event);
    this.set(bench, [x, y]);
    return null;
  },
  set(bench, at) {
    const points = bench.outlined ?? [];
    if (points.length > 2 && far(at, points[0]) * bench.wholeBox.scale < CLOSE) {
      bench.outlined = null;
      bench.addPolygon(points);
    } else bench.outlined = [...points, at];
    drawBrush(bench);
  },
  draw(bench) {
    if (bench.tool === "outline") drawBrush(bench);
  },
  keys: (bench, event, by) => paint.keys(bench, event, by),
  press(bench) {
    this.set(bench, bench.brushAt ?? bench.view.extent.map((edge) => edge / 2));
  },
  cancel(bench) {
    bench.outlined = null;
    bench.dropBrushed();
  },
};
