// A form that bears data-draft is kept on the server as it is typed; Enter goes on to its next field.
const WAIT_MS = 400;
const timers = new WeakMap();
const drafted = (element) => element?.closest?.("form[data-draft]") ?? null;
const fields = (form) => new URLSearchParams([...new FormData(form)].filter(([, value]) => typeof value === "string"));

function keep(form, leaving = false) {
  clearTimeout(timers.get(form));
  timers.delete(form);
  fetch(form.dataset.draft, { method: "POST", body: fields(form), keepalive: leaving }).catch(() => { /* it stays in the form */ });
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
}, true);
window.addEventListener("pagehide", () => {
  for (const form of document.querySelectorAll("form[data-draft]")) if (timers.has(form)) keep(form, true);
});

document.addEventListener("keydown", (event) => {
  const form = drafted(event.target);
  if (!form || event.key !== "Enter" || event.ctrlKey || event.defaultPrevented || !event.target.matches("input, select")) return;
  event.preventDefault();
  const all = [...form.querySelectorAll("input.input, select, input[type=checkbox], input[type=radio], button:not([type=button])")]
    .filter((each) => each.offsetParent && !each.disabled);
  const after = all.filter((each) => event.target.compareDocumentPosition(each) & Node.DOCUMENT_POSITION_FOLLOWING);
  const next = after.find((each) => !each.matches("button")) ?? form.querySelector("button.is-primary");
  next.focus();
  if (next.select) next.select();
});
