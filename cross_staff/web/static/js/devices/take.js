// Beside every field that an instrument can fill: what each of them says now, and one key that takes it. What was
// taken goes with the form, so that it stays with the value; what is typed over is no longer of the instrument.
import { aged, listen } from "./news.js";
import { carry, keptOf, note } from "./taken.js";

const takes = JSON.parse(document.getElementById("takes").textContent);
const LOOK_MS = 500, KEY = "F2";
const specOf = (field) => takes[field.name?.replace(/[0-9]+/g, "#")];
const fillable = () => [...document.querySelectorAll("main input.input")].filter((field) => specOf(field) && field.form);
const rows = new WeakMap();  // of a field: what stands beside it
const runs = new Map();  // fields that are filled reading by reading, or follow: by which instrument, from which reading on
let latest = {}, came = 0, run = "";  // of each figure, the newest reading of each instrument

const status = Object.assign(document.createElement("p"), { className: "sr" });
status.setAttribute("role", "status");
document.querySelector("main").append(status);

const unit = (spec) => `${spec.unit === "°" ? "" : " "}${spec.unit}`;
const shown = (spec, reading) => String(Number((reading.si / spec.per).toFixed(spec.decimals)));
const ageOf = (reading) => reading.age + (performance.now() - reading.heard) / 1000;
// of a vial the one instrument that stands in for it, else all that give the figure, by name
function readings(spec) {
  const all = Object.values(latest[spec.figure] ?? {}).filter((r) => !spec.only || r.name.toLowerCase() === spec.only.toLowerCase());
  return all.sort((a, b) => a.name.localeCompare(b.name));
}

// why a reading is shown, and not taken; empty where it can be
function against(spec, reading) {
  if (!reading.ready) return `not ready: ${reading.stands}`;
  if (reading.si < spec.low || reading.si > spec.high) {
    const ends = [spec.low, spec.high].map((end) => Number((end / spec.per).toFixed(spec.decimals)));
    return `cannot be taken: between ${ends.join(" and ")}${unit(spec)}`;
  }
  return ageOf(reading) > spec.fresh ? "too old: read again" : "";
}

function put(field, reading) {
  const spec = specOf(field), text = shown(spec, reading);
  field.value = spec.many && field.value.trim() ? `${field.value.trim().replace(/[,;]$/, "")} ${text}` : text;
  note(field, reading, text, spec.many);
  field.dispatchEvent(new Event("input", { bubbles: true }));
  carry(field.form);
  field.dispatchEvent(new Event("change", { bubbles: true }));
  show(field);
}
function take(field, reading) {
  const spec = specOf(field), why = against(spec, reading);
  const again = spec.many && keptOf(field).some((each) => each.sequence === reading.sequence && each.device === reading.device);
  if (!why && !again) put(field, reading);
  status.textContent = why || `${shown(spec, reading)}${unit(spec)}, ${reading.name}${again ? ": taken already" : ""}`;
}
// one key takes the one reading that there is; of two the hand says which
function takeOne(field) {
  const spec = specOf(field), all = readings(spec), usable = all.filter((each) => !against(spec, each));
  if (usable.length === 1) { take(field, usable[0]); return; }
  status.textContent = usable.length ? `${usable.length} instruments say it: which?` : all.map((each) => `${each.name} ${against(spec, each)}`).join("; ") || "nothing read yet";
  beside(field).querySelector("button:not(:disabled)")?.focus();
}

// ---- what stands beside a field
function button(words, forWhat, pressed) {
  const made = Object.assign(document.createElement("button"), { type: "button", className: "button" });
  made.append(words, Object.assign(document.createElement("span"), { className: "sr", textContent: `, ${forWhat}` }));
  made.addEventListener("click", pressed);
  return made;
}
function lineOf(field, device) {
  const spec = specOf(field), line = document.createElement("div"), output = document.createElement("output");
  const forWhat = field.labels?.[0]?.textContent ?? field.getAttribute("aria-label") ?? field.name;
  const now = () => readings(spec).find((each) => each.device === device);
  line.dataset.device = device;
  output.setAttribute("aria-live", "off");  // it changes all the time: it is read where one goes to it
  const takeIt = button("Take it", forWhat, () => { if (now()) take(field, now()); });
  takeIt.append(" ", Object.assign(document.createElement("kbd"), { textContent: KEY }));
  line.append(output, takeIt);
  if (spec.many || spec.figure === "pitch") {
    line.append(button(spec.many ? "Shot by shot" : "Follow it", forWhat, () => {
      if (runs.get(field)?.device === device) runs.delete(field); else runs.set(field, { device, from: came });
      show(field);
    }));
  }
  return line;
}
function beside(field) {
  if (rows.has(field)) return rows.get(field);
  const row = document.createElement("div"), cell = field.closest("td");
  row.className = "take";
  rows.set(field, row);
  cell?.querySelector(".take")?.remove();  // came with the row that this one was made from
  if (cell) cell.append(row); else (field.closest(".with-unit") ?? field).after(row);
  return row;
}
function show(field) {
  const spec = specOf(field), row = beside(field), all = readings(spec);
  row.hidden = Boolean(field.closest("td")) && document.activeElement !== field && !row.contains(document.activeElement);
  const wanted = all.map((each) => String(each.device)).join(" ");
  if (row.dataset.of !== wanted) {
    row.dataset.of = wanted;
    row.replaceChildren(...(all.length ? all.map((each) => lineOf(field, each.device)) : [spec.only ? `nothing read yet from ${spec.only}` : "nothing read yet"]));
  }
  for (const [index, reading] of all.entries()) {
    const line = row.children[index], why = against(spec, reading), [takeIt, follow] = line.querySelectorAll("button");
    const value = Object.assign(document.createElement("b"), { textContent: `${shown(spec, reading)}${unit(spec)}` });
    const tilted = Math.abs(reading.slope ?? 0) >= 1 ? `, ${Math.abs(reading.slope).toFixed(0)}° ${reading.slope > 0 ? "up" : "down"}` : "";
    line.querySelector("output").replaceChildren(value, `${tilted} ${reading.name}, ${aged(ageOf(reading))}`, why ? ` ${why}` : "");
    line.classList.toggle("no", Boolean(why));
    takeIt.disabled = Boolean(why);
    follow?.setAttribute("aria-pressed", String(runs.get(field)?.device === reading.device));
  }
}
const showAll = () => fillable().forEach(show);

// ---- what comes
function hear(told) {
  if (told.run !== run) { run = told.run; latest = {}; came = 0; for (const each of runs.values()) each.from = 0; }
  const fresh = [], there = new Set(told.instruments.map((each) => each.device));
  for (const each of told.instruments) {
    const slope = each.readings.findLast((r) => r.figure === "slope"), usable = each.ready && each.state === "connected";
    for (const reading of each.readings) {
      if (reading.double) continue;
      Object.assign(reading, { device: each.device, name: each.name, stands: each.stands, heard: performance.now(), ready: reading.ready && usable });
      if (reading.figure === "distance" && slope?.sequence === reading.sequence) reading.slope = slope.si * 180 / Math.PI;
      (latest[reading.figure] ??= {})[each.device] = reading;
      if (reading.number > came) fresh.push(reading);
    }
  }
  for (const of of Object.values(latest)) for (const device of Object.keys(of)) if (!there.has(Number(device))) delete of[device];
  came = Math.max(came, ...fresh.map((each) => each.number));
  for (const [field, { device, from }] of runs) {
    const spec = specOf(field), next = fresh.filter((r) => r.figure === spec.figure && r.device === device && r.number > from && !against(spec, r));
    if (field.isConnected) for (const reading of spec.many ? next : next.slice(-1)) put(field, reading);
  }
  showAll();
}
listen(hear, () => {
  for (const of of Object.values(latest)) for (const reading of Object.values(of)) Object.assign(reading, { ready: false, stands: "the program does not answer" });
  showAll();
});
setInterval(showAll, LOOK_MS);

document.addEventListener("keydown", (event) => {
  if (event.key !== KEY || event.ctrlKey || event.altKey || event.metaKey) return;
  const field = event.target.matches("input") && specOf(event.target) ? event.target : fillable().find((each) => !each.value && each.checkVisibility());
  if (!field) return;
  event.preventDefault();
  field.focus();
  takeOne(field);
});
document.addEventListener("input", (event) => {
  if (!event.isTrusted || !event.target.form) return;
  if (runs.has(event.target) && !specOf(event.target)?.many) runs.delete(event.target);  // what is typed holds
  carry(event.target.form);
});
document.addEventListener("focusin", showAll);
