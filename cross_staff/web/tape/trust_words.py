"""What a tape's trust rests on, in words: days, the archer's spread, the speed, pins that nobody shot."""

from __future__ import annotations

from collections.abc import Sequence

from cross_staff.core.rig.card import SPREADS_ACROSS_GROUP, RigCard
from cross_staff.core.rig.scatter import Scatter
from cross_staff.core.tape.comparison import Day
from cross_staff.core.tape.forecast import COVERAGE
from cross_staff.core.tape.station import ARROWS_TO_SHOOT, GAIN_WORTH_SHOOTING, MANY_ARROWS, Evaluation
from cross_staff.web.forms.units import Units
from cross_staff.web.shared import pin_words
from cross_staff.web.shared.words import on_target, plus_minus, whole_distance


def days(days: Sequence[Day], units: Units) -> list[str]:
    """What each day's marks say against all, where they were shot on more than one."""
    if len(days) < 2:
        return []
    return [_day(day, units) for day in days]


def _day(day: Day, units: Units) -> str:
    high = 1e-3 * day.high_mrad * day.farthest_m
    wide = f"{plus_minus(units, 'offset', 1e-3 * day.sd_mrad * day.farthest_m)} {units.label('offset')}"
    said = f"{on_target(units, high)} {'high' if high > 0.0 else 'low'} {wide}"
    marks = f"{day.count} mark{'s' if day.count > 1 else ''}"
    unusual = "; more than days do: was something moved, or another air?" if day.differs else ""
    at = f"{units.as_typed('distance', day.farthest_m)} {units.label('distance')}"
    return f"{day.day}: {marks}, {said} at {at}{unusual}"


def another_day(evaluation: Evaluation, farthest_m: float | None, units: Units) -> str:
    """That a few arrows on another day tell more than many on the day of the newest marks; empty where they do not."""
    best, same = evaluation.next_shot, evaluation.same_day
    if best is None or same is None or farthest_m is None:
        return ""
    if best.sd_at_farthest_m_then > GAIN_WORTH_SHOOTING * same.sd_at_farthest_m_then:
        return ""
    far, at = whole_distance(units, farthest_m), whole_distance(units, best.distance_m)
    then, now = (
        f"{plus_minus(units, 'offset', each.sd_at_farthest_m_then)} {units.label('offset')}" for each in (best, same)
    )
    return (
        f"Another day tells more: {ARROWS_TO_SHOOT} arrows at {at} on a day of their own leave {then} at {far}, "
        f"{MANY_ARROWS} more on the day of the newest marks {now}."
    )


def unmeasured(card: RigCard, evaluation: Evaluation, units: Units) -> str:
    """That the speed was not measured, and what a chronograph would make of it; empty where it was."""
    expected, would = card.expected_speed(), evaluation.chronograph
    if expected is None or would is None or card.goals.farthest_m is None:
        return ""
    far = whole_distance(units, card.goals.farthest_m)
    sds = (would.sd_at_farthest_m_now, would.sd_at_farthest_m_then)
    now, then = (f"±\u00a0{on_target(units, COVERAGE * sd)}" for sd in sds)
    if would.sd_at_farthest_m_then > GAIN_WORTH_SHOOTING * would.sd_at_farthest_m_now:
        return f"The speed was not measured, and by now the marks tell it: with a chronograph {then} at {far}, as now."
    return f"The speed was not measured: it is taken from the bow. A chronograph would bring {now} at {far} to {then}."


def assumed(scatter: Scatter | None, units: Units) -> str:
    """That nobody said how wide this archer shoots, and what is counted in its place; empty where somebody did."""
    if scatter is None or not scatter.assumed:
        return ""
    at = units.to_si("distance", 30.0)
    across = on_target(units, SPREADS_ACROSS_GROUP * 1e-3 * scatter.spread_mrad * at)
    bow, known = (" with this bow", ", as with the others") if scatter.other_bows else ("", "")
    return (
        f"Nobody said how wide this archer groups{bow}: six arrows are counted as {across} across at "
        f"{whole_distance(units, at)}{known}. His usual group on the card makes every ± his own."
    )


def unshot(card: RigCard, evaluation: Evaluation, units: Units) -> str:
    """That nobody shot the pin that is dialled, and what is taken for granted of it; empty where somebody did."""
    pins, home = evaluation.pins, evaluation.tape_home_m
    if not card.sight_kind.dialled or not evaluation.dialled_unshot or home is None:
        return ""
    name = pin_words.pin_name(card, pins.at_m, pins.dialled, units)
    return (
        f"Nobody shot {pin_words.the(name)} yet, which is dialled: all this holds once it is right for "
        f"{whole_distance(units, home)} with the sight at home."
    )


def carried(card: RigCard, evaluation: Evaluation, units: Units) -> str:
    """That the marks of another arrow of this bow are counted too; empty where none are."""
    others = [row for row in evaluation.used if row.arrow]
    if not others or not evaluation.own:
        return ""
    many = "1 mark" if len(others) == 1 else f"{len(others)} marks"
    return f"{many} of another arrow count too: for bow, sight and zero, and for this arrow by what both share."
