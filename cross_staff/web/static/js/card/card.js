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

// after a refusal the focus goes to the first field that is wrong
document.querySelector("[autofocus]")?.focus();
