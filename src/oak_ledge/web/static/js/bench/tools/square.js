// Four corners set on something seen at an angle.

export const square = {
  grab(bench, event) {
    const name = event.target.closest("[data-square]")?.dataset.square;
    return name ? bench.level.grabCorner(name) : null;
  },
  // Arrows move the corner that has the focus.
  keys(bench, event, [dx, dy]) {
    const name = event.target.closest("[data-square]")?.dataset.square;
    if (name) bench.level.nudgeCorner(name, dx, dy);
    return Boolean(name);
  },
};
