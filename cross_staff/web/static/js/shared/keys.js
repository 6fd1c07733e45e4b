// Keys that work on every page; `?` lists them.
const dialog = document.getElementById("keys");
document.getElementById("keys-open").addEventListener("click", () => dialog.showModal());

const typing = (element) => element.matches("input:not([type=checkbox]), textarea, select");

// the next empty field of those that matter, the field that the next action names, else the first empty one
function nextField() {
  const named = document.querySelector("[data-focus]")?.dataset.focus;
  const fields = [...document.querySelectorAll("main input.input")].filter((f) => f.checkVisibility());
  const matter = [...document.querySelectorAll(".need.lacks :is(input.input, select)")].filter((f) => f.checkVisibility() && !f.value);
  const field = matter[0] ?? document.getElementById(named) ?? fields.find((f) => !f.value) ?? fields[0];
  field?.focus();
  field?.scrollIntoView({ block: "center" });
}

const follow = (selector) => document.querySelector(selector)?.click();
const actions = {
  "?": () => dialog.showModal(),
  b: () => follow('header nav a[href="/"]'),
  p: () => follow('main a[href$="/tape/print"], main a[href*="/tape.pdf"]'),
  n: nextField,
  "/": () => follow("#search-open"),
};

document.addEventListener("keydown", (event) => {
  if (event.key === "Enter" && event.ctrlKey) {
    event.target.closest("form")?.requestSubmit();
    return;
  }
  if (typing(event.target) || event.ctrlKey || event.metaKey || event.altKey || dialog.open) return;
  const action = actions[event.key.toLowerCase()];
  if (action) {
    event.preventDefault();
    action();
  } else if (/^[1-9]$/.test(event.key)) {
    follow(`#staff a[data-key="${event.key}"]`);
  }
});

document.addEventListener("click", (event) => {
  if (!event.target.closest("[data-focus]")) return;
  event.preventDefault();
  nextField();
});
