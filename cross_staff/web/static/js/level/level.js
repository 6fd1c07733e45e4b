// Counts a slow vial down after a turn or a tap on it, and puts the hand on the sight's bubble.
const settle = document.getElementById("settle");
if (settle) {
  const words = settle.textContent;
  let timer = null;
  settle.tabIndex = 0;
  settle.setAttribute("role", "timer");
  const start = () => {
    let left = Math.ceil(Number(settle.dataset.seconds));
    clearInterval(timer);
    settle.textContent = `wait ${left} s`;
    timer = setInterval(() => {
      left -= 1;
      settle.textContent = left > 0 ? `wait ${left} s` : "settled";
      if (left <= 0) clearInterval(timer);
    }, 1000);
  };
  settle.title = words;
  start();
}
if (!document.querySelector("[autofocus]")) document.querySelectorAll(".marker.bubble")[1]?.focus({ preventScroll: true });
else document.querySelector("[autofocus]").focus();
