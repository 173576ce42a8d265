// A page put together from parts, each of which says what the page holds of it, getters and all.

export function together(core, parts) {
  for (const part of parts) {
    const twice = Object.keys(part).find((name) => name in core);
    if (twice) throw new Error(`Two parts of the page are called ${twice}.`);
    Object.defineProperties(core, Object.getOwnPropertyDescriptors(part));
  }
  return core;
}
