// Counts a slow vial down from the moment its bubble is moved on the glass, and times how long it was seen to move.
const settle = document.getElementById("settle");
if (settle) {
  const words = settle.textContent, timed = document.getElementById("settled");
  let timer = null, first = 0, last = 0;
  const seen = { vial: "", reference: "" };
  if (words) {
    settle.tabIndex = 0;
    settle.setAttribute("role", "timer");
    settle.title = words;
  }
  const start = () => {
    let left = Math.ceil(Number(settle.dataset.seconds));
    if (!left) return;
    clearInterval(timer);
    settle.textContent = `wait ${left} s`;
    timer = setInterval(() => {
      left -= 1;
      settle.textContent = left > 0 ? `wait ${left} s` : "settled";
      if (left <= 0) clearInterval(timer);
    }, 1000);
  };
  settle.addEventListener("click", start);
  const look = () => {
    for (const name of Object.keys(seen)) {
      const field = document.getElementById(name);
      if (!field || field.value === seen[name]) continue;
      seen[name] = field.value;
      last = Date.now();
      first ||= last;
      if (timed) timed.value = last > first ? String((last - first) / 1000) : "";
      start();
    }
  };
  for (const name of Object.keys(seen)) seen[name] = document.getElementById(name)?.value ?? "";
  for (const event of ["input", "change", "pointerup", "keyup"]) document.addEventListener(event, look);
}
// The look before, once more: one key.
const again = document.getElementById("again");
if (again) {
  document.addEventListener("keydown", (event) => {
    const typing = event.target.matches("input:not([type=checkbox]), textarea, select");
    if (event.key !== "=" || typing || event.ctrlKey || event.metaKey || event.altKey || event.repeat) return;
    event.preventDefault();
    again.requestSubmit();
  });
}
// Another way of reading asks for other fields: its form comes with what was typed so far.
const way = document.getElementById("way");
if (way) {
  const method = document.getElementById("method");
  let byKeys = false; // with arrow keys a list is gone through, and the button chooses
  method.addEventListener("keydown", () => (byKeys = true));
  method.addEventListener("pointerdown", () => (byKeys = false));
  method.addEventListener("change", () => byKeys || way.click());
}
// A bubble put past its last line, or dragged to the rim, lies against the end of its glass.
const vial = document.getElementById("vial");
const end = document.getElementById("vial_end");
const drawing = document.querySelector('[data-x-field="vial"]')?.closest("svg");
if (vial && end && drawing) {
  const most = Number(drawing.dataset.middle) / Number(drawing.dataset.perUnit) - 0.2;
  const follow = () => {
    const at = Number(vial.value.replace(",", ".").replace("−", "-"));
    if (Number.isNaN(at)) return;
    end.value = Math.abs(at) >= most ? (at > 0 ? "right" : "left") : "";
  };
  vial.addEventListener("input", follow);
  for (const event of ["pointerup", "keyup"]) drawing.addEventListener(event, follow);
  end.addEventListener("change", () => {
    if (end.value) vial.value = String((end.value === "left" ? -1 : 1) * Math.ceil(most));
    vial.dispatchEvent(new Event("change", { bubbles: true }));
  });
}
if (!document.querySelector("[autofocus]")) document.querySelectorAll(".marker.bubble")[1]?.focus({ preventScroll: true });
else document.querySelector("[autofocus]").focus();
