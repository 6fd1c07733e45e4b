// Tables with a spare row at the end: typing in it adds the next one, also what was typed before this script was there.
import { spareRow, typedBefore } from "./spare_row.js";

function grow(last) {
  const row = spareRow(last, Number(last.dataset.row), (place) => new RegExp(`_${place}(?=_|$)`), (number) => ` ${number},`);
  row.dataset.row = String(Number(last.dataset.row) + 1);
}
document.addEventListener("input", (event) => {
  const last = event.target.closest("tbody")?.querySelector("tr[data-row]:last-child");
  if (last?.contains(event.target)) grow(last);
});
for (const last of document.querySelectorAll("tr[data-row]:last-child")) {
  if (typedBefore(last)) grow(last);
}
