// Tables with a spare row at the end: typing in it adds the next one.
import { spareRow } from "./spare_row.js";

document.addEventListener("input", (event) => {
  const table = event.target.closest("table.rows");
  const last = table?.querySelector("tbody tr:last-child");
  if (!last?.contains(event.target)) return;
  const index = Number(last.dataset.row);
  const row = spareRow(last, index, (place) => `${table.dataset.prefix}_${place}_`, (number) => ` ${number},`);
  row.dataset.row = String(index + 1);
});
document.querySelector("[autofocus]")?.focus();
