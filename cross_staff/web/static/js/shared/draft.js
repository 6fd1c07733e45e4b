// A form that bears data-draft is kept on the server as it is typed; Enter goes on to its next field.
const WAIT_MS = 250;
const timers = new WeakMap(), onTheWay = new WeakMap();
const drafted = (element) => element?.closest?.("form[data-draft]") ?? null;
const fields = (form) => new URLSearchParams([...new FormData(form)].filter(([, value]) => typeof value === "string"));

function keep(form, leaving = false) {
  clearTimeout(timers.get(form));
  timers.delete(form);
  if (leaving && navigator.sendBeacon(form.dataset.draft, fields(form))) return;
  onTheWay.get(form)?.abort();
  const sent = new AbortController();
  onTheWay.set(form, sent);
  fetch(form.dataset.draft, { method: "POST", body: fields(form), signal: sent.signal })
    .catch(() => { /* it stays in the form */ })
    .finally(() => { if (onTheWay.get(form) === sent) onTheWay.delete(form); });
}
function typed(event) {
  const form = drafted(event.target);
  if (!form) return;
  clearTimeout(timers.get(form));
  timers.set(form, setTimeout(() => keep(form), WAIT_MS));
}
document.addEventListener("input", typed);
document.addEventListener("change", typed);
document.addEventListener("submit", (event) => {
  clearTimeout(timers.get(event.target));
  timers.delete(event.target);
  onTheWay.get(event.target)?.abort();  // what is saved needs no draft
  onTheWay.delete(event.target);
}, true);
window.addEventListener("pagehide", () => {
  // what is on its way is cut off as the page is left: it goes again
  for (const form of document.querySelectorAll("form[data-draft]")) if (timers.has(form) || onTheWay.has(form)) keep(form, true);
});

document.addEventListener("keydown", (event) => {
  const form = drafted(event.target);
  if (!form || event.key !== "Enter" || event.ctrlKey || event.defaultPrevented || !event.target.matches("input, select")) return;
  event.preventDefault();
  const all = [...form.querySelectorAll("input.input, select, input[type=checkbox], input[type=radio], button:not([type=button])")]
    .filter((each) => each.checkVisibility() && !each.disabled);
  const after = all.filter((each) => event.target.compareDocumentPosition(each) & Node.DOCUMENT_POSITION_FOLLOWING);
  const next = after.find((each) => !each.matches("button")) ?? form.querySelector("button.is-primary");
  next.focus();
  if (next.select) next.select();
});
