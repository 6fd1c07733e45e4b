// A photo is made small on the phone before it is sent, upright, without anything the camera wrote into it; what cannot
// be read here goes as it is, and one that is too large then is said at once.
const LONGEST = 2400, LARGE_BYTES = 1500000, QUALITY = 0.9;

async function small(file) {
  const picture = await createImageBitmap(file, { imageOrientation: "from-image" });
  const part = Math.min(1, LONGEST / Math.max(picture.width, picture.height));
  const canvas = document.createElement("canvas");
  canvas.width = Math.round(picture.width * part);
  canvas.height = Math.round(picture.height * part);
  canvas.getContext("2d").drawImage(picture, 0, 0, canvas.width, canvas.height);
  picture.close();
  const made = await new Promise((done) => { canvas.toBlob(done, "image/jpeg", QUALITY); });
  return made && new File([made], file.name.replace(/\.\w+$/, "") + ".jpg", { type: "image/jpeg" });
}
function put(input, file) {
  const files = new DataTransfer();
  files.items.add(file);
  input.files = files.files;
}
for (const input of document.querySelectorAll("input[type=file][accept^=image]")) input.addEventListener("change", async () => {
  const file = input.files[0], form = input.form, send = form.querySelector("button:not([type=button])");
  if (!file) return;
  const most = Number(input.dataset.mostBytes) || Infinity;
  if (file.size > Math.min(LARGE_BYTES, most)) {
    send.disabled = true;
    try { const made = await small(file); if (made && made.size < file.size) put(input, made); } catch { /* the program says what is wrong with it */ }
    send.disabled = false;
  }
  const now = input.files[0], wrong = now.size > most;
  input.setCustomValidity(wrong ? "too large" : "");
  input.toggleAttribute("aria-invalid", wrong);
  const said = input.parentElement.querySelector(".hint, .error");
  if (said) said.className = wrong ? "error" : "hint";
  if (wrong && said) said.textContent = `is ${Math.round(now.size / 1048576)} MB: send one of at most ${most / 1048576} MB`;
  if (wrong) input.value = "";
});
