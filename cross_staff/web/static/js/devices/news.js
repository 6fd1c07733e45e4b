// What the instruments say, as it comes; the browser calls again by itself when the line is cut. A browser has few
// lines to one address: a window that nobody looks at gives its own up.
export function listen(hear, lost = () => {}) {
  let source = null;
  const stop = () => { source?.close(); source = null; };
  const start = () => {
    if (source || document.hidden) return;
    source = new EventSource("/devices/live/stream");
    source.addEventListener("message", (event) => hear(JSON.parse(event.data)));
    source.addEventListener("error", lost);
  };
  document.addEventListener("visibilitychange", () => { if (document.hidden) stop(); else start(); });
  window.addEventListener("pagehide", stop);
  window.addEventListener("pageshow", start);
  start();
}

export const aged = (seconds) => (seconds < 2 ? "now" : seconds < 100 ? `${Math.round(seconds)} s ago` : `${Math.round(seconds / 60)} min ago`);
