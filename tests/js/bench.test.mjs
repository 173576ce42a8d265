// The bench is put together from its registries: a station and a tool of a test's own touch no file but
// their own and one line of each registry.

import assert from "node:assert/strict";
import { cpSync, mkdtempSync, readFileSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { dirname, join } from "node:path";
import { test } from "node:test";
import { fileURLToPath, pathToFileURL } from "node:url";

const SCRIPTS = join(dirname(fileURLToPath(import.meta.url)), "../../src/oak_ledge/web/static/js");

async function bench(change = () => {}) {
  const folder = mkdtempSync(join(tmpdir(), "oak-ledge-js-"));
  cpSync(SCRIPTS, folder, { recursive: true });
  writeFileSync(join(folder, "package.json"), '{"type": "module"}');
  change(folder);
  let factory;
  let begin;
  globalThis.document = {
    addEventListener: (_, does) => (begin = does),
    getElementById: () => ({ textContent: '{"view": {"id": 1, "stations": []}, "file": null}' }),
  };
  globalThis.window = { Alpine: { data: (_, made) => (factory = made) } };
  globalThis.localStorage = { getItem: () => null, setItem() {} };
  await import(pathToFileURL(join(folder, "bench/bench.js")));
  begin();
  return factory();
}

const withLine = (file, path, line, name) => {
  const text = readFileSync(file, "utf8");
  writeFileSync(file, `import { ${name} } from "${path}";\n${text.replace(/export const (\w+) = \{\s/, `export const $1 = { ${line}, `)}`);
};

test("a new station and a new tool are a file and a line each", async () => {
  const made = await bench((folder) => {
    writeFileSync(join(folder, "bench/stations/throwaway.js"), 'export const throwaway = { get word() { return `of ${this.bench.view.id}`; } };\n');
    writeFileSync(join(folder, "bench/tools/throwaway.js"), 'export const throwaway = { grab: (bench, event) => `${bench.view.id} at ${event.x}`, keys: () => true };\n');
    withLine(join(folder, "bench/stations/all.js"), "./throwaway.js", "throwaway", "throwaway");
    withLine(join(folder, "bench/tools/all.js"), "./throwaway.js", "throwaway", "throwaway");
  });
  assert.equal(made.throwaway.word, "of 1");
  made.tool = "throwaway";
  made.wholeBox = { scale: 1 };
  assert.equal(made.grabWhole({ x: 7 }), "1 at 7");
});

test("two parts of one name are refused where the bench is put together", async () => {
  const twice = bench((folder) => {
    writeFileSync(join(folder, "bench/stations/throwaway.js"), "export const going = {};\n");
    withLine(join(folder, "bench/stations/all.js"), "./throwaway.js", "undo: going", "going");
  });
  await assert.rejects(twice, /Two parts of the page are called undo/);
});

test("tries stand at their numbers from first to last, the plain one always fourth", async () => {
  const made = await bench();
  const one = (attempt, state, more) => ({ try: attempt, state, order: null, left_out: false, taken: attempt === 1, seconds: 3, ...more });
  made.station = "Ground";
  made.view = { ...made.view, crop: [], lying: {}, picture: [], photo: { look: "" }, ground: "continued" };
  made.path = "/api/placements/1";
  const plain = { fill: "blur", words: "the photo, blurred" };
  made.tries.set = { of: "Ground", seed: 1, plain, made: 0, list: [one(2, "made", { order: 1 }), one(1, "being made"), one(3, "waiting")] };
  assert.deepEqual(made.tries.tiles.map((tile) => [tile.n, tile.takes]), [[1, 1], [2, 2], [3, 3], [4, 0]]);
  assert.equal(made.tries.tiles[0].wait, "being made, about 3 s");
  assert.equal(made.tries.word, "1 of 3 tries made.");
  const over = [one(3, "made", { order: 1 }), one(1, "made", { order: 2 }), one(2, "made", { left_out: true })];
  const told = () => made.tries.tiles.map((tile) => [tile.n, tile.takes, tile.word]);
  const blurred = [4, 0, "plain: the photo, blurred"];
  made.tries.set = { ...made.tries.set, list: over };
  assert.deepEqual(told(), [[1, 1, "taken"], [3, 3, "best"], blurred]);
  made.tries.set = { ...made.tries.set, list: [...over, one(4, "made", { order: 3 })] };
  assert.deepEqual(told(), [[1, 1, "taken"], [2, 4, ""], [3, 3, "best"], blurred]);
  made.tries.set = { ...made.tries.set, plain: null, list: [one(1, "made", { order: 2 }), one(2, "made", { order: 4 }), one(3, "made", { order: 3 }), one(4, "made", { order: 1 })] };
  assert.deepEqual(told(), [[1, 1, "taken"], [2, 2, ""], [3, 3, ""], [4, 4, "best"]]);
  made.station = "Crop";
  assert.equal(made.tries.tiled, false);
});

test("a stroke of one point is a dot", async () => {
  const { pathOf } = await import(pathToFileURL(join(SCRIPTS, "bench/tools/brush.js")));
  assert.equal(pathOf({ points: [[3, 4]] }), "M3 4L3.01 4");
  assert.equal(pathOf({ points: [[3, 4], [5, 6], [7, 8]] }), "M3 4L5 6L7 8");
});

test("every key is declared once, in a row whose written keys name it", async () => {
  const { KEYS } = await import(pathToFileURL(join(SCRIPTS, "bench/keys.js")));
  const does = KEYS.flatMap((row) => Object.keys(row.does ?? {}).map((key) => [key, row.keys]));
  assert.equal(does.map(([key]) => key).sort().join(""), "+,-.0:;<=>?dfhjklmpqrstw");
  const others = { "=": "+", "-": "−", ":": ".", ">": ".", ";": ",", "<": "," }; // what else is on their keys
  for (const [key, written] of does) assert.ok(written.includes((others[key] ?? key).toUpperCase()), `${key} in ${written}`);
  assert.equal(new Set(KEYS.map((row) => row.keys)).size, KEYS.length);
});

test("numbers take tries where they are shown, else they are the stations", async () => {
  const made = await bench();
  const asked = [];
  made.view = { ...made.view, stations: [{ name: "Photo" }, { name: "Ground" }] };
  Object.defineProperty(made.tries, "tiled", { value: true, writable: true });
  Object.defineProperty(made.tries, "tiles", { value: [{ n: 1 }, null] });
  made.tries.takeNumber = (n) => asked.push(n);
  made.keyDoes({ key: "1" })(made);
  assert.deepEqual(asked, [1]);
  made.keyDoes({ key: "2" })(made);
  assert.equal(made.station, "Ground");
  made.tries.tiled = false;
  made.keyDoes({ key: "1" })(made);
  assert.equal(made.station, "Photo");
  assert.equal(made.keyDoes({ key: "9" }), undefined);
});
