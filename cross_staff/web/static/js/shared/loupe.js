// What lies under a finger, drawn larger beside it.
const SIDE_PX = 148, LIFT_PX = 34;
const NS = "http://www.w3.org/2000/svg";
let glass = null;

// `picture` is the id of what is drawn larger, `span` how much of it, in its own units; null puts the glass away
export function loupe(svg, picture, point, client, span) {
  if (!point) { glass?.remove(); glass = null; return; }
  if (!glass) {
    glass = document.createElementNS(NS, "svg");
    glass.setAttribute("class", "loupe drawing");
    glass.setAttribute("aria-hidden", "true");
    const use = document.createElementNS(NS, "use"), cross = document.createElementNS(NS, "path");
    use.setAttribute("href", `#${picture}`);
    cross.setAttribute("class", "loupe-cross");
    glass.append(use, cross);
    svg.parentElement.append(glass);
  }
  const half = span / 2;
  glass.setAttribute("viewBox", `${point.x - half} ${point.y - half} ${span} ${span}`);
  glass.querySelector(".loupe-cross").setAttribute("d", `M${point.x - half} ${point.y}h${span}M${point.x} ${point.y - half}v${span}`);
  const above = client.y - LIFT_PX - SIDE_PX;
  const left = Math.min(Math.max(client.x - SIDE_PX / 2, 6), innerWidth - SIDE_PX - 6);
  glass.style.left = `${above >= 0 ? left : client.x > innerWidth / 2 ? client.x - LIFT_PX - SIDE_PX : client.x + LIFT_PX}px`;
  glass.style.top = `${Math.max(above, 6)}px`;
}
