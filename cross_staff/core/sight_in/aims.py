"""The aims of a sight: which pin at which distance, how each stands, and where to shoot the next mark."""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import cached_property

from cross_staff.core.estimation.groups import ENOUGH_SHOTS, LEAST_SHOTS
from cross_staff.core.estimation.kalman import FLAT_MM
from cross_staff.core.rig.card import RigCard
from cross_staff.core.rig.procedure import CLOSE_M, ROUGH, Certainty, ProcedureStep
from cross_staff.core.rig.reach import SightReach, place_now, sight_reach
from cross_staff.core.sight_in.controls import (
    SIDEWAYS,
    SMALLEST,
    ControlUnit,
    RangeControl,
    choose_sideways,
    next_place,
)
from cross_staff.core.sight_in.estimate import AimEstimate, same_distance
from cross_staff.core.sight_in.log import End, RangeLog
from cross_staff.core.sight_in.pin_places import pin_setting, pins_stand
from cross_staff.core.sight_in.procedures import dialled_pin
from cross_staff.core.sight_in.verdict import AimStanding, Verdict, verdict_on
from cross_staff.core.tape.station import Evaluation

ROUGH_BUTT_M = 0.25  # what the next distance must surely be within
USUAL_CIRCLE = 1.5  # of the archer's usual mean radius
TARGET_PART = 0.25  # of the target is what an aim may be off
HELD_ARROWS = 12  # nobody is held longer at a distance because his groups are wide
STEP_BACK = 2.0  # times as far as he shot already is the most that he steps back at once
AT_MARK_MM = 1.0
SIZE, ANGLE = "size", "angle"  # what a step-back circle is
FAR_OFFSET, THIS_DOT = "offset in the display", "this dot"
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

    @property
    def wide(self) -> bool:
        """Whether the groups here are wider than the archer's circle."""
        return self.radius_m is not None and self.radius_m > self.circle_m


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
        aims = [Aim(0, self.home, self.estimate.by_wheel)]
        aims += [Aim(pin, self.estimate.distances[pin]) for pin in range(1, len(self.estimate.distances))]
        far = self.farthest_shot()
        if self.kind.dialled and far is not None and far > 1.1 * max(self.home, aims[-1].ranged_m if self.pin else 0.0):
            aims.append(Aim(self.pin, far, True))
        return aims

    def farthest_shot(self) -> float | None:
        """The farthest distance at which the dialled pin was shot."""
        far = [e.ranged_m for e in self.estimate.standing if e.ranged_m and e.dial_mm is not None and self._dials(e)]
        return max(far, default=None)

    def _dials(self, end: End) -> bool:
        return end.pin == self.pin

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
        unknown = self._last_uncounted(aim)
        arrows = sum(e.arrows for e in own if e.order > unknown)
        day = estimate.day_mm(aim.ranged_m) / math.sqrt(max(len({e.session for e in own}), 1))
        radius = mean_radius(own)
        circle = self.circle(aim.ranged_m)
        spread = estimate.spread_mm(self.home if level == ROUGH else aim.ranged_m)
        movement = self.movement(aim)
        standing = AimStanding(
            (right, up),
            (right_sd, math.sqrt(max(up_sd**2 - day**2, up_sd**2 / 16.0)) if aim.dialled else up_sd),
            estimate.spread.freedom,
            spread,
            arrows,
            None if radius is None else radius <= circle or arrows >= HELD_ARROWS,
            (self._noise(self._sideways(right), right), 0.0 if aim.dialled else self._noise(movement, up)),
            (self._step(self._sideways(right)), 0.1 if aim.dialled else self._step(movement)),
            1000.0 * ROUGH_BUTT_M * estimate.lever / (estimate.lever + self.card.distance_from_sight(self.home)),
            estimate.spread.known,
            self._allowed(aim, spread),
            (0.0, day),
            self._verified(aim, 1 if level == ROUGH else LEAST_SHOTS),
            estimate.moved_since_shot_mm(),
        )
        return AimState(aim, standing, verdict_on(level, standing), radius, circle)

    def _allowed(self, aim: Aim, spread_mm: float) -> float:
        """How far an aim may be off [mm at the sight plane]: a quarter of the target; where the card has none, half
        of the archer's spread."""
        target = self.card.goals.target_size_m
        if target is None:
            return 0.5 * spread_mm
        lever, distance = self.estimate.lever, self.card.distance_from_sight(aim.ranged_m)
        return 1000.0 * TARGET_PART * target * lever / (lever + distance)

    def _last_uncounted(self, aim: Aim) -> float:
        """The place of the last movement of this aim that nobody counted: what was shot before says nothing of where
        it stands."""
        along = ("gang_elevation", *(("spread",) if aim.pin else ()))
        blind = [m for m in self.log.moves if not m.counted]
        mine = (m for m in blind if m.moves in (*SIDEWAYS, *along) or (m.moves == "pin" and m.pin == aim.pin))
        return max((m.order for m in mine), default=0.0)

    def _verified(self, aim: Aim, arrows: int) -> bool:
        """Whether arrows were shot since the last movement that took this aim along: any of them tells of what moves
        all pins, its own of what moved one."""
        shot, log = self.estimate.standing, self.log
        sideways = [m.order for m in log.moves if m.moves in SIDEWAYS]
        if not _shot_since(sideways, [e for e in shot if e.middle[0] is not None], arrows):
            return False
        if aim.dialled:
            return not same_distance(aim.ranged_m, self.home) or self._at_its_mark(arrows)
        tells = [e for e in shot if e.middle[1] is not None]
        along = [m.order for m in log.moves if m.moves == "gang_elevation" or (m.moves == "spread" and aim.pin)]
        own = [m.order for m in log.moves if m.moves == "pin" and m.pin == aim.pin]
        at_pin = [e for e in tells if e.pin == aim.pin]
        return _shot_since(along, tells, arrows) and _shot_since(own, at_pin, arrows)

    def _at_its_mark(self, arrows: int) -> bool:
        """Whether home was shot with the sight where the marks now have it."""
        mark = self.estimate.home_dial_mm
        moved = max((m.order for m in self.log.moves if m.moves == "gang_elevation"), default=0.0)
        at = [
            e
            for e in self.estimate.standing
            if e.dial_mm is not None and same_distance(e.ranged_m or 0.0, self.home) and e.order > moved
            and mark is not None and abs(e.dial_mm - mark) <= AT_MARK_MM
        ]  # fmt: skip
        return sum(e.arrows for e in at) >= arrows

    def height(self, aim: Aim) -> tuple[float, float]:
        """How far an aim is still to go up [mm], and the sd. What is dialled is right once it is dialled:
        only how sure the mark is remains."""
        estimate = self.estimate
        if aim.dialled:
            mark = estimate.fitted_mark(self.home if aim.ranged_m < self.home else aim.ranged_m)
            return (0.0, FLAT_MM) if mark is None else (0.0, mark[1] / estimate.fit.tape_ratio)
        if estimate.up is None:
            return 0.0, FLAT_MM
        return estimate.up.of(estimate.weights(aim.pin))

    def movement(self, aim: Aim) -> RangeControl | None:
        """The control for an aim's height; None where nothing is to be moved for it."""
        estimate = self.estimate
        if aim.dialled:
            return estimate.drive("elevation")
        last = len(estimate.distances) - 1
        if self.kind.scales_together:
            return estimate.drive("gang_elevation" if not aim.pin else "spread") if aim.pin in (0, last) else None
        if estimate.dots_computed and aim.pin == last and aim.pin:
            return estimate.drive("spread") or RangeControl(FAR_OFFSET, "spread", ControlUnit.MM, 1.0)
        if aim.pin == 0:
            return estimate.drive("gang_elevation") or estimate.drive("elevation")
        return estimate.drive("pin") or (
            RangeControl(THIS_DOT, "pin", ControlUnit.MM, 1.0) if self.kind.computes_dots else None
        )

    def _sideways(self, wanted_mm: float) -> RangeControl | None:
        """The control for the windage; a bracket only where it has a place that way."""
        drive = choose_sideways(self.estimate.controls, wanted_mm)
        if drive is None or drive.unit != ControlUnit.STEP:
            return drive
        place = self.estimate.place_mm(drive)
        if place is None or next_place(drive, place, wanted_mm) != place:
            return drive
        return choose_sideways([d for d in self.estimate.controls if d is not drive], wanted_mm)

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
            return 0.5 * said.number * (1.0 if said.choice == SIZE else ranged_m / self.home)
        return USUAL_CIRCLE * MEAN_RADIUS * self.estimate.spread.mrad * 1e-3 * ranged_m

    def groups_reach_m(self) -> float | None:
        """How far the archer's groups lie within a circle that is a size on the target [m as ranged]; None where he
        said no such circle."""
        said = self.log.said.get("circle")
        if said is None or said.number is None or said.choice != SIZE:
            return None
        return 0.5 * said.number / (MEAN_RADIUS * self.estimate.spread.mrad * 1e-3)

    def marks_shot(self) -> list[float]:
        """Dialled distances beyond the pin's own that were shot with enough arrows [m as ranged]."""
        own = self.estimate.distances[self.pin]
        counts: dict[float, int] = {}
        for end in self.estimate.standing:
            far = end.ranged_m or 0.0
            if far > 1.1 * own and end.dial_mm is not None and self._dials(end):
                key = next((d for d in counts if same_distance(far, d)), far)
                counts[key] = counts.get(key, 0) + end.arrows
        return sorted(d for d, count in counts.items() if count >= ENOUGH_SHOTS)

    def next_mark(self) -> float:
        """Where to shoot the next dialled mark [m as ranged]: half way out, then as far as it gains."""
        as_far = self.dialled_reach_m()
        farthest = min(self.card.goals.farthest_m or self.home, as_far)
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
        goal = min(goal, self._out_to_m(shot), as_far)
        left = [d for d in wanted if not any(same_distance(d, s) for s in shot) and d <= 1.05 * self._out_to_m(shot)]
        if left:
            return min(left, key=lambda d: abs(d - goal))
        unit = self.card.tape.unit_m
        return max(round(goal / unit), 1) * unit if goal < as_far else max(math.floor(as_far / unit + 1e-9), 1) * unit

    @cached_property
    def reach(self) -> SightReach:
        """How far the sight goes as it is mounted, its pins as they stand."""
        stands = pins_stand(self.card, self.evaluation, self.estimate)
        setting = pin_setting(self.card, self.evaluation, stands)
        return sight_reach(self.card, self.estimate.fit.figures, place_now(self.card), setting)

    def dialled_reach_m(self) -> float:
        """How far the dialled pin can be dialled [m as ranged]; nothing is ordered beyond."""
        end = self.reach.of_pin(self.pin)
        return math.inf if end is None else end

    def _out_to_m(self, shot: list[float]) -> float:
        """How far out the next end may be [m as ranged]: with a circle of his own an archer steps back from one
        distance to the next, and no farther than his groups lie within it."""
        if self.log.said.get("circle") is None:
            return math.inf
        reach = self.groups_reach_m()
        farthest = max([self.estimate.distances[self.pin], *shot])
        return min(STEP_BACK * farthest, math.inf if reach is None else max(reach, self.home))


def _shot_since(moves: list[float], ends: list[End], arrows: int) -> bool:
    """Whether so many arrows were shot since the last of some movements, or none was made."""
    last = max(moves, default=None)
    return last is None or sum(e.arrows for e in ends if e.order > last) >= arrows


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
