// Light or dark: the system's choice until the lamp is switched by hand. Runs before the first paint.
const kept = localStorage.getItem("lamp");
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
});
