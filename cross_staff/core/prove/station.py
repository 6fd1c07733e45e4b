"""The prove station: the tape that is on the sight, its chain of lines, what they say, and what is next."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import datetime
from enum import StrEnum
from functools import cached_property

from cross_staff.core.ballistics.flight import RigFigures
from cross_staff.core.ballistics.slope import level_distances
from cross_staff.core.errors import CrossStaffError, InvalidValue, NotFound
from cross_staff.core.prove.lines import ProofShots, Proving, TapeScale
from cross_staff.core.prove.log import ProofLine
from cross_staff.core.prove.triage import JOINTS, Seen
from cross_staff.core.prove.verdict import Doubt, TapeVerdict, VerdictKind, judge
from cross_staff.core.rig.card import RigCard
from cross_staff.core.rig.log import BenchEntry, standing
from cross_staff.core.rig.scatter import Scatter
from cross_staff.core.tape.rulers import StripRuler

LAID = "tape"  # the key of the entries that say which tape is on the sight
MENDED = "proof:"  # how the note begins of a laying that lines had asked for
MARK = "mark:"  # before the key of a joint: what its witness mark showed
PINS = "pins"  # the code of fixed pins, proven like a tape
NEXT_ARROWS = 4
STEEP_RAD = math.radians(3.0)
BETWEEN = 5  # distances that are asked of a tape where the card names none
GUSTY_MPS = 3.0


class Aside(StrEnum):
    """Why a line counts for nothing in the verdict of the tape that is on the sight."""

    BEFORE = "before"
    OTHER_TAPE = "other_tape"
    OTHER_ARROW = "other_arrow"
    NOT_DIALLED = "not_dialled"
    OFF_TAPE = "off_tape"
    LABELLED = "labelled"
    COLD = "cold"
    TOO_STEEP = "too_steep"


@dataclass(frozen=True)
class ProofTape:
    """A tape that can be on the sight: its strip; at which revision it was printed; which arrow it is for."""

    strip: StripRuler
    revision: int
    arrow: int

    @property
    def code(self) -> str:
        return self.strip.code


@dataclass(frozen=True)
class Holding:
    """What of the past still holds: revisions since which nothing was done to zero, gaps or tape, another arrow apart;
    of each revision, by its number from 1, which arrow was on, and how much had been done before it; when pins or
    housing were moved up or down at the range."""

    revisions: frozenset[int]
    arrows: tuple[int, ...]
    done: tuple[int, ...]
    moved: tuple[datetime, ...] = ()

    def arrow_at(self, revision: int) -> int:
        return self.arrows[min(max(revision, 1), len(self.arrows)) - 1]

    def done_before(self, line: ProofLine) -> int:
        """How much had been done before a line was shot."""
        revision = min(max(line.revision, 1), len(self.done))
        return self.done[revision - 1] + sum(moment < line.entered for moment in self.moved)

    @property
    def done_now(self) -> int:
        return self.done[-1] + len(self.moved)

    def holds(self, line: ProofLine) -> bool:
        """Whether nothing was done since a line was shot."""
        return line.revision in self.revisions and not any(moment >= line.entered for moment in self.moved)


@dataclass(frozen=True)
class ColdShots:
    """The first arrows of the day: how many lines, how much higher than the others they come in [mrad], with its
    sd."""

    lines: int
    high_mrad: float
    sd_mrad: float

    @property
    def real(self) -> bool:
        """Whether it is beyond chance, 19 times in 20."""
        return abs(self.high_mrad) > 1.96 * self.sd_mrad


@dataclass(frozen=True)
class Chain:
    """The lines that were shot by one laying of a tape and belong together, as they count; what they say, None where
    nothing can be asked of the tape; the cold ones; lines of it that do not count, with why; past, where something was
    done since."""

    tape: ProofTape
    laying: int
    lines: tuple[ProofLine, ...]
    shots: tuple[ProofShots, ...]
    verdict: TapeVerdict | None
    aside: tuple[tuple[ProofLine, Aside], ...] = ()
    cold: ColdShots | None = None
    wanted_m: tuple[float, ...] = ()
    past: bool = False
    too_far_m: tuple[float, ...] = ()

    @property
    def days(self) -> int:
        """On how many days they were shot."""
        return len({line.day for line in self.lines})

    @property
    def suspects(self) -> tuple[ProofLine, ...]:
        """Lines that do not go with the others."""
        return () if self.verdict is None else tuple(self.lines[i] for i in self.verdict.suspects)


@dataclass(frozen=True)
class ProveState:
    """The station: the chain of the tape that is on the sight, None where there is none, or nobody said which; tapes to
    choose from; the chains of the others; every line that stands, those aside with why; mended, where pointer or strip
    were moved as lines had asked, and nothing was done since."""

    current: Chain | None
    tapes: tuple[ProofTape, ...] = ()
    others: tuple[Chain, ...] = ()
    lines: tuple[ProofLine, ...] = ()
    aside: tuple[tuple[ProofLine, Aside], ...] = ()
    mended: bool = False

    @property
    def asks_which(self) -> bool:
        """Whether there are tapes, and nobody said which one is on the sight."""
        return self.current is None and bool(self.tapes)

    @property
    def verdict(self) -> TapeVerdict | None:
        return None if self.current is None else self.current.verdict

    @cached_property
    def why_aside(self) -> dict[str, Aside]:
        """Why a line does not count, by its key."""
        return {line.key: why for line, why in self.aside}


@dataclass(frozen=True)
class Given:
    """What the station goes by: the card, the rig's figures, the archer's scatter, mm of tape for a mm at the sight
    (None: not known), what still holds."""

    card: RigCard
    figures: RigFigures | None
    scatter: Scatter
    ratio: float | None
    holding: Holding

    @property
    def scatter_mrad(self) -> tuple[float, float]:
        """One sd of an arrow, and of a day [mrad]; a spread that nobody stated is as wide as the root of its mean
        square."""
        wider = math.exp(self.scatter.spread_sd_ln**2)
        return self.scatter.spread_mrad * wider, self.scatter.day_mrad * wider

    def asked(self, wanted_m: tuple[float, ...]) -> Proving | None:
        """What is asked of a tape; None while the card names no target, or the tape no distance."""
        target = self.card.goals.target_size_m
        if target is None or not wanted_m:
            return None
        sd_ln = self.scatter.day_sd_ln
        return Proving(wanted_m, target, *self.scatter_mrad, next_arrows=NEXT_ARROWS, day_sd_ln=sd_ln)


def check_entry(_card: RigCard, entry: BenchEntry) -> None:
    """Refuse what cannot be said here. Raises: NotFound; InvalidValue."""
    joint = entry.key.removeprefix(MARK)
    if joint != entry.key and joint in {each.key for each in JOINTS}:
        if entry.choice not in set(Seen):
            raise InvalidValue("mark", "choose one from the list")
        return
    if entry.key != LAID:
        raise NotFound(f"nothing is written down of {entry.key}")
    if not entry.choice:
        raise InvalidValue("tape", "say which tape is on the sight")


def laid(entries: Sequence[BenchEntry]) -> BenchEntry | None:
    """The entry that says which tape is on the sight.

    Args:
        entries: of this station, oldest first, shape (n,).

    Returns:
        the newest that stands; None where nobody said.

    Source:
        the log of every station.
    """
    said = standing(entries).get(LAID, [])
    return said[-1] if said else None


def prove_state(
    given: Given, tapes: Sequence[ProofTape], lines: Sequence[ProofLine], entries: Sequence[BenchEntry]
) -> ProveState:
    """How proving stands.

    Args:
        given: what the station goes by.
        tapes: that can be on the sight, the newest first, shape (m,).
        lines: that stand, by day, shape (n,).
        entries: of this station, oldest first.

    Returns:
        the state.

    Source:
        docs/method.md, section 17.
    """
    said = laid(entries)
    now = _tape_now(given, tapes, said)
    laying = said.entry_id if said is not None and now is not None and said.choice == now.code else 0
    current = None if now is None else chain(given, now, laying, lines)
    others = _others(given, tapes, lines, current)
    return ProveState(
        current,
        tuple(tapes),
        others,
        tuple(lines),
        _aside(given, now, laying, lines) if now is not None else (),
        laying > 0 and said is not None and said.note.startswith(MENDED) and said.revision in given.holding.revisions,
    )


def _others(
    given: Given, tapes: Sequence[ProofTape], lines: Sequence[ProofLine], current: Chain | None
) -> tuple[Chain, ...]:
    """Every other chain, the newest first: of another tape or laying, or from before something was done."""
    by_code, counted = {tape.code: tape for tape in tapes}, set(current.lines if current is not None else ())
    seen = dict.fromkeys(
        (line.tape, line.laying, given.holding.done_before(line))
        for line in reversed(lines)
        if line.tape in by_code and line not in counted
    )
    told = (chain(given, by_code[code], laying, lines, done) for code, laying, done in seen)
    kept = (each for each in told if each.lines and not counted.intersection(each.lines))
    return tuple(kept)


def _tape_now(given: Given, tapes: Sequence[ProofTape], said: BenchEntry | None) -> ProofTape | None:
    """The tape that somebody said is on the sight; the only one there is for this arrow; else nobody knows."""
    if said is not None:
        return next((tape for tape in tapes if tape.code == said.choice), None)
    arrow = given.holding.arrows[-1]
    mine = [tape for tape in tapes if tape.arrow == arrow]
    return mine[0] if len(mine) == 1 else None


def chain(given: Given, tape: ProofTape, laying: int, lines: Sequence[ProofLine], done: int | None = None) -> Chain:
    """The lines of one laying of a tape that belong together, and what they say.

    Args:
        given: what the station goes by.
        tape: the tape.
        laying: which laying of it.
        lines: every line that stands, by day, shape (n,).
        done: how much had been done to the bow before them; None for those that hold now.

    Returns:
        the chain.

    Source:
        docs/method.md, section 17.
    """
    aside = dict(_aside(given, tape, laying, lines, done))
    counted: list[ProofLine] = []
    shots: list[ProofShots] = []
    cold: list[ProofShots] = []
    for line in lines:
        why = aside.get(line)
        if why not in (None, Aside.COLD):
            continue
        shot = _shots(given, line)
        (cold if why == Aside.COLD else shots).append(shot)
        if why is None:
            counted.append(line)
    wanted, too_far = _wanted(given.card, tape)
    asked = given.asked(wanted)
    scale = scale_on(given, tape)
    verdict = None
    if asked is not None and scale is not None:
        try:
            verdict = _over_days(judge(scale, shots, asked), shots)
        except CrossStaffError:
            verdict = None
    own = tuple((line, why) for line, why in aside.items() if (line.tape, line.laying) == (tape.code, laying))
    first = _cold(scale, shots, cold, asked) if scale is not None and asked is not None else None
    past = done is not None and done != given.holding.done_now
    return Chain(tape, laying, tuple(counted), tuple(shots), verdict, own, first, wanted, past, too_far)


def _over_days(verdict: TapeVerdict, shots: Sequence[ProofShots]) -> TapeVerdict:
    """A tape is not true because it fits the arrows of one day, nor is it mended by them."""
    if verdict.kind == VerdictKind.CANNOT_TELL or len({shot.session for shot in shots}) > 1:
        return verdict
    return replace(verdict, kind=VerdictKind.CANNOT_TELL, doubt=Doubt.ONE_DAY)


def _aside(
    given: Given, tape: ProofTape, laying: int, lines: Sequence[ProofLine], done: int | None = None
) -> tuple[tuple[ProofLine, Aside], ...]:
    told = ((line, _why_aside(given, tape, laying, line, done)) for line in lines)
    return tuple((line, why) for line, why in told if why is not None)


def _why_aside(given: Given, tape: ProofTape, laying: int, line: ProofLine, done: int | None) -> Aside | None:
    if line.label:
        return Aside.LABELLED
    if line.dialled_m is None or line.up_m is None:
        return Aside.NOT_DIALLED
    if (line.tape, line.laying) != (tape.code, laying):
        return Aside.OTHER_TAPE
    if given.holding.arrow_at(line.revision) != tape.arrow:
        return Aside.OTHER_ARROW
    holding = given.holding
    if not holding.holds(line) if done is None else holding.done_before(line) != done:
        return Aside.BEFORE
    if level_m(given, line) is None:
        return Aside.TOO_STEEP
    try:
        tape.strip.place_mm("dialled", line.dialled_m)
        tape.strip.place_mm("ranged", level_m(given, line) or 0.0)
    except InvalidValue:
        return Aside.OFF_TAPE
    return Aside.COLD if line.cold else None


def level_m(given: Given, line: ProofLine) -> float | None:
    """The distance on level ground that a line's target is worth [m as ranged]; None where a steep one has none.

    Args:
        given: what the station goes by.
        line: the line.

    Returns:
        [m as ranged].

    Source:
        docs/method.md, section 15.
    """
    if abs(line.slope_rad) < STEEP_RAD:
        return line.ranged_m
    if given.figures is None:
        return None
    card = given.card
    try:
        level = level_distances(given.figures, [card.distance_from_sight(line.ranged_m)], [line.slope_rad])[0]
    except CrossStaffError:
        return None
    return None if level is None else card.ranged_distance(level)


def _shots(given: Given, line: ProofLine) -> ProofShots:
    level = level_m(given, line) or line.ranged_m
    return ProofShots(level, line.dialled_m or level, line.up_m or 0.0, line.arrows, line.day.isoformat())


def scale_on(given: Given, tape: ProofTape) -> TapeScale | None:
    """The tape as a scale on its sight.

    Args:
        given: what the station goes by.
        tape: the tape.

    Returns:
        the scale [mm; m]; None while nobody knows how far the eye is from the sight, or what a mm of tape is there.

    Source:
        docs/method.md, section 17.
    """
    lever, ratio = given.card.eye_to_sight_m, given.ratio
    if lever is None or ratio is None:
        return None
    lead = given.card.ranged_distance(0.0)
    strip = tape.strip
    return TapeScale(lambda distance: strip.place_mm("distance", distance), lever, ratio, strip.home_m, lead)


def _wanted(card: RigCard, tape: ProofTape) -> tuple[tuple[float, ...], tuple[float, ...]]:
    """The distances that the tape is wanted at, as far as it goes, and those beyond its end [m as ranged]."""
    goals, strip = card.goals, tape.strip
    farthest = goals.farthest_m or strip.lines_m[-1]
    named = sorted({d for d in (*goals.distances_m, farthest) if d >= strip.home_m - 0.05})
    if len(named) < 2:
        named = [strip.home_m + (farthest - strip.home_m) * (i + 1) / BETWEEN for i in range(BETWEEN)]
    on = tuple(d for d in named if strip.lines_m[0] - 0.05 <= d <= strip.lines_m[-1] + 0.05)
    return on, tuple(d for d in named if d > strip.lines_m[-1] + 0.05)


def _cold(
    scale: TapeScale, shots: Sequence[ProofShots], cold: Sequence[ProofShots], asked: Proving
) -> ColdShots | None:
    """How much higher the day's first arrows come in than the others have it [mrad]."""
    if not cold:
        return None
    told = judge(scale, shots, asked)
    top, bottom, shared = 0.0, 0.0, 0.0
    for shot in cold:
        distance, f = scale.from_sight_m(shot.distance_m), scale.mm_per_m(shot.distance_m)
        away = told.shift_alone_mm.value if told.off else 0.0
        up = shot.up_m - (scale.place_mm(shot.dialled_m) - scale.place_mm(shot.distance_m) - away) / f
        sd = math.hypot(asked.spread_mrad / math.sqrt(shot.arrows), asked.day_mrad)
        top, bottom = top + 1e3 * up / distance / sd**2, bottom + 1.0 / sd**2
        row = min(told.rows, key=lambda each: abs(each.distance_m - shot.distance_m))
        shared = max(shared, 1e3 * row.sd_m / scale.from_sight_m(row.distance_m))
    return ColdShots(len(cold), top / bottom, math.hypot(bottom**-0.5, shared))


def told_wrong(state: ProveState) -> bool:
    """Whether the tape that is on the sight is told to be wrong, or something moved."""
    verdict = state.verdict
    return verdict is not None and (verdict.off or verdict.doubt == Doubt.MOVED)


def told_true(state: ProveState) -> bool:
    """Whether the tape that is on the sight is told to be true, at every distance wanted.

    Args:
        state: of the station.

    Returns:
        True where it is, and the tape goes as far as is wanted.

    Source:
        docs/method.md, section 17.
    """
    verdict, current = state.verdict, state.current
    return verdict is not None and verdict.kind == VerdictKind.TRUE and current is not None and not current.too_far_m
