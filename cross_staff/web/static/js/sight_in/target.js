// The target: tap a shot, drag or nudge it, call it bad, take it back. What was tapped waits in this
// page's storage until the server has it; shots have keys of their own, so nothing counts twice.
import { away, joined, MIDDLE, MOST_MM, offPicture, onButt, round, toMm, toPicture, typedMm, unsent } from "./shots.js";

const svg = document.getElementById("target");
const form = document.getElementById("end");
const DOUBLE_MS = 400, DOUBLE_PX = 14, RETRY_MS = 3000;
const rig = form.dataset.rig;
const store = `range-${rig}`;
const layer = document.getElementById("target-shots");
const kept = document.getElementById("kept");
const wrong = document.getElementById("shots-error");
const asked = document.getElementById("end-asked");
const box = (id) => document.getElementById(id);
const fresh = () => Date.now().toString(36) + Math.random().toString(36).slice(2, 8);
const opened = form.dataset.opened === "yes";

// all that changes: half the picture's side [mm], the end in hand, the shot in hand, what was taken back, what is
// on its way to the server and which end it took last, and the finger on the picture
const state = {
  half: Number(svg.dataset.half),
  end: { key: box("end-key").value, shots: JSON.parse(svg.dataset.known || "[]"), back: [] },
  chosen: null, undone: [], sending: false, sent: "", tap: { time: 0, x: 0, y: 0 }, held: null, down: null,
};

for (const id of ["target-keys", "mm-entry"]) box(id).hidden = false;
box("typed-shots").hidden = !box("shots").value;

// what waits: every end not yet taken by the server, by its key; `now` names the one being shot
function read() {
  try { return JSON.parse(localStorage.getItem(store)) ?? { now: "", ends: {} }; } catch { return { now: "", ends: {} }; }
}
function write(change) {
  const all = read();
  change(all);
  localStorage.setItem(store, JSON.stringify(all));
}

function fields() {
  const values = Object.fromEntries(new FormData(form));
  values.key = state.end.key;
  values.placed = JSON.stringify(state.end.shots);
  values.taken_back = state.end.back.join(" ");
  return values;
}

function keep(done = false) {
  if (!state.end.shots.length && !state.end.back.length && !done) return;
  write((all) => {
    all.now = done || opened ? (all.now === state.end.key ? "" : all.now) : state.end.key;
    all.ends[state.end.key] = { values: fields(), done, time: Date.now() };
  });
  say();
}

function say(words) {
  const waiting = away(read());
  kept.textContent = words ?? (waiting ? `${waiting} wait in this page` : state.end.shots.length ? `${state.end.shots.length} kept` : "");
  kept.classList.toggle("waits", waiting > 0);
}

async function send() {
  if (state.sending) return;
  state.sending = true;
  try {
    for (const [key, each] of Object.entries(read().ends)) {
      if (each.refused || each.sent || each.asked) continue;
      const body = new URLSearchParams(each.values);
      const answer = await fetch(form.action, { method: "POST", body, headers: { "HX-Request": "true" } });
      if (answer.status === 422) { refuse(key, await answer.json()); continue; }
      if (!answer.ok && answer.status !== 409) throw new Error(String(answer.status));
      const told = await answer.json();
      settle(key, each.values, told);
      if (answer.status === 409) { ask(key, told); continue; }
      write((all) => {
        if (JSON.stringify(all.ends[key]) !== JSON.stringify(each)) return;  // changed meanwhile: sent again
        if (each.done || opened) delete all.ends[key]; else all.ends[key].sent = true;  // goes on until it is done
      });
      if (each.done) state.sent = key;
    }
    say();
    if (state.sent && !unsent(read()).length) location.assign(`/rigs/${rig}/sight_in`);
  } catch {
    say();
  } finally {
    state.sending = false;
  }
}

// what stands over the arrows now: what this page did not change since is shown as it is kept
function settle(key, sentValues, told) {
  write((all) => {
    if (!all.ends[key]) return;
    all.ends[key].values.seen = sentValues.seen = told.seen;
    for (const name of Object.keys(all.ends[key].values)) if (name.startsWith("choose-")) delete all.ends[key].values[name];
    if (key === state.end.key) for (const [name, text] of Object.entries(told.head)) {
      if (told.asked.some((each) => each.name === name)) continue;
      const field = form.elements[name], stored = all.ends[key].values;
      if (!field || field.value !== sentValues[name]) continue;
      field.value = stored[name] = sentValues[name] = text;
    }
  });
  if (key !== state.end.key) return;
  box("end-seen").value = told.seen;
  if (!told.asked.length) { asked.replaceChildren(); asked.hidden = true; }
}

// both changed it: the arrows are kept, and the page asks which is right
function ask(key, told) {
  write((all) => { all.ends[key].asked = true; all.now = key; });
  if (key !== state.end.key) takeUp(key);
  asked.hidden = false;
  asked.replaceChildren(...told.asked.map(({ name, mine, theirs }) => {
    const part = document.createElement("fieldset"), title = document.createElement("legend");
    part.className = "conflict";
    title.textContent = `${form.elements[name].labels[0].textContent}, changed in two places`;
    part.append(title, ...[["mine", "yours", mine], ["theirs", "saved meanwhile", theirs]].map(([choice, words, text]) => {
      const button = document.createElement("button");
      button.type = "button";
      button.className = "button";
      button.textContent = `${words}: ${text || "nothing"}`;
      button.addEventListener("click", () => answer(key, name, choice, choice === "mine" ? mine : theirs, part));
      return button;
    }));
    return part;
  }));
  say();
}

function answer(key, name, choice, text, part) {
  form.elements[name].value = text;
  part.remove();
  write((all) => {
    const each = all.ends[key];
    each.values[`choose-${name}`] = choice;
    each.values[name] = text;
    each.asked = asked.children.length > 0;
    each.sent = false;
  });
  if (!asked.children.length) asked.hidden = true;
  send();
}

// refused: it stays in the page and its storage, and is said at its field
function refuse(key, answer) {
  write((all) => { all.ends[key].refused = true; all.now = key; });
  takeUp(key);
  draw();
  for (const [name, message] of Object.entries(answer.errors)) {
    const field = name === "shots" ? null : box(name);
    field?.setAttribute("aria-invalid", "true");
    wrong.hidden = false;
    wrong.textContent = field ? `${field.labels[0].textContent}: ${message}` : message;
    field?.focus();
  }
}

const node = (name, attributes) => {
  const made = document.createElementNS("http://www.w3.org/2000/svg", name);
  for (const [key, value] of Object.entries(attributes)) made.setAttribute(key, value);
  return made;
};

function draw() {
  const perMm = MIDDLE / state.half;
  box("target-mm").setAttribute("transform", `translate(${MIDDLE} ${MIDDLE}) scale(${perMm} ${-perMm})`);
  for (const text of svg.querySelectorAll("[data-part]")) text.textContent = String(Math.round(text.dataset.part * state.half));
  const mean = svg.querySelector(".mean");
  mean?.setAttribute("transform", `translate(${MIDDLE + perMm * mean.dataset.x} ${MIDDLE - perMm * mean.dataset.y})`);
  const focused = document.activeElement?.closest?.(".shot")?.dataset.key;
  layer.replaceChildren(...state.end.shots.map((shot, index) => {
    const { x, y } = toPicture(shot, state.half), off = offPicture(shot, state.half);
    const side = `${Math.abs(shot.right)} ${shot.right < 0 ? "left" : "right"}, ${Math.abs(shot.up)} ${shot.up < 0 ? "low" : "high"}`;
    const mark = node("g", {
      class: `shot${shot.bad ? " bad" : ""}${off ? " off" : ""}${shot.key === state.chosen ? " chosen" : ""}`, tabindex: "0",
      role: "slider", transform: `translate(${x} ${y})`, "data-key": shot.key,
      "aria-label": `Shot ${index + 1}${shot.shaft ? `, arrow ${shot.shaft}` : ""}`,
      "aria-valuemin": String(-MOST_MM), "aria-valuemax": String(MOST_MM), "aria-valuenow": String(shot.right),
      "aria-valuetext": `${side} mm${shot.bad ? ", called bad" : ""}${off ? ", off the picture" : ""}`,
    });
    const size = svg.clientWidth < 450 ? 1.7 : 1;  // as large on a phone as on a laptop
    mark.append(node("circle", { r: 15 * size, class: "thumb" }), node("circle", { r: 8 * size }));
    const label = node("text", { x: 0, y: 4 * size, "text-anchor": "middle" });
    label.textContent = shot.shaft || String(index + 1);
    mark.append(label);
    return mark;
  }));
  if (focused) {  // a shot that was taken back leaves the hand on the one before it, or on the target
    const next = layer.querySelector(`[data-key="${focused}"]`) ?? layer.querySelector(".chosen") ?? svg;
    next.focus({ preventScroll: true });
  }
  const picked = state.end.shots.find((shot) => shot.key === state.chosen);
  box("shot-bad").setAttribute("aria-pressed", String(Boolean(picked?.bad)));
  box("shot-bad").disabled = !picked;
  if (!state.end.shots.length && document.activeElement === box("shot-undo")) svg.focus({ preventScroll: true });
  box("shot-undo").disabled = !state.end.shots.length;
  box("shot-redo").hidden = !state.undone.length;
}

function changed() {
  draw();
  keep();
  send();
}

function add(right, up) {
  if (!onButt(right, up)) {
    wrong.hidden = false;
    wrong.textContent = "Off any butt: type where it hit, within 2000 mm of the aim.";
    return false;
  }
  wrong.hidden = true;
  const shot = { key: fresh(), right: round(right), up: round(up), bad: false, shaft: box("shaft-no").value.trim() };
  box("shaft-no").value = "";  // the next arrow has another number, or none
  state.end.shots.push(shot);
  state.chosen = shot.key;
  state.undone = [];
  changed();
  return true;
}

function takeBack(key) {
  const gone = state.end.shots.find((shot) => shot.key === key);
  if (!gone) return;
  state.end.shots = state.end.shots.filter((shot) => shot.key !== key);
  state.end.back.push(key);
  state.undone.push(gone);
  state.chosen = state.end.shots.at(-1)?.key ?? null;
  changed();
}

// tapping and dragging; a second tap at once on the same place is the same tap
const at = (event) => {
  const point = new DOMPoint(event.clientX, event.clientY).matrixTransform(svg.getScreenCTM().inverse());
  return { x: point.x, y: point.y, ...toMm(point.x, point.y, state.half) };
};
svg.addEventListener("pointerdown", (event) => {
  if (!event.isPrimary || event.button > 0) return;
  const point = at(event), mark = event.target.closest(".shot");
  const again = event.timeStamp - state.tap.time < DOUBLE_MS && Math.hypot(point.x - state.tap.x, point.y - state.tap.y) < DOUBLE_PX;
  state.tap = { time: event.timeStamp, x: point.x, y: point.y };
  if (mark) {
    state.chosen = state.held = mark.dataset.key;
    draw();
    layer.querySelector(`[data-key="${state.held}"]`)?.focus({ preventScroll: true });
    event.preventDefault();
  } else if (!again) state.down = point;
});
svg.addEventListener("pointermove", (event) => {
  const shot = state.end.shots.find((each) => each.key === state.held);
  if (!shot || !event.buttons) return;
  const point = at(event);
  shot.right = round(point.right);
  shot.up = round(point.up);
  draw();
});
svg.addEventListener("pointerup", (event) => {
  if (state.held) { state.held = null; changed(); return; }
  if (!state.down) return;
  const point = at(event), moved = Math.hypot(point.x - state.down.x, point.y - state.down.y);
  state.down = null;
  if (moved < 30) add(point.right, point.up);  // a swipe scrolls the page, and is no arrow
});
svg.addEventListener("pointercancel", () => { state.held = state.down = null; });

const nudges = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, 1], ArrowDown: [0, -1] };
layer.addEventListener("keydown", (event) => {
  const shot = state.end.shots.find((each) => each.key === event.target.closest(".shot")?.dataset.key);
  if (!shot) return;
  state.chosen = shot.key;
  if (nudges[event.key]) {
    const step = event.shiftKey ? 10 : 1;
    shot.right = round(shot.right + step * nudges[event.key][0]);
    shot.up = round(shot.up + step * nudges[event.key][1]);
  } else if (event.key.toLowerCase() === "x") shot.bad = !shot.bad;
  else if (event.key === "Delete" || event.key === "Backspace") { event.preventDefault(); takeBack(shot.key); return; }
  else if (event.key === "Enter" || event.key === " ") { event.preventDefault(); draw(); return; }
  else return;
  event.preventDefault();
  changed();
});
layer.addEventListener("focusin", (event) => { state.chosen = event.target.closest(".shot")?.dataset.key ?? state.chosen; });

function zoom(factor) { state.half = Math.min(Math.max(state.half * factor, 20), MOST_MM); draw(); }
box("zoom-in").addEventListener("click", () => zoom(1 / 1.5));
box("zoom-out").addEventListener("click", () => zoom(1.5));
box("shot-undo").addEventListener("click", () => { const shot = state.end.shots.at(-1); if (shot) takeBack(shot.key); });
box("shot-redo").addEventListener("click", () => {
  const shot = state.undone.pop();
  if (!shot) return;
  state.end.shots.push({ ...shot, key: fresh() });
  state.chosen = state.end.shots.at(-1).key;
  changed();
});
box("shot-bad").addEventListener("click", () => {
  const shot = state.end.shots.find((each) => each.key === state.chosen);
  if (shot) { shot.bad = !shot.bad; changed(); }
});

const typed = (id) => typedMm(box(id).value);
function fromFields() {
  if (!add(typed("mm-right"), typed("mm-up"))) return;
  box("mm-right").value = box("mm-up").value = "";
  box("mm-right").focus();
}
box("mm-add").addEventListener("click", fromFields);
for (const id of ["mm-right", "mm-up"]) {
  box(id).addEventListener("keydown", (event) => {
    if (event.key !== "Enter" || event.ctrlKey) return;
    event.preventDefault();
    if (id === "mm-right") box("mm-up").focus(); else fromFields();
  });
}
form.addEventListener("change", () => { form.querySelectorAll("[aria-invalid]").forEach((f) => f.removeAttribute("aria-invalid")); wrong.hidden = true; keep(); send(); });
form.addEventListener("submit", (event) => {
  if (box("shots").value.trim() || box("line_arrows").value.trim()) return;  // what is typed goes the plain way
  event.preventDefault();
  if (!state.end.shots.length && !state.end.back.length) {
    wrong.hidden = false;
    wrong.textContent = "No arrow yet: tap where each one hit.";
    return;
  }
  keep(true);
  const finished = state.end.key;
  if (!opened) state.end = { key: fresh(), shots: [], back: [] };
  state.chosen = null;
  send().then(() => {
    if (finished in read().ends) draw();  // the server is away: the next end can be shot meanwhile
  });
});

// an end that was begun in this browser goes on, also in a second window; both windows join their shots
function join(other) {
  if (!other) return;
  const { values } = other;
  state.end = joined(state.end, values);
  for (const name of ["distance", "pin", "dial", "dial_as", "dial_ordered", "stands", "note", "seen"]) {
    const field = form.elements[name];
    if (field && values[name] !== undefined) field.value = values[name];
  }
}
function takeUp(key) {
  if (key !== state.end.key) state.end = { key, shots: [], back: [] };
  join(read().ends[key]);
}
const OLD_MS = 6 * 3600 * 1000;  // an end that was kept and left lying is not gone on with the next day
write((all) => { for (const [key, each] of Object.entries(all.ends)) if (each.sent && Date.now() - each.time > OLD_MS) delete all.ends[key]; });
const waiting = read();
const begun = waiting.ends[waiting.now];
if (!opened && begun && (!begun.done || begun.refused)) takeUp(waiting.now);
window.addEventListener("storage", (event) => {
  if (event.key !== store) return;
  const other = read().ends[state.end.key];
  if (other && !other.done) { join(other); draw(); }
  say();
});
window.addEventListener("online", send);
setInterval(() => { if (unsent(read()).length) send(); }, RETRY_MS);
draw();
say();
if (unsent(waiting).length) send();
