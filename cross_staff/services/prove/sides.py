"""Left and right, two kinds of group, the slope, the knock: what the station's other pages are worked out from."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime

from cross_staff.core.ballistics.cant import Case, fall
from cross_staff.core.ballistics.wind import drifts
from cross_staff.core.errors import CrossStaffError, InvalidValue
from cross_staff.core.level.log import kept as looks_kept
from cross_staff.core.prove.chain import scale_on
from cross_staff.core.prove.drift import Drift, SideGroup, diagnose
from cross_staff.core.prove.lines import ProofShots
from cross_staff.core.prove.log import ProofLine
from cross_staff.core.prove.log import kept as proof_kept
from cross_staff.core.prove.pairs import PairDifference, PairGroup, PairKind, canted_m, compare
from cross_staff.core.prove.slope_shots import SlopeStand, slope_stands
from cross_staff.core.prove.station import MARK
from cross_staff.core.prove.triage import JOINTS, JointChance, KnockGroup, Seen, triage
from cross_staff.core.rig.events import CAUSES
from cross_staff.core.rig.log import newest
from cross_staff.core.sight_in.controls import SIDEWAYS
from cross_staff.core.tape.reproof import Reproof
from cross_staff.services.prove.page import given_of
from cross_staff.services.rig import Rig, proof_ahead

RANGE, LEVEL, PROOF = "range", "level", "proof"
SIDES_HANG_ON = ("windage", "level", "later_axes")
_KNOCKS = ("knock", "sight_off")


@dataclass(frozen=True)
class SideSeen:
    """A group with its left and right: where it was written down (a station), the day, its arrows, and as it counts."""

    station: str
    day: str
    ranged_m: float
    arrows: int
    group: SideGroup


@dataclass(frozen=True)
class DriftPage:
    """Groups with their left and right since windage was last touched; what they say, None where they say nothing, with
    the problem; home [m from the sight plane]."""

    seen: tuple[SideSeen, ...]
    drift: Drift | None = None
    problem: str = ""


def drift_of(rig: Rig) -> DriftPage:
    """What all groups that hold say of left and right."""
    figures, home = rig.figures, rig.card.goals.home_m
    seen = side_groups(rig)
    if figures is None or home is None:
        return DriftPage(seen, problem="the card lacks something that the flight hangs on")
    if not seen:
        return DriftPage(seen)
    try:
        told = diagnose(figures, rig.card.distance_from_sight(home), [each.group for each in seen])
    except CrossStaffError as error:
        return DriftPage(seen, problem=str(error))
    return DriftPage(seen, told)


def side_groups(rig: Rig) -> tuple[SideSeen, ...]:
    """Groups with a left and right that hold, and were shot since windage was last touched, by distance."""
    timeline = rig.measured.timeline
    holds = timeline.holding(SIDES_HANG_ON)
    told = [*_range_ends(rig, holds), *_slope_looks(rig, holds)]
    for line in proof_kept(rig.proof_log):
        if line.right_m is not None and not line.label and line.revision in holds and _after_windage(rig, line.entered):
            group = _group(rig, line.ranged_m, line.slope_rad, line.right_m, line.arrows, line.crosswind_mps)
            told.append(SideSeen(PROOF, line.day.isoformat(), line.ranged_m, line.arrows, group))
    return tuple(sorted(told, key=lambda each: (each.ranged_m, each.group.slope_rad, each.day)))


def _windage_touched(rig: Rig) -> datetime | None:
    """When anything that moves left or right was moved last at the range."""
    moved = [move.entered for move in rig.range_log.moves if move.moves in SIDEWAYS]
    return max(moved, default=None)


def _after_windage(rig: Rig, entered: datetime) -> bool:
    touched = _windage_touched(rig)
    return touched is None or entered > touched


def _range_ends(rig: Rig, holds: frozenset[int]) -> list[SideSeen]:
    last = max((move.order for move in rig.range_log.moves if move.moves in SIDEWAYS), default=-1.0)
    told = []
    for end in rig.range_log.ends:
        right = end.middle[0]
        if right is None or end.ranged_m is None or end.left_out or end.revision not in holds or end.order < last:
            continue
        session = rig.range_log.session(end.session)
        wind = session.crosswind_mps if session else None
        group = _group(rig, end.ranged_m, 0.0, right, end.arrows, wind)
        told.append(SideSeen(RANGE, end.entered.date().isoformat(), end.ranged_m, end.arrows, group))
    return told


def _slope_looks(rig: Rig, holds: frozenset[int]) -> list[SideSeen]:
    told = []
    for look in looks_kept(rig.level_log):
        if look.right_m is None or look.distance_m is None or look.revision not in holds:
            continue
        if _after_windage(rig, look.entered):
            group = _group(rig, look.distance_m, look.pitch_rad, look.right_m, look.arrows or 3, None)
            told.append(SideSeen(LEVEL, look.entered.date().isoformat(), look.distance_m, look.arrows or 3, group))
    return told


def _group(
    rig: Rig, ranged_m: float, slope_rad: float, right_m: float, arrows: int, wind_mps: float | None
) -> SideGroup:
    """A group with the error of its middle: arrows, the day, and the wind's drift, which is never taken out."""
    spread, day = given_of(rig).scatter_mrad
    distance = rig.card.distance_from_sight(ranged_m)
    se = 1e-3 * distance * math.hypot(spread / math.sqrt(max(arrows, 1)), day)
    if wind_mps and rig.figures is not None:
        se = math.hypot(se, abs(drifts(rig.figures, [distance], wind_mps)[0] or 0.0))
    return SideGroup(distance, slope_rad, right_m, se)


@dataclass(frozen=True)
class Pair:
    """Two kinds that are held against each other: what kind of pair, what somebody called it, the lines of each, what
    they say, None while one of them lacks a group, with the problem."""

    kind: PairKind
    name: str
    lines: tuple[tuple[ProofLine, ...], tuple[ProofLine, ...]]
    told: PairDifference | None = None
    problem: str = ""

    @property
    def distance_m(self) -> float:
        """The farthest distance that either was shot at [m as ranged]."""
        return max(line.ranged_m for lines in self.lines for line in lines)


def pair_label(kind: PairKind, side: int, name: str) -> str:
    """How a line of a pair is labelled: first or second (0, 1), and what the pair is called."""
    return f"{kind}:{side}:{name}"


def pairs_of(rig: Rig) -> tuple[Pair, ...]:
    """Every pair that was shot, the newest first."""
    groups: dict[tuple[str, str], tuple[list[ProofLine], list[ProofLine]]] = {}
    for line in sorted(proof_kept(rig.proof_log), key=lambda each: each.entry_id):
        kind, side, name = (*line.label.split(":", 2), "", "")[:3]
        if kind in set(PairKind) and side in ("0", "1"):
            groups.setdefault((kind, name), ([], []))[int(side)].append(line)
    return tuple(_pair(rig, PairKind(kind), name, both) for (kind, name), both in reversed(groups.items()))


def _pair(rig: Rig, kind: PairKind, name: str, both: tuple[list[ProofLine], list[ProofLine]]) -> Pair:
    lines = (tuple(both[0]), tuple(both[1]))
    try:
        scatter = given_of(rig).scatter
        both_kinds = (_paired(rig, lines[0]), _paired(rig, lines[1]))
        told = compare(*both_kinds, scatter.spread_mrad, scatter.day_mrad, scatter.spread_sd_ln)
    except InvalidValue as error:
        return Pair(kind, name, lines, problem=error.message)
    return Pair(kind, name, lines, told)


def _paired(rig: Rig, lines: Sequence[ProofLine]) -> list[PairGroup]:
    card = rig.card
    return [
        PairGroup(card.distance_from_sight(x.ranged_m), x.arrows, x.right_m, x.up_m, x.day.isoformat()) for x in lines
    ]


def cant_cost(rig: Rig, ranged_m: float, cant_rad: float) -> tuple[float, float] | None:
    """Where a canted bow puts its arrows, to the right and up [m]; None where the flight is not known."""
    if rig.figures is None:
        return None
    drop = fall(rig.figures, [Case(rig.card.distance_from_sight(ranged_m), 0.0)])[0]
    return None if drop is None else canted_m(drop, cant_rad)


def stands_of(
    rig: Rig, distances_m: Sequence[float], slopes_rad: tuple[float, float], wanted_rad: float
) -> tuple[SlopeStand, ...]:
    """Where to stand to prove the third axis. Raises InvalidValue without a slope up and one down."""
    home = rig.card.goals.home_m
    if rig.figures is None or home is None:
        return ()
    card = rig.card
    distances = [card.distance_from_sight(d) for d in distances_m]
    spread = given_of(rig).scatter_mrad[0]
    return slope_stands(rig.figures, card.distance_from_sight(home), distances, slopes_rad, spread, wanted_rad)


@dataclass(frozen=True)
class TriagePage:
    """What is known after a knock: since when, None where nobody said that there was one; the lines since; what the
    marks showed, by joint; the chances, none while there is nothing to go by, with the problem; the smallest re-proof
    of the likeliest joint."""

    since: datetime | None
    lines: tuple[ProofLine, ...]
    seen: Mapping[str, Seen]
    chances: tuple[JointChance, ...] = ()
    problem: str = ""
    reproof: Reproof | None = None


def triage_of(rig: Rig) -> TriagePage:
    """Which joint moved, by the lines and the marks since the last knock."""
    since = _knocked(rig)
    every = [line for line in proof_kept(rig.proof_log) if not line.label]
    lines = [line for line in every if since is not None and line.entered >= since]
    if since is None and every:
        lines = [line for line in every if line.day == every[-1].day]
    seen = marks_seen(rig, since)
    figures, home = rig.figures, rig.card.goals.home_m
    if figures is None or home is None or not (lines or any(seen.values())):
        return TriagePage(since, tuple(lines), seen)
    groups = [_knock_group(rig, line) for line in lines]
    try:
        told = triage(figures, rig.card.distance_from_sight(home), groups, given_of(rig).scatter_mrad, seen)
    except CrossStaffError as error:
        return TriagePage(since, tuple(lines), seen, problem=str(error))
    first = told[0].joint
    proof = proof_ahead(rig, [CAUSES[first.cause]]) if first is not None else None
    return TriagePage(since, tuple(lines), seen, told, reproof=proof)


def _knocked(rig: Rig) -> datetime | None:
    """When the last knock was said."""
    saved = {revision.number: revision.saved for revision in rig.history}
    knocks = [
        saved[event.number]
        for event in rig.measured.timeline.events
        if not event.undone and any(cause.key in _KNOCKS for cause in event.causes)
    ]
    return max(knocks, default=None)


def marks_seen(rig: Rig, since: datetime | None) -> dict[str, Seen]:
    """What was seen of each joint's witness mark since a moment."""
    said = newest([entry for entry in rig.log_of("prove") if since is None or entry.entered >= since])
    keys = {joint.key: f"{MARK}{joint.key}" for joint in JOINTS}
    return {joint: Seen(said[key].choice) if key in said else Seen.NOT_LOOKED for joint, key in keys.items()}


def _knock_group(rig: Rig, line: ProofLine) -> KnockGroup:
    """A line against where the tape has it: what was dialled off the distance is taken out."""
    up, current = line.up_m, rig.prove.current
    scale = scale_on(given_of(rig), current.tape) if current is not None else None
    if up is not None and scale is not None and line.dialled_m is not None and line.dialled_m != line.ranged_m:
        try:
            up = scale.up_dialled_right(ProofShots(line.ranged_m, line.dialled_m, up, line.arrows, ""))
        except CrossStaffError:
            up = None
    return KnockGroup(rig.card.distance_from_sight(line.ranged_m), line.arrows, line.right_m, up)
