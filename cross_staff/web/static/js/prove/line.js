// The line of a visit: distances and arrows to tap, and a target whose taps become the middle of the group.
const form = document.getElementById("line");
const box = (name) => form.elements[name];

for (const row of form.querySelectorAll(".taps")) {
  row.hidden = false;
  const field = box(row.dataset.fills);
  const mark = () => {
    for (const each of row.querySelectorAll("button")) each.setAttribute("aria-pressed", String(each.dataset.value === field.value.trim()));
  };
  row.addEventListener("click", (event) => {
    const tapped = event.target.closest("button");
    if (!tapped) return;
    field.value = tapped.dataset.value;
    mark();
    box("up").focus();
  });
  field.addEventListener("input", mark);
  mark();
}

const taps = document.getElementById("proof-taps");
taps.hidden = false;
const svg = taps.querySelector("svg");
const layer = taps.querySelector(".tapped");
const half = Number(taps.dataset.half);
let shots = [];

const told = document.getElementById("taps-say"), asks = told.textContent;

function say() {
  layer.replaceChildren(...shots.map(([x, y]) => {
    const dot = document.createElementNS("http://www.w3.org/2000/svg", "circle");
    dot.setAttribute("cx", x); dot.setAttribute("cy", y); dot.setAttribute("r", 4);
    return dot;
  }));
  if (!shots.length) return;
  const middle = [0, 1].map((way) => shots.reduce((sum, shot) => sum + shot[way], 0) / shots.length * half / 100);
  const put = (name, value, way, plus, minus) => {
    box(name).value = String(Math.abs(Math.round(value * 10) / 10));
    box(way).value = value > 0 ? plus : minus;
  };
  put("right", middle[0], "right_way", "right", "left");
  put("up", -middle[1], "up_way", "high", "low");
  const sides = ["up", "right"].map((name) => `${box(name).value} ${box(`${name}_way`).value}`);
  told.textContent = `${shots.length} tapped: their middle is ${sides.join(", ")}.`;
  box("arrows").value = String(shots.length);
  box("arrows").dispatchEvent(new Event("input"));
}

svg.addEventListener("click", (event) => {
  const place = new DOMPoint(event.clientX, event.clientY).matrixTransform(svg.getScreenCTM().inverse());
  shots.push([place.x, place.y]);
  say();
});
document.getElementById("taps-clear").addEventListener("click", () => {
  shots = [];
  layer.replaceChildren();
  told.textContent = asks;
});
