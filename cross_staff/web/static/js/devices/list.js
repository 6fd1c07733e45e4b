// The shop's instruments, each with what it says at this moment.
import { aged, listen } from "./news.js";

const UNITS = { speed: [" m/s", 1], pitch: ["°", Math.PI / 180], roll: ["°", Math.PI / 180], slope: ["°", Math.PI / 180], distance: [" m", 1], mass: [" g", 1e-3], length: [" mm", 1e-3] };
const STATES = { trying: "being called", connected: "connected", away: "not there", mistaken: "not listened to" };
if (document.querySelector("[data-device]")) listen((instruments) => {
  for (const each of instruments) {
    const line = document.querySelector(`[data-device="${each.device}"]`);
    if (!line) continue;
    line.className = each.state;
    line.querySelector(".state").textContent = [STATES[each.state], each.says].filter(Boolean).join(", ");
    if (each.state === "connected") line.querySelector(".seen").textContent = "heard now";
    const latest = new Map(each.readings.filter((r) => !r.double).map((r) => [r.figure, r]));
    const words = [...latest.values()].map((r) => `${r.figure} ${Number((r.si / UNITS[r.figure][1]).toFixed(2))}${UNITS[r.figure][0]}, ${aged(r.age)}`);
    if (words.length) line.querySelector(".reads").textContent = words.join("; ");
  }
});
