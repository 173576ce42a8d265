// One request in flight at a time, the newest wins: what comes meanwhile replaces what waits. The next
// goes once the answer before has its frame: more than can be painted would only take its time away.
export function newestWins(send, show) {
  let waiting = null;
  let flying = false;
  async function fly() {
    flying = true;
    while (waiting) {
      const asked = waiting;
      waiting = null;
      const answer = await send(asked.gesture);
      if (answer && asked.turn === newest.turn) {
        show(answer);
        await frame();
      }
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

const UNSEEN = 100; // milliseconds: a page that is not seen has no frames

const frame = () =>
  new Promise((done) => {
    requestAnimationFrame(done);
    setTimeout(done, UNSEEN);
  });
