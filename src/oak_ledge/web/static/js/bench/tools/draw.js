// A fresh crop, drawn wherever the hand begins.

export const draw = {
  grab: (bench, event) => bench.grabFresh(event),
  cancel() {},
};
