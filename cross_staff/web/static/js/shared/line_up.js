// Acts on their way wait in one line: what is sent by another part of the page looks here what was done before it.
// What is not saved stands in this browser by the rig of its page; how the server answers is told to who listens.
const STORE = "cross-staff-unsaved";

export function unsavedActs() {
  try { return JSON.parse(localStorage.getItem(STORE)) ?? {}; } catch { return {}; }
}

// whether an act of this rig that was done before then has not arrived yet
export function earlierAct(rig, time) {
  return Object.values(unsavedActs()).some((each) => !each.refused && !each.stuck && each.time < time && each.action.startsWith(`/rigs/${rig}/`));
}

export let lastAnswer = 200;  // the status of the newest answer of the server; 0 while nobody answers
export function tellHowItIs(status) {
  lastAnswer = status;
  document.dispatchEvent(new CustomEvent("server:answered", { detail: status }));
}

// whether the server answers just now: a page is left only for one that comes
export async function answers() {
  try {
    const answer = await fetch("/saves/is-it-there", { signal: AbortSignal.timeout(3000) });
    tellHowItIs(answer.status);
    return answer.status < 500;
  } catch { tellHowItIs(0); return false; }
}
