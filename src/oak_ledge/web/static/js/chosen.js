// Which pieces of a ledge are chosen: one by one, a range with Shift, a whole shelf with Alt.

export function choosing(room) {
  let from = null;
  const boxes = () => [...room.querySelectorAll(".choose")];
  const ids = () => boxes().filter((box) => box.checked).map((box) => Number(box.value));
  // The first chosen stays first: others can be laid like it.
  let order = [];
  const changed = () => {
    const now = new Set(ids());
    order = [...order.filter((id) => now.has(id)), ...[...now].filter((id) => !order.includes(id))];
    return order;
  };
  return {
    ids: changed,
    click(event) {
      const box = event.target.closest(".choose");
      if (!box) return;
      const all = boxes();
      if (event.altKey) {
        for (const one of all) if (one.dataset.shelf === box.dataset.shelf) one.checked = box.checked;
      } else if (event.shiftKey && from && all.includes(from)) {
        const [low, high] = [all.indexOf(from), all.indexOf(box)].sort((a, b) => a - b);
        for (const one of all.slice(low, high + 1)) one.checked = box.checked;
      }
      from = box;
    },
    none() {
      for (const box of boxes()) box.checked = false;
      order = [];
    },
    take(wanted) {
      for (const box of boxes()) box.checked = wanted.includes(Number(box.value));
    },
  };
}
