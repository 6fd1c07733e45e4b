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

// a spare row for one more component is always there
document.addEventListener("input", (event) => {
  const last = document.querySelector("#parts tbody tr:last-child");
  if (!last?.contains(event.target)) return;
  const row = last.cloneNode(true);
  for (const input of row.querySelectorAll("input")) {
    const index = Number(input.name.match(/\d+$/)[0]);
    input.name = input.name.replace(/\d+$/, String(index + 1));
    if (input.id) input.id = input.name;
    input.setAttribute("aria-label", input.getAttribute("aria-label").replace(/\d+/, String(index + 2)));
    input.removeAttribute("aria-invalid");
    input.value = "";
  }
  for (const said of row.querySelectorAll(".error, .note")) said.remove();
  last.after(row);
});

// after a refusal the focus goes to the first field that is wrong
document.querySelector("[autofocus]")?.focus();
