// What was taken on this page and is not saved yet, kept in this window. It goes with the form as long as the field
// still says so; once the page has come anew, and not because something was refused or is unsaved, it is done with.
const KEPT = "cross-staff-taken", MOST = 200;

const all = () => { try { return JSON.parse(sessionStorage.getItem(KEPT)) ?? []; } catch { return []; } };
function keep(notes) {
  try { sessionStorage.setItem(KEPT, JSON.stringify(notes.slice(-MOST))); } catch { /* it counts as typed, then */ }
}
const here = (each) => each.page === location.pathname;
const stands = (field, text) => field && (field.value.trim() === text || field.value.split(/[\s,;]+/).includes(text));

// of a field, those that it still says
export const keptOf = (field) => all().filter((each) => here(each) && each.field === field.name && stands(field, each.text));

// with the form: those of its fields that still say so
export function carry(form) {
  const told = all().filter((each) => here(each) && stands(form.elements[each.field], each.text));
  let hidden = form.querySelector("input[name=taken]");
  if (!hidden && !told.length) return;
  if (!hidden) {
    hidden = Object.assign(document.createElement("input"), { type: "hidden", name: "taken" });
    form.append(hidden);
  }
  hidden.value = JSON.stringify(told);
}

export function note(field, reading, text, many) {
  const taken = {
    page: location.pathname, field: field.name, text, device: reading.device, figure: reading.figure, sequence: reading.sequence,
    si: reading.si, resolution: reading.resolution, at: reading.at,
  };
  const replaced = (each) => here(each) && each.field === taken.field && (!many || (each.sequence === taken.sequence && each.device === taken.device));
  keep([...all().filter((each) => !replaced(each)), taken]);
}

const open = document.querySelector("main :is([aria-invalid=true], .error, .unsaved)");
if (!open) keep(all().filter((each) => !here(each)));
for (const form of document.forms) carry(form);
