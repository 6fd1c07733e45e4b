// The target: tap a shot, pick one up, nudge it, call it bad, take it back. What was tapped waits in this page's storage
// until the server has it; shots have keys of their own, so nothing counts twice.
import { answers, lastAnswer } from "../shared/line_up.js";
import { loupe } from "../shared/loupe.js";
import { Ends } from "./ends.js";
import { fingers } from "../shared/finger.js";
import { Head } from "./head.js";
import { away, joined, MIDDLE, MOST_MM, offPicture, onButt, round, sideWords, toMm, toPicture, typedLines, typedMm, unsent } from "./shots.js";

const svg = document.getElementById("target");
const form = document.getElementById("end");
const SAME_MM = 2;  // two taps at once no farther apart are one arrow, until somebody says otherwise
const LOUPE_SPAN = 80;  // of the picture's 560
const rig = form.dataset.rig;
const layer = document.getElementById("target-shots");
const kept = document.getElementById("kept");
const wrong = document.getElementById("shots-error");
const asked = document.getElementById("end-asked");
const box = (id) => document.getElementById(id);
const fresh = () => Date.now().toString(36) + Math.random().toString(36).slice(2, 8);
const opened = form.dataset.opened === "yes";

// all that changes: half the picture's side [mm], the end in hand, the shot in hand, what was taken back, where a second
// tap at once fell
const state = {
  half: Number(svg.dataset.half),
  end: { key: box("end-key").value, shots: JSON.parse(svg.dataset.known || "[]"), back: [] },
  chosen: null, picked: null, undone: [], sent: "", twice: null,
};

for (const id of ["target-keys", "mm-entry"]) box(id).hidden = false;
box("typed-shots").hidden = !box("shots").value;

const ends = new Ends(form, rig, opened, {
  settled, refused, said: () => { say(); leave(); },
  asked: ask,
  taken: (key) => { state.sent = key; },
  unsure: () => head.want(),
});
const head = new Head(form, opened, () => { keep(); ends.send(); });

function fields() {
  const values = Object.fromEntries(new FormData(form));
  values.key = state.end.key;
  values.placed = JSON.stringify(state.end.shots);
  values.taken_back = state.end.back.join(" ");
  return values;
}

function keep(done = false) {
  if (!state.end.shots.length && !state.end.back.length && !done) return;
  ends.keep(state.end.key, fields(), { done, unsure: !head.sure });
  if (!head.sure) head.want();
  say();
}

const WHY = { 401: "the shop's passphrase is asked for", 403: "who looks on cannot write" };
function say() {
  const waiting = away(ends.read());
  const why = waiting && WHY[lastAnswer] ? `: ${WHY[lastAnswer]}` : "";
  kept.textContent = waiting ? `${waiting} wait in this page${why}` : state.end.shots.length ? `${state.end.shots.length} kept` : "";
  kept.classList.toggle("waits", waiting > 0);
}

async function leave() {
  if (!state.sent || unsent(ends.read()).length || !(await answers())) return;
  location.assign(`/rigs/${rig}/sight_in`);
}

function settled(key, sent, told, stored) {
  if (key !== state.end.key) return;
  for (const [name, text] of Object.entries(told.head)) {
    if (told.asked.some((each) => each.name === name)) continue;
    const field = form.elements[name];
    if (!field || field.value !== sent[name]) continue;
    field.value = stored[name] = sent[name] = text;
  }
  head.say(head.sure);
  box("end-seen").value = told.seen;
  if (!told.asked.length) { asked.replaceChildren(); asked.hidden = true; }
}

// both changed it: the arrows are kept, and the page asks which is right
function ask(key, told) {
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
  ends.write((all) => {
    const each = all.ends[key];
    each.values[`choose-${name}`] = choice;
    each.values[name] = text;
    each.asked = asked.children.length > 0;
    each.sent = false;
  });
  if (!asked.children.length) asked.hidden = true;
  head.say(head.sure);
  ends.send();
}

// refused: it stays in the page and its storage, and is said at its field
function refused(key, errors) {
  takeUp(key);
  draw();
  for (const [name, message] of Object.entries(errors)) {
    const field = name === "shots" ? null : box(name);
    field?.setAttribute("aria-invalid", "true");
    wrong.hidden = false;
    wrong.textContent = field ? `${field.labels[0].textContent}: ${message}` : message;
    if (field && box("end-fields").contains(field)) head.fold(false);
    field?.focus();
  }
}

const shotOf = (key) => state.end.shots.find((each) => each.key === key);
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
    const mark = node("g", {
      class: `shot${shot.bad ? " bad" : ""}${off ? " off" : ""}${shot.key === state.chosen ? " chosen" : ""}`, tabindex: "0",
      role: "slider", transform: `translate(${x} ${y})`, "data-key": shot.key,
      "aria-label": `Shot ${index + 1}${shot.shaft ? `, arrow ${shot.shaft}` : ""}`,
      "aria-valuemin": String(-MOST_MM), "aria-valuemax": String(MOST_MM), "aria-valuenow": String(shot.right),
      "aria-valuetext": `${sideWords(shot)} mm${shot.bad ? ", called bad" : ""}${off ? ", off the picture" : ""}`,
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
  const picked = shotOf(state.chosen);
  box("shot-bad").setAttribute("aria-pressed", String(Boolean(picked?.bad)));
  box("shot-bad").disabled = !picked;
  if (!state.end.shots.length && document.activeElement === box("shot-undo")) svg.focus({ preventScroll: true });
  box("shot-undo").disabled = !state.end.shots.length;
  box("shot-redo").hidden = !state.undone.length;
  list(shotOf(state.picked));
}

// the shots as a list: one is picked there too, and moved with the keys below it
function list(picked) {
  const chips = box("shot-list"), held = chips.contains(document.activeElement);
  chips.replaceChildren(...state.end.shots.map((shot, index) => {
    const chip = document.createElement("button");
    chip.type = "button";
    chip.className = "button";
    chip.textContent = shot.shaft ? `no. ${shot.shaft}` : String(index + 1);
    chip.setAttribute("aria-pressed", String(shot === picked));
    chip.addEventListener("click", () => choose(shot === picked ? null : shot.key));
    return chip;
  }));
  if (held) chips.querySelector("[aria-pressed=true]")?.focus();
  chips.hidden = !state.end.shots.length;
  box("nudge").hidden = !picked;
  box("nudge-says").textContent = picked ? `Arrow ${picked.shaft || state.end.shots.indexOf(picked) + 1}: ${sideWords(picked)} mm` : "";
  box("shot-twice").hidden = !state.twice;
}

function choose(key) {
  state.chosen = key ?? state.chosen;
  state.picked = key;
  draw();
}

function changed() {
  draw();
  keep();
  ends.send();
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
  state.picked = state.twice = null;
  state.undone = [];
  changed();
  return true;
}

function takeBack(key) {
  const gone = shotOf(key);
  if (!gone) return;
  state.end.shots = state.end.shots.filter((shot) => shot.key !== key);
  state.end.back.push(key);
  state.undone.push(gone);
  state.picked = null;
  state.chosen = state.end.shots.at(-1)?.key ?? null;
  changed();
}

const at = (event) => {
  const point = new DOMPoint(event.clientX, event.clientY).matrixTransform(svg.getScreenCTM().inverse());
  return { x: point.x, y: point.y, ...toMm(point.x, point.y, state.half) };
};
function tapped(event) {
  const point = at(event);
  add(point.right, point.up);
}
const apart = (one, other) => Math.hypot(one.right - other.right, one.up - other.up);
fingers(svg, {
  shotAt: (event) => {
    if (!event.target.closest(".shot")) return null;
    const point = at(event);
    return state.end.shots.reduce((best, each) => (best && apart(best, point) <= apart(each, point) ? best : each), null)?.key ?? null;
  },
  samePlace: (one, other) => apart(at(one), at(other)) <= SAME_MM,
  tapped,
  bounced: (event) => { state.twice = at(event); draw(); },  // one arrow, unless somebody says that it was two
  looking: (event) => {
    if (event) loupe(svg, "target-picture", at(event), { x: event.clientX, y: event.clientY }, LOUPE_SPAN); else loupe(svg, "", null);
  },
  picked: (key) => {
    state.chosen = state.picked = key;
    navigator.vibrate?.(20);
    draw();
    layer.querySelector(`[data-key="${key}"]`)?.focus({ preventScroll: true });
  },
  moved: (key, event) => {
    const shot = shotOf(key), point = at(event);
    if (!shot || !onButt(point.right, point.up)) return;
    Object.assign(shot, { right: round(point.right), up: round(point.up) });
    draw();
  },
  dropped: (key, far, event) => {
    if (far) changed();
    else { state.twice = at(event); draw(); }  // held on a shot, and not moved: picked, or another arrow there
  },
});
box("shot-twice").addEventListener("click", () => { if (state.twice) add(state.twice.right, state.twice.up); });
for (const key of document.querySelectorAll("#nudge [data-right]")) key.addEventListener("click", () => {
  const shot = shotOf(state.picked);
  if (!shot) return;
  shot.right = round(shot.right + Number(key.dataset.right));
  shot.up = round(shot.up + Number(key.dataset.up));
  changed();
});
box("shot-back").addEventListener("click", () => takeBack(state.picked));

const nudges = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, 1], ArrowDown: [0, -1] };
layer.addEventListener("keydown", (event) => {
  const shot = shotOf(event.target.closest(".shot")?.dataset.key);
  if (!shot) return;
  state.chosen = state.picked = shot.key;
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
  const shot = shotOf(state.chosen);
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
form.addEventListener("change", () => { form.querySelectorAll("[aria-invalid]").forEach((f) => f.removeAttribute("aria-invalid")); wrong.hidden = true; keep(); ends.send(); });
form.addEventListener("submit", (event) => {
  const typedOnes = box("shots").value.trim() || box("line_arrows").value.trim();
  if (!head.sure && (typedOnes || state.end.shots.length)) { event.preventDefault(); head.want(); head.yes.focus(); return; }
  if (typedOnes) return;  // what is typed goes the plain way
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
  if (!opened) head.say(!head.asks);
  ends.send().then(() => {
    if (finished in ends.read().ends) draw();  // the server is away: the next end can be shot meanwhile
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
  head.say(head.sure || !other.unsure);
}
function takeUp(key) {
  if (key !== state.end.key) state.end = { key, shots: [], back: [] };
  join(ends.read().ends[key]);
}
const waiting = ends.read();
const begun = waiting.ends[waiting.now];
if (!opened && begun && (!begun.done || begun.refused)) takeUp(waiting.now);
if (!opened && begun?.unsure && head.sure) keep();  // begun on a phone, gone on with where nothing is asked
window.addEventListener("storage", (event) => {
  if (event.key !== ends.store) return;
  const other = ends.read().ends[state.end.key];
  if (other && !other.done) { join(other); draw(); }
  say();
});
// what a photo or a practice bow brought lands on the target, once
const brought = new URL(location.href);
const landing = typedLines(box("shots").value);
if (brought.searchParams.has("shots") && !state.end.shots.length && landing.length) {
  box("shots").value = "";
  box("typed-shots").open = false;
  state.end.shots = landing.map(([right, up]) => ({ key: fresh(), right: round(right), up: round(up), bad: false, shaft: "" }));
  state.chosen = state.end.shots.at(-1).key;
  brought.search = "";
  history.replaceState(null, "", brought);
  const fold = document.getElementById("fold");
  if (fold?.getAttribute("aria-expanded") === "true" && !document.querySelector(".rest :is(.error:not([hidden]), .conflict, [role=alert])")) fold.click();
  changed();
}
draw();
say();
if (unsent(waiting).length) ends.send();
