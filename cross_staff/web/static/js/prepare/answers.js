// Number keys press the answer of that number.
document.addEventListener("keydown", (event) => {
  if (event.target.matches("input:not([type=checkbox]), textarea, select, .marker")) return;
  if (event.ctrlKey || event.metaKey || event.altKey) return;
  const answer = document.querySelector(`.answer[data-number="${event.key}"]`);
  if (!answer) return;
  event.preventDefault();
  event.stopImmediatePropagation();
  answer.click();
}, true);
