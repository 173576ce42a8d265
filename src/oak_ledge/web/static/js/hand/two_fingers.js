// Two fingers on a pane: they look nearer, push aside, or turn. What one of them had begun is left.

const APART = 0.08; // of the first distance: then they spread or pinch
const TURNED = 7; // degrees: then they turn

function between(down) {
  const [a, b] = down.values();
  return {
    x: (a.x + b.x) / 2,
    y: (a.y + b.y) / 2,
    apart: Math.max(1, Math.hypot(b.x - a.x, b.y - a.y)),
    angle: (Math.atan2(b.y - a.y, b.x - a.x) * 180) / Math.PI,
  };
}

// `begun()` when the second comes down; then `looked({at, factor, dx, dy})` step by step, or
// `turned(degrees)` since the first; `ended()` when one leaves.
export function twoFingers(svg, { begun, looked, turned, ended }) {
  const down = new Map();
  let [first, last, does] = [null, null, ""];
  svg.addEventListener("pointerdown", (event) => {
    if (event.pointerType !== "touch") return;
    down.set(event.pointerId, { x: event.clientX, y: event.clientY });
    if (down.size !== 2) return;
    first = last = between(down);
    does = "";
    begun();
  });
  svg.addEventListener("pointermove", (event) => {
    if (!down.has(event.pointerId)) return;
    down.set(event.pointerId, { x: event.clientX, y: event.clientY });
    if (down.size !== 2) return;
    const now = between(down);
    const turn = ((now.angle - first.angle + 540) % 360) - 180;
    if (!does && Math.abs(now.apart / first.apart - 1) > APART) does = "looks";
    if (!does && Math.abs(turn) > TURNED) does = "turns";
    if (does === "looks") looked({ at: now, factor: now.apart / last.apart, dx: now.x - last.x, dy: now.y - last.y });
    if (does === "turns") turned(turn - Math.sign(turn) * TURNED);
    last = now;
  });
  const up = (event) => {
    if (!down.delete(event.pointerId) || down.size !== 1) return;
    ended();
  };
  svg.addEventListener("pointerup", up);
  svg.addEventListener("pointercancel", up);
  return { two: () => down.size > 1 };
}
