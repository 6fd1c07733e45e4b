"""A reading of a scale as the hand sets it: a whole line and the drum beyond it, clicks from nought and from home."""

from __future__ import annotations

import math
from dataclasses import dataclass

from cross_staff.core.rig.sight import SightModel

_SAME_PART = 0.02  # a turn that makes a division within this makes it


@dataclass(frozen=True)
class DrumReading:
    """A reading as it is set, to a tenth of a click, without its sign: whole lines of the scale and clicks of the drum
    beyond the last of them, None where the scale's divisions are not known; clicks from nought; whole turns and the
    clicks beyond them, None where a turn is not known."""

    clicks: float
    line: int | None = None
    drum: float | None = None
    turns: int | None = None
    rest: float | None = None

    @classmethod
    def of(cls, sight: SightModel, reading_mm: float, ratio: float = 1.0) -> DrumReading | None:
        """A reading of the scale as line and drum, clicks, turns and clicks.

        The drum stands at nought on a whole line (it was zeroed so), where a turn makes a division; else its clicks are
        those beyond the last whole turn.

        Args:
            sight: the sight model.
            reading_mm: from the scale's nought, or from another reading [mm].
            ratio: scale travel per housing travel [-].

        Returns:
            the reading without its sign; None without a click of known travel.

        Source:
            the sight model.
        """
        per_click, control = scale_mm_per_click(sight, ratio), sight.dialling_control()
        if per_click is None or control is None:
            return None
        clicks = round(abs(reading_mm) / per_click, 1)
        turns, rest = _parts(clicks, control.clicks_per_turn)
        division = sight.scale_division_mm
        if not division:
            return cls(clicks, turns=turns, rest=rest)
        per_line = division / per_click
        if control.clicks_per_turn and abs(per_line / control.clicks_per_turn - 1.0) <= _SAME_PART:
            per_line = control.clicks_per_turn
        line, beyond = _parts(clicks, per_line)
        on_a_line = control.clicks_per_turn is None or per_line == control.clicks_per_turn
        return cls(clicks, line, beyond if on_a_line else rest, turns, rest)


def scale_mm_per_click(sight: SightModel, ratio: float) -> float | None:
    """What a click of the elevation is worth on the scale.

    Args:
        sight: the sight model.
        ratio: scale travel per housing travel [-].

    Returns:
        [mm]; None without a click of known travel.

    Source:
        the sight model.
    """
    control = sight.dialling_control()
    return None if control is None or not control.per_click_mm else ratio * control.per_click_mm


def _parts(clicks: float, in_one: float | None) -> tuple[int | None, float | None]:
    if not in_one:
        return None, None
    whole = math.floor(clicks / in_one + 1e-9)
    return whole, round(clicks - whole * in_one, 1)
