"""The stations of the work that this program has, how each stands for a rig, and what comes next."""

from __future__ import annotations

from dataclasses import dataclass, field

from cross_staff.core.level import LevelState
from cross_staff.core.mounting import DONE as STEP_DONE
from cross_staff.core.mounting import SKIPPED, StepState
from cross_staff.core.prepare import Sheet
from cross_staff.core.reckoning import ARROWS_TO_SHOOT, Reckoning
from cross_staff.core.rig import RigCard
from cross_staff.core.sight_in import SightIn

DONE, DUE, STALE, BLOCKED = "done", "due", "stale", "blocked"


@dataclass(frozen=True)
class Station:
    """A station's key (the same name on every floor) and its name on the staff."""

    key: str
    name: str


STATIONS = (
    Station("card", "Card"),
    Station("prepare", "Prepare"),
    Station("mount", "Mount"),
    Station("level", "Level"),
    Station("sight_in", "Sight in"),
    Station("tape", "Tape"),
)


@dataclass(frozen=True)
class RigState:
    """A rig at this moment: its card, what the marks come to, the bench sheet, the mount's steps, the axes,
    the range."""

    card: RigCard
    reckoning: Reckoning
    sheet: Sheet
    steps: tuple[StepState, ...]
    level: LevelState
    range: SightIn

    @property
    def sighted_by_marks(self) -> bool:
        """Whether marks were written down although no arrow was noted: sighted in on paper."""
        return not self.range.shot and len(self.reckoning.used) > 1

    @property
    def open_steps(self) -> tuple[StepState, ...]:
        """Steps of the mount that are still to be done."""
        return tuple(s for s in self.steps if s.state not in (STEP_DONE, SKIPPED))


@dataclass(frozen=True)
class Standing:
    """How a station stands: one of done, due, stale, blocked; a code for the word beside it, with
    the count that belongs to it, and how far pins are usable [m as ranged]."""

    station: Station
    state: str
    word: str
    count: int = 0
    far_m: float = 0.0


def standings(rig: RigState) -> tuple[Standing, ...]:
    """How every station of this rig stands."""
    usable = rig.range.usable_to_m() or 0.0
    return tuple(Standing(station, *_RULES[station.key](rig), usable) for station in STATIONS)


def _card(rig: RigState) -> tuple[str, str, int]:
    if rig.reckoning.missing:
        return DUE, "incomplete", len(rig.reckoning.missing)
    return DONE, "complete", 0


def _prepare(rig: RigState) -> tuple[str, str, int]:
    lines = rig.sheet.open_lines
    old = sum(line.verdict == "old" for line in lines)
    if old:
        return STALE, "checks_old", old
    if rig.sheet.good:
        return DONE, "ready", 0
    if rig.sheet.override is not None:
        return DONE, "overridden", len(lines)
    return DUE, "checks_open", len(lines)


def _mount(rig: RigState) -> tuple[str, str, int]:
    old = sum(s.state == "old" for s in rig.steps)
    if old:
        return STALE, "steps_old", old
    left = len(rig.open_steps)
    return (DUE, "steps_open", left) if left else (DONE, "mounted", 0)


def _level(rig: RigState) -> tuple[str, str, int]:
    level = rig.level
    if level.done:
        return DONE, "level_only" if len(level.required) < 3 else "levelled", 0
    if not rig.sheet.gate_open:
        return BLOCKED, "waits_for_gate", 0
    if level.old and not level.readings:
        return STALE, "readings_old", level.old
    return DUE, f"{level.current}_open" if level.current else level.step, 0


def _sight_in(rig: RigState) -> tuple[str, str, int]:
    state = rig.range
    if state.belief is None:
        return BLOCKED, "waits_for_card", 0
    if rig.sighted_by_marks:
        return DONE, "by_marks", 0
    left = sum(not s.state for s in state.steps)
    if not left:
        return DONE, "sighted_in", 0
    if state.old_ends and not state.shot_now:
        return STALE, "ends_old", state.old_ends
    if not state.shot:
        return DUE, "no_arrows", 0
    return DUE, "usable_to" if state.usable_to_m() else "steps_left", left


def _tape(rig: RigState) -> tuple[str, str, int]:
    reckoning = rig.reckoning
    if reckoning.fit is None:
        return BLOCKED, "unsolved" if reckoning.problem else "waits_for_card", 0
    if not reckoning.used:
        old = len(reckoning.old)
        return (STALE, "marks_old", old) if old else (DUE, "no_marks", 0)
    if reckoning.doubtful:
        return DUE, "disagrees", 0
    return DONE if reckoning.good_enough else DUE, "good_to", 0


_RULES = {"card": _card, "prepare": _prepare, "mount": _mount, "level": _level, "sight_in": _sight_in, "tape": _tape}


@dataclass(frozen=True)
class NextStep:
    """The one thing to do now: the station it belongs to, a code, and the numbers that go with it."""

    station: str
    code: str
    numbers: dict[str, float] = field(default_factory=dict)


def next_step(rig: RigState) -> NextStep:
    """What to do next with this rig: the card, a ready bow, the mount, the axes, the range, then the tape.

    Marks that were shot before bow and mount were looked at are not lost, and what they say of
    themselves (a suspect one) still comes after the bow.
    """
    if rig.reckoning.missing:
        return NextStep("card", rig.reckoning.missing[0])
    if rig.reckoning.fit is None:
        return NextStep("card", "unsolved")
    if not rig.sheet.gate_open:
        line = rig.sheet.open_lines[0]
        return NextStep("prepare", line.check.key, {"left": float(len(rig.sheet.open_lines))})
    if rig.open_steps:
        return NextStep("mount", rig.open_steps[0].step.key, {"left": float(len(rig.open_steps))})
    if not rig.level.done:
        return NextStep("level", rig.level.current or rig.level.step)
    if rig.range.current is not None and not rig.sighted_by_marks:
        act = rig.range.act
        numbers = {"ranged_m": act.aim.ranged_m, "arrows": float(act.arrows)} if act.aim else {}
        return NextStep("sight_in", act.kind, numbers)
    return tape_step(rig.card, rig.reckoning)


def tape_step(card: RigCard, reckoning: Reckoning) -> NextStep:
    """What to do next at the tape, the most pressing thing first."""
    if reckoning.missing:
        return NextStep("card", reckoning.missing[0])
    if reckoning.fit is None:
        return NextStep("card", "unsolved")
    home = {"home_m": card.goals.home_m or 0.0, "arrows": float(ARROWS_TO_SHOOT)}
    if not reckoning.used:
        return NextStep("tape", "marks_old" if reckoning.old else "shoot_home", home)
    if reckoning.scale_runs_backwards:
        return NextStep("tape", "scale_backwards")
    suspect = reckoning.suspect
    if suspect is not None:
        numbers = {"ranged_m": suspect.entry.ranged_m, "mark_mm": suspect.entry.mark_mm}
        return NextStep("tape", "look_again", numbers)
    if reckoning.contradiction is not None:
        return NextStep("tape", "contradiction")
    return _shoot_or_print(card, reckoning)


def _shoot_or_print(card: RigCard, reckoning: Reckoning) -> NextStep:
    shot = reckoning.next_shot
    if reckoning.good_enough or shot is None:
        return NextStep("tape", "print_tape")
    numbers = {
        "ranged_m": shot.distance_m,
        "arrows": float(ARROWS_TO_SHOOT),
        "now_m": shot.sd_at_farthest_m_now,
        "then_m": shot.sd_at_farthest_m_then,
        "farthest_m": card.goals.farthest_m or 0.0,
    }
    return NextStep("tape", "shoot_next", numbers)
