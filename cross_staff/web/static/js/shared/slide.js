// A slider shows what it stands at, as it is slid.
document.addEventListener("input", (event) => {
  if (!event.target.matches("input[type=range]")) return;
  const shown = document.querySelector(`output.slid-value[for="${CSS.escape(event.target.id)}"]`);
  if (shown) shown.textContent = event.target.value + (/[^-0-9.,−]*$/.exec(shown.textContent)?.[0] ?? "");
});
