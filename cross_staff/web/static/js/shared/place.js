// Markers on a drawing, put where they are seen: by mouse or touch, or with the arrow keys.
// A marker writes into the fields it names; a field that is typed into moves its marker. To a screen reader each
// is a slider that says where it stands.
for (const drawing of document.querySelectorAll("svg[data-place]")) {
  const perUnit = Number(drawing.dataset.perUnit);
  const middle = Number(drawing.dataset.middle);
  const size = drawing.viewBox.baseVal;
  const markers = [...drawing.querySelectorAll(".marker")];
  const tail = drawing.querySelector("[data-tail]");

  const field = (marker, axis) => document.getElementById(marker.dataset[`${axis}Field`] ?? "");
  const number = (input) => Number((input?.value || "0").replace(",", ".").replace("−", "-")) || 0;
  const inside = (value, end) => Math.min(Math.max(value, 6), end - 6);

  function show(marker) {
    const x = inside(middle + perUnit * number(field(marker, "x")), size.width);
    const y = marker.dataset.rowY ? Number(marker.dataset.rowY) : inside(middle - perUnit * number(field(marker, "y")), size.height);
    marker.setAttribute("transform", `translate(${x} ${y})`);
    tail?.setAttribute("x2", x);
    tail?.setAttribute("y2", y);
    tell(marker);
  }

  const unit = drawing.dataset.unit ?? "";
  const placed = (input, plus, minus) => {
    const at = number(input);
    return at === 0 ? "" : `${Math.abs(at)} ${unit} ${at > 0 ? plus : minus}`;
  };
  function tell(marker) {
    const [x, y] = [field(marker, "x"), field(marker, "y")];
    const sides = [placed(x, "right", "left"), y ? placed(y, "up", "down") : ""].filter(Boolean);
    marker.setAttribute("aria-valuenow", String(number(x)));
    const seen = Boolean(x?.value || y?.value);
    marker.setAttribute("aria-valuetext", seen ? sides.join(", ") || "in the middle" : "not placed yet");
    marker.classList.toggle("unplaced", !seen);
  }

  const grain = 10 ** Number(drawing.dataset.places ?? 1);
  function write(input, units) {
    if (input) input.value = String(Math.round(units * grain) / grain);
  }

  function put(marker, x, y) {
    write(field(marker, "x"), (x - middle) / perUnit);
    write(field(marker, "y"), (middle - y) / perUnit);
    show(marker);
  }

  function nearest(point) {
    if (drawing.dataset.nearest === "x") {
      const apart = (marker) => Math.abs(middle + perUnit * number(field(marker, "x")) - point.x);
      return markers.reduce((best, marker) => (apart(marker) < apart(best) ? marker : best));
    }
    const rows = markers.filter((marker) => marker.dataset.rowY);
    if (!rows.length) return markers[0];
    return rows.reduce((best, marker) =>
      Math.abs(marker.dataset.rowY - point.y) < Math.abs(best.dataset.rowY - point.y) ? marker : best,
    );
  }

  const place = (event) => new DOMPoint(event.clientX, event.clientY).matrixTransform(drawing.getScreenCTM().inverse());
  let held = null;
  drawing.addEventListener("pointerdown", (event) => {
    held = nearest(place(event));
    drawing.setPointerCapture(event.pointerId);
    const point = place(event);
    put(held, point.x, point.y);
    held.focus({ preventScroll: true });
    event.preventDefault();
  });
  drawing.addEventListener("pointermove", (event) => {
    if (!held) return;
    const point = place(event);
    put(held, point.x, point.y);
  });
  for (const end of ["pointerup", "pointercancel"]) drawing.addEventListener(end, () => (held = null));

  const moves = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, 1], ArrowDown: [0, -1] };
  drawing.addEventListener("keydown", (event) => {
    const marker = event.target.closest(".marker");
    if (!marker) return;
    if (event.key === "Enter") {
      event.preventDefault();
      drawing.closest("form")?.requestSubmit();
      return;
    }
    if (event.key === "0") {
      write(field(marker, "x"), 0);
      write(field(marker, "y"), 0);
    } else if (moves[event.key]) {
      const small = Number(drawing.dataset.step ?? 0.5);
      const step = event.shiftKey ? 10 * small : small;
      const [right, up] = moves[event.key];
      write(field(marker, "x"), number(field(marker, "x")) + right * step);
      if (field(marker, "y")) write(field(marker, "y"), number(field(marker, "y")) + up * step);
    } else return;
    event.preventDefault();
    show(marker);
  });

  for (const marker of markers) {
    marker.tabIndex = 0;
    marker.setAttribute("role", "slider");
    marker.setAttribute("aria-valuemin", String(Math.round(-middle / perUnit)));
    marker.setAttribute("aria-valuemax", String(Math.round((size.width - middle) / perUnit)));
    tell(marker);
    for (const axis of ["x", "y"]) field(marker, axis)?.addEventListener("input", () => show(marker));
  }
}
