// sessions are moved by drag onto another day, or by arrow keys; Enter puts them there, Escape leaves them
const MINUTE = 60_000, DAY = 24 * 60 * MINUTE;
const FAR_PX = 8; // beyond it a press is a drag
const STEPS = { ArrowLeft: -DAY, ArrowRight: DAY, ArrowUp: -15 * MINUTE, ArrowDown: 15 * MINUTE };
const asText = (moment) => new Date(moment).toISOString().slice(0, 16); // wall time, kept as if it were UTC
const asMoment = (text) => Date.parse(`${text}:00Z`);
const days = ["Sun", "Mon", "Tue", "Wed", "Thu", "Fri", "Sat"];
const said = (moment) => { const at = new Date(moment); return `${days[at.getUTCDay()]} ${at.getUTCDate()}, ${asText(moment).slice(11)}`; };

for (const session of document.querySelectorAll("details.session")) {
  const form = session.querySelector("form"), field = form.elements.start, summary = session.querySelector("summary");
  const goes = session.querySelector(".goes-to"), begun = field.value;
  const put = (moment) => { field.value = asText(moment); goes.textContent = field.value === begun ? "" : `to ${said(moment)}: Enter`; };
  summary.addEventListener("keydown", (event) => {
    if (event.key in STEPS) { event.preventDefault(); put(asMoment(field.value) + STEPS[event.key]); }
    else if (event.key === "Enter" && field.value !== begun) { event.preventDefault(); form.requestSubmit(); }
    else if (event.key === "Escape") put(asMoment(begun));
  });
  if (session.closest(".day")) dragged(session, form, summary);
}

// by mouse or pen onto another day; under a finger the page scrolls, and the form below the session moves it
function dragged(session, form, summary) {
  let from = null, over = null;
  const dayAt = (event) => document.elementFromPoint(event.clientX, event.clientY)?.closest(".day") ?? null;
  const mark = (day) => { over?.classList.remove("over"); over = day; day?.classList.add("over"); };
  const end = () => { mark(null); session.classList.remove("dragged"); from = null; };
  summary.addEventListener("pointerdown", (event) => {
    if (event.pointerType !== "touch" && event.button === 0) from = [event.clientX, event.clientY];
  });
  summary.addEventListener("pointermove", (event) => {
    if (!from || (over === null && Math.hypot(event.clientX - from[0], event.clientY - from[1]) < FAR_PX)) return;
    if (!session.classList.contains("dragged")) { session.classList.add("dragged"); summary.setPointerCapture(event.pointerId); }
    mark(dayAt(event));
  });
  summary.addEventListener("pointerup", () => {
    const day = over?.dataset.day, moved = session.classList.contains("dragged");
    end();
    if (!moved) return;
    summary.addEventListener("click", (click) => click.preventDefault(), { once: true }); // it was no tap
    if (!day || form.elements.start.value.startsWith(day)) return;
    form.elements.start.value = `${day}T${form.elements.start.value.slice(11)}`;
    form.requestSubmit();
  });
  summary.addEventListener("pointercancel", end);
}
