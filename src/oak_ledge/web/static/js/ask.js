// Talks to the JSON interface; a refusal becomes an Error with the server's own sentence.

export async function ask(path, { method = "GET", body, text, signal } = {}) {
  let answer;
  try {
    answer = await fetch(path, {
      method,
      signal,
      headers: body === undefined ? {} : { "Content-Type": "application/json" },
      body: body === undefined ? text : JSON.stringify(body),
    });
  } catch (problem) {
    if (problem.name === "AbortError") throw problem;
    throw new Error("Oak Ledge does not answer. Start it again, then go on; nothing is lost.");
  }
  return understood(answer.status, await answer.text());
}

// Sends files with progress, which fetch cannot tell.
export function sendFiles(path, files, onProgress) {
  return new Promise((resolve, reject) => {
    const request = new XMLHttpRequest();
    const form = new FormData();
    for (const file of files) form.append("files", file, file.name);
    request.upload.addEventListener("progress", (event) => onProgress(event.loaded / event.total));
    request.addEventListener("error", () => reject(new Error("The photos did not arrive. Try again.")));
    request.addEventListener("load", () => {
      try {
        resolve(understood(request.status, request.responseText));
      } catch (problem) {
        reject(problem);
      }
    });
    request.open("POST", path);
    request.send(form);
  });
}

function understood(status, text) {
  let told = {};
  try {
    told = JSON.parse(text);
  } catch {
    told = { detail: "The answer could not be read. Try again." };
  }
  if (status >= 400) throw Object.assign(new Error(told.detail), { status, at: told.at });
  return told;
}

// One request in flight at a time, the newest wins: what comes meanwhile replaces what waits.
export function newestWins(send, show) {
  let waiting = null;
  let flying = false;
  async function fly() {
    flying = true;
    while (waiting) {
      const asked = waiting;
      waiting = null;
      const answer = await send(asked.gesture);
      if (answer && asked.turn === newest.turn) show(answer);
    }
    flying = false;
  }
  function newest(gesture) {
    waiting = { gesture, turn: newest.turn };
    if (!flying) fly();
  }
  newest.turn = 0;
  // What is still on its way belongs to a gesture that is over: it is not shown any more.
  newest.forget = () => {
    waiting = null;
    newest.turn += 1;
  };
  return newest;
}
