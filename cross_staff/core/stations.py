"""The stations of the work, as a registry: how each stands for a rig, and what comes next."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, field, replace
from datetime import date
from enum import StrEnum

from cross_staff.core.card import waiting as waiting_for
from cross_staff.core.card.waiting import Waiting
from cross_staff.core.errors import InvalidValue, NotFound
from cross_staff.core.level import station as level
from cross_staff.core.level.station import LevelState
from cross_staff.core.mount import station as mount
from cross_staff.core.mount.station import DONE as STEP_DONE
from cross_staff.core.mount.station import SKIPPED, MountStepState
from cross_staff.core.photos import log as photos
from cross_staff.core.practice import log as practice
from cross_staff.core.prepare import station as prepare
from cross_staff.core.prepare.station import Checklist
from cross_staff.core.prove import station as prove
from cross_staff.core.prove.chain import NEXT_ARROWS, Aside
from cross_staff.core.prove.handover import HandoverCard
from cross_staff.core.prove.locking import LockState
from cross_staff.core.prove.station import ProveState
from cross_staff.core.prove.verdict import Doubt, VerdictKind
from cross_staff.core.rig.card import RigCard
from cross_staff.core.rig.events import RESULTS
from cross_staff.core.rig.log import BenchEntry
from cross_staff.core.sight_in import checks as sight_in
from cross_staff.core.sight_in.acts import ASK, SightIn
from cross_staff.core.tape.reproof import Reproof
from cross_staff.core.tape.station import ARROWS_TO_SHOOT, Evaluation, ready_code


class State(StrEnum):
    """How a station stands."""

    DONE = "done"
    DUE = "due"
    STALE = "stale"
    BLOCKED = "blocked"


DONE, DUE, STALE, BLOCKED = State


@dataclass(frozen=True)
class StationName:
    """A station's key (the same name on every floor, and in the records) and its name on the staff."""

    key: str
    name: str


@dataclass(frozen=True)
class RigState:
    """A rig at this moment: its card, what the marks come to, the bench sheet, the mount's steps, the axes,
    the range; the smallest re-proof, where something happened that set aside what was shot; what it waits
    for; what the lines say of the tape that is on the sight; what is locked; the newest card that was handed over."""

    card: RigCard
    evaluation: Evaluation
    checklist: Checklist
    steps: tuple[MountStepState, ...]
    level: LevelState
    range: SightIn
    reproof: Reproof | None = None
    waiting: Waiting | None = None
    prove: ProveState = ProveState(None)
    locking: LockState | None = None
    handed: HandoverCard | None = None

    @property
    def sighted_by_marks(self) -> bool:
        """Whether marks were written down although no arrow was noted: sighted in on paper."""
        return not self.range.shot and len(self.evaluation.own) > 1

    @property
    def open_steps(self) -> tuple[MountStepState, ...]:
        """Steps of the mount that are still to be done."""
        return tuple(s for s in self.steps if s.state not in (STEP_DONE, SKIPPED))


@dataclass(frozen=True)
class StationStanding:
    """How a station stands: one of done, due, stale, blocked; a code for the word beside it, with
    the count that belongs to it, and how far pins are usable or the tape is good [m as ranged]; None where
    that is not known."""

    station: StationName
    state: State
    word: str
    count: int = 0
    far_m: float | None = None


def _card(rig: RigState) -> tuple[State, str, int]:
    if rig.evaluation.missing:
        return DUE, "incomplete", len(rig.evaluation.missing)
    return DONE, "complete", 0


def _prepare(rig: RigState) -> tuple[State, str, int]:
    lines = rig.checklist.open_lines
    if rig.checklist.stopping is not None:
        return DUE, "not_to_be_drawn", 0
    old = sum(line.verdict == "old" for line in lines)
    if old:
        return STALE, "checks_old", old
    if rig.checklist.good:
        return DONE, "ready", 0
    if rig.checklist.override is not None:
        return DONE, "overridden", len(lines)
    return DUE, "checks_open", len(lines)


def _mount(rig: RigState) -> tuple[State, str, int]:
    old = sum(s.state == "old" for s in rig.steps)
    if old:
        return STALE, "steps_old", old
    left = len(rig.open_steps)
    return (DUE, "steps_open", left) if left else (DONE, "mounted", 0)


def _level(rig: RigState) -> tuple[State, str, int]:
    level = rig.level
    if level.done and level.label:
        return DONE, f"left_{level.label}", 0
    if level.done and any(level.axes[axis].accepted for axis in level.required):
        return DONE, "accepted", 0
    if level.done:
        return DONE, "level_only" if "third" not in level.required else "levelled", 0
    if level.step == "squared":
        return DUE, level.label, 0
    if not (rig.checklist.gate_open or level.in_jig):
        return BLOCKED, "waits_for_gate", 0
    if level.old and not level.readings:
        return STALE, "readings_old", level.old
    return DUE, f"{level.current}_open" if level.step == "axis" else level.step, 0


def _sight_in(rig: RigState) -> tuple[State, str, int]:
    state = rig.range
    if state.estimate is None:
        return BLOCKED, "waits_for_card", 0
    left, owed = sum(not s.state for s in state.steps), state.act.kind == ASK
    if owed and (rig.sighted_by_marks or not left):
        return DUE, "asked", 0  # nothing is done while an answer is owed
    if rig.sighted_by_marks:
        return DONE, "by_marks", 0
    if not left:
        return DONE, "sighted_in", 0
    if state.old_ends and not state.shot_now:
        return STALE, "ends_old", state.old_ends
    if rig.evaluation.aside and not state.shot:
        return STALE, "marks_aside", rig.evaluation.set_aside
    if not state.shot:
        return DUE, "no_arrows", 0
    return DUE, "usable_to" if state.usable_to_m() else "steps_left", left


def _tape(rig: RigState) -> tuple[State, str, int]:
    evaluation = rig.evaluation
    if evaluation.fit is None:
        return BLOCKED, "unsolved" if evaluation.problem else "waits_for_card", 0
    if not evaluation.own:
        old = evaluation.set_aside
        return (STALE, "marks_old", old) if old else (DUE, "no_marks", 0)
    if evaluation.doubtful:
        return DUE, "disagrees", 0
    if rig.range.question is not None:
        return DUE, "end_asked", 0
    return DONE if evaluation.good_enough else DUE, "good_to", 0


def _prove(rig: RigState) -> tuple[State, str, int]:
    proved = rig.prove
    current, verdict = proved.current, proved.verdict
    if current is None:
        return (DUE, "which_tape", 0) if proved.tapes else (BLOCKED, "no_tape", 0)
    if proved.other_arrow:
        return DUE, "other_arrow", 0
    if verdict is None:
        return BLOCKED, "waits_for_card", 0
    count = len(current.lines)
    if verdict.off or verdict.doubt == Doubt.MOVED:
        return STALE, verdict.kind if verdict.kind != VerdictKind.CANNOT_TELL else verdict.doubt, count
    if verdict.doubt == Doubt.DAYS:
        return DUE, verdict.doubt, count
    if prove.told_true(proved):
        loose = rig.locking is not None and rig.locking.left > 0  # something was done since it was handed over
        return DONE, "true" if rig.handed is None or loose else "handed_over", count
    if not count:
        return (STALE, "lines_old", len(proved.aside)) if _lines_old(proved) else (DUE, "no_lines", 0)
    return DUE, "cannot_tell", count


def _lines_old(proved: ProveState) -> bool:
    return any(why == Aside.BEFORE for _, why in proved.aside)


@dataclass(frozen=True)
class NextStep:
    """The one thing to do now: the station it belongs to, a code, the numbers that go with it, which input
    it is about where it is about one, and a message that stands by itself."""

    station: str
    code: str
    numbers: dict[str, float] = field(default_factory=dict)
    about: str = ""
    message: str = ""


def _card_step(rig: RigState) -> NextStep | None:
    missing = rig.evaluation.missing or rig.evaluation.fit is None
    return tape_step(rig.card, rig.evaluation) if missing else None


def _prepare_step(rig: RigState) -> NextStep | None:
    if rig.checklist.gate_open:
        return None
    lines = rig.checklist.open_lines
    return NextStep("prepare", lines[0].check.key, {"left": float(len(lines))})


def _mount_step(rig: RigState) -> NextStep | None:
    steps = rig.open_steps
    return NextStep("mount", steps[0].step.key, {"left": float(len(steps))}) if steps else None


def _level_step(rig: RigState) -> NextStep | None:
    level = rig.level
    if level.done or level.step == "squared":  # the label stays, and the work goes on
        return None
    return NextStep("level", (level.current or "") if level.step == "axis" else level.step)


def reproof_step(rig: RigState) -> NextStep | None:
    """The fewest arrows that prove what was set aside, or that they proved it; None once they say that it moved."""
    proof = rig.reproof
    if proof is None or proof.failed or not proof.ends:
        return None
    end = proof.next_end
    if end is None:
        return NextStep("sight_in", "proved")
    shot = next((seen.arrows for seen in proof.seen if seen.end == end), 0)
    numbers = {"ranged_m": end.ranged_m, "arrows": float(end.arrows - shot), "band_m": end.band_m}
    return NextStep("sight_in", "reprove", numbers)


def _sight_in_step(rig: RigState) -> NextStep | None:
    asks = rig.range.act.kind == ASK
    if rig.prove.mended and not asks:  # the lines that follow prove it, by the tape itself
        return None
    proof = reproof_step(rig)
    if proof is not None:
        return proof
    if not asks and (rig.range.current is None or rig.sighted_by_marks):
        return None
    act = rig.range.act
    numbers = {"ranged_m": act.aim.ranged_m, "arrows": float(act.arrows)} if act.aim else {}
    return NextStep("sight_in", act.kind, numbers)


def _tape_step(rig: RigState) -> NextStep | None:
    step = tape_step(rig.card, rig.evaluation)
    current, dialled = rig.prove.current, rig.card.sight_kind.dialled
    on_sight = (dialled and bool(rig.prove.tapes)) or (current is not None and bool(current.lines))
    # a tape that is good enough and was printed is proven next; pins are, once a line was shot with them
    mended = rig.prove.mended and step.code == "marks_old"
    return None if mended or (step.code == ready_code(rig.card) and on_sight) else step


def prove_step(rig: RigState) -> NextStep:
    """What the lines of the tape that is on the sight ask for; every rig has a last step."""
    verdict, current = rig.prove.verdict, rig.prove.current
    if current is None:
        return NextStep("prove", "which_tape")
    if verdict is None:
        return NextStep("prove", "waits_for_card")
    if rig.prove.other_arrow:
        return NextStep("prove", "other_arrow")
    numbers = {"shift_mm": verdict.shift_alone_mm.value, "stretch": verdict.stretch.value}
    if prove.told_true(rig.prove):
        return _finishing(rig, {"worst_m": verdict.worst_m, "chance": verdict.smallest_chance})
    if verdict.doubt in (Doubt.DAYS, Doubt.MOVED):
        return NextStep("prove", verdict.doubt, about=verdict.moved_after)
    if verdict.kind != VerdictKind.CANNOT_TELL and verdict.off:
        return NextStep("prove", verdict.kind, numbers)
    if verdict.next is None or verdict.kind == VerdictKind.TRUE:
        return NextStep("prove", "tape_ends", {"ends_m": current.tape.strip.lines_m[-1]})
    numbers = {"ranged_m": verdict.next.distance_m, "arrows": float(NEXT_ARROWS), "off": float(verdict.off)}
    return NextStep("prove", "shoot", numbers)


def _finishing(rig: RigState, numbers: dict[str, float]) -> NextStep:
    """A tape that is true is locked, and handed over."""
    lock = rig.locking
    if lock is None:
        return NextStep("prove", "true", numbers)
    if lock.current is not None:
        return NextStep("prove", "lock", numbers | {"left": float(lock.left)}, about=lock.current.joint.name)
    if not lock.done:
        return NextStep("prove", "spare", numbers)
    return NextStep("prove", "hand_over" if rig.handed is None else "handed_over", numbers)


def tape_step(card: RigCard, evaluation: Evaluation) -> NextStep:
    """What to do next at the tape, the most pressing thing first."""
    if evaluation.missing:
        return NextStep("card", evaluation.missing[0])
    if evaluation.fit is None:
        return _unsolved(evaluation)
    home = {"home_m": card.goals.home_m or 0.0, "arrows": float(ARROWS_TO_SHOOT)}
    if not evaluation.own:
        return NextStep("tape", _nothing_shot(evaluation), home)
    if evaluation.scale_runs_backwards:
        return NextStep("tape", "scale_backwards")
    suspect = evaluation.suspect
    if suspect is not None:
        against = abs(suspect.against_others or 0.0)
        numbers = {"ranged_m": suspect.entry.ranged_m, "mark_mm": suspect.entry.mark_mm, "against_others": against}
        about = "origin" if suspect.origin else suspect.entry.ruler
        return NextStep("tape", "look_again", numbers, about=about, message=suspect.entry.reads)
    twice = evaluation.measured_apart
    if twice is not None:
        apart = next(finding.numbers["apart_mm"] for finding in twice.findings if finding.code == "measured_apart")
        return NextStep("tape", "measure_again", {"ranged_m": twice.entry.ranged_m, "apart_mm": apart})
    contradicted = contradiction_step(evaluation)
    if contradicted is not None:
        return contradicted
    return _shoot_or_print(card, evaluation)


def _nothing_shot(evaluation: Evaluation) -> str:
    """Why home comes first: nothing was shot, or another arrow was, or something happened since."""
    if evaluation.used:
        return "other_arrow"
    return "marks_old" if evaluation.old else "shoot_home"


def _unsolved(evaluation: Evaluation) -> NextStep:
    """The figures that cannot be brought together, by the one that it hangs on."""
    error = evaluation.problem
    if isinstance(error, InvalidValue):
        return NextStep("card", "unsolved", about=error.field, message=error.message)
    return NextStep("card", "unsolved", message=str(error or ""))


def contradiction_step(evaluation: Evaluation) -> NextStep | None:
    """Which input is pulled most, from where to where; None while card and marks agree."""
    fit, largest = evaluation.fit, evaluation.contradiction
    if fit is None or largest is None:
        return None
    wanted, was = fit.known(largest.parameter), getattr(fit.priors, largest.parameter)
    numbers = {"p_value": largest.p_value, "pull_sds": largest.pull_sds, "wanted": wanted.value, "was": was.value}
    numbers |= {name: sd for name, sd in (("wanted_sd", wanted.sd), ("was_sd", was.sd)) if sd is not None}
    return NextStep("tape", "contradiction", numbers, largest.parameter)


def _shoot_or_print(card: RigCard, evaluation: Evaluation) -> NextStep:
    shot = evaluation.next_shot
    if evaluation.good_enough or shot is None:
        good = card.trusted_m(evaluation.good_to_m)
        return NextStep("tape", ready_code(card), {} if good is None else {"good_to_m": good})
    good = card.trusted_m(evaluation.then_good_to_m)
    numbers = {} if good is None else {"then_good_to_m": good}
    numbers |= {
        "ranged_m": shot.distance_m,
        "arrows": float(ARROWS_TO_SHOOT),
        "now_m": shot.sd_at_farthest_m_now,
        "then_m": shot.sd_at_farthest_m_then,
        "farthest_m": card.goals.farthest_m or 0.0,
    }
    return NextStep("tape", "shoot_next", numbers)


def _no_log(_card: RigCard, entry: BenchEntry) -> None:
    raise NotFound(f"nothing is written down of {entry.key}")


def _nowhere(_rig: RigState) -> float | None:
    return None


@dataclass(frozen=True)
class Station:
    """A station of the work: its name; how it stands, as (state, word, count); what is to be done next at it,
    None while nothing is; how far it is good [m as ranged], None where that is not known or not asked; what refuses
    an entry of its log that cannot be."""

    key: str
    name: str
    stands: Callable[[RigState], tuple[State, str, int]]
    step: Callable[[RigState], NextStep | None]
    far_m: Callable[[RigState], float | None] = _nowhere
    check: Callable[[RigCard, BenchEntry], None] = _no_log

    @property
    def results(self) -> tuple[str, ...]:
        """What is measured or set at this station, as the table of causes calls it."""
        return tuple(result for result, station in RESULTS.items() if station == self.key)


def _sight_in_far_m(rig: RigState) -> float | None:
    return rig.range.usable_to_m()


def _tape_far_m(rig: RigState) -> float | None:
    return rig.card.trusted_m(rig.evaluation.good_to_m)


# in the order of the work; a new station is a package of its key on the floors that it has something on, and an entry
STATIONS = (
    Station("card", "Card", _card, _card_step, check=waiting_for.check_entry),
    Station("prepare", "Prepare", _prepare, _prepare_step, check=prepare.check_entry),
    Station("mount", "Mount", _mount, _mount_step, check=mount.check_entry),
    Station("level", "Level", _level, _level_step, check=level.check_entry),
    Station("sight_in", "Sight in", _sight_in, _sight_in_step, _sight_in_far_m, sight_in.check_entry),
    Station("tape", "Tape", _tape, _tape_step, _tape_far_m),
    Station("prove", "Prove", _prove, prove_step, check=prove.check_entry),
)


def check_entry(card: RigCard, entry: BenchEntry) -> None:
    """Refuse an entry that its station cannot have. Raises: NotFound; InvalidValue with the field."""
    bench = {photos.STATION: photos.check_entry, practice.STATION: practice.check_entry}.get(entry.station)
    if bench is not None:
        bench(entry)
    elif (station := next((each for each in STATIONS if each.key == entry.station), None)) is not None:
        station.check(card, entry)
    else:
        raise NotFound("there is no such station")


def standings(rig: RigState, stations: Sequence[Station] | None = None) -> tuple[StationStanding, ...]:
    """How every station of this rig stands. Args: stations, those of the program where it is None."""
    return tuple(
        StationStanding(StationName(each.key, each.name), *each.stands(rig), each.far_m(rig))
        for each in stations or STATIONS
    )


def next_step(rig: RigState, stations: Sequence[Station] | None = None) -> NextStep:
    """What to do next with this rig: the first station, in the order of the work, that has something to do.

    Marks that were shot before bow and mount were looked at are not lost, and what they say of
    themselves (a suspect one) still comes after the bow. A bow that is not to be drawn comes before everything.
    """
    stopping = rig.checklist.stopping
    if stopping is not None:
        return NextStep("prepare", prepare.STOPPED, about=stopping.check.key)
    return next(step for each in stations or STATIONS if (step := each.step(rig)) is not None)


# grows when the rules below it would give another standing for the same records
STANDING_VERSION = 9


@dataclass(frozen=True)
class Summary:
    """A rig in one line, for the bench: who and what it is, how its stations stand, what comes next. A rig that
    cannot be worked out says so in `problem`, and has neither; what it waits for, and until when."""

    name: str
    archer: str
    occasion: str
    due: date | None
    kind: str
    standings: tuple[StationStanding, ...]
    step: NextStep
    problem: str = ""
    waits_for: str = ""
    waits_until: date | None = None

    @property
    def urgency(self) -> int:
        """Its place in STATES: that of its most urgent station."""
        if self.problem:
            return 0
        return min(STATES.index(each.state) for each in self.standings)


STATES = (STALE, DUE, BLOCKED, DONE)


def summary(rig: RigState) -> Summary:
    """A rig as the bench shows it."""
    card, held = rig.card, rig.waiting
    kept = Summary(card.name, card.archer, card.occasion, card.due, card.sight.kind, standings(rig), next_step(rig))
    return replace(kept, waits_for=held.what, waits_until=held.until) if held else kept


def in_trouble(card: RigCard, problem: str) -> Summary:
    """A rig that cannot be worked out, as the bench shows it."""
    step = NextStep("trouble", "unreckonable", message=problem)
    return Summary(card.name, card.archer, card.occasion, card.due, card.sight.kind, (), step, problem)
