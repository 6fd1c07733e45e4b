"""One group with the bow plumb, one canted on purpose: what the cant cost, and what a line of this vial is."""

from __future__ import annotations

import math
from dataclasses import dataclass
from datetime import datetime

from cross_staff.core.ballistics.cant import Case, fall
from cross_staff.core.ballistics.flight import RigFigures
from cross_staff.core.errors import InvalidValue
from cross_staff.core.level.slopes import spread_of
from cross_staff.core.level.units import LOOK_DIV
from cross_staff.core.ranges import Range
from cross_staff.core.rig.card import RigCard
from cross_staff.core.rig.limits import RANGED_M, VIAL_LINE_RAD
from cross_staff.core.rig.log import BenchEntry

KEY = "cant_trial"
LINES, ARROWS, OFF_M = Range(0.5, 8.0), Range(2.0, 60.0), Range(-3.0, 3.0)
USUAL_LINES = 2.0
TOLD_SDS = 1.96
MOST_PART = 0.25  # a line known no better than this part of itself calibrates nothing


@dataclass(frozen=True)
class CantTrial:
    """Distance [m as ranged]; where the bubble stood for the canted group [lines, right positive]; the middle of the
    plumb group and of the canted one (right, up) [m], and of how many arrows each was."""

    distance_m: float
    bubble_div: float
    plumb_m: tuple[float, float]
    canted_m: tuple[float, float]
    arrows: tuple[int, int]

    def check(self) -> None:
        """Refuse what tells nothing. Raises InvalidValue, by the name of the field."""
        if not RANGED_M.holds(self.distance_m):
            raise InvalidValue("distance", "at which distance?")
        if not LINES.holds(abs(self.bubble_div)):
            raise InvalidValue("bubble", "canted by half a line to eight, left is minus")
        for name, count in zip(("arrows_plumb", "arrows_canted"), self.arrows):
            if not ARROWS.holds(float(count)):
                raise InvalidValue(name, "of two arrows at least")
        if not all(OFF_M.holds(v) for v in (*self.plumb_m, *self.canted_m)):
            raise InvalidValue("right_canted", "more than three metres off: the other unit?")

    def entry(self, station: str, now: datetime) -> BenchEntry:
        """As the station's log keeps it."""
        counts = (float(self.arrows[0]), float(self.arrows[1]))
        points = (self.plumb_m, self.canted_m, (self.distance_m, 0.0), counts)
        return BenchEntry(station, KEY, 0, now, self.bubble_div, points=points)


def trial_of(entry: BenchEntry) -> CantTrial:
    """The trial that an entry keeps.

    Args:
        entry: of that key.

    Returns:
        distance [m as ranged], bubble [lines], middles [m], arrows.

    Raises:
        InvalidValue: for an entry that is none.

    Source:
        its own record.
    """
    if entry.number is None or len(entry.points) != 4:
        raise InvalidValue("bubble", "two groups, a distance, and where the bubble stood")
    plumb, canted, (distance, _), (one, other) = entry.points
    return CantTrial(distance, entry.number, plumb, canted, (int(one), int(other)))


@dataclass(frozen=True)
class CantFound:
    """What a trial showed: the shift to the right and up that the cant made, with its sd [m]; how far it should have
    moved by the vial's line (None where that is not known) [m]; the cant that the arrows tell and what a line then is,
    each with its sd [rad]; the fall that a degree is reckoned from [m]; whether the shift is beyond chance."""

    right_m: float
    up_m: float
    sd_m: float
    computed_m: float | None
    cant_rad: float
    line_rad: float
    line_sd_rad: float
    fall_m: float
    told: bool

    @property
    def agrees(self) -> bool | None:
        """Whether computed and found lie within chance; None where nothing could be computed."""
        return None if self.computed_m is None else abs(self.right_m - self.computed_m) <= TOLD_SDS * self.sd_m

    @property
    def calibrates(self) -> bool:
        """Whether it tells a line well enough to be taken for it."""
        return self.told and VIAL_LINE_RAD.holds(self.line_rad) and self.line_sd_rad < MOST_PART * self.line_rad


def found(card: RigCard, figures: RigFigures | None, trial: CantTrial) -> CantFound | None:
    """What a cant did to the arrows, beside what it should have done.

    Canted by c about the line of sight the arrow comes in D sin c to the right; the bubble runs to the high end, so it
    stands left of the middle for a bow canted clockwise.

    Args:
        card: of the rig: the sight's vial, the archer's spread.
        figures: speed [m/s], drag [1/m], eye to sight [m] and peep height [m] of the rig.
        trial: both groups [m].

    Returns:
        found and computed [m, rad]; None while the flight cannot be reckoned.

    Source:
        docs/method.md, sections 11 and 12.
    """
    distance = card.distance_from_sight(trial.distance_m)
    drop = fall(figures, (Case(distance, 0.0),))[0] if figures is not None else None
    if drop is None or drop <= 0.0:
        return None
    right, up = (b - a for a, b in zip(trial.plumb_m, trial.canted_m))
    sd = spread_of(card) * distance * math.sqrt(sum(1.0 / count for count in trial.arrows))
    cant = math.asin(max(-1.0, min(1.0, right / drop)))
    line = -cant / trial.bubble_div
    sd_line = math.hypot(sd / drop / max(math.cos(cant), 0.1), LOOK_DIV * line) / abs(trial.bubble_div)
    known = card.level.sight.per_division_rad
    computed = None if known is None else drop * math.sin(-known * trial.bubble_div)
    return CantFound(right, up, sd, computed, cant, line, sd_line, drop, abs(right) > TOLD_SDS * sd)


def arrows_to_tell(card: RigCard, figures: RigFigures | None, distance_m: float, lines: float) -> int | None:
    """How many arrows in each group tell a cant of so many lines; None while that cannot be said, or none do.

    Args:
        card: of the rig.
        figures: speed [m/s], drag [1/m], eye to sight [m] and peep height [m] of the rig.
        distance_m: [m as ranged].
        lines: how far it is canted [lines].

    Returns:
        arrows in each group.

    Source:
        two means, three sds apart.
    """
    line = card.level.sight.per_division_rad or math.radians(0.5)
    distance = card.distance_from_sight(distance_m)
    drop = fall(figures, (Case(distance, 0.0),))[0] if figures is not None else None
    if not drop:
        return None
    shift = drop * math.sin(abs(lines) * line)
    needed = math.ceil(2.0 * (3.0 * spread_of(card) * distance / shift) ** 2)
    return max(needed, 3) if needed <= ARROWS.high else None
