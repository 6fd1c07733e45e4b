"""Layout of the ticks of a yardage tape, at true scale, in any unit of distance."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace

from cross_staff.core.errors import InvalidValue

LEAST_TICK_GAP_MM = 0.45  # single ticks closer than this run together in print
LABEL_HEIGHT_MM = 2.6


@dataclass(frozen=True)
class Tick:
    """count: whole units of distance; position_mm from the home mark, farther positive;
    rank 10, 5 or 1; label None where there is no number (or no room for one); beyond, where the sight as it is mounted
    cannot be set to it."""

    count: int
    position_mm: float
    rank: int
    label: str | None
    beyond: bool = False


@dataclass(frozen=True)
class TapeLayout:
    """Ticks in order of distance, and the span they take [mm]."""

    ticks: tuple[Tick, ...]
    unit_m: float

    @property
    def first_mm(self) -> float:
        return min(tick.position_mm for tick in self.ticks)

    @property
    def last_mm(self) -> float:
        return max(tick.position_mm for tick in self.ticks)

    @property
    def length_mm(self) -> float:
        return self.last_mm - self.first_mm


def whole_units(from_m: float, to_m: float, unit_m: float, turnover_m: float) -> list[int]:
    """Whole distances that a tape may print: inside the span and never nearer than the turnover.

    Args:
        from_m: where the tape starts [m].
        to_m: where it ends [m].
        unit_m: metres in a unit of distance [m].
        turnover_m: turnover [m] from the sight plane; nearer is never printed.

    Returns:
        counts of whole units [-].

    Source:
        docs/method.md, section 7.
    """
    first = math.ceil(max(from_m, turnover_m) / unit_m - 1e-9)
    return list(range(first, math.floor(to_m / unit_m + 1e-9) + 1))


def layout(
    from_m: float,
    to_m: float,
    unit_m: float,
    turnover_m: float,
    positions_mm: Callable[[Sequence[float]], Sequence[float | None]],
    shifts_mm: Callable[[Sequence[float]], Sequence[float]] | None = None,
    reach_m: float | None = None,
) -> TapeLayout:
    """Ticks at each whole unit, stronger at 5, numbered at 10.

    Args:
        from_m: where the tape starts [m].
        to_m: where it ends [m].
        unit_m: metres in a unit of distance [m].
        turnover_m: turnover [m] from the sight plane; nearer is never printed.
        positions_mm: gives the places from home [mm] of distances [m], None out of reach.
        shifts_mm: gives how far another tape than the fitted one has them from there [mm]; None for the fitted one.
        reach_m: how far the sight can be set [m as ranged]; None where nothing is known to end it.

    Returns:
        ticks with their places [mm from home].

    Raises:
        InvalidValue: when fewer than two ticks remain.

    Source:
        docs/method.md, section 7.
    """
    counts = whole_units(from_m, to_m, unit_m, turnover_m)
    places = positions_mm([count * unit_m for count in counts]) if counts else []
    reached = [(c, p) for c, p in zip(counts, places) if p is not None]
    if len(reached) < 2:
        raise InvalidValue("to_m", "must leave at least two ticks beyond the turnover, within reach")
    kept = _thinned(reached)  # the same ticks on every strip
    if shifts_mm is not None:
        shifts = shifts_mm([count * unit_m for count, _ in kept])
        kept = [(count, place + float(shift)) for (count, place), shift in zip(kept, shifts)]
    ticks = _labelled(kept)
    if reach_m is not None:
        ticks = [replace(tick, beyond=tick.count * unit_m > reach_m + 0.05) for tick in ticks]
    return TapeLayout(tuple(ticks), unit_m)


def millimetre_rule(length_mm: int) -> TapeLayout:
    """A rule to be stuck on a rail that has no scale: a tick each millimetre, numbered at ten.

    Args:
        length_mm: how long [mm].

    Returns:
        ticks with their places [mm], the unit a millimetre.

    Source:
        the metre.
    """
    counts = range(length_mm + 1)
    ticks = tuple(Tick(n, n + 1.0, _rank(n), None if n % 10 else str(n)) for n in counts)  # none of them is home's
    return TapeLayout(ticks, 0.001)


def _rank(count: int) -> int:
    return 10 if count % 10 == 0 else 5 if count % 5 == 0 else 1


def _thinned(places: list[tuple[int, float]]) -> list[tuple[int, float]]:
    """Leave out ticks up to the place where they are far enough apart to be told: the single ones first,
    then, where even those at 5 run together, these too."""
    kept = places
    for rank in (1, 5):
        gaps = [abs(b[1] - a[1]) for a, b in zip(kept, kept[1:])]
        crowded = max((i + 1 for i, gap in enumerate(gaps) if gap < LEAST_TICK_GAP_MM), default=0)
        kept = [p for i, p in enumerate(kept) if i == 0 or i > crowded or _rank(p[0]) > rank]
    return kept


@dataclass(frozen=True)
class SeatUse:
    """A seat for the tape on the rail: where it begins below the pointer at home [mm], how much of the tape
    from its first to its last mark finds no room there [mm], and how far it goes."""

    begins_mm: float
    missing_mm: float
    missing_near_mm: float
    to_mm: float


def seats(places_mm: Sequence[float], length_mm: float, first_mm: float, last_mm: float) -> tuple[SeatUse, ...]:
    """The seats of a rail for a tape that runs from first to last, counted from home; the best first.

    Args:
        places_mm: where each seat begins below the pointer at home [mm], shape (n,).
        length_mm: of a seat [mm].
        first_mm: the tape's first line, from home [mm].
        last_mm: its last line [mm].

    Returns:
        what each seat holds of the tape [mm], the best first.

    Source:
        docs/method.md, section 7.
    """
    seats = []
    for begins in places_mm:
        near, far = max(begins - first_mm, 0.0), max(last_mm - (begins + length_mm), 0.0)
        seats.append(SeatUse(begins, near + far, near, begins + length_mm))
    return tuple(sorted(seats, key=lambda seat: (round(seat.missing_mm, 2), abs(seat.begins_mm - first_mm))))


def _labelled(places: list[tuple[int, float]]) -> list[Tick]:
    """Numbers at 10, and at the first and last tick where there is room."""
    tens = [p for p in places if _rank(p[0]) == 10]
    taken: list[float] = []
    labels: dict[int, str] = {}
    for count, place in [*tens, places[0], places[-1]]:
        if all(abs(place - other) >= LABEL_HEIGHT_MM for other in taken):
            taken.append(place)
            labels[count] = str(count)
    return [Tick(count, place, _rank(count), labels.get(count)) for count, place in places]
