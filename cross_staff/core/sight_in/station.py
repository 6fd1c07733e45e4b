"""The station's judgement: where the work stands, what to shoot or to move now, and why."""

from __future__ import annotations

import re
from collections.abc import Mapping, Sequence
from dataclasses import replace

from cross_staff.core.ballistics.sightline import impact_heights, pin_height
from cross_staff.core.estimation.groups import ADJUST, ENOUGH_SHOTS, LEAST_SHOTS, SHOOT_MORE
from cross_staff.core.rig.card import RigCard
from cross_staff.core.rig.log import BenchEntry
from cross_staff.core.rig.procedure import (
    CONFIRM,
    LOWER,
    MARKS,
    PLACE,
    READY,
    ROUGH,
    SETTLE,
    SHOOT,
    SURE,
    ProcedureStep,
)
from cross_staff.core.sight_in.acts import (
    ALL_DONE,
    ASK,
    CARD,
    DONE,
    ENOUGH,
    MOVE,
    REST,
    Act,
    SaidOf,
    SightIn,
    SightInStepState,
)
from cross_staff.core.sight_in.aims import Aim, AimState
from cross_staff.core.sight_in.controls import (
    SIDEWAYS,
    STEP,
    MovementAdvice,
    RangeControl,
)
from cross_staff.core.sight_in.estimate import SQUARE, AimEstimate, same_distance
from cross_staff.core.sight_in.home import AtHome
from cross_staff.core.sight_in.log import HOME, End, RangeLog
from cross_staff.core.sight_in.procedures import steps
from cross_staff.core.sight_in.questions import Question, older_question
from cross_staff.core.sight_in.questions import question as held_against
from cross_staff.core.sight_in.verdict import END_SHOTS, FIRST_SHOTS
from cross_staff.core.tape.station import Evaluation

MOST_MARKS = 4  # dialled distances beyond home that are asked for
# what was said of these is open again once something was moved since
OPEN_AGAIN = {
    "lock": ("all",),
    "settle": ("all",),
    "tape_on": ("home",),
    "pointer": ("height",),
    "stop_fit": ("home",),
    "stop_back": ("home",),
}


def sight_in(
    card: RigCard,
    log: RangeLog,
    evaluation: Evaluation,
    holds: Mapping[str, frozenset[int]] | None = None,
    asked: str = "",
    spans: Mapping[int, int] | None = None,
    question: Question | None = None,
) -> SightIn:
    """Judge the station.

    Args: card; log; reckoning, with the ends among its rows; holds, revisions by result; asked, the
        key of a step that is looked at in place of the next one; spans, revisions of which only the zero is old,
        each with the event that moved it; question, what was asked already of the newest ends: the reckoning is
        then without them.
    """
    if evaluation.fit is None or card.goals.home_m is None:
        return SightIn(None, (), Act(CARD, evaluation.missing[0] if evaluation.missing else "unsolved"))
    estimate = AimEstimate(card, log, evaluation.fit, holds, spans)
    if question is None:
        question = held_against(estimate, places_in(evaluation, log.ends)) or older_question(estimate, evaluation)
    if question is not None:  # what is asked about counts for nothing until it is answered
        log = replace(log, ends=tuple(end for end in log.ends if end.key not in question.keys))
        estimate = AimEstimate(card, log, evaluation.fit, holds, spans)
    return _Work(card, log, evaluation, estimate).judged(asked, question)


def places_in(evaluation: Evaluation, ends: Sequence[End]) -> dict[str, int]:
    """Which observation of the fit each end is, by its key."""
    used = enumerate(evaluation.used)
    return {ends[-row.entry.line - 1].key: place for place, row in used if -len(ends) <= row.entry.line < 0}


class _Work(AtHome):
    """One judgement: the aims, and the steps laid over them."""

    def judged(self, asked: str, question: Question | None = None) -> SightIn:
        step_states: list[SightInStepState] = []
        for step in (*self._rehoming(), *steps(self.card, self.estimate.chosen)):
            aim = self.aim(step)
            if aim is None and step.kind in (SHOOT, PLACE):
                continue
            done = {s.step.key for s in step_states if s.state}
            missing = tuple(key for key in step.needs if _lacks(key, step_states, done))
            step_states.append(self._state(SightInStepState(step, aim, missing=missing)))
        chosen = next((s for s in step_states if s.step.key == asked), None)
        current = chosen or next((s for s in step_states if not s.state), None)
        act = Act(ALL_DONE) if current is None else self.act(current)
        if question is not None:
            act = Act(ASK, "disagrees", act.step, Aim(question.ends[0].pin, question.ends[0].ranged_m or 0.0),
                      question=question)  # fmt: skip
        elif (odd := self._odd()) is not None:
            act = Act(ASK, "suspect", act.step, act.aim, odd=odd, at=act.at)
        elif act.kind in (SHOOT, MOVE) and self._rests():
            act = Act(REST, "counts_none", act.step, act.aim)
        elif act.kind in (SHOOT, MOVE) and (unread := self._unread()) is not None:
            act = Act(ASK, "dial_not_read", act.step, act.aim, unread=unread, at=act.at)
        aims = tuple(self.at(aim, SURE) for aim in self.settled_aims())
        return SightIn(self.estimate, tuple(step_states), act, aims)

    # steps
    def _state(self, step_state: SightInStepState) -> SightInStepState:
        entry = self.log.said.get(f"step:{step_state.step.key}")
        if entry is not None and self._said_holds(step_state.step.key, entry):
            return replace(step_state, state=SaidOf(entry.choice), who=entry.note)
        return replace(step_state, state=DONE, by_arrows=True) if self._done(step_state) else step_state

    def _said_holds(self, key: str, entry: BenchEntry) -> bool:
        """Whether what was said of a step still is so: nothing that it hangs on was changed or moved since."""
        if not self.estimate.holds_for("home", entry.revision):
            return False
        if key.startswith("rehome_") and entry.entered < self.log.said["rehome"].entered:
            return False
        if key == "stop_back" and self._came_back_elsewhere(entry):
            return False
        hangs_on = OPEN_AGAIN.get(re.sub(r"_[0-9]+$", "", key), ())
        since = [move for move in self.log.moves if move.entered > entry.entered]
        if "all" in hangs_on or "height" in hangs_on:
            since = [m for m in since if "all" in hangs_on or m.moves not in SIDEWAYS]
            return not since and not self._home_moved_since(entry)
        return "home" not in hangs_on or not self._home_moved_since(entry)

    def _odd(self) -> tuple[End, int] | None:
        """An end with a shot far from its others that nobody was asked about, and which: one arrow moves no sight."""
        for end in reversed(self.estimate.standing):
            asked = f"counts:{end.key}" in self.log.said
            if not asked and (odd := self.estimate.suspects(end)):
                return end, odd[0]
        return None

    def _unread(self) -> End | None:
        """The newest end, where nobody wrote what the dial read and nobody was asked: it says nothing of the height."""
        end = self.estimate.standing[-1] if self.estimate.standing else None
        if end is None or end.asked or end.dial_mm is not None or end.dial_from == HOME or not self.kind.dialled:
            return None
        return end

    def _rests(self) -> bool:
        """Whether the visit in hand does not count: then nothing is asked of it."""
        return bool(self.log.sessions) and not self.log.sessions[-1].weight

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
        if step.kind == LOWER:
            return self._lowered()
        if step.kind == SETTLE:
            aims = self._to_settle()
            doubt = self.evaluation.doubtful and any(a.dialled and a.ranged_m > 1.1 * self.home for a in aims)
            return not doubt and all(self.at(each, SURE).verdict.there for each in aims)
        return False

    def _passed_close(self, aim: Aim) -> bool:
        """Whether arrows were shot from farther already."""
        return any((e.ranged_m or 0.0) > aim.ranged_m + 2.0 for e in self.estimate.standing)

    def _repeated(self, step: ProcedureStep) -> bool:
        """A step that repeats another counts only arrows shot after the one between was said."""
        if step.key != "again":
            return False
        squared = self.log.said.get(SQUARE)
        if squared is None:
            return True
        shot = [e for e in self.estimate.standing if same_distance(e.ranged_m or 0.0, self.home)]
        after = [e for e in shot if e.entered >= squared.entered]
        return sum(e.arrows for e in after) < ENOUGH_SHOTS

    def _shot(self, aim: Aim) -> bool:
        return any(e.pin == aim.pin and same_distance(e.ranged_m or 0.0, aim.ranged_m) for e in self.estimate.standing)

    def _marks_done(self, step: ProcedureStep) -> bool:
        shot = self.marks_shot()
        good = self.evaluation.good_enough and not self.evaluation.doubtful
        as_far = self.groups_reach_m()
        if as_far is not None and shot and self.next_mark() > max(as_far, self.home):
            return True
        return len(shot) >= 2 and (good or len(shot) >= MOST_MARKS or self.evaluation.next_shot is None)

    # what to do
    def act(self, step_state: SightInStepState) -> Act:
        step, aim = step_state.step, step_state.aim
        if step.kind == CONFIRM or (step.kind == PLACE and aim is None):
            return replace(self._placed(Act(CONFIRM, "", step, aim)), kind=CONFIRM)
        if step.kind == PLACE:
            return self._placed(Act(PLACE, "", step, aim))
        if step.kind == MARKS:
            aim = Aim(self.pin, self.next_mark(), True)
            at = self.at(aim, READY)
            if self.evaluation.doubtful and len(self.marks_shot()) > 1:
                return Act(ASK, "marks_disagree", step, aim)
            more = max(ENOUGH_SHOTS - at.standing.arrows, 0) or END_SHOTS
            return self._shoot(step, aim, more, "next_mark", at)
        if step.kind == SETTLE:
            return self._settle(step)
        if step.kind == LOWER and aim is not None:
            return self._lower(step, aim)
        assert aim is not None
        return self._toward(step, self.at(aim, step.level))

    def _to_settle(self) -> list[Aim]:
        """The aims that are still to be made sure: not those that the archer said are good enough."""
        said = [key.removeprefix("step:") for key, e in self.log.said.items() if e.choice == ENOUGH]
        enough = [self.aim(step) for step in steps(self.card, self.estimate.chosen) if step.key in said]
        return [aim for aim in self.settled_aims() if aim not in enough]

    def _settle(self, step: ProcedureStep) -> Act:
        """The aim that is least sure."""
        aims = [self.at(aim, SURE) for aim in self._to_settle() or self.settled_aims()]
        if self.evaluation.doubtful and any(at.aim.dialled and at.aim.ranged_m > 1.1 * self.home for at in aims):
            return Act(ASK, "marks_disagree", step, aims[-1].aim)
        worst = min(aims, key=lambda at: (at.verdict.there, at.verdict.surely))
        return self._toward(step, worst)

    def _toward(self, step: ProcedureStep, at: AimState) -> Act:
        verdict = at.verdict
        if verdict.kind == ADJUST:
            if (where := self._where_unknown(at)) is not None:
                return Act(ASK, "where_stands", step, at.aim, at=at, where=where)
            moves = self._moves(at)
            if any(self._on_trial(move) for move in moves):  # a trial is looked at before anything more is turned
                return self._shoot(step, at.aim, FIRST_SHOTS if step.level == ROUGH else LEAST_SHOTS, "trial", at)
            if moves:
                return Act(MOVE, verdict.because, step, at.aim, moves=moves, at=at)
        if at.aim.dialled and (up := self._above_the_stop(at.aim)) is not None:
            return Act(MOVE, "above_stop", step, at.aim, moves=(up,), at=at)
        more = verdict.more or (FIRST_SHOTS if step.level == ROUGH else END_SHOTS)
        because = verdict.because if verdict.kind == SHOOT_MORE else "not_sure"
        return self._shoot(step, at.aim, more, because, at)

    def _on_trial(self, move: MovementAdvice) -> bool:
        """Whether a control that is still on trial was turned since the last arrow."""
        shot = max((e.order for e in self.estimate.counted), default=0.0)
        return move.trial and any(m.drive == move.drive.name and m.order > shot for m in self.log.moves)

    def _shoot(self, step: ProcedureStep, aim: Aim, more: int, because: str, at: AimState) -> Act:
        arrows, dial = min(more, END_SHOTS), self.dial(aim)
        home = self.kind.has_dial and not aim.dialled and dial is None
        return Act(SHOOT, because, step, aim, arrows, more, dial, expect_m=self.expected_m(aim), at=at, at_home=home)

    def dial(self, aim: Aim) -> float | None:
        """The reading to set before shooting at an aim; None where nothing is dialled, or nothing is known."""
        if aim.dialled:
            mark = self.estimate.fitted_mark(self.home if aim.ranged_m < self.home else aim.ranged_m)
            return None if mark is None else self._below_the_stop(mark[0])
        return self.estimate.home_dial_mm if self.kind.has_dial else None

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

    def _where_unknown(self, at: AimState) -> RangeControl | None:
        """A control that goes by steps, is to be moved, and of which nobody said where it stands."""
        drive = self._sideways(at.standing.offset[0]) if at.verdict.move[0] else None
        return drive if drive and drive.unit == STEP and self.estimate.place_mm(drive) is None else None


def _lacks(key: str, step_states: list[SightInStepState], done: set[str]) -> bool:
    """Whether a step that matters (or one of its pins) is not done."""
    own = [s for s in step_states if s.step.key == key or s.step.key.startswith(f"{key}_")]
    return any(s.step.key not in done for s in own)
