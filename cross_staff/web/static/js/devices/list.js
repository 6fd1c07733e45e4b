// The shop's instruments, each with what it says at this moment.
import { aged, listen } from "./news.js";

if (document.querySelector("[data-device]")) listen(({ instruments }) => {
  for (const each of instruments) {
    const line = document.querySelector(`[data-device="${each.device}"]`);
    if (!line) continue;
    line.className = each.state;
    line.querySelector(".state").textContent = each.stands;
    if (each.state === "connected") line.querySelector(".seen").textContent = "heard now";
    const latest = new Map(each.readings.filter((r) => !r.double).map((r) => [r.figure, r]));
    const words = [...latest.values()].map((r) => `${r.shown}, ${aged(r.age)}`);
    if (words.length) line.querySelector(".reads").textContent = words.join("; ");
  }
});
