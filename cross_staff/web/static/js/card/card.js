// Shows only the fields that belong to what was chosen; without this script all are shown.
function showChosen() {
  for (const part of document.querySelectorAll(".by-way")) {
    const chosen = document.getElementById(part.dataset.by)?.value;
    part.hidden = !part.dataset.ways.split(" ").includes(chosen);
  }
}
document.addEventListener("change", showChosen);
document.addEventListener("htmx:afterSwap", showChosen);
showChosen();

// what matters is marked until it is given; the button that goes there is, while there is any
function markNeeded() {
  for (const need of document.querySelectorAll("[data-needed]")) {
    const field = need.querySelector("select, input.input");
    const unmeasured = field.id === "readings" && document.getElementById("speed_way").value === "unmeasured";
    const known = field.id === "arrow_mass" && need.dataset.known;
    need.classList.toggle("lacks", !field.value && !unmeasured && !known);
  }
  const next = document.getElementById("next-needed");
  if (next) next.hidden = ![...document.querySelectorAll(".need.lacks")].some((need) => need.checkVisibility());
}
document.addEventListener("input", markNeeded);
document.addEventListener("change", markNeeded);
document.addEventListener("htmx:afterSwap", markNeeded);

// what was unfolded stays so, after a reload and in other units too
const UNFOLDED = "unfolded";
const unfolded = () => new Set(JSON.parse(sessionStorage.getItem(UNFOLDED) ?? "[]"));
function unfold() {
  for (const id of unfolded()) document.getElementById(id)?.setAttribute("open", "");
}
document.addEventListener("toggle", (event) => {
  if (!event.target.matches("details.more")) return;
  const ids = unfolded();
  if (event.target.open) ids.add(event.target.id);
  else ids.delete(event.target.id);
  sessionStorage.setItem(UNFOLDED, JSON.stringify([...ids]));
}, true);
document.addEventListener("htmx:afterSwap", unfold);
unfold();

// after a refusal the focus goes to the first field that is wrong
// and on a card that lacks something, to the first field that matters
const wide = matchMedia("(min-width: 800px)").matches;
(document.querySelector("[autofocus]") ?? (wide ? document.querySelector(".need.lacks :is(select, input.input)") : null))?.focus();
