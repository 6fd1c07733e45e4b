// Light or dark: the system's choice until the lamp is switched by hand; in the sun, black on white and large. Runs before
// the first paint.
document.documentElement.classList.add("scripted");
const kept = localStorage.getItem("lamp");
if (localStorage.getItem("sun")) document.documentElement.dataset.sun = "";
if (kept) document.documentElement.dataset.theme = kept;
document.addEventListener("DOMContentLoaded", () => {
  const lamp = document.getElementById("lamp");
  const dark = () => {
    const set = document.documentElement.dataset.theme;
    return set ? set === "dark" : matchMedia("(prefers-color-scheme: dark)").matches;
  };
  const show = () => lamp.setAttribute("aria-pressed", String(dark()));
  lamp.addEventListener("click", () => {
    const next = dark() ? "light" : "dark";
    document.documentElement.dataset.theme = next;
    localStorage.setItem("lamp", next);
    show();
  });
  show();
  const sun = document.getElementById("sun");
  const shine = () => sun.setAttribute("aria-pressed", String("sun" in document.documentElement.dataset));
  sun.addEventListener("click", () => {
    if (!document.documentElement.toggleAttribute("data-sun")) localStorage.removeItem("sun"); else localStorage.setItem("sun", "yes");
    shine();
  });
  shine();
});
