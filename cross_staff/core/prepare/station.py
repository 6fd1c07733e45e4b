"""The bench sheet: is the bow ready? Each check with its pass, why it matters, what to try next.

The checks are a table; `judge` reads it. The gate to Level and Sight in opens when none that is
required fails or is missing, or with a written reason.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

from cross_staff.core.errors import InvalidValue, NotFound
from cross_staff.core.prepare import tuning
from cross_staff.core.prepare.checklist import (
    ABSENT,
    BY_EYE,
    BY_EYE_LEAVES,
    CHECKS,
    FAIL,
    NO_PEEP,
    NOT_KNOWN,
    NOTE,
    NUMBERS,
    OLD,
    PASS,
    POINTS,
    SEEN,
    UNKNOWN,
    WALK_BACK_DISTANCES,
    Check,
    CheckVerdict,
    Option,
)
from cross_staff.core.ranges import DISTANCE_M
from cross_staff.core.rig import arrow_build as build
from cross_staff.core.rig.card import RigCard
from cross_staff.core.rig.log import BenchEntry, check_reason, newest, standing

STATION, OVERRIDE = "prepare", "gate_override"
STOPPED = "stopped"  # the bow is not to be drawn
PEEP_LINE = "peep_rotation"
STRING = "peep_rotation"  # what nothing but another string makes old
MATTERS = 0.25  # part of the target


@dataclass(frozen=True)
class Judged:
    """A check with the entry that holds, its verdict, and what to try next (empty for a pass); how far off it may leave
    the farthest shot [m], None where that cannot be said; whether that matters to this archer; whether the bow is not
    to be drawn."""

    check: Check
    entry: BenchEntry | None
    verdict: CheckVerdict
    remedy: str = ""
    advice: tuning.TuningAdvice | None = None
    shape: tuning.WalkBack | None = None
    leaves_m: float | None = None
    matters: bool = True
    stops: bool = False

    @property
    def shuts(self) -> bool:
        """Whether it keeps the gate shut: what was found bad or has changed, and what nobody knows that matters."""
        return self.check.required and (self.verdict in (FAIL, OLD) or self.verdict == UNKNOWN and self.matters)


@dataclass(frozen=True)
class Checklist:
    """The whole sheet: every check judged, and the override in force, if any."""

    lines: tuple[Judged, ...]
    override: BenchEntry | None = None

    @property
    def open_lines(self) -> tuple[Judged, ...]:
        """Checks that keep the gate shut, in the sheet's order."""
        return tuple(line for line in self.lines if line.shuts)

    @property
    def stopping(self) -> Judged | None:
        """The line for which the bow is not to be drawn, whatever the gate says; None where there is none."""
        return next((line for line in self.lines if line.stops), None)

    @property
    def good(self) -> bool:
        return not self.open_lines

    @property
    def gate_open(self) -> bool:
        """Whether Level and Sight in may begin."""
        return self.good or self.override is not None

    def line(self, key: str) -> Judged:
        return next(line for line in self.lines if line.check.key == key)


def checklist_of(card: RigCard, log: Sequence[BenchEntry], holds: dict[str, frozenset[int]] | None = None) -> Checklist:
    """Judge the bench sheet.

    Args: log of the station, oldest first; holds, for each result the revisions whose entries still
        hold (None: all of them).
    """
    kept = newest(log)
    lines = tuple(_judged(card, check, log, kept.get(check.key), holds) for check in CHECKS.values())
    override = kept.get(OVERRIDE)
    return Checklist(lines, override if override is not None and _holds(override, "tune", holds) else None)


def _holds(entry: BenchEntry, result: str, holds: dict[str, frozenset[int]] | None) -> bool:
    return holds is None or entry.revision in holds[result]


def _judged(
    card: RigCard,
    check: Check,
    log: Sequence[BenchEntry],
    entry: BenchEntry | None,
    holds: dict[str, frozenset[int]] | None,
) -> Judged:
    if check.kind == "card":
        return _from_card(card, check)
    leaves = leaves_m(card, check)
    unseen = Judged(check, entry, UNKNOWN, leaves_m=leaves, matters=matters(card, check))
    if entry is None and check.key == PEEP_LINE and card.peep.way == "eye":
        return Judged(check, None, PASS)  # the card says that there is no peep
    if entry is None:
        return unseen
    stopping = _stopping(check, log, holds)
    if stopping is not None:
        return Judged(check, entry, FAIL, stopping.remedy, stops=True)
    if not _holds(entry, check.hangs_on, holds):
        return Judged(check, entry, OLD, "The bow has changed since: look again.")
    if entry.choice == NOT_KNOWN:
        return unseen
    if entry.choice == BY_EYE:
        return replace(unseen, verdict=NOTE, leaves_m=None if leaves is None else BY_EYE_LEAVES * leaves)
    if entry.choice == ABSENT and check.absent == NO_PEEP and card.peep.way != "eye" and card.peep.height() is not None:
        return Judged(check, entry, NOTE, "The card has a peep and its height: say there how it is.")
    if entry.choice == ABSENT:
        return Judged(check, entry, PASS)
    if check.kind == "choice":
        option = _option(check, entry)
        return Judged(check, entry, option.verdict, option.remedy) if option else unseen
    if check.kind == "number":
        verdict = _measured(check, entry.number or 0.0)
        return Judged(check, entry, verdict, "" if verdict == PASS else check.remedy)
    if check.kind == "walk_back":
        return _walked(card, check, entry)
    return _torn(card, check, log, entry, holds)


def _option(check: Check, entry: BenchEntry) -> Option | None:
    return next((option for option in check.options if option.key == entry.choice), None)


def _stopping(check: Check, log: Sequence[BenchEntry], holds: dict[str, frozenset[int]] | None) -> Option | None:
    """The answer for which the bow is not to be drawn: it stands whatever is said or done afterwards, until an answer
    that ends it, or another string."""
    stopping: Option | None = None
    for entry in standing(log).get(check.key, ()):
        option = _option(check, entry)
        if option is not None and option.stops and _holds(entry, STRING, holds):
            graver = stopping is not None and not stopping.ended_by
            stopping = stopping if graver else option
        elif stopping is not None and entry.choice in stopping.ended_by:
            stopping = None
    return stopping


def leaves_m(card: RigCard, check: Check) -> float | None:
    """How far off a line that nobody looked at may leave this archer's farthest shot [m]; None where that is not a
    matter of the target, or no distance is known.

    Args:
        card: of the rig.
        check: the line.

    Returns:
        [m] at the farthest distance wanted.

    Source:
        rules of the craft; docs/method.md, section 10.
    """
    far = card.goals.farthest_m
    return None if far is None or not check.leaves_mrad else 1e-3 * check.leaves_mrad * far


def matters(card: RigCard, check: Check) -> bool:
    """Whether this archer would feel what a line leaves open: more than a quarter of the target, or what is not a
    matter of the target at all.

    Args:
        card: of the rig.
        check: the line.

    Returns:
        True where distance or target is not known.

    Source:
        the measure of *good enough*; docs/method.md, section 10.
    """
    leaves, target = leaves_m(card, check), card.goals.target_size_m
    return leaves is None or target is None or leaves > MATTERS * target


def _measured(check: Check, value: float) -> CheckVerdict:
    """A number against its pass: shots are enough from `good` up, all else is good near nought."""
    if check.quantity == "count":
        return PASS if value >= check.good else FAIL
    size = abs(value) - 1e-9
    return PASS if size <= check.good else NOTE if size <= check.fair else FAIL


def _from_card(card: RigCard, check: Check) -> Judged:
    made, force = card.build, card.bow.draw_weight_n
    ratio, least = build.mass_per_force(made.mass_kg(), force), card.bow.least_mass_per_force
    light = ratio is not None and least is not None and ratio < least
    short = bool(build.margins(made, card.bow.nock_to_rest_m).short)
    if light or short:
        return Judged(check, None, FAIL, check.remedy)
    if build.spine_doubts(made, force):
        return Judged(check, None, NOTE, check.remedy)
    return Judged(check, None, PASS)


def readings(log: Sequence[BenchEntry], key: str, hold: frozenset[int] | None = None) -> list[tuning.TuneReading]:
    """Tears or bare shafts as they were read, oldest first, with the step before each."""
    kept = [e for e in standing(log).get(key, []) if hold is None or e.revision in hold]
    return [tuning.TuneReading(e.points[0], e.after) for e in kept if e.points]


def _torn(
    card: RigCard,
    check: Check,
    log: Sequence[BenchEntry],
    entry: BenchEntry,
    holds: dict[str, frozenset[int]] | None,
) -> Judged:
    torn = readings(log, check.key, None if holds is None else holds[check.hangs_on])
    advice = tuning.advise(check.key, torn, card.handed, entry.number or 0.0, card.bow.cams_by)
    small = check.kind == "tear" and tuning.size_m(torn[-1].point) <= tuning.TEAR_FAIR_M
    return Judged(check, entry, PASS if advice.good else NOTE if small else FAIL, advice=advice)


def _walked(card: RigCard, check: Check, entry: BenchEntry) -> Judged:
    walk = tuning.walk_back(entry.points, card.goals.spread_mrad or tuning.GROUP_MRAD)
    verdict = {None: UNKNOWN, "plumb": PASS, "slant": FAIL, "curve": FAIL}[walk.shape]
    return Judged(check, entry, verdict, shape=walk)


def check_entry(_card: RigCard, entry: BenchEntry) -> None:
    """Refuse what cannot be an answer to a line of the sheet.

    Raises: NotFound for a line that there is not; InvalidValue with the field of the answer.
    """
    if entry.key == OVERRIDE:
        check_reason(entry.note)
        return
    check = CHECKS.get(entry.key)
    if check is None:
        raise NotFound("the bench sheet has no such line")
    if check.kind == "card":
        raise NotFound("the card answers for this line")
    if entry.choice in SEEN:
        if entry.choice == ABSENT and not check.absent:
            raise InvalidValue("choice", "every bow has this: say that it is not known")
        return
    if check.kind == "choice":
        if entry.choice not in {option.key for option in check.options}:
            raise InvalidValue("choice", "choose one of these")
        if any(entry.choice in option.ended_by for option in check.options) and not entry.note.strip():
            raise InvalidValue("note", "say who looked at it")
    elif check.kind == "number":
        if entry.number is None:
            raise InvalidValue("number", "type a number")
        NUMBERS[check.quantity].check("number", entry.number, "")
    elif check.kind == "walk_back":
        _check_walk_back(entry)
    else:
        _check_point(check, entry)


def _check_walk_back(entry: BenchEntry) -> None:
    for distance, right in entry.points:
        DISTANCE_M.check("distance", distance, "m")
        POINTS["walk_back"].check("right", right, "m")
    if len({distance for distance, _ in entry.points}) < WALK_BACK_DISTANCES:
        raise InvalidValue("distance", "three distances at least")


def _check_point(check: Check, entry: BenchEntry) -> None:
    if entry.after and entry.after not in tuning.STEPS:
        raise InvalidValue("after", "choose one from the list")
    if len(entry.points) != 1:
        raise InvalidValue("right", "type a number")
    for field, value in zip(("right", "up"), entry.points[0]):
        POINTS[check.kind].check(field, value, "m")
    if check.kind == "bare_shaft":
        if entry.number is None:
            raise InvalidValue("distance", "type a number")
        DISTANCE_M.check("distance", entry.number, "m")
