"""What the pages of the prove station show: the tape's chain as a picture of numbers, and how it is mended."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace

from cross_staff.core.errors import CrossStaffError
from cross_staff.core.prove.lines import ProofShots
from cross_staff.core.prove.log import ProofLine
from cross_staff.core.prove.station import Chain, Given, scale_on
from cross_staff.core.prove.verdict import TapeVerdict, VerdictKind, judge
from cross_staff.core.rig.booklet import Strip
from cross_staff.core.tape.booklet import sequences
from cross_staff.core.tape.rulers import StripRuler
from cross_staff.services.prove import state
from cross_staff.services.rig import Rig

BAND_POINTS = 24
NUDGE_MM = 0.05  # a pointer is set no finer


@dataclass(frozen=True)
class LineSpot:
    """A line as it would have come in, dialled right [m above the aim], with one sd, on which visit it was, by its
    number from 1; whether it is far from the others."""

    line: ProofLine
    distance_m: float
    up_m: float
    sd_m: float
    visit: int
    suspect: bool = False


@dataclass(frozen=True)
class BandPoint:
    """What comes in at a distance, dialled by the tape [m], with one sd."""

    distance_m: float
    up_m: float
    sd_m: float


@dataclass(frozen=True)
class Shift:
    """How a shift is mended: how far the indicator goes towards the far end of the tape, nearer negative [mm], one sd;
    where it stands now and what it is to read then, the sight left where it is [m as the tape counts]; the chance that
    the tape is true then."""

    toward_far_mm: float
    sd_mm: float
    from_m: float
    to_m: float
    chance_then: float


@dataclass(frozen=True)
class Stretch:
    """How a stretch is mended: how much longer the strip has to be, shorter negative, one sd; its length from home to
    the farthest distance now and then [mm]; the strip of the booklet that comes nearest, None without a booklet."""

    longer: float
    sd: float
    now_mm: float
    then_mm: float
    strip: str | None


@dataclass(frozen=True)
class ProveChart:
    """The picture: lines, the band, the days they were shot on in order."""

    spots: tuple[LineSpot, ...]
    band: tuple[BandPoint, ...]
    days: tuple[str, ...]
    target_m: float


def given_of(rig: Rig) -> Given:
    """What the station goes by."""
    return state.given_of(rig.card, rig.evaluation, rig.figures, rig.measured.timeline, rig.range_log.moves)


def chart(rig: Rig, chain: Chain) -> ProveChart | None:
    """The picture of a chain; None while nothing can be asked of its tape."""
    given = given_of(rig)
    scale, verdict = scale_on(given, chain.tape), chain.verdict
    target = rig.card.goals.target_size_m
    if scale is None or verdict is None or target is None:
        return None
    days = tuple(dict.fromkeys(shot.session for shot in chain.shots))
    spots = []
    for place, (line, shot) in enumerate(zip(chain.lines, chain.shots)):
        f = scale.mm_per_m(shot.distance_m)
        up = shot.up_m - (scale.place_mm(shot.dialled_m) - scale.place_mm(shot.distance_m)) / f
        sd = 1e-3 * given.scatter.spread_mrad * scale.from_sight_m(shot.distance_m) / math.sqrt(shot.arrows)
        spots.append(LineSpot(line, shot.distance_m, up, sd, days.index(shot.session) + 1, place in verdict.suspects))
    return ProveChart(tuple(spots), _band(rig, chain, verdict), days, target)


def _band(rig: Rig, chain: Chain, verdict: TapeVerdict) -> tuple[BandPoint, ...]:
    """The band between the distances wanted, read off a verdict that is asked for more of them."""
    low, high = min(chain.wanted_m), max(chain.wanted_m)
    wanted = tuple(low + (high - low) * i / (BAND_POINTS - 1) for i in range(BAND_POINTS))
    told = rejudged(rig, chain, wanted, chain.shots)
    rows = verdict.rows if told is None else told.rows
    return tuple(BandPoint(row.distance_m, row.up_m, row.sd_m) for row in rows)


def rejudged(rig: Rig, chain: Chain, wanted_m: tuple[float, ...], shots: Sequence[ProofShots]) -> TapeVerdict | None:
    """The verdict with other distances or lines; None where it cannot be had."""
    given = given_of(rig)
    scale = scale_on(given, chain.tape)
    asked = given.asked(wanted_m)
    if scale is None or asked is None:
        return None
    try:
        return judge(scale, shots, replace(asked, shootable_m=chain.wanted_m))
    except CrossStaffError:
        return None


def number_at(strip: StripRuler, place_mm: float) -> float | None:
    """What a pointer reads at a place of the strip [mm from home -> m as the tape counts]; None beyond its ends."""
    import numpy as np

    places = strip.places_mm
    if not places[0] <= place_mm <= places[-1]:
        return None
    return float(np.interp(place_mm, places, strip.lines_m))


def shift_of(chain: Chain) -> Shift | None:
    """How a shift is mended; None where the lines do not tell one."""
    verdict, strip = chain.verdict, chain.tape.strip
    if verdict is None or verdict.kind != VerdictKind.SHIFTED:
        return None
    away = verdict.shift_alone_mm
    middle = min(chain.wanted_m, key=lambda d: abs(d - 0.5 * (chain.wanted_m[0] + chain.wanted_m[-1])))
    # the sight stands at m_p(x), which is right for the distance whose true mark that is: m_p(x) - a
    reads = number_at(strip, strip.place_mm("", middle) - away.value)
    return Shift(-away.value, away.sd or 0.0, middle, middle if reads is None else reads, verdict.mended_chance)


def stretch_of(rig: Rig, chain: Chain) -> Stretch | None:
    """How a stretch is mended; None where the lines do not tell one."""
    verdict, strip = chain.verdict, chain.tape.strip
    if verdict is None or verdict.kind != VerdictKind.STRETCHED:
        return None
    length = strip.place_mm("", max(chain.wanted_m))
    then = (1.0 + verdict.stretch.value) * length
    return Stretch(verdict.stretch.value, verdict.stretch.sd or 0.0, length, then, _of_booklet(rig, strip, verdict))


def _of_booklet(rig: Rig, strip: StripRuler, verdict: TapeVerdict) -> str | None:
    """The strip of the booklet whose length comes nearest to what this one should have been."""
    book = rig.card.sight.booklet
    if book.from_m is None or book.to_m is None or len(book.strips) < 2:
        return None
    try:
        span = strip.place_mm("", book.to_m) - strip.place_mm("", book.from_m)
    except CrossStaffError:
        return None
    wanted = (1.0 + verdict.stretch.value) * span
    every: list[Strip] = [each for row in sequences(book) for each in row]
    return min(every, key=lambda each: abs(each.span_mm - wanted)).label
