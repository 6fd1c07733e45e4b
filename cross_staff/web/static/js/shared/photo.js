// A photo that is too large is said at once, before it is sent.
const input = document.getElementById("photo");
input?.addEventListener("change", () => {
  const file = input.files[0];
  const most = Number(input.dataset.mostBytes);
  const wrong = file && file.size > most;
  input.setCustomValidity(wrong ? "too large" : "");
  input.toggleAttribute("aria-invalid", Boolean(wrong));
  const said = input.parentElement.querySelector(".hint, .error");
  said.className = wrong ? "error" : "hint";
  if (wrong) said.textContent = `is ${Math.round(file.size / 1048576)} MB: send one of at most ${most / 1048576} MB`;
  if (wrong) input.value = "";
});
