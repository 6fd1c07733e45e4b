"""What the pages of the prove station show: the tape's chain as a picture of numbers, and how it is mended."""

from __future__ import annotations

import math
from dataclasses import dataclass

from cross_staff.core.prove.chain import Chain, Given, scale_on
from cross_staff.core.prove.lines import TapeScale
from cross_staff.core.prove.log import ProofLine
from cross_staff.core.prove.mending import Shift, Stretch, shift_of, stretch_of
from cross_staff.core.prove.verdict import rows_at
from cross_staff.services.prove import state
from cross_staff.services.rig import Rig

BAND_POINTS = 24


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
        up = scale.up_dialled_right(shot)
        sd = 1e-3 * given.scatter.spread_mrad * scale.from_sight_m(shot.distance_m) / math.sqrt(shot.arrows)
        spots.append(LineSpot(line, shot.distance_m, up, sd, days.index(shot.session) + 1, place in verdict.suspects))
    band = _band(scale, given, chain) if verdict.agrees else ()
    return ProveChart(tuple(spots), band, days, target)


def _band(scale: TapeScale, given: Given, chain: Chain) -> tuple[BandPoint, ...]:
    """The band between the distances wanted."""
    low, high = min(chain.wanted_m), max(chain.wanted_m)
    asked = given.asked(tuple(low + (high - low) * i / (BAND_POINTS - 1) for i in range(BAND_POINTS)))
    rows = () if asked is None else rows_at(scale, chain.shots, asked)
    return tuple(BandPoint(row.distance_m, row.up_m, row.sd_m) for row in rows)


def mending(rig: Rig, chain: Chain) -> tuple[Shift | None, Stretch | None]:
    """How the tape is mended, by a shift or a stretch, where the lines tell one."""
    return shift_of(chain), stretch_of(rig.card, chain)
