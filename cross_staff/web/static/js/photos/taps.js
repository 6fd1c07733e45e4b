// Taps on a photo: each row of the list is a place, filled by a tap on the picture, corrected by dragging, by a long
// press, or with the arrow keys; what lies under the finger is drawn larger. The rows' own fields are what is sent.
import { fingers } from "../shared/finger.js";
import { loupe } from "../shared/loupe.js";

const NEAR_PX = 26, LOUPE_PART = 0.09;

function begin(bench) {
  const svg = bench.querySelector("svg[data-taps]");
  const [WIDTH, HEIGHT] = [svg.viewBox.baseVal.width, svg.viewBox.baseVal.height];
  const layer = bench.querySelector(".taps-layer"), told = bench.querySelector(".tap-now");
  const rows = [...bench.querySelectorAll("[data-tap]")].map((part) => ({
    part, key: part.dataset.tap, most: Number(part.dataset.most), words: part.dataset.words, field: part.querySelector("input.input"), letter: part.dataset.letter,
  }));
  const state = { now: -1 };

  const read = (row) => row.field.value.split(";").map((text) => text.trim().split(/[\s,]+/).map(Number))
    .filter((pair) => pair.length === 2 && pair.every(Number.isFinite)).map(([x, y]) => ({ x, y }));
  const round = (value) => Math.round(value * 10) / 10;
  function write(row, points) {
    row.field.value = points.map(({ x, y }) => `${round(x)} ${round(y)}`).join("; ");
    row.part.classList.toggle("filled", points.length > 0);
  }
  const full = (row) => read(row).length >= row.most;
  // what is tapped next: the first row after this one that is not full, else the first; one of as many as there are never is
  const next = () => {
    const open = rows.map((row, number) => ({ row, number })).filter(({ row }) => !full(row));
    return (open.find(({ number }) => number > state.now) ?? open[0])?.number ?? rows.length;
  };

  const node = (name, attributes) => {
    const made = document.createElementNS("http://www.w3.org/2000/svg", name);
    for (const [key, value] of Object.entries(attributes)) made.setAttribute(key, value);
    return made;
  };
  const perPx = () => WIDTH / Math.max(svg.clientWidth, 1);
  function draw() {
    const size = perPx(), focused = document.activeElement?.closest?.(".tap")?.dataset.place;
    layer.replaceChildren(...rows.flatMap((row, number) => read(row).map(({ x, y }, index) => {
      const name = row.most > 1 ? `${row.letter}${index + 1}` : row.letter;
      const mark = node("g", {
        class: `tap${number === state.now ? " now" : ""}`, transform: `translate(${x} ${y}) scale(${size})`, tabindex: "0", role: "slider",
        "data-place": `${number} ${index}`, "aria-label": `${row.words}${row.most > 1 ? `, number ${index + 1}` : ""}`,
        "aria-valuemin": "0", "aria-valuemax": String(WIDTH), "aria-valuenow": String(x), "aria-valuetext": `${x} from the left, ${y} from the top`,
      });
      mark.append(node("path", { d: "M-13 0H-4M4 0H13M0 -13V-4M0 4V13" }), node("circle", { r: 13 }));
      const text = node("text", { x: 15, y: -8 });
      text.textContent = name;
      mark.append(text);
      return mark;
    })));
    if (focused) layer.querySelector(`[data-place="${focused}"]`)?.focus({ preventScroll: true });
    for (const [number, row] of rows.entries()) row.part.setAttribute("aria-current", String(number === state.now));
    const row = rows[state.now];
    told.textContent = !row ? "Everything is tapped: correct what lies beside its place." : row.most > 1 ? `Tap ${row.words} (${row.most < 60 ? `${read(row).length} of ${row.most}` : `${read(row).length} so far`})` : `Tap ${row.words}`;
  }

  const at = (event) => {
    const point = new DOMPoint(event.clientX, event.clientY).matrixTransform(svg.getScreenCTM().inverse());
    return { x: Math.min(Math.max(point.x, 0), WIDTH), y: Math.min(Math.max(point.y, 0), HEIGHT) };
  };
  const all = () => rows.flatMap((row, number) => read(row).map((point, index) => ({ ...point, number, index })));
  function nearest(point, most = Infinity) {
    const found = all().map((each) => ({ ...each, apart: Math.hypot(each.x - point.x, each.y - point.y) })).sort((a, b) => a.apart - b.apart)[0];
    return found && found.apart <= most ? found : null;
  }
  function put(number, index, point) {
    const points = read(rows[number]);
    points[index] = point;
    write(rows[number], points);
    draw();
  }
  function add(point) {
    const row = rows[state.now];
    if (row && !full(row)) {
      write(row, [...read(row), point]);
      if (full(row)) state.now = next();
      draw();
      return;
    }
    const there = nearest(point);
    if (there) put(there.number, there.index, point);
  }

  fingers(svg, {
    shotAt: (event) => { const there = nearest(at(event), NEAR_PX * perPx()); return there && `${there.number} ${there.index}`; },
    samePlace: () => true,
    tapped: (event) => add(at(event)),
    bounced: () => {},
    looking: (event) => {
      if (event) loupe(svg, svg.querySelector("[id]").id, at(event), { x: event.clientX, y: event.clientY }, WIDTH * LOUPE_PART); else loupe(svg, "", null);
    },
    picked: (key) => { state.now = Number(key.split(" ")[0]); navigator.vibrate?.(20); draw(); },
    moved: (key, event) => { const [number, index] = key.split(" ").map(Number); put(number, index, at(event)); },
    dropped: () => {},
  });
  const steps = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] };
  layer.addEventListener("keydown", (event) => {
    const [number, index] = (event.target.closest(".tap")?.dataset.place ?? "").split(" ").map(Number);
    const row = rows[number], point = row && read(row)[index];
    if (!point) return;
    if (steps[event.key]) {
      const far = event.shiftKey ? 10 : 1;
      put(number, index, { x: point.x + far * steps[event.key][0], y: point.y + far * steps[event.key][1] });
    } else if (event.key === "Delete" || event.key === "Backspace") {
      write(row, read(row).filter((_, other) => other !== index));
      state.now = number;
      draw();
      svg.focus({ preventScroll: true });
    } else return;
    event.preventDefault();
  });
  for (const [number, row] of rows.entries()) {
    row.part.querySelector("[data-choose]").addEventListener("click", () => { state.now = number; draw(); });
    row.part.querySelector("[data-clear]").addEventListener("click", () => { write(row, read(row).slice(0, -1)); state.now = number; draw(); });
    row.field.addEventListener("input", draw);
  }
  bench.querySelector(".taps-middle").addEventListener("click", () => { add({ x: WIDTH / 2, y: HEIGHT / 2 }); layer.lastElementChild?.focus(); });
  bench.querySelector(".taps-numbers").addEventListener("click", ({ target }) => {
    target.setAttribute("aria-pressed", String(bench.querySelector(".tap-list").classList.toggle("numbers")));
  });
  state.now = next();
  new ResizeObserver(draw).observe(svg);
  draw();
}

for (const bench of document.querySelectorAll("[data-tap-bench]")) begin(bench);
for (const part of document.querySelectorAll(".needs-script")) part.hidden = false;

// another scale asks for other points: the page comes anew, with what was tapped
document.getElementById("scale")?.addEventListener("change", () => document.getElementById("other-scale").click());
