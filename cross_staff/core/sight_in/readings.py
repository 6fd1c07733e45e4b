"""A reading of the dial as it is read: millimetres, divisions, turns and clicks, the strip's own number."""

from __future__ import annotations

from enum import StrEnum

from cross_staff.core.errors import InvalidValue
from cross_staff.core.rig.card import RigCard
from cross_staff.core.rig.drum import scale_mm_per_click
from cross_staff.core.sight_in.estimate import AimEstimate


class ReadAs(StrEnum):
    """What a reading is counted in."""

    MM = "mm"
    DIVISION = "division"
    CLICK = "click"
    STRIP = "strip"


READ_MM, READ_DIVISION, READ_CLICK, READ_STRIP = ReadAs


def ways_to_read(card: RigCard, estimate: AimEstimate | None) -> tuple[ReadAs, ...]:
    """The ways in which this sight's dial can be read, the usual one first.

    Args:
        card: the rig's card.
        estimate: None while nothing is reckoned.

    Returns:
        the ways; the strip's number once there are marks that say what it means.

    Source:
        a rule of the craft.
    """
    ways = [READ_MM]
    if card.sight.scale_division_mm and card.sight.scale_division_mm != 1.0:
        ways.append(READ_DIVISION)
    drum = card.sight.dialling_control()
    if drum is not None and drum.per_click_mm:
        ways.append(READ_CLICK)
    if estimate is not None and estimate.fit.observations:
        ways.append(READ_STRIP)
    return tuple(ways)


def reading_mm(card: RigCard, estimate: AimEstimate | None, way: ReadAs, value: float, clicks: float = 0.0) -> float:
    """What a reading is on the scale [mm].

    Args:
        card: the rig's card.
        estimate: for the strip.
        way: what it is counted in.
        value: millimetres, divisions, the strip's number [in its own unit of distance], whole turns, or clicks alone
            where `clicks` is nought and the drum's clicks a turn are not known.
        clicks: beside whole turns [-].

    Returns:
        [mm] on the scale.

    Raises:
        InvalidValue: for a way in which this sight cannot be read, or a number that is on no strip.

    Source:
        the sight model; for the strip the fit, docs/method.md, section 5.
    """
    if way not in ways_to_read(card, estimate):
        raise InvalidValue("dial", "this sight cannot be read like that")
    if way == READ_DIVISION:
        return value * (card.sight.scale_division_mm or 1.0)
    if way == READ_CLICK:
        drum = card.sight.dialling_control()
        assert drum is not None and drum.per_click_mm
        ratio = card.tape.ratio if estimate is None else estimate.fit.tape_ratio
        per_click = scale_mm_per_click(card.sight, ratio or 1.0) or drum.per_click_mm
        return (value * (drum.clicks_per_turn or 0.0) + clicks) * per_click
    if way == READ_STRIP:
        mark = estimate.fitted_mark(value * card.tape.unit_m) if estimate is not None and value > 0.0 else None
        if mark is None:
            raise InvalidValue("dial", "there is no such number on the strip")
        return mark[0]
    return value
