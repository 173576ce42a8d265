// Turns pointers into gestures. A drag is told as a whole since it began, in photo or output pixels.

// `start(event)` gives null or a function (dx, dy, event) → gesture, dx and dy in CSS pixels. It may
// carry `freely`, where Shift holds no axis, and `ended(keep)`, where it ends in another way.
export function dragging(svg, start, { during, kept, left }) {
  let drag = null;
  svg.addEventListener("pointerdown", (event) => {
    if (event.button !== 0 || drag || event.isPrimary === false) return;
    const gesture = start(event);
    if (!gesture) return;
    drag = { gesture, id: event.pointerId, x: event.clientX, y: event.clientY, last: null };
    svg.setPointerCapture(event.pointerId);
    svg.classList.add("is-held");
    svg.focus({ preventScroll: true });
    event.preventDefault();
  });
  svg.addEventListener("pointermove", (event) => {
    if (!drag || event.pointerId !== drag.id) return;
    let dx = event.clientX - drag.x;
    let dy = event.clientY - drag.y;
    if (event.shiftKey && !drag.gesture.freely) {
      if (Math.abs(dx) > Math.abs(dy)) dy = 0;
      else dx = 0;
    }
    drag.last = drag.gesture(dx, dy, event);
    if (drag.last) during(drag.last); // what is only drawn is told once it is let go, by `ended`
  });
  const end = (event, keep) => {
    if (!drag || (event && event.pointerId !== drag.id)) return;
    const { last, gesture } = drag;
    drag = null;
    svg.classList.remove("is-held");
    if (gesture.ended) gesture.ended(keep);
    else if (keep && last) kept(last);
    else left();
  };
  svg.addEventListener("pointerup", (event) => end(event, true));
  svg.addEventListener("pointercancel", (event) => end(event, false));
  return { leave: () => end(null, false), busy: () => drag !== null };
}
