"""The bubble of a vial found on a photo, and the lines beside it, with how sure that is."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from scipy import ndimage

from cross_staff.core.errors import InvalidValue
from cross_staff.core.photos.plane import Array, Photo, Point, Sheet, check_scale, mapped, projective, straightened

LONG, HIGH = 720, 144  # of the straightened glass [points]
LINE_HIDES = 0.015  # of the glass, to each side of a line: what is behind it is not seen
LINE_WIDE = 0.05  # a line is narrower than this part of the glass
BUBBLE = (0.07, 0.75)  # the part of the glass that a bubble takes
CLEAR = 4.0  # times its own unrest by which a bubble stands out from the fluid
UNLIKE = 0.2  # of what stands out: a bubble is that like its mirror image
UNEVEN = 0.012  # of the glass: ends and symmetry agree that well where it was found rightly
FROM_END = 0.012  # of the glass: a bubble nearer to the end may lie against it
EVEN_LINES = 0.06  # of the glass: how far the middle of two lines may lie off the middle of the four taps


@dataclass(frozen=True)
class FoundBubble:
    """Along the glass, from its left end (0) to its right (1): the two lines beside the middle, None where none were
    found; the bubble's two ends; `why` it is not sure, empty where it is."""

    lines: tuple[float, float] | None
    ends: tuple[float, float] | None
    why: str = ""

    @property
    def sure(self) -> bool:
        return not self.why

    def stands(self, lines: float) -> float | None:
        """Where the bubble stands [lines, right positive], of two lines that stand `lines` from the middle."""
        if self.lines is None or self.ends is None:
            return None
        middle, half = sum(self.lines) / 2.0, (self.lines[1] - self.lines[0]) / 2.0
        return lines * (sum(self.ends) / 2.0 - middle) / half


def find_bubble(picture: NDArray[np.uint8], corners: Sequence[Point]) -> FoundBubble:
    """The bubble and its lines, in the glass between four taps.

    Args:
        picture: (height, width, 3), red, green, blue [0 to 255], n points in all.
        corners: of the glass, clockwise from its upper left [points].

    Returns:
        lines and ends as parts of the glass, and whether that is sure.

    Raises:
        InvalidValue: at `scale`, for taps that make no vial.

    Source:
        docs/method.md, section 23: colours along the glass, lines taken out; ends and mirror image must agree.
    """
    glass = straight_glass(picture, corners)
    seen = _all_lines(glass)
    lines = _beside_the_middle(seen)
    away, hidden, unrest = _stands_out(glass, [place for place, _ in seen])
    ends, why = _ends(away, unrest)
    if ends is not None:
        mirror, unlike = _mirror(away, hidden, ends)
        if not why and (abs(mirror - sum(ends) / 2.0) > UNEVEN or unlike > UNLIKE):
            why = "its two ends are not alike: is there glare on it?"
        if not why and (ends[0] < FROM_END or ends[1] > 1.0 - FROM_END):
            why = "it lies against an end of the glass"
    if lines is None and not why:
        why = "the lines are not seen: put them yourself"
    return FoundBubble(lines, ends, why)


def straight_glass(picture: NDArray[np.uint8], corners: Sequence[Point]) -> Array:
    """The glass between four taps, straightened.

    Args:
        picture: (height, width, 3), red, green, blue [0 to 255], n points in all.
        corners: clockwise from the upper left [points].

    Returns:
        of shape (144, 720, 3), colours [0 to 1].

    Raises:
        InvalidValue: at `scale`.

    Source:
        docs/method.md, section 23.
    """
    photo = Photo(picture.shape[1], picture.shape[0])
    sheet = _check_glass(photo, corners)
    at = straightened(sheet, photo, LONG, HIGH)
    layers = [
        ndimage.map_coordinates(picture[:, :, k].astype(float) / 255.0, at, order=1, mode="nearest") for k in range(3)
    ]
    return np.stack(layers, axis=2)


_UNIT = np.array([(0.0, 0.0), (1.0, 0.0), (1.0, 1.0), (0.0, 1.0)])


def _check_glass(photo: Photo, corners: Sequence[Point]) -> Sheet:
    """The glass as a sheet; a long one is seen flat across, so its own sides are no measure. Raises InvalidValue."""
    if len(corners) != 4:
        raise InvalidValue("scale", "tap all four corners of the glass")
    taps = np.array(corners, dtype=float)
    sides = np.linalg.norm(np.roll(taps, -1, axis=0) - taps, axis=1)
    sheet = Sheet(tuple(corners), float(sides[0] + sides[2]) / 2.0, float(sides[1] + sides[3]) / 2.0)  # type: ignore[arg-type]
    check_scale(photo, sheet)
    return sheet


def on_glass(corners: Sequence[Point], along: Sequence[float]) -> list[Point]:
    """Places along the middle of the glass as points of its photo.

    Args:
        corners: of the glass, clockwise from its upper left [points].
        along: n places, as parts of the glass from its left end [1].

    Returns:
        [points], one for each.

    Raises:
        InvalidValue: at `scale`, for corners in one line.

    Source:
        docs/method.md, section 23.
    """
    if not along:
        return []
    there = mapped(projective(_UNIT, np.array(corners, dtype=float)), np.array([(part, 0.5) for part in along]))
    return [(float(x), float(y)) for x, y in there]


def along_glass(photo: Photo, corners: Sequence[Point], marks: Sequence[Point]) -> list[float]:
    """Marks on a photo of a vial as places along its glass.

    Args:
        photo: its size.
        corners: of the glass, clockwise from its upper left [points]; none for a vial seen square on.
        marks: on the photo [points]; the first two are its lines.

    Returns:
        n places, as parts of the glass [1]; without corners points along the way from the first line to the second.

    Raises:
        InvalidValue: at `scale`, for corners that make no vial.

    Source:
        docs/method.md, section 23.
    """
    seen = np.array(marks, dtype=float)
    if corners:
        _check_glass(photo, corners)
        return [float(x) for x in mapped(projective(np.array(corners, dtype=float), _UNIT), seen)[:, 0]]
    way = seen[1] - seen[0]
    if way[0] < 0:  # the left line stands right of the other: the caller says so
        return [float(x) for x in seen[:, 0]]
    length = float(np.hypot(*way))
    return [float(each @ way) / length if length else 0.0 for each in seen]


def _all_lines(glass: Array) -> list[tuple[float, float]]:
    """Every line across the glass, dark, narrow, from the upper edge to the lower: its place, and how dark it is."""
    wide = int(LINE_WIDE * LONG)
    dark = np.zeros((4, LONG))
    bands = ((0.10, 0.20), (0.20, 0.32), (0.68, 0.80), (0.80, 0.90))  # above and below most bubbles
    for row, (top, bottom) in enumerate(bands):
        profile = ndimage.gaussian_filter1d(glass[int(top * HIGH) : int(bottom * HIGH)].mean(axis=(0, 2)), 1.2)
        dark[row] = ndimage.grey_closing(profile, wide) - profile
    seen = np.sort(dark, axis=0)[1]  # glare may hide it in one band; the rim of a bubble stands in two at most
    unrest = 1.4826 * float(np.median(np.abs(seen - np.median(seen)))) + 0.004
    peaks = [
        i for i in range(wide // 2, LONG - wide // 2)
        if seen[i] == seen[max(i - wide // 3, 0) : i + wide // 3 + 1].max() and seen[i] > max(6.0 * unrest, 0.05)
    ]  # fmt: skip
    strong = max((seen[i] for i in peaks), default=0.0)
    return [(_peak(seen, i) / LONG, float(seen[i])) for i in peaks if seen[i] > 0.4 * strong]


def _beside_the_middle(seen: Sequence[tuple[float, float]]) -> tuple[float, float] | None:
    """Of all lines the two beside the middle of the glass."""
    pairs = [
        (right - left, left, right)
        for left, _ in seen for right, _ in seen
        if left < 0.5 < right and abs((left + right) / 2.0 - 0.5) < EVEN_LINES and right - left > 0.08
    ]  # fmt: skip
    if not pairs:
        return None
    _, left, right = min(pairs)
    return left, right


def _peak(profile: Array, at: int) -> float:
    """A peak between its points, by the parabola through three; in points, the middle of a point at its half."""
    before, here, after = profile[at - 1 : at + 2]
    bend = before - 2.0 * here + after
    return at + 0.5 + (0.5 * (before - after) / bend if bend < 0 else 0.0)


def _stands_out(glass: Array, lines: Sequence[float]) -> tuple[Array, NDArray[np.bool_], float]:
    """How far each place along the middle of the glass differs in colour from the fluid, which places a line hides, and
    the unrest of the fluid."""
    band = np.median(glass[int(0.42 * HIGH) : int(0.58 * HIGH)], axis=0)  # (LONG, 3)
    hidden = np.zeros(LONG, dtype=bool)
    for place in lines:
        left, right = int((place - LINE_HIDES) * LONG), int((place + LINE_HIDES) * LONG) + 1
        if left > 0 and right < LONG:
            hidden[left:right] = True
            along = np.linspace(0.0, 1.0, right - left)[:, None]
            band[left:right] = band[left - 1] * (1.0 - along) + band[right] * along
    edge = int(0.03 * LONG)
    band = ndimage.gaussian_filter1d(band, 2.0, axis=0)
    inner = band[edge:-edge]
    fluid = _commonest(inner)
    away = np.sqrt(np.sum((band - fluid) ** 2, axis=1))
    near = np.sort(away[edge:-edge])[: (LONG - 2 * edge) // 3]  # what is fluid for certain
    return away, hidden, float(near.mean() + near.std()) + 0.004


def _commonest(colours: Array) -> Array:
    """The colour that most others lie near to."""
    some = colours[:: max(len(colours) // 90, 1)]
    apart = np.sqrt(np.sum((some[:, None] - some[None, :]) ** 2, axis=2))
    near = (apart < 0.06).sum(axis=1)
    return np.median(some[apart[int(near.argmax())] < 0.06], axis=0)


def _ends(away: Array, unrest: float) -> tuple[tuple[float, float] | None, str]:
    """The bubble's two ends along the glass, and why they are not sure."""
    edge = int(0.01 * LONG)
    least = max(CLEAR * unrest, 0.05)
    out = away > least
    out[:edge] = out[-edge:] = False
    out = ndimage.binary_closing(out, np.ones(int(0.035 * LONG)))
    pieces, count = ndimage.label(out)
    spans = [(int(s[0].start), int(s[0].stop)) for s in ndimage.find_objects(pieces)] if count else []
    longest = [(b - a, a, b) for a, b in spans if BUBBLE[0] * LONG <= b - a <= BUBBLE[1] * LONG]
    if not longest:
        return None, "no bubble is seen: put its ends yourself"
    _, left, right = max(longest)
    why = ""
    if sum(length > 0.5 * max(longest)[0] for length, _, _ in longest) > 1:
        why = "two things on the glass look like a bubble"
    top = float(np.percentile(away[left:right], 60))
    if not why and top < 1.6 * least:
        why = "it hardly stands out from the fluid"
    return (_crossing(away, left, -1), _crossing(away, right - 1, 1)), why


def _crossing(away: Array, start: int, way: int) -> float:
    """Where an end lies: half-way up to the rim that stands there, counted from outside."""
    reach = int(0.06 * LONG)
    inner = np.clip(start - way * reach, 0, LONG - 1)
    top = away[min(start, inner) : max(start, inner) + 1].max()
    at = start + way * reach // 2
    at = int(np.clip(at, 1, LONG - 2))
    floor = away[at]
    half = (floor + top) / 2.0
    while 1 <= at < LONG - 1 and away[at] < half:
        at -= way
    outer = at + way
    between = (half - away[outer]) / (away[at] - away[outer]) if away[at] != away[outer] else 0.0
    return (outer - way * between + 0.5) / LONG


def _mirror(away: Array, hidden: NDArray[np.bool_], ends: tuple[float, float]) -> tuple[float, float]:
    """The middle about which the glass is most like its mirror image, near the bubble; and how unlike it stays, as a
    part of what stands out there."""
    middle, half = sum(ends) / 2.0 * LONG - 0.5, (ends[1] - ends[0]) / 2.0 * LONG + 6.0
    reach = np.arange(1.0, half)
    at, covered = np.arange(LONG, dtype=float), hidden.astype(float)

    def unlike(c: float) -> float:
        open_there = (np.interp(c + reach, at, covered) + np.interp(c - reach, at, covered)) < 0.01
        apart = (np.interp(c + reach, at, away) - np.interp(c - reach, at, away)) ** 2
        return float(apart[open_there].mean()) if open_there.sum() > 0.3 * reach.size else float("inf")

    best = min(np.arange(middle - 18.0, middle + 18.25, 0.25), key=unlike)
    shown = float(np.mean(np.interp(middle + np.concatenate([-reach, reach]), at, away) ** 2))
    return (float(best) + 0.5) / LONG, unlike(best) / shown
