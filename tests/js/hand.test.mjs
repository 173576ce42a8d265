// The hand, without a browser: drags told as a whole, small gestures gathered.

import assert from "node:assert/strict";
import { test } from "node:test";

import { dragging } from "../../src/oak_ledge/web/static/js/hand/drag.js";
import { gathering } from "../../src/oak_ledge/web/static/js/hand/gather.js";

function pane() {
  const heard = {};
  const classes = new Set();
  return {
    addEventListener: (name, does) => (heard[name] = does),
    classList: { add: (name) => classes.add(name), remove: (name) => classes.delete(name) },
    setPointerCapture() {},
    focus() {},
    classes,
    fire: (name, clientX, clientY, more = {}) =>
      heard[name]({ clientX, clientY, pointerId: 1, button: 0, preventDefault() {}, ...more }),
  };
}

function told() {
  const during = [];
  const kept = [];
  let left = 0;
  return { during, kept, get left() { return left; }, hands: { during: (one) => during.push(one), kept: (one) => kept.push(one), left: () => (left += 1) } };
}

const move = () => (dx, dy) => ({ kind: "move", dx, dy });

test("a drag is told as the sum since it began, and kept once on letting go", () => {
  const svg = pane();
  const seen = told();
  dragging(svg, move, seen.hands);
  svg.fire("pointerdown", 100, 100);
  svg.fire("pointermove", 110, 95);
  svg.fire("pointermove", 130, 90);
  assert.ok(svg.classes.has("is-held"));
  svg.fire("pointerup", 130, 90);
  assert.deepEqual(seen.during, [{ kind: "move", dx: 10, dy: -5 }, { kind: "move", dx: 30, dy: -10 }]);
  assert.deepEqual(seen.kept, [{ kind: "move", dx: 30, dy: -10 }]);
  assert.ok(!svg.classes.has("is-held"));
});

test("Shift holds a drag to its longer axis, unless the gesture goes freely", () => {
  for (const [freely, expected] of [[false, { kind: "move", dx: 30, dy: 0 }], [true, { kind: "move", dx: 30, dy: 9 }]]) {
    const svg = pane();
    const seen = told();
    dragging(svg, () => Object.assign(move(), { freely }), seen.hands);
    svg.fire("pointerdown", 0, 0);
    svg.fire("pointermove", 30, 9, { shiftKey: true });
    assert.deepEqual(seen.during, [expected]);
  }
});

test("a press that moves nothing, a cancelled drag and a second finger keep nothing", () => {
  const svg = pane();
  const seen = told();
  const drag = dragging(svg, move, seen.hands);
  svg.fire("pointerdown", 5, 5);
  svg.fire("pointerup", 5, 5);
  svg.fire("pointerdown", 5, 5);
  svg.fire("pointermove", 9, 9, { pointerId: 2 });
  svg.fire("pointermove", 9, 9);
  assert.ok(drag.busy());
  drag.leave();
  assert.ok(!drag.busy());
  svg.fire("pointerdown", 5, 5, { button: 2 });
  assert.deepEqual([seen.kept, seen.left], [[], 2]);
});

test("held arrows become one nudge, and another gesture settles the one before", async () => {
  const seen = told();
  const small = gathering(seen.hands, 15);
  for (const dx of [1, 1, 10]) small.add({ kind: "nudge", dx, dy: 0 });
  small.add({ kind: "scale", factor: 0.5 });
  small.add({ kind: "scale", factor: 0.5 });
  assert.deepEqual(seen.kept, [{ kind: "nudge", dx: 12, dy: 0 }]);
  await new Promise((resolve) => setTimeout(resolve, 40));
  assert.deepEqual(seen.kept.at(-1), { kind: "scale", factor: 0.25 });
  small.add({ kind: "nudge", dx: 1, dy: 1 });
  small.settle();
  assert.deepEqual(seen.kept.at(-1), { kind: "nudge", dx: 1, dy: 1 });
  assert.equal(seen.kept.length, 3);
});
