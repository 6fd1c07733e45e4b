// A table keeps a spare row at its end: the last one copied, empty, counted one further.
export function spareRow(last, index, names, label) {
  const row = last.cloneNode(true);
  for (const element of [row, ...row.querySelectorAll("*")]) {
    for (const name of ["id", "name"]) {
      const value = element.getAttribute(name);
      if (value) element.setAttribute(name, value.replace(names(index), (old) => old.replace(String(index), String(index + 1))));
    }
    const said = element.getAttribute("aria-label");
    if (said) element.setAttribute("aria-label", said.replace(label(index + 1), label(index + 2)));
    element.removeAttribute("aria-invalid");
  }
  for (const input of row.querySelectorAll("input")) {
    if (input.type === "checkbox") input.checked = false;
    else if (input.type !== "hidden") input.value = "";
  }
  for (const said of row.querySelectorAll(".error, .note")) said.remove();
  last.after(row);
  return row;
}
// Something was typed in the row since the page came.
export function typedBefore(row) {
  return [...row.querySelectorAll("input:not([type=checkbox], [type=hidden])")].some((field) => field.value !== field.defaultValue);
}
