"""Ends of arrows, movements and judgements that many tests use."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

import numpy as np

from cross_staff.core.ballistics.flight import RigFigures
from cross_staff.core.ballistics.sightline import impact_heights, pin_height
from cross_staff.core.estimation.groups import Shot
from cross_staff.core.rig.card import Goals, RigCard
from cross_staff.core.rig.log import BenchEntry
from cross_staff.core.sight_in.acts import SightIn
from cross_staff.core.sight_in.estimate import AimEstimate
from cross_staff.core.sight_in.log import STATION, End, Move, RangeLog, RangeSession
from cross_staff.core.sight_in.marks import end_entries
from cross_staff.core.sight_in.procedures import pins_of
from cross_staff.core.sight_in.station import sight_in
from cross_staff.core.tape.station import evaluate
from tests.rigs import NOON, RIG_A, TEMPLATES, full_card

PINS_M = (17.0, 26.0, 38.0)
GOALS = Goals(17.0, 78.0, 0.3, 0.10, 38.0, (17.0, 26.0, 38.0, 47.0, 61.0, 78.0), PINS_M)
# six arrows about nought, in sds: their own mean is nought
ROUND = ((1.0, 0.4), (-1.0, 0.6), (0.3, -1.1), (-0.5, 1.0), (0.8, -0.5), (-0.6, -0.4))


def ranged_card(kind: str = "fixed_pins", **changes: object) -> RigCard:
    """A complete card, ranged from the sight, with three pins."""
    fields: dict[str, object] = {"sight": TEMPLATES[kind], "goals": GOALS}
    return full_card(**(fields | changes))  # type: ignore[arg-type]


def shots(
    right_m: float, up_m: float, spread_m: float = 0.01, pattern: Sequence[tuple[float, float]] = ROUND
) -> tuple[Shot, ...]:
    """Six arrows about a place."""
    return tuple(Shot(right_m + spread_m * x, up_m + spread_m * y, False, f"s{n}") for n, (x, y) in enumerate(pattern))


def end(order: int, ranged_m: float, right_m: float = 0.0, up_m: float = 0.0, **changes: object) -> End:
    """An end whose middle came in at a place; its spread is the card's."""
    spread = float(changes.pop("spread_mrad", 0.8)) * 1e-3 * ranged_m  # type: ignore[arg-type]
    fields: dict[str, object] = {"shots": shots(right_m, up_m, spread), "revision": 1, "session": 1}
    fields |= {"key": f"e{order}", "entered": NOON, "ranged_m": ranged_m, "order": order}
    return End(**(fields | changes))  # type: ignore[arg-type]


def moved(order: int, drive: str, moves: str, amount: float, unit: str = "mm", **changes: object) -> Move:
    return Move(f"m{order}", 1, NOON, drive, moves, amount, unit, order=order, **changes)  # type: ignore[arg-type]


def said(*keys: str, choice: str = "done", number: float | None = None) -> tuple[BenchEntry, ...]:
    return tuple(BenchEntry(STATION, key, 1, NOON, number, choice) for key in keys)


def range_log(*things: End | Move, entries: Sequence[BenchEntry] = (), session: RangeSession | None = None) -> RangeLog:
    """A log of ends and movements."""
    ends = tuple(thing for thing in things if isinstance(thing, End))
    moves = tuple(thing for thing in things if isinstance(thing, Move))
    return RangeLog((session or RangeSession(1, 1, NOON),), ends, moves, tuple(entries))


def judged(card: RigCard, log: RangeLog, asked: str = "") -> SightIn:
    return sight_in(card, log, evaluate(card, end_entries(card, log), pins=pins_of(card, log.chosen)), None, asked)


def believed(card: RigCard, log: RangeLog) -> AimEstimate:
    fit = evaluate(card, end_entries(card, log)).fit
    assert fit is not None
    return AimEstimate(card, log, fit)


def hits(pin_off_mm: float, own_m: float, ranged_m: float, figures: RigFigures = RIG_A) -> float:
    """Where arrows come in [m, up] with a pin that is `pin_off_mm` above its place for `own_m`."""
    height = pin_height(figures, own_m) + 1e-3 * pin_off_mm
    return float(impact_heights(figures, height, ranged_m)[0])


def exact_card(kind: str = "fixed_pins", **changes: object) -> RigCard:
    """A card whose figures are those of rig A, for laws that want no surprise of the flight."""
    from cross_staff.core.rig.card import PeepEntry

    card = ranged_card(kind, peep=PeepEntry("square", RIG_A.peep_height_m), **changes)
    return replace(card, eye_to_sight_m=RIG_A.eye_to_sight_m)


def drawn(generator: np.random.Generator, right_m: float, up_m: float, spread_m: float, count: int) -> tuple[Shot, ...]:
    """Arrows drawn about a place."""
    places = generator.normal((right_m, up_m), spread_m, (count, 2))
    return tuple(Shot(float(x), float(y), False, f"d{n}") for n, (x, y) in enumerate(places))
