// Beside every field that an instrument can fill: what it says now, and one key that takes it. What was taken goes
// with the form, so that it stays with the value; what is typed over is no longer of the instrument.
import { aged, listen } from "./news.js";

const takes = JSON.parse(document.getElementById("takes").textContent);
const KEPT = "cross-staff-taken", LOOK_MS = 500, KEY = "F2";
const specOf = (field) => takes[field.name.replace(/[0-9]+/g, "#")];
const fillable = () => [...document.querySelectorAll("main input.input")].filter((field) => specOf(field) && field.form);
const rows = new WeakMap();  // of a field: what stands beside it
const runs = new Map();  // fields that are filled reading by reading, or follow: the number of the last reading that they have
let latest = {}, came = 0;

const shown = (spec, reading) => String(Number((reading.si / spec.per).toFixed(spec.decimals)));
const ageOf = (reading) => reading.age + (performance.now() - reading.heard) / 1000;

// ---- why a reading is shown, and not taken; empty where it can be
function against(spec, reading) {
  if (!reading) return "nothing read yet";
  if (!reading.ready) return `not ready${reading.says ? `: ${reading.says}` : ""}`;
  if (reading.si < spec.low || reading.si > spec.high) {
    const ends = [spec.low, spec.high].map((end) => Number((end / spec.per).toFixed(spec.decimals)));
    return `cannot be taken: between ${ends.join(" and ")} ${spec.unit}`;
  }
  return ageOf(reading) > spec.fresh ? "too old: read again" : "";
}

// ---- what was taken, with the form that it goes with
const kept = () => { try { return JSON.parse(sessionStorage.getItem(KEPT)) ?? []; } catch { return []; } };
const stands = (field, text) => field && (field.value.trim() === text || field.value.split(/[\s,;]+/).includes(text));
const ofForm = (form) => kept().filter((each) => each.page === location.pathname && stands(form.elements[each.field], each.text));
function carry(form) {
  let hidden = form.querySelector("input[name=taken]");
  if (!hidden) {
    hidden = Object.assign(document.createElement("input"), { type: "hidden", name: "taken" });
    form.append(hidden);
  }
  hidden.value = JSON.stringify(ofForm(form));
}
function note(field, reading, text) {
  const taken = {
    page: location.pathname, field: field.name, text, device: reading.device, figure: reading.figure, sequence: reading.sequence,
    si: reading.si, resolution: reading.resolution, at: reading.at,
  };
  const same = (each) => each.page === taken.page && each.field === field.name && (!specOf(field).many || each.sequence === reading.sequence);
  const others = kept().filter((each) => !same(each));
  try { sessionStorage.setItem(KEPT, JSON.stringify([...others, taken].slice(-200))); } catch { /* it is typed, then */ }
}

function put(field, reading) {
  const spec = specOf(field), text = shown(spec, reading);
  field.value = spec.many && field.value.trim() ? `${field.value.trim().replace(/[,;]$/, "")} ${text}` : text;
  note(field, reading, text);
  field.dispatchEvent(new Event("input", { bubbles: true }));
  carry(field.form);
  field.dispatchEvent(new Event("change", { bubbles: true }));
  show(field);
}
function take(field) {
  const spec = specOf(field), reading = latest[spec.figure];
  if (against(spec, reading)) { show(field, true); return; }
  const again = spec.many && kept().some((each) => each.page === location.pathname && each.field === field.name && each.sequence === reading.sequence && each.device === reading.device && stands(field, each.text));
  if (!again) put(field, reading);
}

// ---- what stands beside a field
function button(words, run, pressed) {
  const made = Object.assign(document.createElement("button"), { type: "button", className: "button" });
  made.append(words);
  if (pressed !== undefined) made.setAttribute("aria-pressed", String(pressed));
  made.addEventListener("click", run);
  return made;
}
function beside(field) {
  if (rows.has(field)) return rows.get(field);
  const spec = specOf(field), row = document.createElement("div");
  row.className = "take";
  const output = document.createElement("output"), name = field.labels?.[0]?.textContent ?? field.getAttribute("aria-label") ?? field.name;
  const takeIt = button("Take it", () => take(field)), key = Object.assign(document.createElement("kbd"), { textContent: KEY });
  const forWhat = () => Object.assign(document.createElement("span"), { className: "sr", textContent: `, ${name}` });
  takeIt.append(forWhat(), " ", key);
  output.setAttribute("aria-live", "off");  // it changes all the time: it is read where one goes to it
  row.append(output, takeIt);
  if (spec.many || spec.figure === "pitch") {
    const words = spec.many ? "Shot by shot" : "Follow it";
    const run = button(words, () => { if (runs.has(field)) runs.delete(field); else runs.set(field, came); show(field); }, false);
    run.append(forWhat());
    row.append(run);
  }
  rows.set(field, row);
  const cell = field.closest("td");
  cell?.querySelector(".take")?.remove();  // came with the row that this one was made from
  if (cell) cell.append(row); else (field.closest(".with-unit") ?? field).after(row);
  return row;
}
function show(field) {
  const spec = specOf(field), reading = latest[spec.figure], row = beside(field), why = against(spec, reading);
  const output = row.querySelector("output"), [takeIt, run] = row.querySelectorAll("button");
  row.hidden = Boolean(field.closest("td")) && document.activeElement !== field && !row.contains(document.activeElement);
  const value = Object.assign(document.createElement("b"), { textContent: reading ? `${shown(spec, reading)}${spec.unit === "°" ? "" : " "}${spec.unit}` : "" });
  const tilted = reading?.slope && Math.abs(reading.slope) >= 1 ? `, ${Math.abs(reading.slope).toFixed(0)}° ${reading.slope > 0 ? "up" : "down"}` : "";
  output.replaceChildren(...(reading ? [value, `${tilted} ${reading.name}, ${aged(ageOf(reading))}`] : []), why ? ` ${why}` : "");
  row.classList.toggle("no", Boolean(reading && why));
  row.classList.toggle("old", Boolean(reading) && ageOf(reading) > spec.fresh);
  takeIt.disabled = Boolean(why);
  run?.setAttribute("aria-pressed", String(runs.has(field)));
}
const showAll = () => fillable().forEach((field) => show(field));

// ---- what comes
listen((instruments) => {
  const before = came, fresh = [];
  for (const each of instruments) {
    const slope = each.readings.findLast((r) => r.figure === "slope");
    for (const reading of each.readings) {
      Object.assign(reading, { device: each.device, name: each.name, says: each.says, heard: performance.now(), ready: reading.ready && each.ready && each.state === "connected" });
      if (reading.figure === "distance" && slope?.sequence === reading.sequence) reading.slope = slope.si * 180 / Math.PI;
      if (reading.double) continue;
      if (!latest[reading.figure] || reading.number >= latest[reading.figure].number) latest[reading.figure] = reading;
      if (reading.number > before) fresh.push(reading);
      came = Math.max(came, reading.number);
    }
  }
  for (const [field, last] of runs) {
    const spec = specOf(field), next = fresh.filter((r) => r.figure === spec.figure && r.number > last && !against(spec, r));
    if (!next.length || !field.isConnected) continue;
    runs.set(field, next.at(-1).number);
    for (const reading of spec.many ? next : next.slice(-1)) put(field, reading);
  }
  showAll();
}, () => { for (const reading of Object.values(latest)) reading.ready = false; showAll(); });
setInterval(showAll, LOOK_MS);

document.addEventListener("keydown", (event) => {
  if (event.key !== KEY || event.ctrlKey || event.altKey || event.metaKey) return;
  const field = specOf(event.target) && event.target.matches("input") ? event.target : fillable().find((each) => !each.value && each.checkVisibility());
  if (!field) return;
  event.preventDefault();
  field.focus();
  take(field);
});
document.addEventListener("input", (event) => {
  if (!event.isTrusted || !event.target.form) return;
  if (runs.has(event.target) && !specOf(event.target)?.many) runs.delete(event.target);  // what is typed holds
  if (event.target.form.querySelector("input[name=taken]")) carry(event.target.form);
});
document.addEventListener("focusin", showAll);
for (const form of document.forms) if (ofForm(form).length) carry(form);
