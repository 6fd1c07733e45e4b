"""A reading of the dial in words: the same at the range, on every page and on every sheet."""

from __future__ import annotations

from collections.abc import Callable

from cross_staff.core.rig.drum import DrumReading
from cross_staff.core.rig.sight import SightModel
from cross_staff.services.rig import Rig
from cross_staff.web.forms.units import fixed


def signed(sight: SightModel, reading_mm: float, ratio: float, say: Callable[[DrumReading], str]) -> str:
    """A reading [mm on the scale] as one of the words below says it, with its sign; a dash without clicks."""
    told = DrumReading.of(sight, reading_mm, ratio)
    if told is None:
        return "–"
    return f"{'−' if reading_mm < 0 and told.clicks else ''}{say(told)}"


def clicks_words(told: DrumReading) -> str:
    """Clicks, to a tenth."""
    return fixed(told.clicks, 1)


def turns_words(told: DrumReading) -> str:
    """Whole turns and the clicks beyond them."""
    return "–" if told.turns is None or told.rest is None else f"{told.turns} + {fixed(told.rest, 1)}"


def line_words(told: DrumReading) -> str:
    """A whole line of the scale and the drum beyond it; turns and clicks where the scale is not known."""
    if told.line is None:
        return turns_words(told)
    return f"{told.line}, {fixed(told.drum or 0.0, 1)}" if told.drum is not None else f"{told.line}"


def reading(rig: Rig, dial_mm: float) -> str:
    """A reading of the scale as the hand sets it, within a sentence."""
    sight = rig.card.sight
    if rig.card.sight_kind.has_drum and sight.dialling_control():
        ratio = rig.evaluation.fit.tape_ratio if rig.evaluation.fit else 1.0
        told = DrumReading.of(sight, dial_mm, ratio)
        if told is not None:
            sign = "−" if dial_mm < 0 and told.clicks else ""
            clicks = f"{sign}{fixed(told.clicks, 1)} clicks from zero"
            if told.line is None or told.drum is None:
                return clicks
            return f"line {sign}{told.line}, drum {fixed(told.drum, 1)}: {clicks}"
    return f"mark {fixed(dial_mm, 1)}"
