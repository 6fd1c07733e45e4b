// The marks table under the hand: Enter goes on, a spare row is always there, pasted rows are taken.
import { spareRow, typedBefore } from "../shared/spare_row.js";

const form = document.getElementById("marks");
const body = document.getElementById("marks-body");

const inputs = () => [...body.querySelectorAll("input.input")];

// a new row has a key, so that the server knows it again when it is sent twice
function newKey(index) {
  const input = document.createElement("input");
  const bytes = crypto.getRandomValues(new Uint8Array(8));
  input.type = "hidden";
  input.name = `row-${index}-key`;
  input.value = [...bytes].map((b) => b.toString(16).padStart(2, "0")).join("");
  return input;
}

function addRow(last) {
  const index = Number(last.dataset.index);
  const row = spareRow(last, index, (place) => `row-${place}-`, (number) => `Row ${number},`);
  row.dataset.index = String(index + 1);
  row.querySelector(".row-said").replaceChildren(newKey(index + 1));
  row.querySelector(".no").textContent = "";
}

body.addEventListener("input", (event) => {
  const last = body.querySelector("tr.mark-row:last-child");
  if (last.contains(event.target)) addRow(last);
});
const spare = body.querySelector("tr.mark-row:last-child");
if (typedBefore(spare)) addRow(spare);

body.addEventListener("keydown", (event) => {
  if (event.key !== "Enter" || event.ctrlKey || !event.target.matches("input.input")) return;
  event.preventDefault();
  const all = inputs();
  const next = all[all.indexOf(event.target) + 1];
  next.focus();
  next.select();
});

body.addEventListener("paste", (event) => {
  const text = event.clipboardData.getData("text");
  if (!/[\t\n]/.test(text.trim())) return;
  event.preventDefault();
  document.getElementById("pasted").value = text;
  form.requestSubmit();
});

function markWrong() {
  for (const input of inputs()) input.removeAttribute("aria-invalid");
  for (const error of body.querySelectorAll(".error[data-field]")) {
    document.getElementById(error.dataset.field)?.setAttribute("aria-invalid", "true");
  }
  for (const said of body.querySelectorAll(".row-said")) {
    said.closest("tr").querySelector(".no").textContent = said.dataset.number ?? "";
  }
}
document.addEventListener("htmx:oobAfterSwap", markWrong);
body.querySelector("[aria-invalid]")?.focus();

// a number that is still being typed is not sent: what goes is the field as it was left last
const left = new WeakMap();
const asLeft = (input) => left.get(input) ?? input.defaultValue;
document.addEventListener("change", (event) => {
  if (body.contains(event.target)) left.set(event.target, event.target.value);
}, true);
form.addEventListener("htmx:configRequest", (event) => {
  const typed = document.activeElement;
  if (event.target === form && body.contains(typed) && typed.matches("input.input")) event.detail.parameters[typed.name] = asLeft(typed);
});
