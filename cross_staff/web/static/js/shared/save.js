// Every save of every page goes through here and says how it stands, at the form itself: waiting, saved,
// refused, or not saved. What is not saved stays in this browser and is tried again, from whichever page
// is open; coming back to its page puts it back into the form.
import { answers, earlierAct, tellHowItIs, unsavedActs as unsaved } from "./line_up.js";

const STORE = "cross-staff-unsaved", SAID = "cross-staff-saved";
const FIRST_MS = 2000, LONGEST_MS = 30000, SHOW_MS = 150, ANSWER_MS = 15000, LOOK_MS = 250, STALE_MS = 60000, MOST_FAULTS = 3;
const bar = document.getElementById("save-bar");
const live = new Map();  // saves whose form is on this page, by their keys

const fresh = () => (crypto.randomUUID?.() ?? `${Date.now()}-${Math.random()}`).replace(/[^A-Za-z0-9-]/g, "").padEnd(12, "0");
const clock = (time = Date.now()) => new Date(time).toTimeString().slice(0, 5);
// a field may be named method or action, and then stands in the place of the form's own
const posts = (form) => form.getAttribute("method")?.toLowerCase() === "post";
const pathOf = (form) => new URL(form.getAttribute("action"), location.href).pathname;
const here = () => location.pathname + location.search;
// a page without what it said of the save that led to it
const NEWS = ["saved", "said", "taken", "back", "gone", "removed"];
function page(address = here()) {
  const to = new URL(address, location.href);
  for (const name of NEWS) to.searchParams.delete(name);
  return to.pathname + to.search;
}

function change(edit) {
  const all = unsaved();
  edit(all);
  try { localStorage.setItem(STORE, JSON.stringify(all)); } catch { /* no room: it stays in the form */ }
}

// ---- what is said, at the form
function place(form) {
  const anchor = form.querySelector("button.is-primary, button:not([type=button])") ?? form;
  let said = form.querySelector(":scope .save-state");
  if (!said) {
    said = document.createElement("p");
    said.className = "save-state";
    said.setAttribute("role", "status");
    if (anchor === form) form.append(said); else anchor.after(said);
  }
  return said;
}
function say(form, state, words, act) {
  const said = place(form);
  said.dataset.state = state;
  said.replaceChildren(document.createTextNode(words));
  if (act) {
    const button = document.createElement("button");
    button.type = "button";
    button.className = "plain";
    button.textContent = act.words;
    button.addEventListener("click", act.run);
    said.append(" ", button);
  }
}
function announce(words, link) {
  bar.hidden = !words;
  bar.replaceChildren(document.createTextNode(words));
  if (!link) return;
  const a = document.createElement("a");
  a.href = link;
  a.textContent = "Open it";
  bar.append(" ", a);
}

// ---- sending
const withFiles = (form) => form.getAttribute("enctype") === "multipart/form-data";
function entries(form, submitter) {
  return [...new FormData(form, submitter?.form === form ? submitter : undefined)].filter(([, value]) => typeof value === "string");
}
function body(save) {
  if (save.form && withFiles(save.form)) return new FormData(save.form, save.submitter ?? undefined);
  return new URLSearchParams(save.form ? entries(save.form, save.submitter) : save.fields);
}

function go(address) {
  const to = new URL(address, location.href);
  // a page that came as the answer to a form must not be loaded again: that would send the form again
  if (to.pathname + to.search === here()) location.replace(to.pathname + to.search);
  else location.assign(to);
}

// a form that takes a while says how far it is
async function lookOn(save) {
  const key = save.send ?? save.key, words = save.form.dataset.progress;
  while (save.busy && words) {
    try {
      const answer = await fetch(`/saves/${key}`), stands = answer.status === 200 ? await answer.json() : null;
      if (save.busy && stands) say(save.form, "waiting", `${stands.done} of ${stands.of} ${words}…`);
    } catch { /* what it comes to is said by the save itself */ }
    await new Promise((go) => setTimeout(go, LOOK_MS));
  }
}

async function attempt(save) {
  if (save.busy) return;
  clearTimeout(save.timer);
  // something that was done before it is still on its way: it comes after it
  if (inOrder(save) && (earlierAct(rigOf(save), save.time) || !document.dispatchEvent(new CustomEvent("save:before", { cancelable: true, detail: save })))) {
    inLine(save);
    return;
  }
  save.busy = true;
  const slow = setTimeout(() => {
    if (!save.form) return;
    say(save.form, "waiting", "Waiting for the answer…");
    lookOn(save);
  }, SHOW_MS);
  let answer = null;
  const sent = body(save), text = String(sent instanceof FormData ? entries(save.form, save.submitter) : sent);
  if (save.sent !== undefined && save.sent !== text) save.send = fresh();  // typed on meanwhile: another save than before
  save.sent = text;
  const signal = inOrder(save) ? AbortSignal.timeout(ANSWER_MS) : undefined;
  try {
    answer = await fetch(save.action, { method: "POST", body: sent, headers: { "X-Save": save.send ?? save.key, Accept: "text/html" }, signal });
  } catch { /* nobody answered */ }
  clearTimeout(slow);
  save.busy = false;
  tellHowItIs(answer?.status ?? 0);
  if (answer?.status === 204) saved(save, answer.headers.get("X-Go-On"));
  else if (answer && answer.status < 500 && answer.status !== 401) refused(save);
  else notSaved(save, answer?.status ?? 0);
}

function saved(save, address) {
  change((all) => delete all[save.key]);
  live.delete(save.key);
  document.dispatchEvent(new Event("save:sent"));
  if (!save.form) { announce(`What was typed at ${clock(save.time)} is saved now.`, save.page); return; }
  say(save.form, "saved", `Saved, ${clock()}`);
  sessionStorage.setItem(SAID, JSON.stringify({ action: save.action, time: Date.now() }));
  if (inOrder(save)) answers().then((there) => (there ? go(address ?? here()) : say(save.form, "saved", `Saved, ${clock()}. No answer from the program now: this page stays open.`)));
  else go(address ?? here());
}

// the server's own page says what is wrong, each at its field
function refused(save) {
  if (!save.form) {
    change((all) => { if (all[save.key]) all[save.key].refused = true; });
    announce(`What was typed at ${clock(save.time)} was refused.`, save.page);
    return;
  }
  change((all) => delete all[save.key]);
  live.delete(save.key);
  say(save.form, "refused", "Refused: see what it says");
  save.form.dataset.native = "yes";
  if (save.submitter) save.form.requestSubmit(save.submitter); else save.form.requestSubmit();
}

// acts of a page whose order counts: kept from the first moment, sent one after the other
const inOrder = (save) => save.inOrder ?? Boolean(save.form?.closest("[data-in-order]"));
const rigOf = (save) => /^\/rigs\/(\d+)\//.exec(save.action)?.[1] ?? "";
function inLine(save) {
  if (save.form) { if (!withFiles(save.form)) keep(save); say(save.form, "waiting", "Kept here: it goes after what was done before it."); }
  save.timer = setTimeout(() => attempt(save), FIRST_MS / 2);
}

const REASONS = {
  0: "the program does not answer", 401: "the shop's passphrase is asked for", 503: "the data is held or cannot be written",
};
const because = (status) => REASONS[status] ?? "the program failed";

function notSaved(save, status) {
  save.faults = status === 500 ? (save.faults ?? 0) + 1 : 0;
  save.wait = Math.min((save.wait ?? FIRST_MS / 2) * 2, LONGEST_MS);
  const why = because(status), again = save.faults < MOST_FAULTS;
  if (save.form) {
    if (!withFiles(save.form)) keep(save);
    const shoot = inOrder(save) && status !== 401 && save.form.closest("main").querySelector("#target") ? " Go on meanwhile: what you do comes after it." : "";
    const words = `Not saved: ${why}. It is kept here${again ? " and tried again" : ""}.${shoot}`;
    say(save.form, "not-saved", words, { words: "try now", run: () => { save.wait = undefined; attempt(save); } });
  } else if (status !== 401) announce(`What was typed at ${clock(save.time)} is not saved yet: ${why}.`, save.page);
  if (!again) change((all) => { if (all[save.key]) all[save.key].stuck = true; });  // what comes after it does not wait for it
  if (again) save.timer = setTimeout(() => attempt(save), save.wait);
}

function keep(save) {
  change((all) => {
    all[save.key] = {
      action: save.action, page: save.page, time: save.time, fields: entries(save.form, save.submitter),
      submitter: save.submitter?.name ? [save.submitter.name, save.submitter.value] : null, inOrder: inOrder(save),
    };
  });
}

document.addEventListener("submit", (event) => {
  const form = event.target, submitter = event.submitter;
  if (event.defaultPrevented || !posts(form) || form.hasAttribute("hx-post") || form.dataset.native) return;
  event.preventDefault();
  if ([...live.values()].some((each) => each.form === form && each.busy)) return;  // a second click on the same save
  for (const each of live.values()) if (each.form === form) { clearTimeout(each.timer); live.delete(each.key); change((all) => delete all[each.key]); }
  const action = new URL(submitter?.getAttribute("formaction") ?? form.getAttribute("action"), location.href);
  const save = { key: fresh(), form, submitter, action: action.pathname + action.search, page: page(), time: Date.now() };
  live.set(save.key, save);
  if (inOrder(save) && !withFiles(form)) keep(save);
  attempt(save);
});

// ---- what htmx sends: the marks table saves by itself, everything else only looks ahead
const rowsOf = new Set(), onTheWay = new Set();  // rows that were changed, and those of the request that is out
let marksWait = 0, marksTimer = null;
const isSave = (event) => event.detail.elt?.matches?.("[data-save]");
document.addEventListener("change", (event) => {
  const row = event.target.closest("[data-save] tr");
  if (row) rowsOf.add(row);
});
function sayRows(rows, state, words) {
  for (const row of rows) {
    const cell = row.querySelector(".said-cell") ?? row.lastElementChild;
    let said = cell.querySelector(":scope > .save-state");
    if (!said) {
      said = document.createElement("p");
      said.className = "save-state";
      said.setAttribute("role", "status");
      cell.append(said);
    }
    const wrong = state === "saved" && row.querySelector(".error");
    said.dataset.state = wrong ? "refused" : state;
    said.textContent = wrong ? "Not saved: see what it says" : words;
  }
}
document.addEventListener("htmx:beforeRequest", (event) => {
  if (!isSave(event)) return;
  for (const row of rowsOf) onTheWay.add(row);
  rowsOf.clear();  // what is changed meanwhile waits for the next
  sayRows(onTheWay, "waiting", "Waiting for the answer…");
});
document.addEventListener("htmx:afterRequest", (event) => {
  const { xhr, elt } = event.detail, status = xhr?.status ?? 0;
  if (status === 0 && event.detail.failed !== true && event.detail.successful === undefined) return;
  if (!isSave(event)) {
    if (status >= 500) announce("The program failed just now: what you see may be old.");
    else if (status && bar.dataset.lost) { delete bar.dataset.lost; announce(""); }
    return;
  }
  if (status && status < 500 && status !== 401) {
    change((all) => delete all[tableKey(elt)]);
    marksWait = 0;
    sayRows(onTheWay, "saved", `Saved, ${clock()}`);
    onTheWay.clear();
  } else marksNotSaved(elt, status);
});
document.addEventListener("htmx:sendError", (event) => {
  if (isSave(event)) return;
  bar.dataset.lost = "yes";
  announce("The program does not answer: what you see may be old.");
});
const tableKey = (form) => `${form.getAttribute("id")} ${pathOf(form)}`;
function marksNotSaved(form, status) {
  for (const row of onTheWay) rowsOf.add(row);
  onTheWay.clear();
  sayRows(rowsOf, "not-saved", `Not saved: ${because(status)}. It is kept here and tried again.`);
  change((all) => {
    all[tableKey(form)] = {
      action: pathOf(form), page: page(), time: Date.now(), fields: entries(form), table: true, send: fresh(),
    };
  });
  marksWait = Math.min((marksWait || FIRST_MS / 2) * 2, LONGEST_MS);
  clearTimeout(marksTimer);
  marksTimer = setTimeout(() => form.querySelector("tbody").dispatchEvent(new Event("change", { bubbles: true })), marksWait);
}

// ---- coming to a page
// the form that was sent: its address, all its fields, and of several the one whose hidden fields say the same
function formOf(kept) {
  if (page(kept.page) !== page()) return undefined;
  const fields = kept.fields.filter(([name]) => name !== kept.submitter?.[0]);
  const says = (form, [name, value]) => form.elements[name]?.type !== "hidden" || name === "seen" || form.elements[name].value === value;
  const fits = [...document.forms].filter((form) => posts(form) && pathOf(form) === kept.action.split("?")[0]
    && (kept.table || fields.every(([name]) => form.elements[name])));
  return fits.find((form) => fields.every((each) => says(form, each))) ?? fits[0];
}
function fill(form, fields) {
  const names = new Set(fields.map(([name]) => name));
  for (const [name, value] of fields) {
    while (form.matches("[data-save]") && !form.elements[name] && /^row-\d+-(distance|mark)$/.test(name)) {
      const last = form.querySelector("tbody tr:last-child input.input");
      const count = form.querySelectorAll("tbody tr").length;
      last.dispatchEvent(new Event("input", { bubbles: true }));
      if (form.querySelectorAll("tbody tr").length === count) break;
    }
    if (name === "taken" && !form.elements[name]) form.append(Object.assign(document.createElement("input"), { type: "hidden", name }));
    const field = form.elements[name];
    if (!field) continue;
    if (field instanceof RadioNodeList || field.type === "radio") { for (const each of form.querySelectorAll(`[name="${CSS.escape(name)}"]`)) each.checked = each.value === value; }
    else if (field.type === "checkbox") field.checked = true;
    else if (field.type !== "file" && field.type !== "submit") field.value = value;
  }
  for (const box of form.querySelectorAll("input[type=checkbox]")) if (!names.has(box.name)) box.checked = false;
}

function takeUp() {
  for (const [key, kept] of Object.entries(unsaved())) {
    const form = formOf(kept);
    if (form && kept.table) {
      fill(form, kept.fields);
      for (const row of form.querySelectorAll("tbody tr")) if ([...row.querySelectorAll("input.input")].some((input) => input.value !== input.defaultValue)) rowsOf.add(row);
      marksNotSaved(form, 0);
      continue;
    }
    const save = { key, ...kept };
    if (form) {
      fill(form, kept.fields);
      save.form = form;
      save.submitter = kept.submitter && form.querySelector(`button[name="${CSS.escape(kept.submitter[0])}"][value="${CSS.escape(kept.submitter[1])}"]`);
      live.set(key, save);
      if (kept.refused) {
        say(form, "refused", `Refused: what you typed at ${clock(kept.time)} is back here.`);
        change((all) => delete all[key]);
        live.delete(key);
        continue;
      }
    } else if (kept.refused) { announce(`What was typed at ${clock(kept.time)} was refused.`, kept.page); continue; }
    attempt(save);
  }
  const before = sessionStorage.getItem(SAID);
  sessionStorage.removeItem(SAID);
  if (!before) return;
  const { action, time } = JSON.parse(before);
  if (Date.now() - time > STALE_MS || document.querySelector("main .said[role=status]")) return;  // the page says it
  const form = [...document.forms].find((each) => posts(each) && pathOf(each) === action.split("?")[0]);
  if (form && !form.querySelector("button.plain")) say(form, "saved", `Saved, ${clock(time)}`);
  else {
    announce(`Saved, ${clock(time)}`);
    for (const next of ["pointerdown", "keydown"]) document.addEventListener(next, () => announce(""), { once: true });
  }
}
window.addEventListener("online", () => { for (const save of live.values()) attempt(save); });
window.addEventListener("beforeunload", (event) => {
  if ([...live.values()].some((save) => save.form && withFiles(save.form) && !save.busy)) event.preventDefault();
});
takeUp();
