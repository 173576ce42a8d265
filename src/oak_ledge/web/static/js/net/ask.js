// Talks to the JSON interface; a refusal becomes an Error with the server's own sentence.

const MOST_KEPT_ALIVE = 20_000; // letters: browsers carry on with 64 kB of bytes, and with no file

// `body` is told as JSON; `text`, words or a file, goes as it is.
// What changes something goes on its way also when the page is left at that moment.
export async function ask(path, { method = "GET", body, text, signal } = {}) {
  let answer;
  const sent = body === undefined ? text : JSON.stringify(body);
  try {
    answer = await fetch(path, {
      method,
      signal,
      keepalive: method !== "GET" && (sent ?? "").length < MOST_KEPT_ALIVE, // a file has no length
      headers: body === undefined ? {} : { "Content-Type": "application/json" },
      body: sent,
    });
  } catch (problem) {
    if (problem.name === "AbortError") throw problem;
    throw new Error("Oak Ledge does not answer. Start it again, then go on; nothing is lost.");
  }
  return understood(answer.status, await answer.text());
}

const names = new Intl.Collator(undefined, { numeric: true, sensitivity: "base" });

// Which of two names comes first: p2 before p10, as people count.
export const byName = (one, other) => names.compare(one, other);

const LANES = 2; // photos on their way at once: as many as are drawn at once

// Brings photos in one by one, so that each is there as soon as it can be: `came` is told what was
// taken in or refused, and how many have come. Gives all of it.
export async function bringIn(files, came) {
  const all = { photos: [], refused: [] };
  const waiting = [...files].sort((one, other) => byName(one.name, other.name));
  let done = 0;
  const lane = async () => {
    for (let file = waiting.shift(); file; file = waiting.shift()) {
      const form = new FormData();
      form.append("files", file, file.name);
      const answer = await fetch("/api/photos", { method: "POST", body: form }).catch(() => null);
      if (!answer) throw new Error("The photos did not all arrive. Those shown here are safe; bring in the others again.");
      const taken = understood(answer.status, await answer.text());
      all.photos.push(...taken.photos);
      all.refused.push(...taken.refused);
      done += 1;
      await came(taken, done);
    }
  };
  await Promise.all(Array.from({ length: LANES }, lane));
  return all;
}

// A picture that an answer is, as an address for an image: to be revoked when it is no longer shown.
export async function askPicture(path, body) {
  const headers = { "Content-Type": "application/json" };
  const answer = await fetch(path, { method: "POST", headers, body: JSON.stringify(body) });
  if (!answer.ok) return null;
  return URL.createObjectURL(await answer.blob());
}

function understood(status, text) {
  let content = {};
  try {
    content = JSON.parse(text);
  } catch {
    content = { detail: "The answer could not be read. Try again." };
  }
  if (status >= 400) throw Object.assign(new Error(content.detail), { status, at: content.at, newer: content.newer });
  return content;
}
