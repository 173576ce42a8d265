// Deliveries followed while they are made.

// Streams of deliveries that are open, one at most for each: a browser opens six to a server, and
// then waits.
const streams = new Map();

// Follows a delivery until it is done or stopped; `told` sees it each time something changed. Who
// followed it before on this page is told no more.
export function followed(delivery, tell) {
  return new Promise((resolve) => {
    const over = (one) => one.state === "done" || one.state === "stopped";
    streams.get(delivery.id)?.close();
    streams.delete(delivery.id);
    if (over(delivery)) return resolve(delivery);
    const events = new EventSource(`/api/deliveries/${delivery.id}/events`);
    streams.set(delivery.id, events);
    events.addEventListener("message", (event) => {
      const now = JSON.parse(event.data);
      tell(now);
      if (!over(now)) return;
      events.close();
      streams.delete(delivery.id);
      resolve(now);
    });
    return undefined;
  });
}

// How a delivery that is over went, in one line.
export function outcome(delivery) {
  const { counts, files } = delivery;
  const bad = files.find((file) => file.state !== "made");
  return `${counts.made ?? 0} of ${files.length} made and measured as asked.${bad ? ` Not made: ${bad.reason}` : ""}`;
}
