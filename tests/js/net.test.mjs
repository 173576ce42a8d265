// The network side of the pages, without a browser: one queue, the newest wins, one stream a delivery.

import assert from "node:assert/strict";
import { beforeEach, test } from "node:test";

import { ask, bringIn } from "../../src/oak_ledge/web/static/js/net/ask.js";
import { followed, outcome } from "../../src/oak_ledge/web/static/js/net/follow.js";
import { newestWins } from "../../src/oak_ledge/web/static/js/net/newest.js";
import { inTurn } from "../../src/oak_ledge/web/static/js/net/queue.js";

const answer = (status, told) => ({ status, text: async () => JSON.stringify(told) });
const rest = (ms = 1) => new Promise((resolve) => setTimeout(resolve, ms));

let asked;
beforeEach(() => {
  asked = [];
  globalThis.fetch = async (path, options) => {
    asked.push({ path, ...options });
    return answer(200, { path });
  };
});

test("what writes goes in the order in which it was asked for, whatever takes how long", async () => {
  const queue = inTurn();
  const done = [];
  const after = (ms, name) => queue(async () => (await rest(ms), done.push(name), name));
  const all = [after(9, "keep"), after(1, "undo"), after(4, "approve")];
  assert.deepEqual(await Promise.all(all), ["keep", "undo", "approve"]);
  assert.deepEqual(done, ["keep", "undo", "approve"]);
});

test("what goes wrong with one is its own, and the next goes all the same", async () => {
  const queue = inTurn();
  const bad = queue(() => Promise.reject(new Error("no room")));
  const good = queue(async () => "kept");
  await assert.rejects(bad, /no room/);
  assert.equal(await good, "kept");
});

test("of many told while one is on its way only the newest goes, and none of a gesture that is over", async () => {
  const sent = [];
  const shown = [];
  const frames = [];
  globalThis.requestAnimationFrame = (painted) => frames.push(painted);
  let land;
  const tell = newestWins(
    (gesture) => new Promise((resolve) => (sent.push(gesture), (land = () => resolve(gesture)))),
    (told) => shown.push(told),
  );
  for (const n of [1, 2, 3, 4]) tell(n);
  assert.deepEqual(sent, [1]);
  land();
  await rest();
  assert.deepEqual([shown, sent], [[1], [1]]); // what is shown is painted first
  frames.pop()();
  await rest();
  assert.deepEqual(sent, [1, 4]);
  land();
  tell(5);
  for (let n = 0; n < 100 && sent.length < 3; n += 1) await rest(20);
  assert.deepEqual([shown, sent], [[1, 4], [1, 4, 5]]); // a page that is not seen has no frames
  tell.forget();
  land();
  await rest();
  assert.deepEqual(shown, [1, 4]);
});

test("a change outlives the page it was made on, a question does not", async () => {
  await ask("/api/placements/1/gesture", { method: "POST", body: { keep: true } });
  await ask("/api/placements/1");
  assert.deepEqual(asked.map(({ method, keepalive }) => [method, keepalive]), [["POST", true], ["GET", false]]);
  assert.equal(asked[0].body, '{"keep":true}');
  // browsers carry neither a file nor a long body on
  await ask("/api/sizes/outline", { method: "POST", text: new Blob(["<svg/>"]) });
  await ask("/api/sizes/file", { method: "POST", text: "x".repeat(70_000) });
  await ask("/api/x", { method: "POST", body: { points: "x".repeat(70_000) } });
  assert.deepEqual(asked.slice(2).map(({ keepalive }) => keepalive), [false, false, false]);
  assert.ok(asked[2].body instanceof Blob);
});

test("a refusal is an error with the server's words, its status, and what is newer", async () => {
  globalThis.fetch = async () => answer(409, { detail: "changed meanwhile", newer: { step: 4 } });
  await assert.rejects(ask("/api/x"), (error) => {
    assert.deepEqual([error.message, error.status, error.newer], ["changed meanwhile", 409, { step: 4 }]);
    return true;
  });
  globalThis.fetch = async () => Promise.reject(new TypeError("refused"));
  await assert.rejects(ask("/api/x"), /does not answer/);
  globalThis.fetch = async () => ({ status: 200, text: async () => "<html>" });
  assert.match((await ask("/api/x")).detail, /could not be read/);
});

test("photos come in two at a time, each told as soon as it is there", async () => {
  globalThis.FormData = class {
    append(_, file) {
      this.file = file;
    }
  };
  let flying = 0;
  let most = 0;
  globalThis.fetch = async (_, { body }) => {
    most = Math.max(most, ++flying);
    await rest();
    flying -= 1;
    return answer(201, body.file.name === "bad" ? { photos: [], refused: [{ name: "bad" }] } : { photos: [{ id: body.file.name }], refused: [] });
  };
  const came = [];
  const all = await bringIn(["a", "bad", "c", "d"].map((name) => ({ name })), (_, done) => came.push(done));
  assert.deepEqual([all.photos.length, all.refused.length, most, came], [3, 1, 2, [1, 2, 3, 4]]);
});

test("pausing and going on opens no second stream of a delivery", async () => {
  const open = new Set();
  globalThis.EventSource = class {
    constructor(path) {
      this.path = path;
      open.add(this);
    }
    addEventListener(_, told) {
      this.told = told;
    }
    close() {
      open.delete(this);
    }
  };
  const seen = [];
  const delivery = { id: 7, state: "running", counts: {}, files: [] };
  for (let n = 0; n < 8; n += 1) followed(delivery, (now) => seen.push(now.state));
  assert.equal(open.size, 1);
  const last = followed(delivery, (now) => seen.push(now.state));
  const [stream] = open;
  stream.told({ data: JSON.stringify({ ...delivery, state: "paused" }) });
  stream.told({ data: JSON.stringify({ ...delivery, state: "done" }) });
  assert.equal((await last).state, "done");
  assert.deepEqual(seen, ["paused", "done"]);
  assert.equal(open.size, 0);
  assert.equal((await followed({ ...delivery, state: "stopped" }, () => {})).state, "stopped");
  assert.equal(open.size, 0);
});

test("how a delivery went is one line, with the reason of what was not made", () => {
  const files = [{ state: "made" }, { state: "failed", reason: "The disk is full." }];
  assert.equal(outcome({ counts: { made: 1 }, files }), "1 of 2 made and measured as asked. Not made: The disk is full.");
});
