// Shows only the fields of the chosen way of measuring the peep; without it all are shown.
function showWay() {
  const way = document.getElementById("peep_way")?.value;
  for (const part of document.querySelectorAll(".by-way")) {
    part.hidden = !part.dataset.ways.split(" ").includes(way);
  }
}
document.addEventListener("change", (event) => {
  if (event.target.id === "peep_way") showWay();
});
document.addEventListener("htmx:afterSwap", showWay);
showWay();

// after a refusal the focus goes to the first field that is wrong
document.querySelector("[autofocus]")?.focus();
