"""The station's judgement: where the work stands, what to shoot or to move now, and why."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from enum import StrEnum

from cross_staff.core.ballistics.sightline import impact_heights, pin_height
from cross_staff.core.estimation.groups import ADJUST, ENOUGH_SHOTS, SHOOT_MORE
from cross_staff.core.rig.card import RigCard
from cross_staff.core.rig.log import BenchEntry
from cross_staff.core.rig.procedure import (
    CLOSE_M,
    CONFIRM,
    MARKS,
    PLACE,
    READY,
    ROUGH,
    SETTLE,
    SHOOT,
    SURE,
    ProcedureStep,
    StepKind,
)
from cross_staff.core.sight_in.aims import Aim, Aims, AimState
from cross_staff.core.sight_in.controls import MovementAdvice, RangeControl, advise
from cross_staff.core.sight_in.estimate import AimEstimate, same_distance
from cross_staff.core.sight_in.log import RangeLog
from cross_staff.core.sight_in.procedures import steps
from cross_staff.core.sight_in.verdict import END_SHOTS, FIRST_SHOTS
from cross_staff.core.tape.station import Evaluation


class SaidOf(StrEnum):
    """What can be said of a step."""

    DONE = "done"
    SKIPPED = "skipped"


DONE, SKIPPED = SaidOf


class OtherAct(StrEnum):
    """What may be next beside a step."""

    MOVE = "move"
    CARD = "card"
    ALL_DONE = "all_done"


MOVE, CARD, ALL_DONE = OtherAct
MOST_MARKS = 4  # dialled distances beyond home that are asked for


@dataclass(frozen=True)
class SightInStepState:
    """A step with its aim, whether it is done, and how: by the arrows, said, or skipped; by whom."""

    step: ProcedureStep
    aim: Aim | None
    state: str = ""
    who: str = ""
    missing: tuple[str, ...] = ()


@dataclass(frozen=True)
class Act:
    """What to do now: a kind (SHOOT, MOVE, PLACE, CONFIRM, CARD, ALL_DONE), why, and its numbers: the
    aim, how many arrows now and in all, the reading to dial, the movements, where the pin belongs [mm below the top
    one], the impact to expect [m, up]."""

    kind: StepKind | OtherAct
    because: str = ""
    step: ProcedureStep | None = None
    aim: Aim | None = None
    arrows: int = 0
    more: int = 0
    dial_mm: float | None = None
    moves: tuple[MovementAdvice, ...] = ()
    place_mm: float | None = None
    place_sd_mm: float | None = None
    expect_m: float | None = None
    at: AimState | None = None


@dataclass(frozen=True)
class SightIn:
    """All that the station knows of a rig at this moment; estimate is None while the card lacks something."""

    estimate: AimEstimate | None
    steps: tuple[SightInStepState, ...]
    act: Act
    aims: tuple[AimState, ...] = field(default=())

    @property
    def current(self) -> SightInStepState | None:
        """The step that is next."""
        return next((s for s in self.steps if not s.state), None)

    @property
    def shot(self) -> bool:
        """Whether any arrow was shot that still counts."""
        return self.estimate is not None and bool(self.estimate.counted)

    @property
    def old_ends(self) -> int:
        """Ends that a change of the rig has made old for height or windage."""
        estimate = self.estimate
        return 0 if estimate is None else len(estimate.counted) - len(estimate.standing)

    @property
    def shot_now(self) -> bool:
        """Whether any arrow was shot that is still true of the rig."""
        return self.estimate is not None and bool(self.estimate.standing)

    def usable_to_m(self) -> float | None:
        """The farthest pin that is sighted in [m as ranged]: usable as fixed pins up to there."""
        done = [s.aim.ranged_m for s in self.steps if s.state == DONE and s.aim and s.step.kind == SHOOT]
        return max((d for d in done if d > CLOSE_M), default=None)


def sight_in(
    card: RigCard,
    log: RangeLog,
    evaluation: Evaluation,
    holds: Mapping[str, frozenset[int]] | None = None,
    asked: str = "",
    spans: Mapping[int, int] | None = None,
) -> SightIn:
    """Judge the station.

    Args: card; log; reckoning, with the ends among its rows; holds, revisions by result; asked, the
        key of a step that is looked at in place of the next one; spans, revisions of which only the zero is old,
        each with the event that moved it.
    """
    if evaluation.fit is None or card.goals.home_m is None:
        return SightIn(None, (), Act(CARD, evaluation.missing[0] if evaluation.missing else "unsolved"))
    return _Work(card, log, evaluation, AimEstimate(card, log, evaluation.fit, holds, spans)).judged(asked)


class _Work(Aims):
    """One judgement: the aims, and the steps laid over them."""

    def judged(self, asked: str) -> SightIn:
        step_states: list[SightInStepState] = []
        for step in steps(self.card, self.estimate.chosen):
            aim = self.aim(step)
            if aim is None and step.kind in (SHOOT, PLACE):
                continue
            done = {s.step.key for s in step_states if s.state}
            missing = tuple(key for key in step.needs if _lacks(key, step_states, done))
            step_states.append(self._state(SightInStepState(step, aim, missing=missing)))
        chosen = next((s for s in step_states if s.step.key == asked), None)
        current = chosen or next((s for s in step_states if not s.state), None)
        act = Act(ALL_DONE) if current is None else self.act(current)
        aims = tuple(self.at(aim, SURE) for aim in self.settled_aims())
        return SightIn(self.estimate, tuple(step_states), act, aims)

    # steps
    def _state(self, step_state: SightInStepState) -> SightInStepState:
        entry = self.log.said.get(f"step:{step_state.step.key}")
        if entry is not None and self._said_holds(entry):
            return replace(step_state, state=SKIPPED if entry.choice == "skipped" else DONE, who=entry.note)
        return replace(step_state, state=DONE) if self._done(step_state) else step_state

    def _said_holds(self, entry: BenchEntry) -> bool:
        return self.estimate.holds_for("home", entry.revision)

    def _done(self, step_state: SightInStepState) -> bool:
        step, aim = step_state.step, step_state.aim
        if step.kind == SHOOT and aim is not None:
            if step.level == ROUGH and self._passed_close(aim):
                return True
            return self.at(aim, step.level).verdict.there and not self._repeated(step)
        if step.kind == PLACE and aim is not None:
            placed = [m for m in self.log.moves if m.pin == aim.pin and m.placed]
            return any(self.estimate.holds_for("home", m.revision) for m in placed) or self._shot(aim)
        if step.kind == MARKS:
            return self._marks_done(step)
        if step.kind == SETTLE:
            return all(self.at(each, SURE).verdict.there for each in self.settled_aims())
        return False

    def _passed_close(self, aim: Aim) -> bool:
        """Whether arrows were shot from farther already."""
        return any((e.ranged_m or 0.0) > aim.ranged_m + 2.0 for e in self.estimate.standing)

    def _repeated(self, step: ProcedureStep) -> bool:
        """A step that repeats another counts only arrows shot after the one between was said."""
        if step.key != "again":
            return False
        squared = self.log.said.get("step:square")
        if squared is None:
            return True
        shot = [e for e in self.estimate.standing if same_distance(e.ranged_m or 0.0, self.home)]
        after = [e for e in shot if e.entered >= squared.entered]
        return sum(len(e.kept) for e in after) < ENOUGH_SHOTS

    def _shot(self, aim: Aim) -> bool:
        return any(e.pin == aim.pin and same_distance(e.ranged_m or 0.0, aim.ranged_m) for e in self.estimate.standing)

    def _marks_done(self, step: ProcedureStep) -> bool:
        shot = self.marks_shot()
        if step.key == "far":
            return bool(shot)
        good = self.evaluation.good_enough and not self.evaluation.doubtful
        return len(shot) >= 2 and (good or len(shot) >= MOST_MARKS or self.evaluation.next_shot is None)

    # what to do
    def act(self, step_state: SightInStepState) -> Act:
        step, aim = step_state.step, step_state.aim
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
        if not self.kind.computes_dots:
            return self.pin
        far = self.next_mark()
        near = [p for p, d in enumerate(self.estimate.distances) if same_distance(d, far)]
        return near[0] if near else len(self.estimate.distances) - 1

    def _settle(self, step: ProcedureStep) -> Act:
        """The aim that is least sure."""
        aims = [self.at(aim, SURE) for aim in self.settled_aims()]
        worst = min(aims, key=lambda at: (at.verdict.there, at.verdict.surely))
        return self._toward(step, worst)

    def _toward(self, step: ProcedureStep, at: AimState) -> Act:
        verdict = at.verdict
        if verdict.kind == ADJUST:
            moves = self._moves(at)
            if moves:
                return Act(MOVE, verdict.because, step, at.aim, moves=moves, at=at)
        more = verdict.more or (FIRST_SHOTS if step.level == ROUGH else END_SHOTS)
        because = verdict.because if verdict.kind == SHOOT_MORE else "not_sure"
        return self._shoot(step, at.aim, more, because, at)

    def _shoot(self, step: ProcedureStep, aim: Aim, more: int, because: str, at: AimState) -> Act:
        arrows = min(more, END_SHOTS)
        return Act(SHOOT, because, step, aim, arrows, more, self.dial(aim), expect_m=self.expected_m(aim), at=at)

    def dial(self, aim: Aim) -> float | None:
        """The reading to set before shooting at an aim; None where nothing is dialled, or nothing is known."""
        if aim.dialled:
            mark = self.estimate.fitted_mark(self.home if aim.ranged_m < self.home else aim.ranged_m)
            return None if mark is None else mark[0]
        if not self.kind.has_dial:
            return None
        if self.kind.computes_dots and self.estimate.chosen.get("dots") == "by_hand":
            return None
        return self.estimate.home_dial_mm

    def expected_m(self, aim: Aim) -> float | None:
        """Where the arrows will come in [m, up] when the sight is right for home, close in."""
        if aim.ranged_m >= self.home - 0.5:
            return None
        figures = self.estimate.fit.figures
        height = pin_height(figures, self.card.distance_from_sight(self.home))
        return float(impact_heights(figures, height, self.card.distance_from_sight(aim.ranged_m))[0])

    def _placed(self, act: Act) -> Act:
        if act.aim is None or not act.aim.pin:
            return act
        sd = self.estimate.placed_sd(act.aim.pin)
        return replace(act, place_mm=self.estimate.below_mm(act.aim.pin), place_sd_mm=sd)

    def _moves(self, at: AimState) -> tuple[MovementAdvice, ...]:
        """The movements that the verdict asks for, the bigger error first."""
        moves: list[MovementAdvice | None] = []
        offset = at.standing.offset
        if at.verdict.move[0]:
            moves.append(self._advise(self._sideways(offset[0]), offset[0]))
        if at.verdict.move[1] and not at.aim.dialled:
            spread = self.kind.scales_together and at.aim.pin
            wanted = self.estimate.up.of({"spread": 1.0})[0] if spread and self.estimate.up else offset[1]
            drive = self.movement(at.aim)
            moves.append(self._advise(drive, wanted, at.aim.pin if drive and drive.moves == "pin" else None))
        return tuple(sorted((a for a in moves if a is not None), key=lambda a: -abs(a.moved_mm)))

    def _advise(self, drive: RangeControl | None, wanted_mm: float, pin: int | None = None) -> MovementAdvice | None:
        if drive is None:
            return None
        return advise(drive, wanted_mm, self.estimate.travel_per_unit(drive), self.card.sight, pin)


def _lacks(key: str, step_states: list[SightInStepState], done: set[str]) -> bool:
    """Whether a step that matters (or one of its pins) is not done."""
    own = [s for s in step_states if s.step.key == key or s.step.key.startswith(f"{key}_")]
    return any(s.step.key not in done for s in own)
