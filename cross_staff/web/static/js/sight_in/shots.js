// Shots of an end, without a page: what waits, what two windows make together, where a point of the picture lies.
export const SIDE = 560, MIDDLE = SIDE / 2, MOST_MM = 2000;

export const round = (value) => Math.round(value * 10) / 10;
export const onButt = (right, up) => [right, up].every((v) => Number.isFinite(v) && Math.abs(v) <= MOST_MM);

// a number as it is typed: a comma or a point, any minus; not a number where it is none
export const typedMm = (text) => Number(text.trim().replace(",", ".").replace("−", "-") || "x");

// shots typed one a line, right and up alone; none where any line says something else
export function typedLines(text) {
  const lines = text.trim().split("\n").filter((line) => line.trim()).map((line) => line.trim().split(/\s+/).map(typedMm));
  return lines.every((line) => line.length === 2 && onButt(...line)) ? lines : [];
}

// millimetres from the aim of a point of the picture, and back; a shot off the picture stands at its edge
export const toMm = (x, y, half) => ({ right: ((x - MIDDLE) * half) / MIDDLE, up: ((MIDDLE - y) * half) / MIDDLE });
const edge = (value) => Math.min(Math.max(value, 8), SIDE - 8);
export const toPicture = (shot, half) => ({
  x: edge(MIDDLE + (MIDDLE / half) * shot.right), y: edge(MIDDLE - (MIDDLE / half) * shot.up),
});
export const offPicture = (shot, half) => Math.abs(shot.right) > half || Math.abs(shot.up) > half;

// where a shot lies, in words
export const sideWords = (shot) =>
  `${Math.abs(shot.right)} ${shot.right < 0 ? "left" : "right"}, ${Math.abs(shot.up)} ${shot.up < 0 ? "low" : "high"}`;

// ends that the server has not taken, and how many arrows that is
export const unsent = (all) => Object.values(all.ends).filter((each) => !each.sent && !each.asked);
export const away = (all) => unsent(all).reduce((sum, each) => sum + JSON.parse(each.values.placed || "[]").length, 0);

// the end as two windows have it: shots joined by their keys, what either took back stays taken back
export function joined(end, values) {
  const back = new Set([...end.back, ...(values.taken_back || "").split(" ").filter(Boolean)]);
  const shots = new Map(end.shots.map((shot) => [shot.key, shot]));
  for (const shot of JSON.parse(values.placed || "[]")) shots.set(shot.key, shot);
  return { ...end, back: [...back], shots: [...shots.values()].filter((shot) => !back.has(shot.key)) };
}
