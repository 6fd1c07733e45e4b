"""A bow that needs a tape: by the usual hand method, and by the program, with the same arrows.

Hidden speed, drag and geometry are drawn from what the card would say of them; distances from the sight
plane.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, field
from datetime import UTC, datetime

import numpy as np

from cross_staff.core.ballistics.flight import RigFigures, Trajectories, arrive
from cross_staff.core.ballistics.sightline import pin_height, pin_heights, sight_shift_at_target
from cross_staff.core.estimation.groups import Shot
from cross_staff.core.rig.card import Goals, RigCard
from cross_staff.core.rig.priors import Known, Priors
from cross_staff.core.sight_in.dispersion import scatter_at_range
from cross_staff.core.sight_in.log import End
from cross_staff.core.tape.booklet import speed_of_span
from cross_staff.core.tape.day_spread import fit_with_days
from cross_staff.core.tape.fit import Fit
from cross_staff.core.tape.forecast import COVERAGE, PlannedGroup, next_shot
from cross_staff.core.tape.observation import Observation
from cross_staff.core.tape.solver import solve

HOME_M, FARTHEST_M = 17.0, 95.0
SHOT_TO_M = FARTHEST_M * 2.0 / 3.0  # nobody shoots farther than this
GROUP = 3
DAY_ARROWS = 9  # of a day, three groups
STRIP_STEP_MM = 1.0  # between the strips of a booklet, in home-to-far length
READING_SD_MM = 0.15
SPREAD_MEDIAN_MRAD, SPREAD_SD_LN = 1.5, 0.4
SD = {"speed_part": 0.004, "drag_ln": 0.25, "lever_m": 0.005, "peep_m": 0.005}  # of what the card says
_DAY = datetime(2026, 5, 1, tzinfo=UTC)
_START_SD_MM = 1.0  # where a sight stands before it is sighted in


@dataclass
class Trial:
    """One bow: what the card says, what is true, the archer's spread, what his days do [mrad], and chance."""

    priors: Priors
    true: RigFigures
    spread_mrad: float
    generator: np.random.Generator
    card: RigCard = field(default_factory=lambda: RigCard("trial"))
    day_mrad: float = 0.0
    days: dict[int, float] = field(default_factory=dict)

    def high(self, arrow: int) -> float:
        """How high the arrows of a day come in [mrad], by which arrow it is; a day has so many, and an offset."""
        day = arrow // DAY_ARROWS
        if day not in self.days:
            self.days[day] = float(self.generator.normal(0.0, self.day_mrad)) if self.day_mrad else 0.0
        return self.days[day]

    def height(self, distance_m: float) -> float:
        """True pin height [m]."""
        return pin_height(self.true, distance_m)

    def mark(self, distance_m: float) -> float:
        """True mark, counted from home [mm]."""
        return 1000.0 * (self.height(HOME_M) - self.height(distance_m))

    def shots(self, distance_m: float, mark_mm: float, arrows: int, first: int = 0) -> tuple[Shot, ...]:
        """Arrows with the sight read to stand at a mark; first, how many were shot before."""
        stands = mark_mm + self.generator.normal(0.0, READING_SD_MM)
        pin = np.array([self.height(HOME_M) - stands / 1000.0])
        middle = float(arrive(Trajectories.of(self.true, distance_m), pin, 48).height_m[0])
        middle += 1e-3 * distance_m * self.high(first)
        scatter = self.generator.normal(0.0, self.spread_mrad * 1e-3 * distance_m, (arrows, 2))
        return tuple(Shot(float(x), middle + float(y)) for x, y in scatter)


def draw(seed: int, wider: float = 1.0, day_mrad: float = 0.0) -> Trial:
    """A bow and its archer. wider: the truth lies that many times farther from the card than is said.

    Args:
        seed: of the random numbers.
        wider: how many times farther from the card the truth lies than is said [-].
        day_mrad: one sd of what a day sets all its arrows off by [mrad].

    Returns:
        a bow [m, m/s, 1/m], its card, and its archer.

    Source:
        simulation; docs/performance.md.
    """
    generator = np.random.default_rng(seed)
    speed, drag = generator.uniform(66.0, 88.0), 0.0015 * math.exp(generator.normal(0.0, 0.15))
    lever, peep = generator.uniform(0.74, 0.88), generator.uniform(0.094, 0.110)
    said = Priors(
        Known(speed, SD["speed_part"] * speed),
        Known(drag, SD["drag_ln"]),
        Known(lever, SD["lever_m"]),
        Known(peep, SD["peep_m"]),
    )
    off = wider * generator.normal(0.0, 1.0, 4)
    true = RigFigures(
        speed * (1.0 + SD["speed_part"] * off[0]),
        drag * math.exp(SD["drag_ln"] * off[1]),
        lever + SD["lever_m"] * off[2],
        peep + SD["peep_m"] * off[3],
    )
    spread = SPREAD_MEDIAN_MRAD * math.exp(SPREAD_SD_LN * generator.normal())
    return Trial(said, true, spread, generator, _card(generator, spread), day_mrad)


def _card(generator: np.random.Generator, spread_mrad: float) -> RigCard:
    """The card's usual group: what six arrows of some earlier day measured across."""
    places = generator.normal(0.0, spread_mrad, (6, 2))
    across = max(float(np.hypot(*(a - b))) for a in places for b in places)
    at = 30.0
    return RigCard("trial", ranged_from="sight", goals=Goals(HOME_M, FARTHEST_M, None, across * 1e-3 * at, at))


def by_hand(trial: Trial, arrows: int) -> float:
    """The tape's error at the farthest distance by the usual hand method [m on the target].

    Groups of three, half of them at home and half as far out as is shot; after each group the sight is
    moved by its whole error. The strip whose home-to-far length is nearest is laid on at home.

    Args:
        trial: the bow and its archer.
        arrows: how many are shot in all.

    Returns:
        error [m] on the target, up positive.

    Raises:
        ArithmeticError: where no strip of the booklet is that long.

    Source:
        simulation; docs/performance.md.
    """
    groups = max(arrows // GROUP // 2, 1)
    home, far = (
        _chased(trial, distance, groups, first) for distance, first in ((HOME_M, 0), (SHOT_TO_M, groups * GROUP))
    )
    span = STRIP_STEP_MM * round((far - home) / STRIP_STEP_MM)
    speed = speed_of_span(trial.true, HOME_M, SHOT_TO_M, [span])[0]
    if speed is None:
        raise ArithmeticError("no strip of the booklet is that long")
    strip = pin_heights(Trajectories.spread(speed, *_still(trial.true), [HOME_M, FARTHEST_M], 0.0, 0.0)).height_m
    printed = home + 1000.0 * float(strip[0] - strip[1])
    return _on_target(trial, printed - trial.mark(FARTHEST_M))


def _still(figures: RigFigures) -> tuple[float, float, float]:
    return figures.drag_per_m, figures.eye_to_sight_m, figures.peep_height_m


def _chased(trial: Trial, distance_m: float, groups: int, first: int) -> float:
    """The mark at which the sight ends when each group's whole error is taken out [mm]."""
    mark = trial.mark(distance_m) + trial.generator.normal(0.0, _START_SD_MM)
    for group in range(groups):
        shots = trial.shots(distance_m, mark, GROUP, first + group * GROUP)
        up = float(np.mean([shot.up_m for shot in shots]))
        mark -= 1000.0 * up / float(sight_shift_at_target(trial.true.eye_to_sight_m, distance_m))
    return mark + float(trial.generator.normal(0.0, READING_SD_MM))


def _on_target(trial: Trial, off_mm: float) -> float:
    return off_mm / 1000.0 * float(sight_shift_at_target(trial.true.eye_to_sight_m, FARTHEST_M))


@dataclass(frozen=True)
class Stage:
    """After so many arrows: the tape's error at the farthest distance, the stated sd there [m on the
    target], and whether the stated 95 % band holds the truth."""

    arrows: int
    error_m: float
    sd_m: float

    @property
    def held(self) -> bool:
        return abs(self.error_m) <= COVERAGE * self.sd_m


def by_program(trial: Trial, arrows: int) -> list[Stage]:
    """The same arrows by the program: home first, then each group where it narrows the farthest most."""
    candidates = [float(d) for d in range(12, int(SHOT_TO_M) + 1)]
    ends: list[tuple[float, End]] = []
    stages = []
    fit, scatter = solve(trial.priors, HOME_M, []), scatter_at_range(trial.card, [])
    for count in range(GROUP, arrows + 1, GROUP):
        day = _day(count - GROUP)
        shot = PlannedGroup(GROUP, scatter.spread_mrad, READING_SD_MM, scatter.day_mrad)
        best = next_shot(fit, candidates, FARTHEST_M, shot, session=day) if ends else None
        distance = HOME_M if best is None else best.distance_m
        mark = round(fit.tape([distance])[0].mark_mm or 0.0, 1)
        shots = trial.shots(distance, mark, GROUP, count - GROUP)
        ends.append((mark, End(str(count), 1, 1, _DAY, distance, shots=shots)))
        before = scatter_at_range(trial.card, [end for _, end in ends])
        seen = _observations(ends, before.spread_mrad)
        fit, scatter = fit_with_days(trial.priors, HOME_M, seen, (), before, [True] * len(seen))
        stages.append(_stage(trial, fit, count))
    return stages


def _day(arrow: int) -> str:
    """The name of the day that an arrow is shot on."""
    return f"{arrow // DAY_ARROWS:03d}"


def _observations(ends: Sequence[tuple[float, End]], spread: float) -> list[Observation]:
    observations = []
    for number, (mark, end) in enumerate(ends):
        assert end.ranged_m is not None
        up = float(np.mean([shot.up_m for shot in end.kept]))
        error = PlannedGroup(len(end.kept), spread).standard_error_m(end.ranged_m)
        day = _day(number * GROUP)
        observations.append(Observation(end.ranged_m, mark, READING_SD_MM, up, error, "group", session=day))
    return observations


def _stage(trial: Trial, fit: Fit, arrows: int) -> Stage:
    row = fit.tape([FARTHEST_M])[0]
    assert row.mark_mm is not None and row.sd_on_target_m is not None
    return Stage(arrows, _on_target(trial, row.mark_mm - trial.mark(FARTHEST_M)), row.sd_on_target_m)
