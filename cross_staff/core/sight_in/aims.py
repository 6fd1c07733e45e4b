"""The aims of a sight: which pin at which distance, how each stands, and where to shoot the next mark."""

from __future__ import annotations

import math
from dataclasses import dataclass

from cross_staff.core.estimation.groups import ENOUGH_SHOTS
from cross_staff.core.rig.card import RigCard
from cross_staff.core.rig.procedure import CLOSE_M, ROUGH, Certainty, ProcedureStep
from cross_staff.core.sight_in.controls import SMALLEST, ControlUnit, RangeControl, choose_sideways
from cross_staff.core.sight_in.estimate import AimEstimate, same_distance
from cross_staff.core.sight_in.log import End, RangeLog
from cross_staff.core.sight_in.marks import dialled_pin
from cross_staff.core.sight_in.verdict import AimStanding, Verdict, verdict_on
from cross_staff.core.tape.station import Evaluation

ROUGH_BUTT_M = 0.25  # what the next distance must surely be within
USUAL_CIRCLE = 1.5  # of the archer's usual mean radius
MEAN_RADIUS = math.sqrt(math.pi / 2.0)  # of a round normal spread, in sds


@dataclass(frozen=True)
class Aim:
    """Something that is aimed at: a pin at a distance [m as ranged]; dialled, where the wheel or the
    computed dot decides its height."""

    pin: int
    ranged_m: float
    dialled: bool = False


@dataclass(frozen=True)
class AimState:
    """An aim with what is known of it, and the verdict at the level that was asked."""

    aim: Aim
    standing: AimStanding
    verdict: Verdict
    radius_m: float | None
    circle_m: float


class Aims:
    """The aims of one rig as the arrows leave them, each judged once."""

    def __init__(self, card: RigCard, log: RangeLog, evaluation: Evaluation, estimate: AimEstimate) -> None:
        self.card, self.log, self.evaluation, self.estimate = card, log, evaluation, estimate
        self.home, self.kind = estimate.distances[0], estimate.kind
        self._known: dict[tuple[Aim, str], AimState] = {}
        self.pin = dialled_pin(card, log.chosen)

    # aims
    def aim(self, step: ProcedureStep) -> Aim | None:
        """What a step aims at; None when this rig has no such pin."""
        pin = self._pin(step)
        if pin is None:
            return None
        own = self.estimate.distances[pin]
        distance = {"close": min(CLOSE_M, self.home), "home": self.home}.get(step.at, own)
        return Aim(pin, distance, step.movement == "elevation")

    def _pin(self, step: ProcedureStep) -> int | None:
        last = len(self.estimate.distances) - 1
        if step.pin.isdecimal():
            return int(step.pin) if int(step.pin) <= last else None
        if step.pin == "widest":
            return self._widest()
        return {"reference": 0, "last": last, "dialled": self.pin, "each": last, "second": 1}.get(step.pin, 0)

    def _widest(self) -> int | None:
        """The pin between the two that were shot whose place is least sure."""
        between = range(1, len(self.estimate.distances) - 1)
        return max(between, key=lambda pin: self.estimate.place_sds_mm[pin], default=None)

    def settled_aims(self) -> list[Aim]:
        """Every aim that must be right in the end."""
        by_dot = self.kind.computes_dots and self.estimate.chosen.get("dots") == "computed"
        aims = [Aim(0, self.home, self.estimate.by_wheel)]
        if not by_dot:
            pins = range(1, len(self.estimate.distances))
            aims += [Aim(pin, self.estimate.distances[pin]) for pin in pins]
        far = self.farthest_shot()
        dials = self.kind.dialled or by_dot
        if dials and far is not None and far > 1.1 * max(self.home, aims[-1].ranged_m if self.pin else 0.0):
            aims.append(Aim(self.pin, far, True))
        return aims

    def farthest_shot(self) -> float | None:
        """The farthest distance at which the dialled pin, or a dot, was shot."""
        far = [e.ranged_m for e in self.estimate.standing if e.ranged_m and e.dial_mm is not None and self._dials(e)]
        return max(far, default=None)

    def _dials(self, end: End) -> bool:
        return end.pin == self.pin or self.kind.computes_dots

    # an aim as it stands
    def at(self, aim: Aim, level: Certainty) -> AimState:
        """An aim with what is known of it, judged at a level."""
        if (aim, level) not in self._known:
            self._known[aim, level] = self._judged_aim(aim, level)
        return self._known[aim, level]

    def _judged_aim(self, aim: Aim, level: Certainty) -> AimState:
        estimate = self.estimate
        right, right_sd = estimate.right.of({"right": 1.0})
        up, up_sd = self.height(aim)
        own = [e for e in estimate.standing if e.pin == aim.pin and same_distance(e.ranged_m or 0.0, aim.ranged_m)]
        arrows = sum(len(e.kept) for e in own)
        radius = mean_radius(own)
        circle = self.circle(aim.ranged_m)
        spread = estimate.spread_mm(self.home if level == ROUGH else aim.ranged_m)
        movement = self.movement(aim)
        standing = AimStanding(
            (right, up),
            (right_sd, up_sd),
            estimate.spread.freedom,
            spread,
            arrows,
            None if radius is None else radius <= circle,
            (self._noise(self._sideways(right), right), 0.0 if aim.dialled else self._noise(movement, up)),
            (self._step(self._sideways(right)), 0.1 if aim.dialled else self._step(movement)),
            1000.0 * ROUGH_BUTT_M * estimate.lever / (estimate.lever + self.card.distance_from_sight(self.home)),
            estimate.spread.known,
        )
        return AimState(aim, standing, verdict_on(level, standing), radius, circle)

    def height(self, aim: Aim) -> tuple[float, float]:
        """How far an aim is still to go up [mm], and the sd. What is dialled is right once it is dialled:
        only how sure the mark is remains."""
        estimate = self.estimate
        if aim.dialled:
            mark = estimate.fitted_mark(self.home if aim.ranged_m < self.home else aim.ranged_m)
            return (0.0, 40.0) if mark is None else (0.0, mark[1] / estimate.fit.tape_ratio)
        if estimate.up is None:
            return 0.0, 40.0
        return estimate.up.of(estimate.weights(aim.pin))

    def movement(self, aim: Aim) -> RangeControl | None:
        """The control for an aim's height; None where nothing is to be moved for it."""
        estimate = self.estimate
        if aim.dialled:
            return estimate.drive("elevation")
        if self.kind.scales_together:
            last = len(estimate.distances) - 1
            return estimate.drive("gang_elevation" if not aim.pin else "spread") if aim.pin in (0, last) else None
        if aim.pin == 0:
            return estimate.drive("gang_elevation") or estimate.drive("elevation")
        return estimate.drive("pin") or (
            RangeControl("this dot", "pin", ControlUnit.MM, 1.0) if self.kind.computes_dots else None
        )

    def _sideways(self, wanted_mm: float) -> RangeControl | None:
        return choose_sideways(self.estimate.controls, wanted_mm)

    def _step(self, drive: RangeControl | None) -> float:
        return 0.05 if drive is None else SMALLEST[drive.unit] * abs(self.estimate.travel_per_unit(drive)[0])

    def _noise(self, drive: RangeControl | None, wanted_mm: float) -> float:
        if drive is None:
            return 0.02
        travel_per_unit, sd = self.estimate.travel_per_unit(drive)
        return math.hypot(
            drive.noise_mm(wanted_mm), sd / abs(travel_per_unit) * wanted_mm, self._step(drive) / math.sqrt(12.0)
        )

    def circle(self, ranged_m: float) -> float:
        """The mean radius at which the archer steps back from a distance [m]: what he said, else half as
        much again as his usual one."""
        said = self.log.said.get("circle")
        if said is not None and said.number is not None:
            return 0.5 * said.number * ranged_m / self.home
        usual = self.card.goals.spread_mrad or self.estimate.spread.mrad
        return USUAL_CIRCLE * MEAN_RADIUS * usual * 1e-3 * ranged_m

    def marks_shot(self) -> list[float]:
        """Dialled distances beyond the pin's own that were shot with enough arrows [m as ranged]."""
        own = self.estimate.distances[self.pin] if not self.kind.computes_dots else self.home
        counts: dict[float, int] = {}
        for end in self.estimate.standing:
            far = end.ranged_m or 0.0
            if far > 1.1 * own and end.dial_mm is not None and self._dials(end):
                key = next((d for d in counts if same_distance(far, d)), far)
                counts[key] = counts.get(key, 0) + len(end.kept)
        return sorted(d for d, count in counts.items() if count >= ENOUGH_SHOTS)

    def next_mark(self) -> float:
        """Where to shoot the next dialled mark [m as ranged]: half way out, then as far as it gains."""
        farthest = self.card.goals.farthest_m or self.home
        own = self.estimate.distances[self.pin]
        shot = self.marks_shot()
        far = [e for e in self.estimate.standing if (e.ranged_m or 0.0) > 1.1 * own and self._dials(e)]
        begun = [e.ranged_m for e in far if e.dial_mm is not None]
        unfinished = [d for d in begun if d and not any(same_distance(d, s) for s in shot)]
        if unfinished:
            return unfinished[-1]
        wanted = sorted(d for d in self.card.goals.distances_m if 1.1 * own < d <= farthest + 1e-6)
        middle = own + 0.5 * (farthest - own)
        goal = middle if not shot else farthest
        if shot and self.evaluation.next_shot is not None:
            goal = self.evaluation.next_shot.distance_m
        left = [d for d in wanted if not any(same_distance(d, s) for s in shot)]
        if left:
            return min(left, key=lambda d: abs(d - goal))
        unit = self.card.tape.unit_m
        return max(round(goal / unit), 1) * unit


def mean_radius(ends: list[End]) -> float | None:
    """Mean distance of the kept shots from the middle of their own end [m]; None for fewer than three.

    Each end's is brought to what a large group would show, sqrt(n / (n - 1)).

    Args:
        ends: ends of arrows.

    Returns:
        [m]; None for fewer than three shots.

    Source:
        docs/method.md, section 13.
    """
    total = arrows = 0.0
    for end in ends:
        kept = end.kept
        count = len(kept)
        if count < 2:
            continue
        right, up = (sum(getattr(s, name) for s in kept) / count for name in ("right_m", "up_m"))
        radius = sum(math.hypot(s.right_m - right, s.up_m - up) for s in kept)
        total += radius * math.sqrt(count / (count - 1))
        arrows += count
    return total / arrows if arrows >= 3 else None
