// What the instruments say, as it comes; the browser calls again by itself when the line is cut.
export function listen(hear, lost = () => {}) {
  const source = new EventSource("/devices/live/stream");
  source.addEventListener("message", (event) => hear(JSON.parse(event.data).instruments));
  source.addEventListener("error", lost);
  window.addEventListener("pagehide", () => source.close());
}

export const aged = (seconds) => (seconds < 2 ? "now" : seconds < 100 ? `${Math.round(seconds)} s ago` : `${Math.round(seconds / 60)} min ago`);
