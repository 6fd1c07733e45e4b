"""Strips of a booklet: which of them is this rig's tape, and what each would cost.

A strip of span S is this rig's tape with the speed that gives S between two distances.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from cross_staff.core import ranges
from cross_staff.core.ballistics.flight import Array, RigFigures, Trajectories, arrive
from cross_staff.core.ballistics.sightline import marks, pin_height, pin_heights
from cross_staff.core.errors import InvalidValue
from cross_staff.core.rig.booklet import Booklet, Strip

MOST_CHOICES = 200
_ROUNDS = 8
_SETTLED_M = 1e-10


@dataclass(frozen=True)
class StripChoice:
    """A strip that could be used: up_m is how high the arrows come in at the farthest distance with its
    home mark laid on home [m]; None where no speed gives it or the arrow does not get there."""

    label: str
    order: float
    span_mm: float
    up_m: float | None
    measured: bool
    side: str = ""


@dataclass(frozen=True)
class Match:
    """The rig's own span [mm], the place in the booklet that would be exact, and the strips around it,
    the best first; beyond says that the exact place lies outside the measured strips."""

    span_mm: float
    exact_order: float
    choices: tuple[StripChoice, ...]
    beyond: bool


def own_span(figures: RigFigures, from_m: float, to_m: float, tape_ratio: float = 1.0) -> float:
    """Length of the rig's own tape between two distances [mm].

    Args:
        figures: speed [m/s], drag [1/m], eye to sight [m] and peep height [m] of the rig.
        from_m: nearer distance [m] from the sight plane.
        to_m: farther distance [m] from the sight plane.
        tape_ratio: tape travel per housing travel [mm/mm].

    Returns:
        [mm] of tape.

    Raises:
        OutOfReach: for either distance.

    Source:
        derived in docs/method.md, section 15.
    """
    return 1000.0 * tape_ratio * (pin_height(figures, from_m) - pin_height(figures, to_m))


def match(
    figures: RigFigures,
    from_m: float,
    to_m: float,
    strips: Sequence[Strip],
    farthest_m: float,
    tape_ratio: float = 1.0,
    home_m: float | None = None,
) -> Match:
    """Which strip of a booklet, from two or more measured ones.

    The order is linear in the span between measured strips, and goes on so beyond the outermost pair;
    unmeasured strips stand at every whole order and are called by it. Errors are those of the arrow
    that really flies, with the sight at the strip's mark for the farthest distance.

    Args:
        figures: speed [m/s], drag [1/m], eye to sight [m] and peep height [m] of the rig.
        from_m: nearer distance [m] from the sight plane.
        to_m: farther distance [m] from the sight plane.
        strips: measured strips of one row or side, span [mm].
        farthest_m: the farthest distance wanted [m] from the sight plane.
        tape_ratio: tape travel per housing travel [mm/mm].
        home_m: what the sight is right for at home [m] from the sight plane, where the strip is laid on; None: from_m.

    Returns:
        own span [mm], exact place in the booklet, and the strips around it with their error [m].

    Raises:
        InvalidValue: where the strips contradict each other, or are fewer than two.
        OutOfReach: for the distances.

    Source:
        docs/method.md, section 15.
    """
    rows = checked(strips)
    if not to_m > from_m:
        raise InvalidValue("to_m", "must be farther than from_m")
    ranges.DISTANCE_M.check("farthest_m", farthest_m, "m")
    span = own_span(figures, from_m, to_m, tape_ratio)
    exact = _order_of(rows, span)
    wanted = _candidates(rows, exact)
    errors = strip_errors(figures, from_m, to_m, [s / tape_ratio for _, _, s, _ in wanted], farthest_m, home_m)
    side = rows[0].side
    choices = [StripChoice(label, order, s, up, known, side) for (label, order, s, known), up in zip(wanted, errors)]
    choices.sort(key=lambda c: (abs(c.order - exact), c.order))
    beyond = not rows[0].order <= exact <= rows[-1].order
    return Match(span, exact, tuple(choices), beyond)


def sequences(booklet: Booklet) -> tuple[tuple[Strip, ...], ...]:
    """The strips that are one row: all of them where their places and lengths go on from edge to edge, else those of
    each edge; a row of one strip says nothing.

    Args:
        booklet: as it was measured.

    Returns:
        rows of two strips and more, each by its places.

    Source:
        docs/method.md, section 15.
    """
    try:
        return (tuple(checked(booklet.strips)),)
    except InvalidValue:
        sides = [[strip for strip in booklet.strips if strip.side == side] for side in booklet.sides]
        return tuple(tuple(checked(strips)) for strips in sides if len(strips) > 1)


def checked(strips: Sequence[Strip]) -> list[Strip]:
    """The strips in their order. Raises: InvalidValue when there are too few, two at one place, or spans
    that do not grow, or fall, all the way."""
    rows = sorted(strips, key=lambda strip: strip.order)
    if len(rows) < 2:
        raise InvalidValue("strips", "measure at least two strips")
    if any(not strip.span_mm > 0.0 for strip in rows):
        raise InvalidValue("strips", "a strip must have a length")
    steps = [(a, b) for a, b in zip(rows, rows[1:])]
    same = next(((a, b) for a, b in steps if b.order == a.order), None)
    if same:
        raise InvalidValue("strips", f"“{same[0].label}” and “{same[1].label}” have the same place in the booklet")
    grows = rows[-1].span_mm > rows[0].span_mm
    wrong = next(((a, b) for a, b in steps if b.span_mm == a.span_mm or (b.span_mm > a.span_mm) != grows), None)
    if wrong:
        a, b = wrong
        raise InvalidValue(
            "strips",
            f"“{a.label}” with {a.span_mm:g} mm and “{b.label}” with {b.span_mm:g} mm contradict the others: lengths "
            "must grow, or fall, from strip to strip; measure these two again",
        )
    return rows


def _piece(rows: Sequence[Strip], values: Sequence[float], value: float) -> tuple[Strip, Strip]:
    """The neighbours between which a value lies, or the outermost pair on its side."""
    rising = values[-1] > values[0]
    inner = sum((v <= value) == rising for v in values[1:-1]) if len(values) > 2 else 0
    return rows[inner], rows[inner + 1]


def _order_of(rows: Sequence[Strip], span_mm: float) -> float:
    a, b = _piece(rows, [row.span_mm for row in rows], span_mm)
    return a.order + (b.order - a.order) * (span_mm - a.span_mm) / (b.span_mm - a.span_mm)


def span_at(rows: Sequence[Strip], order: float) -> float:
    """Span of the strip at a place in the booklet [mm].

    Args:
        rows: measured strips, by their order.
        order: place in the booklet [-].

    Returns:
        [mm].

    Source:
        straight lines between measured strips.
    """
    a, b = _piece(rows, [row.order for row in rows], order)
    return a.span_mm + (b.span_mm - a.span_mm) * (order - a.order) / (b.order - a.order)


def _candidates(rows: Sequence[Strip], exact: float) -> list[tuple[str, float, float, bool]]:
    """Every measured strip, and the unmeasured ones at whole orders, those nearest to the exact one."""
    named = {row.order: row for row in rows}
    low = max(math.floor(min(rows[0].order, exact)), math.ceil(exact) - MOST_CHOICES)
    high = min(math.ceil(max(rows[-1].order, exact)), math.floor(exact) + MOST_CHOICES)
    whole = [float(o) for o in range(low, high + 1)]
    orders = sorted({*named, *whole}, key=lambda o: abs(o - exact))[:MOST_CHOICES]
    candidates = []
    for order in orders:
        row = named.get(order)
        span = row.span_mm if row else span_at(rows, order)
        if span > 0.0:
            candidates.append((row.label if row else f"{order:g}", order, span, row is not None))
    return candidates


def strip_errors(
    figures: RigFigures,
    from_m: float,
    to_m: float,
    spans_mm: Sequence[float],
    farthest_m: float,
    home_m: float | None = None,
) -> list[float | None]:
    """How high arrows come in at the farthest distance by strips of these spans, home marks aligned [m].

    Args:
        figures: speed [m/s], drag [1/m], eye to sight [m] and peep height [m] of the rig.
        from_m: nearer distance [m] from the sight plane.
        to_m: farther distance [m] from the sight plane.
        spans_mm: housing millimetres [mm], shape (n,).
        farthest_m: the farthest distance wanted [m] from the sight plane.
        home_m: whose lines are aligned [m] from the sight plane; None: from_m.

    Returns:
        n heights, up [m]; None where there is none.

    Source:
        derived in docs/method.md, section 15.
    """
    speeds = speed_of_span(figures, from_m, to_m, spans_mm)
    known = [s for s in speeds if s is not None]
    if not known:
        return [None] * len(speeds)
    still = (figures.drag_per_m, figures.eye_to_sight_m, figures.peep_height_m)
    home_m = from_m if home_m is None else home_m
    near, far = (pin_heights(Trajectories.spread(known, *still, d, 0.0, 0.0)) for d in (home_m, farthest_m))
    pins = pin_height(figures, home_m) - (near.height_m - far.height_m)
    arrival = arrive(Trajectories.of(figures, np.full(len(known), farthest_m)), pins, 64)
    sound = near.reached & far.reached & arrival.sound
    errors = iter([float(h) if ok else None for h, ok in zip(arrival.height_m, sound)])
    return [None if s is None else next(errors) for s in speeds]


def strip_marks(
    figures: RigFigures, from_m: float, to_m: float, span_mm: float, home_m: float, distances_m: Sequence[float]
) -> list[float | None]:
    """Where a strip of a span has distances, from its home line [housing mm]; None out of reach.

    Args:
        figures: speed [m/s], drag [1/m], eye to sight [m] and peep height [m] of the rig.
        from_m: nearer distance [m] from the sight plane.
        to_m: farther distance [m] from the sight plane.
        span_mm: housing millimetres [mm].
        home_m: home distance [m] from the sight plane.
        distances_m: [m] from the sight plane, shape (n,), 0.5 to 400.

    Returns:
        n places [housing mm] from its home line; None out of reach.

    Source:
        derived in docs/method.md, section 15.
    """
    speed = speed_of_span(figures, from_m, to_m, [span_mm])[0]
    if speed is None:
        return [None] * len(distances_m)
    made = marks(replace(figures, speed_mps=speed), home_m, distances_m)
    return [None if mark is None else mark.mark_mm for mark in made]


def speed_of_span(figures: RigFigures, from_m: float, to_m: float, spans_mm: Sequence[float]) -> list[float | None]:
    """The speed with which these figures would need each span [m/s]; None outside the model's speeds.

    Args:
        figures: speed [m/s], drag [1/m], eye to sight [m] and peep height [m] of the rig.
        from_m: nearer distance [m] from the sight plane.
        to_m: farther distance [m] from the sight plane.
        spans_mm: housing millimetres [mm], shape (n,).

    Returns:
        n speeds [m/s]; None outside the model's speeds.

    Raises:
        InvalidValue: where both distances lie about the turnover.
        OutOfReach: for either distance.

    Source:
        derived in docs/method.md, section 15.
    """
    own = own_span(figures, from_m, to_m) / 1000.0
    if not own > 0.0:
        raise InvalidValue("to_m", "leaves no tape: both distances lie about the turnover")
    spans = np.asarray(spans_mm, float) / 1000.0
    low, high = ranges.SPEED_MPS.low, ranges.SPEED_MPS.high
    speed = np.clip(figures.speed_mps * np.sqrt(own / np.maximum(spans, 1e-9)), low, high)
    before = np.where(speed < high / 1.002, 1.002 * speed, speed / 1.002)
    miss_before = _spans(figures, from_m, to_m, before) - spans
    miss = _spans(figures, from_m, to_m, speed) - spans
    with np.errstate(all="ignore"):
        for _ in range(_ROUNDS):
            step = -miss * (speed - before) / (miss - miss_before)
            step = np.where(np.isfinite(step) & (np.abs(miss) > _SETTLED_M), step, 0.0)
            if not step.any():
                break
            following = np.clip(speed + step, low, high)
            before, miss_before, speed = speed, miss, following
            miss = _spans(figures, from_m, to_m, speed) - spans
        settled = np.abs(miss) <= 1e-7
    return [float(v) if ok else None for v, ok in zip(speed, settled)]


def _spans(figures: RigFigures, from_m: float, to_m: float, speeds: Array) -> Array:
    """Housing travel between two distances for each speed [m]; nan out of reach."""
    still = (figures.drag_per_m, figures.eye_to_sight_m, figures.peep_height_m)
    near, far = (pin_heights(Trajectories.spread(speeds, *still, d, 0.0, 0.0)) for d in (from_m, to_m))
    return np.where(near.reached & far.reached, near.height_m - far.height_m, np.nan)
