// An example of the JSON interface is sent as it stands in its field, and the answer shown below it.
for (const form of document.querySelectorAll("form[data-try]")) {
  const button = form.querySelector("button"), told = form.querySelector("pre");
  button.hidden = false;
  form.addEventListener("submit", async (event) => {
    event.preventDefault();
    told.hidden = false;
    told.textContent = "Waiting for the answer…";
    try {
      const body = form.querySelector("textarea").value;
      const answer = await fetch(form.dataset.try, { method: "POST", body, headers: { "Content-Type": "application/json" } });
      told.textContent = `${answer.status}\n${JSON.stringify(await answer.json(), null, 1)}`;
    } catch {
      told.textContent = "The program does not answer.";
    }
  });
}
