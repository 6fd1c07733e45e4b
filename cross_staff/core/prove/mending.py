"""How a tape that is told to be wrong is mended: the indicator moved, or another strip."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from cross_staff.core.errors import CrossStaffError
from cross_staff.core.prove.chain import Chain
from cross_staff.core.prove.verdict import TapeVerdict, VerdictKind
from cross_staff.core.rig.booklet import Strip
from cross_staff.core.rig.card import RigCard
from cross_staff.core.tape.booklet import sequences
from cross_staff.core.tape.rulers import StripRuler


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


def number_at(strip: StripRuler, place_mm: float) -> float | None:
    """What a pointer reads at a place of a strip.

    Args:
        strip: the strip.
        place_mm: [mm] from its home line.

    Returns:
        [m as the tape counts]; None beyond its ends.

    Source:
        straight lines between its own.
    """
    places = strip.places_mm
    if not places[0] <= place_mm <= places[-1]:
        return None
    return float(np.interp(place_mm, places, strip.lines_m))


def shift_of(chain: Chain) -> Shift | None:
    """How a shift is mended.

    Args:
        chain: of the tape.

    Returns:
        how far the indicator goes [mm], and what it reads then [m]; None where the lines do not tell a shift.

    Source:
        docs/method.md, section 17.
    """
    verdict, strip = chain.verdict, chain.tape.strip
    if verdict is None or verdict.kind != VerdictKind.SHIFTED:
        return None
    away = verdict.shift_alone_mm
    middle = min(chain.wanted_m, key=lambda d: abs(d - 0.5 * (chain.wanted_m[0] + chain.wanted_m[-1])))
    # the sight stands at m_p(x), which is right for the distance whose true mark that is: m_p(x) - a
    reads = number_at(strip, strip.place_mm("", middle) - away.value)
    return Shift(-away.value, away.sd or 0.0, middle, middle if reads is None else reads, verdict.mended_chance)


def stretch_of(card: RigCard, chain: Chain) -> Stretch | None:
    """How a stretch is mended.

    Args:
        card: the rig's card, with its booklet.
        chain: of the tape.

    Returns:
        how much longer the strip is to be, [mm] and parts of it; None where the lines do not tell a stretch.

    Source:
        docs/method.md, section 17.
    """
    verdict, strip = chain.verdict, chain.tape.strip
    if verdict is None or verdict.kind != VerdictKind.STRETCHED:
        return None
    length = strip.place_mm("", max(chain.wanted_m))
    then = (1.0 + verdict.stretch.value) * length
    return Stretch(verdict.stretch.value, verdict.stretch.sd or 0.0, length, then, _of_booklet(card, strip, verdict))


def _of_booklet(card: RigCard, strip: StripRuler, verdict: TapeVerdict) -> str | None:
    """The strip of the booklet whose length comes nearest to what this one should have been."""
    book = card.sight.booklet
    if book.from_m is None or book.to_m is None or len(book.strips) < 2:
        return None
    try:
        span = strip.place_mm("", book.to_m) - strip.place_mm("", book.from_m)
    except CrossStaffError:
        return None
    wanted = (1.0 + verdict.stretch.value) * span
    every: list[Strip] = [each for row in sequences(book) for each in row]
    return min(every, key=lambda each: abs(each.span_mm - wanted)).label
