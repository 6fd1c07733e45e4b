"""Fits beside one another: what less would have said, what each day says, how the tape is laid on, the air
of a trip."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from enum import StrEnum

import numpy as np

from cross_staff.core.ballistics.air import air_density, standard_pressure
from cross_staff.core.ballistics.flight import RigFigures, Trajectories, arrive
from cross_staff.core.ballistics.reach import FLIGHT_STEPS
from cross_staff.core.ballistics.sightline import pin_heights
from cross_staff.core.rig.card import RigCard
from cross_staff.core.rig.scatter import DAY_PART, usual_scatter
from cross_staff.core.tape.fit import Fit
from cross_staff.core.tape.rows import RowEvaluation
from cross_staff.core.tape.solver import shift_of
from cross_staff.core.tape.station import Evaluation, fit_of


class FitKind(StrEnum):
    """Which measurements a fit is made of."""

    SPEED = "speed"
    TWO = "two"
    ALL = "all"


SPEED, TWO, ALL = FitKind
DAY_DIFFERS_SDS = 2.6  # one day in a hundred by luck
USUAL_HUMIDITY = 0.5


@dataclass(frozen=True)
class ComparedFits:
    """A fit from part of what is known: which marks it used, the length of its tape from home to the farthest
    distance [mm], the sd of that end on the target [m], and how high arrows would come in there with its tape
    laid on at home, if the fit of all is right [m]."""

    key: FitKind
    used: tuple[RowEvaluation, ...]
    length_mm: float | None
    sd_m: float | None
    up_m: float | None


def compared(card: RigCard, evaluation: Evaluation) -> tuple[ComparedFits, ...]:
    """From speed alone, from two marks, from all. Empty while there is no tape."""
    fit, priors, farthest = evaluation.fit, card.priors(), card.goals.farthest_m
    if fit is None or priors is None or farthest is None:
        return ()
    rows, two = evaluation.used, two_marks(evaluation)
    chosen = {SPEED: (), TWO: two, ALL: rows} if len(two) == 2 and len(rows) > 2 else {SPEED: (), ALL: rows}
    scatter = evaluation.scatter or usual_scatter(card)
    fits = {
        key: fit if key == ALL else fit_of(card, priors, used, evaluation.pins, scatter, fit.arrows)
        for key, used in chosen.items()
    }
    far, pin = card.distance_from_sight(farthest), evaluation.pins.dialled
    ends = {key: each.tape([far], pin)[0] for key, each in fits.items()}
    lengths = {
        key: None if row.mark_mm is None else row.mark_mm - fits[key].mark_zero_mm.value for key, row in ends.items()
    }
    per_mm, whole = float(fit.target_m_per_tape_mm(far)), lengths[ALL]
    return tuple(
        ComparedFits(
            key,
            chosen[key],
            lengths[key],
            ends[key].sd_on_target_m,
            None if (length := lengths[key]) is None or whole is None else per_mm * (length - whole),
        )
        for key in chosen
    )


def two_marks(evaluation: Evaluation) -> tuple[RowEvaluation, ...]:
    """The marks that somebody who takes two would take: of the dialled pin, the nearest and the farthest."""
    rows = [row for row in evaluation.own if row.entry.pin == evaluation.pins.dialled]
    rows.sort(key=lambda row: row.entry.ranged_m)
    if len(rows) < 2 or rows[-1].entry.ranged_m - rows[0].entry.ranged_m < 1.0:
        return ()
    return rows[0], rows[-1]


@dataclass(frozen=True)
class Day:
    """What a day set its arrows off by, as the fit has it: how high they came in [mrad] with the sd of that, how many
    marks, the farthest of them [m as ranged]; differs, whether its marks lie farther from what the others predict
    than days usually do."""

    day: str
    count: int
    high_mrad: float
    sd_mrad: float
    farthest_m: float
    differs: bool


def days(evaluation: Evaluation) -> tuple[Day, ...]:
    """The days that marks were shot on, oldest first; a single day says nothing of itself."""
    fit, scatter = evaluation.fit, evaluation.scatter
    if fit is None or scatter is None:
        return ()
    usual = replace(fit, day_spread_mrad=DAY_PART * scatter.spread_mrad)  # not what the odd day itself taught
    told = []
    for day in fit.days:
        places = [place for place, each in enumerate(fit.observations) if each.session == day]
        if not places:
            continue
        shift = shift_of(usual, places) if len(fit.days) > 1 else None
        offset = fit.session_offset(day)
        farthest = max(evaluation.used[place].entry.ranged_m for place in places)
        differs = shift is not None and abs(shift[0]) > DAY_DIFFERS_SDS * shift[1]
        told.append(Day(day, len(places), offset.value, offset.sd or 0.0, farthest, differs))
    return tuple(told)


@dataclass(frozen=True)
class Laying:
    """A way to lay a tape on: key of LAYINGS, how much farther down than its home mark on home [mm], what that
    leaves at each mark: on the tape [mm], and how high arrows come in there [m]."""

    key: str
    shift_mm: float
    left_mm: tuple[float, ...]
    up_m: tuple[float, ...]

    @property
    def worst_m(self) -> float:
        return max((abs(up) for up in self.up_m), default=0.0)


LAYINGS = ("home", "far", "best")


def layings(
    card: RigCard,
    evaluation: Evaluation,
    positions_mm: Callable[[Sequence[float]], Sequence[float | None]] | None = None,
) -> tuple[tuple[RowEvaluation, ...], tuple[Laying, ...]]:
    """The dialled pin's marks by distance, and what each way of laying the tape on leaves at them.

    Args:
        card: the rig's card.
        evaluation: what the marks come to.
        positions_mm: where another tape than the fitted one has distances [m as ranged], from its home mark [mm];
            None for the fitted.

    Returns:
        the dialled pin's marks by distance, and what each way of laying the tape on leaves at them [mm].

    Source:
        docs/method.md, section 15.
    """
    fit = evaluation.fit
    rows = sorted(
        (row for row in evaluation.own if row.entry.pin == evaluation.pins.dialled and row.residual_mm is not None),
        key=lambda row: row.entry.ranged_m,
    )
    if fit is None or not rows:
        return (), ()
    distances = [card.distance_from_sight(row.entry.ranged_m) for row in rows]
    fitted = [tape.mark_mm for tape in fit.tape(distances, evaluation.pins.dialled)]
    home = fit.mark_zero_mm.value
    own = [None if mark is None else mark - home for mark in fitted]
    printed = own if positions_mm is None else positions_mm([row.entry.ranged_m for row in rows])
    kept = [i for i, (a, b) in enumerate(zip(own, printed)) if a is not None and b is not None]
    rows, distances = [rows[i] for i in kept], [distances[i] for i in kept]
    if not rows:
        return (), ()
    off = np.array([(own[i] or 0.0) + (row.residual_mm or 0.0) - (printed[i] or 0.0) for i, row in zip(kept, rows)])
    weights = np.array([(row.sd_mm or 1.0) ** -2.0 for row in rows])
    shifts = {"home": off[0], "far": off[-1], "best": float(weights @ off / weights.sum())}
    per_mm = fit.target_m_per_tape_mm(distances)
    layings = []
    for key in LAYINGS:
        left = shifts[key] - off
        layings.append(Laying(key, float(shifts[key]), _floats(left), _floats(per_mm * left)))
    return tuple(rows), tuple(layings)


def _floats(values: np.ndarray) -> tuple[float, ...]:
    return tuple(float(v) for v in values)


@dataclass(frozen=True)
class Weather:
    """Altitude [m] and temperature [degC]; the pressure is that of the standard atmosphere there."""

    altitude_m: float = 0.0
    temperature_c: float = 15.0

    @property
    def density_kgm3(self) -> float:
        return air_density(self.temperature_c, standard_pressure(self.altitude_m), USUAL_HUMIDITY)


def carried(figures: RigFigures, here: Weather, there: Weather) -> RigFigures:
    """The figures in other air: drag goes with its density."""
    return replace(figures, drag_per_m=figures.drag_per_m * there.density_kgm3 / here.density_kgm3)


@dataclass(frozen=True)
class TripRow:
    """A distance elsewhere: how much the mark moves [mm on the tape], and how high arrows come in there with
    the old mark [m]; None out of reach."""

    distance_m: float
    mark_mm: float | None
    up_m: float | None


def trip(fit: Fit, distances_m: Sequence[float], here: Weather, there: Weather) -> tuple[TripRow, ...]:
    """What other air does to the marks, the sight left as it is.

    Args:
        fit: the fit so far.
        distances_m: [m] from the sight plane, shape (n,), 0.5 to 400.
        here: air where the sight was shot in: altitude [m], temperature [degC].
        there: air of the trip.

    Returns:
        n rows: mark here [mm], mark there [mm] and what the difference costs [m].

    Source:
        docs/method.md, sections 2 and 15.
    """
    other = carried(fit.figures, here, there)
    now, then = (pin_heights(Trajectories.of(figures, list(distances_m))) for figures in (fit.figures, other))
    moved = 1000.0 * fit.tape_ratio * (now.height_m - then.height_m)
    flown = arrive(Trajectories.of(other, list(distances_m)), now.height_m, FLIGHT_STEPS)
    rows = zip(distances_m, moved, flown.height_m, now.reached & then.reached & flown.sound)
    return tuple(
        TripRow(d, float(mm), float(up)) if known and math.isfinite(mm) else TripRow(d, None, None)
        for d, mm, up, known in rows
    )
