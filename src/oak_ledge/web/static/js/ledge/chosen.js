// Which pieces of a ledge are chosen: one by one, a range with Shift, a whole shelf with Alt, or all
// that are shown, those too whose shelves have not come yet.

export function choosing(room) {
  let from = null;
  let ids = []; // in the order they were chosen: others can be laid like the first
  const boxes = () => [...room.querySelectorAll(".choose")];
  const put = (box, checked) => {
    const id = Number(box.value);
    box.checked = checked;
    ids = checked ? [...ids.filter((one) => one !== id), id] : ids.filter((one) => one !== id);
  };
  return {
    ids: () => ids,
    click(event) {
      const box = event.target.closest(".choose");
      if (!box) return;
      const all = boxes();
      let these = [box];
      if (event.altKey) these = all.filter((one) => one.dataset.shelf === box.dataset.shelf);
      else if (event.shiftKey && all.includes(from)) {
        const [low, high] = [all.indexOf(from), all.indexOf(box)].sort((a, b) => a - b);
        these = all.slice(low, high + 1);
      }
      for (const one of these) if (one === box || one.checked !== box.checked) put(one, box.checked);
      from = box;
    },
    take(wanted) {
      ids = [...wanted];
      this.mark();
    },
    // Boxes that came anew show what is chosen.
    mark() {
      const now = new Set(ids);
      for (const box of boxes()) box.checked = now.has(Number(box.value));
    },
  };
}
