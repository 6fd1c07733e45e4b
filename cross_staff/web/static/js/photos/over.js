// From the earlier photo to the later one that lies over it.
const how = document.getElementById("over-how");
how?.addEventListener("input", () => document.getElementById("over-after").setAttribute("opacity", String(how.value / 100)));
