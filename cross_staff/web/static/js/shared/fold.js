// On a phone a page at the range shows the order and what it asks for; everything else waits under one fold. What was
// refused, opened by its address or found on the page is never under it.
const main = document.getElementById("main"), key = document.getElementById("fold");
if (main && key) {
  const unfold = (open) => {
    main.classList.toggle("unfolded", open);
    key.setAttribute("aria-expanded", String(open));
    key.textContent = open ? "Only what is next" : "Everything else";
  };
  const inRest = (element) => Boolean(element && element.closest(".rest"));
  const wanted = () => {
    if (inRest(document.getElementById(location.hash.slice(1)))) unfold(true);
  };
  key.addEventListener("click", () => unfold(!main.classList.contains("unfolded")));
  window.addEventListener("hashchange", wanted);
  if (main.querySelector(".rest :is([aria-invalid=true], .error:not([hidden]), .conflict, [role=alert], [data-unfolds])")) unfold(true);
  wanted();
}
