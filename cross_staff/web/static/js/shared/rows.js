// Tables with a spare row at the end: typing in it adds the next one.
function addRow(table, last) {
  const prefix = table.dataset.prefix;
  const index = Number(last.dataset.row);
  const row = last.cloneNode(true);
  row.dataset.row = String(index + 1);
  for (const element of row.querySelectorAll("*")) {
    for (const name of ["id", "name"]) {
      const value = element.getAttribute(name);
      if (value) element.setAttribute(name, value.replace(`${prefix}_${index}_`, `${prefix}_${index + 1}_`));
    }
    const label = element.getAttribute("aria-label");
    if (label) element.setAttribute("aria-label", label.replace(/ \d+,/, ` ${index + 2},`));
    element.removeAttribute("aria-invalid");
  }
  for (const input of row.querySelectorAll("input")) {
    if (input.type === "checkbox") input.checked = false;
    else input.value = "";
  }
  for (const said of row.querySelectorAll(".error, .note")) said.remove();
  last.after(row);
}

document.addEventListener("input", (event) => {
  const table = event.target.closest("table.rows");
  const last = table?.querySelector("tbody tr:last-child");
  if (last?.contains(event.target)) addRow(table, last);
});
document.querySelector("[autofocus]")?.focus();
