// Keys that work on every page; `?` lists them. None of them leaves what was typed and is not kept anywhere.
const dialog = document.getElementById("keys");
document.getElementById("keys-open").addEventListener("click", () => dialog.showModal());

const typing = (element) => element.matches("input:not([type=checkbox]), textarea, select");

// the next empty field of those that matter, the field that the next action names, else the first empty one
function nextField() {
  const named = document.querySelector("[data-focus]")?.dataset.focus;
  const fields = [...document.querySelectorAll("main input.input")].filter((f) => f.checkVisibility());
  const matter = [...document.querySelectorAll(".need.lacks :is(input.input, select)")].filter((f) => f.checkVisibility() && !f.value);
  const field = matter[0] ?? document.getElementById(named) ?? fields.find((f) => !f.value) ?? fields[0];
  const next = field ?? [...document.querySelectorAll("main .is-primary")].find((each) => each.checkVisibility());
  next?.focus();
  next?.scrollIntoView({ block: "center" });
}

// what stands in a form that is sent by its button alone, and differs from what came with the page
function differs(field) {
  if (!field.matches("input, select, textarea") || field.type === "hidden" || !field.name) return false;
  if (field.matches("select")) {
    const first = [...field.options].findIndex((each) => each.defaultSelected);
    return field.selectedIndex !== Math.max(first, 0);
  }
  return field.matches("[type=checkbox], [type=radio]") ? field.checked !== field.defaultChecked : field.value !== field.defaultValue;
}
const KEPT = "[data-draft], [data-save], [data-keeps], [hx-post], [method=get]";  // as it is typed, or nothing to keep
const unsaved = () => [...document.forms].some((form) => form.closest("main") && !form.matches(KEPT) && [...form.elements].some(differs));

const AGAIN_MS = 5000;
let asked = { key: "", time: 0 };
// said in the place of what stands there, which comes back
function ask(words) {
  const bar = document.getElementById("save-bar");
  if (!bar.dataset.asks) {
    const stood = [...bar.childNodes], hidden = bar.hidden;
    setTimeout(function back() {
      if (Date.now() - asked.time < AGAIN_MS) { setTimeout(back, AGAIN_MS); return; }
      if (bar.dataset.asks === bar.textContent) { bar.replaceChildren(...stood); bar.hidden = hidden; }
      delete bar.dataset.asks;
    }, AGAIN_MS);
  }
  bar.dataset.asks = words;
  bar.textContent = words;
  bar.hidden = false;
}
// a key that leaves the page: where something typed is not saved yet, only when it is pressed once more
function leave(key, address) {
  if (!address) return;
  if (unsaved() && !(asked.key === key && Date.now() - asked.time < AGAIN_MS)) {
    asked = { key, time: Date.now() };
    ask(`Something typed here is not saved yet. ${key.toUpperCase()} once more leaves it.`);
    return;
  }
  location.assign(address);
}

const actions = { "?": () => dialog.showModal(), n: nextField };
const station = (key) => document.querySelector(`#staff a[data-key="${key}"]`)?.href;
const printed = () => document.querySelector('#staff a[href$="/tape"]')?.href.concat("/print");
const leads = { b: () => "/", p: printed, "/": () => "/search" };

document.addEventListener("keydown", (event) => {
  if (event.key === "Enter" && event.ctrlKey) {
    event.target.closest("form")?.requestSubmit();
    return;
  }
  if (typing(event.target) || event.target.isContentEditable || event.ctrlKey || event.metaKey || event.altKey || dialog.open) return;
  const key = event.key.toLowerCase(), digit = /^[1-9]$/.test(key);
  if (!actions[key] && !leads[key] && !digit) return;
  event.preventDefault();
  if (actions[key]) actions[key]();
  else leave(key, digit ? station(key) : leads[key]());
});

document.addEventListener("click", (event) => {
  if (!event.target.closest("[data-focus]")) return;
  event.preventDefault();
  nextField();
});
