"""What is measured on a photo: for each use its taps, its scales, and its figures with their uncertainty."""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from cross_staff.core.errors import InvalidValue
from cross_staff.core.photos.plane import Array, Disc, Figure, Line, Photo, Point, Scale, Sheet, measured
from cross_staff.core.ranges import Range

SHEET, DISC, LINE = "sheet", "disc", "line"
LENGTH_M = Range(0.002, 3.0)
MOST_TAPS = 60
TELLS = 1.96  # sds: a difference beyond them is told
APART = 2.0  # taps nearer than so many of their sds are one point


@dataclass(frozen=True)
class Tap:
    """A place to tap: its key, its words; whether it may be left out, whether there can be many."""

    key: str
    words: str
    optional: bool = False
    many: bool = False


@dataclass(frozen=True)
class Use:
    """A use of a photo: its key and name, what to do in a sentence, how it can be scaled (the usual way first), what is
    tapped, and the figures of the taps' places [m, rad], each by its key."""

    key: str
    name: str
    say: str
    scales: tuple[str, ...]
    taps: tuple[Tap, ...]
    figures: Callable[[Mapping[str, Sequence[int]]], Callable[[Array], Array]]
    names: Callable[[Mapping[str, Sequence[int]]], tuple[str, ...]]
    own_line: tuple[str, ...] = ()  # two taps that are the line of known length themselves, where that is the scale


def _unit(way: Array) -> Array:
    length = float(np.linalg.norm(way))
    return way / length if length else np.array([1.0, 0.0])


def _side(at: Mapping[str, Sequence[int]]) -> Callable[[Array], Array]:
    """Peep height square to the arrow, its way ahead of the nock, the string's angle; eye and sight along the arrow."""

    def of(seen: Array) -> Array:
        nock, point, peep = (seen[at[key][0]] for key in ("nock", "point", "peep"))
        along = _unit(point - nock)
        up = np.array([-along[1], along[0]])
        height, ahead = abs(float((peep - nock) @ up)), float((peep - nock) @ along)
        told = [height, ahead, math.atan2(height, ahead)]
        if "pin" in at:
            told.append(float((seen[at["pin"][0]] - peep) @ along))
        if "eye" in at:
            told.append(float((peep - seen[at["eye"][0]]) @ along))
        return np.array(told)

    return of


def _side_names(at: Mapping[str, Sequence[int]]) -> tuple[str, ...]:
    more = (name for key, name in (("pin", "eye_to_sight"), ("eye", "eye_to_peep")) if key in at)
    return ("peep_height", "peep_ahead", "string_angle", *more)


def _pencil(at: Mapping[str, Sequence[int]]) -> Callable[[Array], Array]:
    """Each line from the first one, along them."""
    first, *others = at["line"]

    def of(seen: Array) -> Array:
        along = _unit(seen[others[-1]] - seen[first])
        return np.array([float((seen[each] - seen[first]) @ along) for each in others])

    return of


def _tear(at: Mapping[str, Sequence[int]]) -> Callable[[Array], Array]:
    """Where the nock tore from the point's hole: right and up."""
    return lambda seen: seen[at["nock"][0]] - seen[at["point"][0]]


def _pins(at: Mapping[str, Sequence[int]]) -> Callable[[Array], Array]:
    """Each pin from the middle of the housing, right and up, one after the other; each below the top one."""
    pins = list(at["pin"])
    return lambda seen: np.concatenate([seen[pins].ravel(), seen[pins[0], 1] - seen[pins[1:], 1]])


def _pin_names(at: Mapping[str, Sequence[int]]) -> tuple[str, ...]:
    count = len(at["pin"])
    places = tuple(f"{way}_{n}" for n in range(1, count + 1) for way in ("right", "up"))
    return places + tuple(f"below_{n}" for n in range(2, count + 1))


def _gap(at: Mapping[str, Sequence[int]]) -> Callable[[Array], Array]:
    """The two halves of a mark apart, across the joint."""
    return lambda seen: np.array([float(np.linalg.norm(seen[at["other"][0]] - seen[at["mark"][0]]))])


USES = {
    use.key: use
    for use in (
        Use(
            "peep",
            "Peep and string, from the side",
            "Full draw, from the side, square to the arrow; the arrow itself is the scale: nobody holds a ruler.",
            (LINE, SHEET),
            (
                Tap("nock", "the nock, where the string meets the arrow"),
                Tap("point", "the front end of the arrow"),
                Tap("peep", "the peep"),
                Tap("pin", "the pins", optional=True),
                Tap("eye", "the eye", optional=True),
            ),
            _side,
            _side_names,
            ("nock", "point"),
        ),
        Use(
            "pencil",
            "Pencil lines against a rule",
            "A rule flat beside the lines: two of its graduations are the scale.",
            (LINE, SHEET),
            (Tap("line", "a line: the first one is home", many=True),),
            _pencil,
            lambda at: tuple(f"line_{number}" for number in range(2, len(at["line"]) + 1)),
        ),
        Use(
            "tear",
            "Paper tear",
            "The whole sheet on the photo, as it hung: its corners are the scale.",
            (SHEET, LINE),
            (Tap("point", "the middle of the point's hole"), Tap("nock", "where the nock tore to")),
            _tear,
            lambda at: ("right", "up"),
        ),
        Use(
            "pins",
            "Pins in their housing",
            "From where the eye is, the housing whole: its opening is the scale.",
            (DISC,),
            (Tap("pin", "a pin's tip, from the top one down", many=True),),
            _pins,
            _pin_names,
        ),
        Use(
            "mark",
            "A witness mark",
            "Close, square to the joint; a length beside it that is known is the scale.",
            (LINE, SHEET),
            (Tap("mark", "the line at the edge of one part"), Tap("other", "the line at the edge of the other part")),
            _gap,
            lambda at: ("apart",),
        ),
    )
}


def scale_of(kind: str, taps: Sequence[Point], lengths_m: Sequence[float]) -> Scale:
    """A scale of its taps and its lengths [m].

    Args:
        kind: SHEET (four corners, width and height), DISC (four quarters, diameter), LINE (two ends, length).
        taps: [points].
        lengths_m: one or many, as the scale takes them [m].

    Returns:
        the scale.

    Raises:
        InvalidValue: at `scale`, for another number of taps; at `length_1` or `length_2`.

    Source:
        none: it only puts together.
    """
    if kind not in (SHEET, DISC, LINE):
        raise InvalidValue("scale", "there is no such scale")
    wanted = 2 if kind == LINE else 4
    if len(taps) != wanted:
        raise InvalidValue("scale", f"tap all {('two', 'four')[wanted == 4]} of its points")
    for number, length in enumerate(lengths_m[: 2 if kind == SHEET else 1], start=1):
        LENGTH_M.check(f"length_{number}", length, "m")
    if kind == LINE:
        return Line((taps[0], taps[1]), lengths_m[0])
    corners = (taps[0], taps[1], taps[2], taps[3])
    return Sheet(corners, lengths_m[0], lengths_m[1]) if kind == SHEET else Disc(corners, lengths_m[0])


def measure(key: str, photo: Photo, scale: Scale, taps: Mapping[str, Sequence[Point]]) -> dict[str, Figure]:
    """The figures of a use, each with its sd.

    Args:
        key: of USES.
        photo: its size, and how well a tap finds its place.
        scale: what tells the plane, and its unit.
        taps: of each of the use's places the taps [points]; one without any was left out.

    Returns:
        by name, in m or rad.

    Raises:
        InvalidValue: at `scale`; at a place's key, for one that is missing, lies off the picture or on another one.

    Source:
        docs/method.md, section 23.
    """
    use = USES[key]
    given: list[Point] = []
    at: dict[str, list[int]] = {}
    for tap in use.taps:
        placed = list(taps.get(tap.key, ()))
        least = 2 if tap.many and key == "pencil" else 0 if tap.optional else 1
        if len(placed) < least:
            raise InvalidValue(tap.key, "tap two lines at least" if least == 2 else f"tap {tap.words}")
        if len(placed) > (MOST_TAPS if tap.many else 1):
            raise InvalidValue(tap.key, "is tapped too often")
        if placed:
            at[tap.key] = list(range(len(given), len(given) + len(placed)))
            given += placed
    where = {index: name for name, indices in at.items() for index in indices}
    for index, (x, y) in enumerate(given):
        if not (math.isfinite(x) and math.isfinite(y) and 0 <= x <= photo.width and 0 <= y <= photo.height):
            raise InvalidValue(where[index], "lies off the picture")
        for other, (x2, y2) in enumerate(given[:index]):
            if key != "mark" and math.hypot(x - x2, y - y2) < APART * photo.sd:
                raise InvalidValue(where[index], f"lies on the same point as another tap ({where[other]})")
    told = measured(photo, scale, given, use.figures(at))
    return dict(zip(use.names(at), told, strict=True))


@dataclass(frozen=True)
class PinSeen:
    """A pin of the photo beside where it belongs: its number from the top, how far below the top one it is seen and
    wanted [m], how far it is to go up [m] with the sd of that; whether that is more than the photo and the tape leave
    open."""

    number: int
    below: Figure
    wanted_m: float
    up: Figure

    @property
    def told(self) -> bool:
        return abs(self.up.value) > TELLS * self.up.sd


def pins_against(figures: Mapping[str, Figure], wanted_m: Sequence[tuple[float | None, float | None]]) -> list[PinSeen]:
    """The pins of a photo against where they belong below the top one.

    Args:
        figures: of the use `pins`.
        wanted_m: of each pin, the top one first, how far below it and its sd [m]; None where nobody knows.

    Returns:
        the pins below the top one of which both is known.

    Source:
        a difference, and the root of the sum of squares.
    """
    told = []
    for number, (below_m, sd_m) in enumerate(wanted_m, start=1):
        seen = figures.get(f"below_{number}")
        if seen is not None and below_m is not None:
            up = Figure(seen.value - below_m, math.hypot(seen.sd, sd_m or 0.0))
            told.append(PinSeen(number, seen, below_m, up))
    return told
