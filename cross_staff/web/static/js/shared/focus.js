// After an act the page comes anew: the focus returns to where the work goes on. That is the control that was
// pressed, where it is still there and does not take the step itself; of a log the same row, or the log; else what
// comes next. Under a finger it is the head of the page: a field would bring the keys up over it.
const PRESSED = "cross-staff-pressed", LONGEST_MS = 60000;
const ANEW = new Set(["seen", "based_on", "act_key", "move_key", "sent", "order", "session_key"]);  // come anew with every page
const seen = (element) => element?.checkVisibility?.() && !element.disabled;
const pathOf = (form) => new URL(form.getAttribute("action"), location.href).pathname;
const rowOf = (path) => path.slice(0, path.lastIndexOf("/"));
const LOGS = "main :is([role=region], .log, .proof-log)";
const label = (log) => log?.getAttribute("aria-label") ?? log?.className ?? "";
function fixed(form) {
  const kept = [...form.querySelectorAll("input[type=hidden]")].filter((each) => !ANEW.has(each.name));
  return kept.map((each) => `${each.name}=${each.value}`).join("&");
}

// what was pressed, so that it is known again
document.addEventListener("submit", ({ target: form, submitter: button }) => {
  if (form.getAttribute("method")?.toLowerCase() !== "post") return;
  const told = {
    path: pathOf(form), fixed: fixed(form), name: button?.name ?? "", value: button?.value ?? "",
    step: button?.matches(".is-primary") ?? true, log: label(form.closest(LOGS)), time: Date.now(),
  };
  try { sessionStorage.setItem(PRESSED, JSON.stringify(told)); } catch { /* no room: the focus starts at the top */ }
});

const buttons = (form) => [...form.elements].filter((each) => each.matches("button:not([type=button])") && seen(each));
function again(told) {
  const forms = [...document.forms].filter((form) => form.hasAttribute("action"));
  const same = forms.filter((form) => pathOf(form) === told.path && fixed(form) === told.fixed);
  const button = same.flatMap(buttons).find((each) => each.name === told.name && each.value === told.value);
  if (button || !told.log) return button;
  const log = [...document.querySelectorAll(LOGS)].find((each) => label(each) === told.log);
  const row = forms.find((form) => log?.contains(form) && rowOf(pathOf(form)) === rowOf(told.path));
  return (row && buttons(row)[0]) ?? log;
}

function next() {
  const head = document.querySelector("main .now, main h1");
  if (matchMedia("(pointer: coarse)").matches) return head;
  const named = document.getElementById(document.querySelector("[data-focus]")?.dataset.focus);
  if (seen(named)) return named;
  const step = [...document.querySelectorAll("main :is(.answer, .is-primary)")].find(seen);
  if (!step) return head;
  const before = [...(step.form?.elements ?? [])].filter((each) => each.compareDocumentPosition(step) & Node.DOCUMENT_POSITION_FOLLOWING);
  return before.find((each) => each.matches("input.input, select") && !each.value && seen(each)) ?? step;
}

const kept = sessionStorage.getItem(PRESSED);
sessionStorage.removeItem(PRESSED);
const told = kept ? JSON.parse(kept) : null;
if (told && document.activeElement === document.body && Date.now() - told.time < LONGEST_MS) {
  const named = document.querySelector("main [autofocus]");
  const wrong = named ?? [...document.querySelectorAll("main :is([aria-invalid=true], .error)")].find(seen);
  const place = wrong ?? (told.step ? null : again(told)) ?? next();
  if (place && !place.matches("a, button, input, select, textarea, [tabindex]")) place.tabIndex = -1;
  place?.focus({ preventScroll: true });
  place?.scrollIntoView({ block: "nearest" });
}
