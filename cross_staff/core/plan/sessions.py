"""The sessions that a rig still needs until it is handed over, from how it stands."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, replace
from enum import StrEnum

from cross_staff.core.prove.station import told_true
from cross_staff.core.sight_in.acts import CLOSE_M
from cross_staff.core.stations import RigState


class At(StrEnum):
    """Where a session is: in the shop, or at the range by daylight."""

    BENCH = "bench"
    RANGE = "range"


@dataclass(frozen=True)
class Kind:
    """A kind of session: where; how long it usually takes [min]; whether the archer is needed; how long what was glued
    or locked dries before the next [h]; whether it is on a day of its own, apart from the others of that sort; in which
    order it is left out where there is no time (None: never)."""

    at: At
    minutes: int
    archer: bool = False
    dries_h: float = 0.0
    own_day: bool = False
    left_out: int | None = None


KINDS = {
    "card": Kind(At.BENCH, 30, archer=True),
    "tune": Kind(At.BENCH, 60, archer=True),
    "strings": Kind(At.RANGE, 60, archer=True),
    "mount": Kind(At.BENCH, 45),
    "level": Kind(At.BENCH, 60, archer=True),
    "close": Kind(At.RANGE, 30, archer=True),
    "reproof": Kind(At.RANGE, 30, archer=True),
    "aim": Kind(At.RANGE, 45, archer=True, left_out=3),
    "tape_day": Kind(At.RANGE, 60, archer=True, own_day=True, left_out=2),
    "print": Kind(At.BENCH, 30, dries_h=2.0),
    "proof": Kind(At.RANGE, 45, archer=True, own_day=True, left_out=1),
    "slope": Kind(At.RANGE, 60, archer=True, own_day=True, left_out=0),
    "lock": Kind(At.BENCH, 30, dries_h=24.0),
    "hand_over": Kind(At.BENCH, 30, archer=True),
}
TAPE_DAYS, PROOF_DAYS = 2, 3


@dataclass(frozen=True)
class Session:
    """A session that is wanted: its key among those of its rig, its kind (a key of KINDS), the keys of those that come
    before it, and the distance that it is about [m as ranged]."""

    key: str
    kind: str
    needs: tuple[str, ...] = ()
    distance_m: float | None = None

    @property
    def about(self) -> Kind:
        return KINDS[self.kind]


def sessions(rig: RigState) -> tuple[Session, ...]:
    """What is still to be done with a rig.

    Args:
        rig: as it stands.

    Returns:
        sessions in an order in which they can be done; empty once it was handed over and holds.

    Source:
        the order of the stations, docs/method.md, section 22.
    """
    wanted = list(_wanted(rig))
    if not wanted and rig.handed is not None:
        return ()
    return _in_turn([*wanted, Session("hand_over", "hand_over")])


def _wanted(rig: RigState) -> Iterator[Session]:
    """Everything but the handing over; what comes before what is told by `_in_turn`."""
    if rig.evaluation.missing:
        yield Session("card", "card")
    open_lines = {line.check.key for line in rig.checklist.open_lines} if not rig.checklist.gate_open else set()
    if open_lines - {"string_shots"}:
        yield Session("tune", "tune")
    if "string_shots" in open_lines:
        yield Session("strings", "strings")
    if rig.open_steps:
        yield Session("mount", "mount")
    if not (rig.level.done or rig.level.step == "squared"):
        yield Session("level", "level")
    yield from _at_range(rig)
    if not told_true(rig.prove):
        if rig.prove.current is None and rig.card.sight_kind.dialled:
            yield Session("print", "print")
        shot = len({line.day for line in rig.prove.current.lines}) if rig.prove.current is not None else 0
        for day in range(max(PROOF_DAYS - shot, 1)):
            yield Session(f"proof {day + 1}", "proof")
    if rig.level.label and not rig.card.goals.level_only:
        yield Session("slope", "slope")
    if rig.locking is not None and not rig.locking.done:
        yield Session("lock", "lock")


def _at_range(rig: RigState) -> Iterator[Session]:
    """Close, each aim, then days for the tape; where a few arrows may prove again what was set aside, those alone."""
    proof = rig.reproof
    if proof is not None and proof.ends and not proof.passed and not proof.failed:
        yield Session("reproof", "reproof")
        return
    if rig.sighted_by_marks or rig.range.estimate is None:
        aims: list[float] = []
        close = rig.range.estimate is None
    else:
        left = [each for each in rig.range.steps if not each.state and each.aim is not None]
        every = sorted({each.aim.ranged_m for each in left if each.aim is not None})
        aims = [distance for distance in every if distance > CLOSE_M]
        close = len(aims) < len(every)
    if close:
        yield Session("close", "close")
    for distance in aims:
        yield Session(f"aim {distance:.1f}", "aim", distance_m=distance)
    if not rig.evaluation.good_enough and rig.card.sight_kind.dialled:
        for day in range(TAPE_DAYS):
            yield Session(f"tape day {day + 1}", "tape_day")


def _in_turn(wanted: list[Session]) -> tuple[Session, ...]:
    """Each after the one before it; only the slope waits for nothing but the level and the aims."""
    kept: list[Session] = []
    for session in wanted:
        before = [each for each in kept if each.kind != "slope"] if session.kind != "hand_over" else kept
        if session.kind == "hand_over":
            needs = tuple(each.key for each in before)
        else:
            needs = (before[-1].key,) if before else ()
        kept.append(replace(session, needs=needs))
    return tuple(kept)


def without(wanted: tuple[Session, ...], key: str) -> tuple[Session, ...]:
    """The others, where one is left out: what needed it needs what it needed.

    Args:
        wanted: sessions of a rig.
        key: of the one that is left out.

    Returns:
        the rest, in order.

    Source:
        the order stays.
    """
    gone = next(each for each in wanted if each.key == key)

    def needs(session: Session) -> tuple[str, ...]:
        if key not in session.needs:
            return session.needs
        return tuple(dict.fromkeys((*(n for n in session.needs if n != key), *gone.needs)))

    return tuple(replace(each, needs=needs(each)) for each in wanted if each.key != key)


def to_leave_out(wanted: tuple[Session, ...]) -> Session | None:
    """The session that is missed least.

    Args:
        wanted: sessions of a rig.

    Returns:
        the slope first, then the last proof, the last day for the tape, the farthest aim; None where nothing can go.

    Source:
        docs/method.md, section 22.
    """
    can_go = [each for each in wanted if each.about.left_out is not None]
    if not can_go:
        return None
    order = {each.key: place for place, each in enumerate(wanted)}
    return min(can_go, key=lambda each: (each.about.left_out or 0, -order[each.key]))
