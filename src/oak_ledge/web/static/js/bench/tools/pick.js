// A colour picked from the photo, by one press.

export const pick = {
  grab(bench, event) {
    bench.ground.pick(event);
    return null;
  },
};
