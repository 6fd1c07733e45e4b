"""Is today a tape day? From the first ends at home, the archer's own earlier ones, and the wind."""

from __future__ import annotations

import math
from dataclasses import dataclass
from enum import StrEnum

from cross_staff.core.sight_in.dispersion import squares_within
from cross_staff.core.sight_in.estimate import AimEstimate, same_distance, wind_drift_m
from cross_staff.core.sight_in.log import End, RangeSession


class DayVerdict(StrEnum):
    """Whether today's arrows can make a tape."""

    GO = "go"
    HALF = "half"
    NO = "no"
    NOT_YET = "not_yet"


GO, HALF, NO, NOT_YET = DayVerdict
LEAST_ARROWS = 5
WIDER_P, MUCH_WIDER_P = 0.05, 0.005
WINDY, VERY_WINDY = 0.5, 1.5  # drift at home in the archer's spreads


@dataclass(frozen=True)
class TapeDay:
    """The answer with a code for why: today's spread over the earlier one, the chance of that by luck,
    and what the crosswind may do at the home distance, in spreads. None is not known."""

    verdict: DayVerdict
    because: str
    ratio: float | None = None
    p_value: float | None = None
    drift_spreads: float | None = None


def tape_day(estimate: AimEstimate, session: RangeSession | None) -> TapeDay:
    """Judge a session by its ends at home.

    F test of today's variance about the ends' middles against the earlier ends' (or the card's usual
    group), one-sided; the crosswind by the lag rule.
    """
    if session is None:
        return TapeDay(NOT_YET, "no_session")
    home = estimate.distances[0]
    wind = None
    if session.crosswind_mps is not None:
        distance = estimate.card.distance_from_sight(home)
        drift = wind_drift_m(estimate.fit, distance, session.crosswind_mps)
        wind = abs(drift) / (1e-3 * estimate.spread.mrad * distance)
    ends = [end for end in estimate.log.ends if end.session == session.number and end.ranged_m is not None]
    today = [end for end in ends if same_distance(end.ranged_m or 0.0, home)]
    ratio, p_value = compared(estimate, today, session.number)
    if wind is not None and wind > VERY_WINDY:
        return TapeDay(NO, "very_windy", ratio, p_value, wind)
    if sum(e.arrows for e in today) < LEAST_ARROWS:
        return TapeDay(NOT_YET, "too_few", ratio, p_value, wind)
    if p_value is None:
        return TapeDay(GO if not wind or wind < WINDY else HALF, "no_history", ratio, p_value, wind)
    if p_value < MUCH_WIDER_P:
        return TapeDay(NO, "much_wider", ratio, p_value, wind)
    if p_value < WIDER_P:
        return TapeDay(HALF, "wider", ratio, p_value, wind)
    if wind is not None and wind > WINDY:
        return TapeDay(HALF, "windy", ratio, p_value, wind)
    return TapeDay(GO, "as_usual", ratio, p_value, wind)


def compared(estimate: AimEstimate, ends: list[End], session: int) -> tuple[float | None, float | None]:
    """Spread of some ends over the archer's own earlier one, and the chance of so wide by luck.

    Args:
        estimate: the estimate.
        ends: ends of arrows.
        session: the number of the session in hand.

    Returns:
        spread over the earlier one [-], and the chance of so wide by luck [-]; None where either is not known.

    Source:
        F distribution; docs/method.md, section 14.
    """
    from scipy.special import fdtrc

    earlier = [e for e in estimate.counted if e.session < session]
    own, freedom = squares_within(estimate.card, ends)
    theirs, much = squares_within(estimate.card, earlier)
    if much < 4.0:
        usual = estimate.card.goals.spread_mrad
        theirs, much = (0.0, 0.0) if usual is None else (10.0 * usual**2, 10.0)
    if freedom < 2.0 or much < 4.0 or theirs <= 0.0:
        return None, None
    ratio = (own / freedom) / (theirs / much)
    return math.sqrt(ratio), float(fdtrc(freedom, much, ratio))
