// Without an answer from the program a page that is left is gone: its links say so instead, until the server answers again. A visit that
// ended says where to begin another; what waits here goes then.
import { answers } from "./line_up.js";

const bar = document.getElementById("save-bar");
let lost = false;
function say(words, link) {
  if (!words && !bar.dataset.lost) return;
  bar.hidden = !words;
  bar.dataset.lost = words ? "network" : "";
  bar.replaceChildren(words);
  if (!link) return;
  const a = document.createElement("a");
  a.href = link;
  a.textContent = "Come in again";
  bar.append(" ", a);
}
document.addEventListener("server:answered", ({ detail }) => {
  lost = detail === 0;
  const here = encodeURIComponent(location.pathname + location.search);
  if (lost) say("No answer from the program: stay on this page. What you do here is kept and goes by itself.");
  else if (detail === 401) say("This device is asked for the shop's passphrase again. What you did is kept here.", `/shop?to=${here}`);
  else say("");
});
for (const change of ["offline", "online"]) window.addEventListener(change, answers);  // the program may be on this very machine
document.addEventListener("click", (event) => {
  const link = event.target.closest("a[href]");
  if (!lost || !link || link.getAttribute("href").startsWith("#") || event.defaultPrevented) return;
  event.preventDefault();
  answers().then((there) => { if (there) link.click(); });
});
window.addEventListener("beforeunload", (event) => { if (lost) event.preventDefault(); });
if (!navigator.onLine) answers();
