// Ends of arrows on their way: kept in this browser until the server has them, sent in the order in which they were shot,
// each once, and never before an act of this rig that was done earlier, nor after one that was done later.
import { earlierAct, tellHowItIs } from "../shared/line_up.js";
import { unsent } from "./shots.js";

const RETRY_MS = 3000, ANSWER_MS = 15000, OLD_MS = 6 * 3600 * 1000;

export class Ends {
  // `hooks`: settled(key, sent, told), asked(key, told), refused(key, errors), said(), taken(key), all of it optional
  constructor(form, rig, opened, hooks) {
    Object.assign(this, { form, rig, opened, hooks, store: `range-${rig}`, sending: false });
    this.write((all) => {  // an end that was kept and left lying is not gone on with the next day
      for (const [key, each] of Object.entries(all.ends)) if (each.sent && Date.now() - each.time > OLD_MS) delete all.ends[key];
    });
    window.addEventListener("online", () => this.send());
    document.addEventListener("visibilitychange", () => { if (!document.hidden) this.send(); });
    document.addEventListener("save:sent", () => this.send());
    document.addEventListener("save:before", (event) => { if (this.earlier(event.detail.time)) { event.preventDefault(); this.send(); } });
    setInterval(() => { if (this.ready().length) this.send(); }, RETRY_MS);
  }

  read() {
    try { return JSON.parse(localStorage.getItem(this.store)) ?? { now: "", ends: {} }; } catch { return { now: "", ends: {} }; }
  }

  write(change) {
    const all = this.read();
    change(all);
    localStorage.setItem(this.store, JSON.stringify(all));
  }

  // an end as it stands now; `now` names the one that is being shot
  keep(key, values, { done, unsure }) {
    this.write((all) => {
      const begun = all.ends[key]?.begun ?? Date.now();
      all.now = done || this.opened ? (all.now === key ? "" : all.now) : key;
      all.ends[key] = { values, done, unsure, begun, time: Date.now() };
    });
  }

  ready() { return unsent(this.read()).filter((each) => !each.unsure && !each.refused); }

  // whether an end that was begun before then is still here; one of which nobody said yet where it is shot is asked about
  earlier(time) {
    const before = unsent(this.read()).filter((each) => !each.refused && (each.begun ?? each.time) < time);
    if (before.some((each) => each.unsure)) this.hooks.unsure();
    return before.length > 0;
  }

  async send() {
    if (this.sending) return;
    this.sending = true;
    try {
      const all = Object.entries(this.read().ends).sort(([, a], [, b]) => (a.begun ?? a.time) - (b.begun ?? b.time));
      for (const [key, each] of all) {
        if (each.refused || each.sent || each.asked || each.unsure) continue;
        if (earlierAct(this.rig, each.begun ?? each.time)) break;
        if (!(await this.sendOne(key, each))) break;
      }
    } catch { tellHowItIs(0); } finally {
      this.sending = false;
      this.hooks.said();
    }
  }

  async sendOne(key, each) {
    const answer = await fetch(this.form.action, {
      method: "POST", body: new URLSearchParams(each.values), headers: { "HX-Request": "true" }, signal: AbortSignal.timeout(ANSWER_MS),
    });
    tellHowItIs(answer.status);
    if (answer.status === 422) {
      const { errors } = await answer.json();
      this.write((all) => { all.ends[key].refused = true; all.now = key; });
      this.hooks.refused(key, errors);
      return true;
    }
    if (!answer.ok && answer.status !== 409) return false;
    const told = await answer.json();
    this.settle(key, each.values, told);
    if (answer.status === 409) {
      this.write((all) => { all.ends[key].asked = true; all.now = key; });
      this.hooks.asked(key, told);
      return true;
    }
    this.write((all) => {
      const { time: _, ...now } = all.ends[key] ?? {}, { time: __, ...sent } = each;
      if (JSON.stringify(now) !== JSON.stringify(sent)) return;  // changed meanwhile: sent again
      if (each.done || this.opened) delete all.ends[key]; else all.ends[key].sent = true;  // goes on until it is done
    });
    if (each.done) this.hooks.taken(key);
    return true;
  }

  // what stands over the arrows now: what this page did not change since is shown as it is kept
  settle(key, sent, told) {
    this.write((all) => {
      if (!all.ends[key]) return;
      const stored = all.ends[key].values;
      stored.seen = sent.seen = told.seen;
      for (const name of Object.keys(stored)) if (name.startsWith("choose-")) delete stored[name];
      this.hooks.settled(key, sent, told, stored);
    });
  }
}
