"""The station's judgement: where the work stands, what to shoot or to move now, and why."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass, field, replace

from cross_staff.core.bench_log import BenchEntry
from cross_staff.core.drives import SMALLEST, Advice, Drive, advise, choose_sideways
from cross_staff.core.groups import ADJUST, ENOUGH_SHOTS, SHOOT_MORE
from cross_staff.core.judge import END_SHOTS, FIRST_SHOTS, Standing, Verdict, judge
from cross_staff.core.procedures import (
    CLOSE_M,
    CONFIRM,
    MARKS,
    PLACE,
    READY,
    ROUGH,
    SETTLE,
    SHOOT,
    SURE,
    Step,
    steps,
)
from cross_staff.core.range_belief import RangeBelief, RangeLog, dialled_pin, same_distance
from cross_staff.core.range_log import End
from cross_staff.core.reckoning import Reckoning
from cross_staff.core.rig import RigCard
from cross_staff.core.sightline import impact_heights, pin_height

DONE, SKIPPED = "done", "skipped"
MOVE, DIAL, CARD, ALL_DONE = "move", "dial", "card", "all_done"
ROUGH_BUTT_M = 0.25  # what the next distance must surely be within
USUAL_CIRCLE = 1.5  # of the archer's usual mean radius
MEAN_RADIUS = math.sqrt(math.pi / 2.0)  # of a round normal spread, in sds
MOST_MARKS = 4  # dialled distances beyond home that are asked for


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
    standing: Standing
    verdict: Verdict
    radius_m: float | None
    circle_m: float


@dataclass(frozen=True)
class StepState:
    """A step with its aim, whether it is done, and how: by the arrows, said, or skipped; by whom."""

    step: Step
    aim: Aim | None
    state: str = ""
    who: str = ""
    missing: tuple[str, ...] = ()


@dataclass(frozen=True)
class Act:
    """What to do now: a kind (SHOOT, MOVE, PLACE, CONFIRM, CARD, ALL_DONE), why, and its numbers: the
    aim, how many arrows now and in all, the reading to dial, the movements, where the pin belongs [mm below the top
    one], the impact to expect [m, up]."""

    kind: str
    because: str = ""
    step: Step | None = None
    aim: Aim | None = None
    arrows: int = 0
    more: int = 0
    dial_mm: float | None = None
    moves: tuple[Advice, ...] = ()
    place_mm: float | None = None
    place_sd_mm: float | None = None
    expect_m: float | None = None
    at: AimState | None = None


@dataclass(frozen=True)
class SightIn:
    """All that the station knows of a rig at this moment; belief is None while the card lacks something."""

    belief: RangeBelief | None
    steps: tuple[StepState, ...]
    act: Act
    aims: tuple[AimState, ...] = field(default=())

    @property
    def current(self) -> StepState | None:
        """The step that is next."""
        return next((s for s in self.steps if not s.state), None)

    @property
    def shot(self) -> bool:
        """Whether any arrow was shot that still counts."""
        return self.belief is not None and bool(self.belief.counted)

    @property
    def old_ends(self) -> int:
        """Ends that a change of the rig has made old for height or windage."""
        belief = self.belief
        return 0 if belief is None else sum(not _true(belief, end) for end in belief.counted)

    @property
    def shot_now(self) -> bool:
        """Whether any arrow was shot that is still true of the rig."""
        belief = self.belief
        return belief is not None and any(_true(belief, end) for end in belief.counted)

    def usable_to_m(self) -> float | None:
        """The farthest pin that is sighted in [m as ranged]: usable as fixed pins up to there."""
        done = [s.aim.ranged_m for s in self.steps if s.state == DONE and s.aim and s.step.kind == SHOOT]
        return max((d for d in done if d > CLOSE_M), default=None)


def sight_in(
    card: RigCard,
    log: RangeLog,
    reckoning: Reckoning,
    holds: Mapping[str, frozenset[int]] | None = None,
    asked: str = "",
) -> SightIn:
    """Judge the station.

    Args: card; log; reckoning, with the ends among its rows; holds, revisions by result; asked, the
        key of a step that is looked at in place of the next one.
    """
    if reckoning.fit is None or card.goals.home_m is None:
        return SightIn(None, (), Act(CARD, reckoning.missing[0] if reckoning.missing else "unsolved"))
    return _Work(card, log, reckoning, RangeBelief(card, log, reckoning.fit, holds)).judged(asked)


class _Work:
    """One judgement: a belief, and the steps laid over it."""

    def __init__(self, card: RigCard, log: RangeLog, reckoning: Reckoning, belief: RangeBelief) -> None:
        self.card, self.log, self.reckoning, self.belief = card, log, reckoning, belief
        self.home = belief.distances[0]
        self._known: dict[tuple[Aim, str], AimState] = {}
        self.pin = dialled_pin(card, log.chosen)

    def judged(self, asked: str) -> SightIn:
        found: list[StepState] = []
        for step in steps(self.card, self.belief.chosen):
            aim = self.aim(step)
            if aim is None and step.kind in (SHOOT, PLACE):
                continue
            done = {s.step.key for s in found if s.state}
            missing = tuple(key for key in step.needs if _lacks(key, found, done))
            found.append(self._state(StepState(step, aim, missing=missing)))
        chosen = next((s for s in found if s.step.key == asked), None)
        current = chosen or next((s for s in found if not s.state), None)
        act = Act(ALL_DONE) if current is None else self.act(current)
        aims = tuple(self.at(aim, SURE) for aim in self.settled_aims())
        return SightIn(self.belief, tuple(found), act, aims)

    # aims
    def aim(self, step: Step) -> Aim | None:
        """What a step aims at; None when this rig has no such pin."""
        pin = self._pin(step)
        if pin is None:
            return None
        own = self.belief.distances[pin]
        distance = {"close": min(CLOSE_M, self.home), "home": self.home}.get(step.at, own)
        return Aim(pin, distance, step.movement == "elevation")

    def _pin(self, step: Step) -> int | None:
        last = len(self.belief.distances) - 1
        if step.pin.isdigit():
            return int(step.pin) if int(step.pin) <= last else None
        if step.pin == "widest":
            return self._widest()
        return {"reference": 0, "last": last, "dialled": self.pin, "each": last, "second": 1}.get(step.pin, 0)

    def _widest(self) -> int | None:
        """The pin between the two that were shot whose place is least sure."""
        between = range(1, len(self.belief.distances) - 1)
        return max(between, key=lambda pin: self.belief.place_sds_mm[pin], default=None)

    def settled_aims(self) -> list[Aim]:
        """Every aim that must be right in the end."""
        kind = self.card.sight.kind
        by_dot = kind == "pin_display" and self.belief.chosen.get("dots") == "computed"
        found = [Aim(0, self.home, self.belief.by_wheel)]
        if not by_dot:
            pins = range(1, len(self.belief.distances))
            found += [Aim(pin, self.belief.distances[pin]) for pin in pins]
        far = self.farthest_shot()
        dials = kind in ("single_pin_slider", "multi_pin_slider", "vertical_pin_slider", "target_scope") or by_dot
        if dials and far is not None and far > 1.1 * max(self.home, found[-1].ranged_m if self.pin else 0.0):
            found.append(Aim(self.pin, far, True))
        return found

    def farthest_shot(self) -> float | None:
        """The farthest distance at which the dialled pin, or a dot, was shot."""
        far = [e.ranged_m for e in self.belief.counted if e.ranged_m and e.dial_mm is not None and self._dials(e)]
        return max(far, default=None)

    def _dials(self, end: End) -> bool:
        return end.pin == self.pin or self.card.sight.kind == "pin_display"

    # an aim as it stands
    def at(self, aim: Aim, level: str) -> AimState:
        """An aim with what is known of it, judged at a level."""
        if (aim, level) not in self._known:
            self._known[aim, level] = self._judged_aim(aim, level)
        return self._known[aim, level]

    def _judged_aim(self, aim: Aim, level: str) -> AimState:
        belief = self.belief
        right, right_sd = belief.right.of({"right": 1.0})
        up, up_sd = self.height(aim)
        own = [e for e in belief.counted if e.pin == aim.pin and same_distance(e.ranged_m or 0.0, aim.ranged_m)]
        own = [e for e in own if _true(belief, e)]
        arrows = sum(len(e.kept) for e in own)
        radius = mean_radius(own)
        circle = self.circle(aim.ranged_m)
        spread = belief.spread_mm(self.home if level == ROUGH else aim.ranged_m)
        movement = self.movement(aim)
        standing = Standing(
            (right, up),
            (right_sd, up_sd),
            belief.spread.freedom,
            spread,
            arrows,
            None if radius is None else radius <= circle,
            (self._noise(self._sideways(right), right), 0.0 if aim.dialled else self._noise(movement, up)),
            (self._step(self._sideways(right)), 0.1 if aim.dialled else self._step(movement)),
            1000.0 * ROUGH_BUTT_M * belief.lever / (belief.lever + self.card.distance_from_sight(self.home)),
            belief.spread.known,
        )
        return AimState(aim, standing, judge(level, standing), radius, circle)

    def height(self, aim: Aim) -> tuple[float, float]:
        """How far an aim is still to go up [mm], and the sd. What is dialled is right once it is dialled:
        only how sure the mark is remains."""
        belief = self.belief
        if aim.dialled:
            mark = belief.fitted_mark(self.home if aim.ranged_m < self.home else aim.ranged_m)
            return (0.0, 40.0) if mark is None else (0.0, mark[1] / belief.fit.tape_ratio)
        if belief.up is None:
            return 0.0, 40.0
        return belief.up.of(belief.weights(aim.pin))

    def movement(self, aim: Aim) -> Drive | None:
        """The control for an aim's height; None where nothing is to be moved for it."""
        belief, kind = self.belief, self.card.sight.kind
        if aim.dialled:
            return belief.drive("elevation")
        if kind == "geared_stack":
            last = len(belief.distances) - 1
            return belief.drive("gang_elevation" if not aim.pin else "spread") if aim.pin in (0, last) else None
        if aim.pin == 0:
            return belief.drive("gang_elevation") or belief.drive("elevation")
        return belief.drive("pin") or (Drive("this dot", "pin", "mm", 1.0) if kind == "pin_display" else None)

    def _sideways(self, wanted_mm: float) -> Drive | None:
        return choose_sideways(self.belief.drives, wanted_mm)

    def _step(self, drive: Drive | None) -> float:
        return 0.05 if drive is None else SMALLEST[drive.unit] * abs(self.belief.gain(drive)[0])

    def _noise(self, drive: Drive | None, wanted_mm: float) -> float:
        if drive is None:
            return 0.02
        gain, sd = self.belief.gain(drive)
        return math.hypot(drive.noise_mm(wanted_mm), sd / abs(gain) * wanted_mm, self._step(drive) / math.sqrt(12.0))

    def circle(self, ranged_m: float) -> float:
        """The mean radius at which the archer steps back from a distance [m]: what he said, else half as
        much again as his usual one."""
        said = self.log.said.get("circle")
        if said is not None and said.number is not None:
            return 0.5 * said.number * ranged_m / self.home
        usual = self.card.goals.spread_mrad or self.belief.spread.mrad
        return USUAL_CIRCLE * MEAN_RADIUS * usual * 1e-3 * ranged_m

    # steps
    def _state(self, found: StepState) -> StepState:
        entry = self.log.said.get(f"step:{found.step.key}")
        if entry is not None and self._said_holds(entry):
            return replace(found, state=SKIPPED if entry.choice == "skipped" else DONE, who=entry.note)
        return replace(found, state=DONE) if self._done(found) else found

    def _said_holds(self, entry: BenchEntry) -> bool:
        return self.belief.holds_for("home", entry.revision)

    def _done(self, found: StepState) -> bool:
        step, aim = found.step, found.aim
        if step.kind == SHOOT and aim is not None:
            if step.level == ROUGH and self._passed_close(aim):
                return True
            return self.at(aim, step.level).verdict.there and not self._repeated(step)
        if step.kind == PLACE and aim is not None:
            return any(m.pin == aim.pin and m.placed for m in self.log.moves) or self._shot(aim)
        if step.kind == MARKS:
            return self._marks_done(step)
        if step.kind == SETTLE:
            return all(self.at(each, SURE).verdict.there for each in self.settled_aims())
        return False

    def _passed_close(self, aim: Aim) -> bool:
        """Whether arrows were shot from farther already."""
        return any((e.ranged_m or 0.0) > aim.ranged_m + 2.0 for e in self.belief.counted)

    def _repeated(self, step: Step) -> bool:
        """A step that repeats another counts only arrows shot after the one between was said."""
        if step.key != "again":
            return False
        squared = self.log.said.get("step:square")
        if squared is None:
            return True
        shot = [e for e in self.belief.counted if same_distance(e.ranged_m or 0.0, self.home)]
        after = [e for e in shot if e.entered >= squared.entered]
        return sum(len(e.kept) for e in after) < ENOUGH_SHOTS

    def _shot(self, aim: Aim) -> bool:
        return any(e.pin == aim.pin and same_distance(e.ranged_m or 0.0, aim.ranged_m) for e in self.belief.counted)

    def marks_shot(self) -> list[float]:
        """Dialled distances beyond the pin's own that were shot with enough arrows [m as ranged]."""
        own = self.belief.distances[self.pin] if self.card.sight.kind != "pin_display" else self.home
        counts: dict[float, int] = {}
        for end in self.belief.counted:
            far = end.ranged_m or 0.0
            if far > 1.1 * own and end.dial_mm is not None and self._dials(end):
                key = next((d for d in counts if same_distance(far, d)), far)
                counts[key] = counts.get(key, 0) + len(end.kept)
        return sorted(d for d, count in counts.items() if count >= ENOUGH_SHOTS)

    def _marks_done(self, step: Step) -> bool:
        shot = self.marks_shot()
        if step.key == "far":
            return bool(shot)
        good = self.reckoning.good_enough and not self.reckoning.doubtful
        return len(shot) >= 2 and (good or len(shot) >= MOST_MARKS or self.reckoning.next_shot is None)

    def next_mark(self) -> float:
        """Where to shoot the next dialled mark [m as ranged]: half way out, then as far as it gains."""
        farthest = self.card.goals.farthest_m or self.home
        own = self.belief.distances[self.pin]
        shot = self.marks_shot()
        far = [e for e in self.belief.counted if (e.ranged_m or 0.0) > 1.1 * own and self._dials(e)]
        begun = [e.ranged_m for e in far if e.dial_mm is not None]
        unfinished = [d for d in begun if d and not any(same_distance(d, s) for s in shot)]
        if unfinished:
            return unfinished[-1]
        wanted = sorted(d for d in self.card.goals.distances_m if 1.1 * own < d <= farthest + 1e-6)
        middle = own + 0.5 * (farthest - own)
        goal = middle if not shot else farthest
        if shot and self.reckoning.next_shot is not None:
            goal = self.reckoning.next_shot.distance_m
        left = [d for d in wanted if not any(same_distance(d, s) for s in shot)]
        if left:
            return min(left, key=lambda d: abs(d - goal))
        unit = self.card.tape.unit_m
        return max(round(goal / unit), 1) * unit

    # what to do
    def act(self, found: StepState) -> Act:
        step, aim = found.step, found.aim
        if step.kind == CONFIRM or (step.kind == PLACE and aim is None):
            return replace(self._placed(Act(CONFIRM, "", step, aim)), kind=CONFIRM)
        if step.kind == PLACE:
            return self._placed(Act(PLACE, "", step, aim))
        if step.kind == MARKS:
            aim = Aim(self._mark_pin(), self.next_mark(), True)
            at = self.at(aim, READY)
            more = max(ENOUGH_SHOTS - at.standing.arrows, 0) or END_SHOTS
            return self._shoot(step, aim, more, "next_mark", at)
        if step.kind == SETTLE:
            return self._settle(step)
        assert aim is not None
        return self._toward(step, self.at(aim, step.level))

    def _mark_pin(self) -> int:
        if self.card.sight.kind != "pin_display":
            return self.pin
        far = self.next_mark()
        near = [p for p, d in enumerate(self.belief.distances) if same_distance(d, far)]
        return near[0] if near else len(self.belief.distances) - 1

    def _settle(self, step: Step) -> Act:
        """The aim that is least sure."""
        aims = [self.at(aim, SURE) for aim in self.settled_aims()]
        worst = min(aims, key=lambda at: (at.verdict.there, at.verdict.surely))
        return self._toward(step, worst)

    def _toward(self, step: Step, at: AimState) -> Act:
        verdict = at.verdict
        if verdict.kind == ADJUST:
            moves = self._moves(at)
            if moves:
                return Act(MOVE, verdict.because, step, at.aim, moves=moves, at=at)
        more = verdict.more or (FIRST_SHOTS if step.level == ROUGH else END_SHOTS)
        because = verdict.because if verdict.kind == SHOOT_MORE else "not_sure"
        return self._shoot(step, at.aim, more, because, at)

    def _shoot(self, step: Step, aim: Aim, more: int, because: str, at: AimState) -> Act:
        arrows = min(more, END_SHOTS)
        return Act(SHOOT, because, step, aim, arrows, more, self.dial(aim), expect_m=self.expected_m(aim), at=at)

    def dial(self, aim: Aim) -> float | None:
        """The reading to set before shooting at an aim; None where nothing is dialled, or nothing is known."""
        if aim.dialled:
            mark = self.belief.fitted_mark(self.home if aim.ranged_m < self.home else aim.ranged_m)
            return None if mark is None else mark[0]
        if self.card.sight.kind in ("fixed_pins", "geared_stack"):
            return None
        if self.card.sight.kind == "pin_display" and self.belief.chosen.get("dots") == "by_hand":
            return None
        return self.belief.home_dial_mm

    def expected_m(self, aim: Aim) -> float | None:
        """Where the arrows will come in [m, up] when the sight is right for home, close in."""
        if aim.ranged_m >= self.home - 0.5:
            return None
        figures = self.belief.fit.figures
        height = pin_height(figures, self.card.distance_from_sight(self.home))
        return float(impact_heights(figures, height, self.card.distance_from_sight(aim.ranged_m))[0])

    def _placed(self, act: Act) -> Act:
        if act.aim is None or not act.aim.pin:
            return act
        sd = self.belief.placed_sd(act.aim.pin)
        return replace(act, place_mm=self.belief.below_mm(act.aim.pin), place_sd_mm=sd)

    def _moves(self, at: AimState) -> tuple[Advice, ...]:
        """The movements that the verdict asks for, the bigger error first."""
        found: list[Advice | None] = []
        offset = at.standing.offset
        if at.verdict.move[0]:
            found.append(self._advise(self._sideways(offset[0]), offset[0]))
        if at.verdict.move[1] and not at.aim.dialled:
            spread = self.card.sight.kind == "geared_stack" and at.aim.pin
            wanted = self.belief.up.of({"spread": 1.0})[0] if spread and self.belief.up else offset[1]
            drive = self.movement(at.aim)
            found.append(self._advise(drive, wanted, at.aim.pin if drive and drive.moves == "pin" else None))
        return tuple(sorted((a for a in found if a is not None), key=lambda a: -abs(a.moved_mm)))

    def _advise(self, drive: Drive | None, wanted_mm: float, pin: int | None = None) -> Advice | None:
        if drive is None:
            return None
        return advise(drive, wanted_mm, self.belief.gain(drive), self.card.sight, pin)


def _true(belief: RangeBelief, end: End) -> bool:
    return belief.holds_for("windage", end.revision) and belief.holds_for("home", end.revision)


def _lacks(key: str, found: list[StepState], done: set[str]) -> bool:
    """Whether a step that matters (or one of its pins) is not done."""
    own = [s for s in found if s.step.key == key or s.step.key.startswith(f"{key}_")]
    return any(s.step.key not in done for s in own)


def mean_radius(ends: list[End]) -> float | None:
    """Mean distance of the kept shots from the middle of their own end [m]; None for fewer than three.

    Each end's is brought to what a large group would show, sqrt(n / (n - 1)).
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
