// What writes goes one after the other, in the order in which it was asked for. What goes wrong with
// one is its own: those after it go all the same.
export function inTurn() {
  let last = Promise.resolve();
  return (does) => {
    const now = last.then(does);
    last = now.catch(() => {});
    return now;
  };
}
