// A page put together from parts: some are the page itself, others have names of their own in it.

// What the page itself holds, getters and all.
export function together(core, parts) {
  for (const part of parts) {
    const twice = Object.keys(part).find((name) => name in core);
    if (twice) throw new Error(`Two parts of the page are called ${twice}.`);
    Object.defineProperties(core, Object.getOwnPropertyDescriptors(part));
  }
  return core;
}

// Parts by their names: each is the page's own copy, and knows the page as its `bench`.
export function named(core, parts) {
  for (const [name, part] of Object.entries(parts)) {
    if (name in core) throw new Error(`Two parts of the page are called ${name}.`);
    core[name] = Object.defineProperties({}, Object.getOwnPropertyDescriptors(part));
    Object.defineProperty(core[name], "bench", { value: core, writable: true });
  }
  return core;
}
