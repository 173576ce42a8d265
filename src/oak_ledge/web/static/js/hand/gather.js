// Gathers repeated small gestures (held arrow keys, wheel) into one: told while they come, kept
// once they rest.
export function gathering({ during, kept }, rest = 350) {
  let sum = null;
  let timer = 0;
  const settle = () => {
    clearTimeout(timer);
    const last = sum;
    sum = null;
    return last ? kept(last) : Promise.resolve();
  };
  const add = (gesture) => {
    if (sum && sum.kind === gesture.kind) {
      sum =
        gesture.kind === "nudge"
          ? { ...gesture, dx: sum.dx + gesture.dx, dy: sum.dy + gesture.dy }
          : { ...gesture, factor: sum.factor * gesture.factor };
    } else {
      if (sum) settle();
      sum = gesture;
    }
    during(sum);
    clearTimeout(timer);
    timer = setTimeout(settle, rest);
  };
  return { add, settle };
}
