"""A chain of proof lines: which belong together, and what they say of their tape."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import datetime
from enum import StrEnum

from cross_staff.core.ballistics.flight import RigFigures
from cross_staff.core.ballistics.slope import level_distances
from cross_staff.core.errors import CrossStaffError, InvalidValue
from cross_staff.core.prove.lines import ProofShots, Proving, TapeScale
from cross_staff.core.prove.log import ProofLine
from cross_staff.core.prove.verdict import Doubt, TapeVerdict, VerdictKind, judge
from cross_staff.core.rig.card import RigCard
from cross_staff.core.rig.scatter import Scatter
from cross_staff.core.tape.rulers import StripRuler

NEXT_ARROWS = 4
STEEP_RAD = math.radians(3.0)
BETWEEN = 5  # distances that are asked of a tape where the card names none


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
    done since; lacks, what nothing can be asked for want of: "scale", "target", "distances"."""

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
    lacks: str = ""

    @property
    def days(self) -> int:
        """On how many days they were shot."""
        return len({line.day for line in self.lines})

    @property
    def suspects(self) -> tuple[ProofLine, ...]:
        """Lines that do not go with the others."""
        return () if self.verdict is None else tuple(self.lines[i] for i in self.verdict.suspects)


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
    aside = dict(set_aside(given, tape, laying, lines, done))
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
    verdict = _over_days(judge(scale, shots, asked), shots) if asked is not None and scale is not None else None
    lacks = "scale" if scale is None else "target" if given.card.goals.target_size_m is None else ""
    own = tuple((line, why) for line, why in aside.items() if (line.tape, line.laying) == (tape.code, laying))
    first = _cold(scale, shots, cold, asked) if scale is not None and asked is not None else None
    past = done is not None and done != given.holding.done_now
    return Chain(
        tape,
        laying,
        tuple(counted),
        tuple(shots),
        verdict,
        own,
        first,
        wanted,
        past,
        too_far,
        lacks or ("" if wanted else "distances"),
    )


def _over_days(verdict: TapeVerdict, shots: Sequence[ProofShots]) -> TapeVerdict:
    """A tape is not true because it fits the arrows of one day, nor is it mended by them."""
    if verdict.kind == VerdictKind.CANNOT_TELL or len({shot.session for shot in shots}) > 1:
        return verdict
    return replace(verdict, kind=VerdictKind.CANNOT_TELL, doubt=Doubt.ONE_DAY)


def set_aside(
    given: Given, tape: ProofTape, laying: int, lines: Sequence[ProofLine], done: int | None = None
) -> tuple[tuple[ProofLine, Aside], ...]:
    """The lines that do not count for a tape as it is laid, each with why.

    Args:
        given: what the station goes by.
        tape: the tape.
        laying: which laying of it.
        lines: every line that stands, shape (n,).
        done: how much had been done to the bow before those that count; None for those that hold now.

    Returns:
        lines with the reason.

    Source:
        docs/method.md, section 17.
    """
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
        up = scale.up_dialled_right(shot) + away / f
        sd = math.hypot(asked.spread_mrad / math.sqrt(shot.arrows), asked.day_mrad)
        top, bottom = top + 1e3 * up / distance / sd**2, bottom + 1.0 / sd**2
        row = min(told.rows, key=lambda each: abs(each.distance_m - shot.distance_m))
        shared = max(shared, 1e3 * row.sd_m / scale.from_sight_m(row.distance_m))
    return ColdShots(len(cold), top / bottom, math.hypot(bottom**-0.5, shared))
