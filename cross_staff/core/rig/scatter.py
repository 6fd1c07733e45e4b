"""How much arrows scatter about the middle of their end, and ends about the archer's own middle from day to day."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace

from cross_staff.core.rig.card import SPREAD_SD_LN, USUAL_SPREAD_MRAD, RigCard

DAY_PART = 0.35  # of the archer's spread is what a day sets all its arrows off by, until it is learned
DAY_SD_LN = 0.55  # how far archers differ in what their days do, beside their spread
OTHER_BOW_SD_LN = 0.2  # how far one archer's spread differs from bow to bow


@dataclass(frozen=True)
class Scatter:
    """One sd, in one direction, of an arrow about the middle of its end, and of all arrows of a day together [mrad];
    spread_sd_ln, how unsure the first is (sd of its logarithm), nought where somebody stated it or arrows told;
    day_sd_ln, how unsure the day's part of the spread is; day_told, what the marks of two days and more say of the
    logarithm of that part, and its sd, None where they do not; other_bows, whether the archer's other bows told of
    the spread."""

    spread_mrad: float
    day_mrad: float
    spread_sd_ln: float = 0.0
    day_sd_ln: float = DAY_SD_LN
    day_told: tuple[float, float] | None = None
    other_bows: bool = False

    @property
    def assumed(self) -> bool:
        """Whether nobody stated the spread."""
        return self.spread_sd_ln > 0.0


@dataclass(frozen=True)
class OtherBow:
    """What another bow of the same archer tells of him: his spread with it [mrad], None where nobody stated it nor
    arrows told; what its marks say of his days, as `Scatter.day_told`."""

    spread_mrad: float | None
    day_told: tuple[float, float] | None


def of_archer(scatter: Scatter, others: Sequence[OtherBow]) -> Scatter:
    """What is known of an archer's scatter with one bow, once his other bows are heard.

    Each says of the logarithm of the day's part of the spread what its marks add to what is known of archers; these
    add up. A spread that nobody stated begins with that of the other bows.

    Args:
        scatter: by this bow's own card and arrows [mrad].
        others: the archer's other bows, shape (n,).

    Returns:
        the scatter [mrad].

    Source:
        products of normal densities; docs/method.md, section 5.
    """
    spreads = [math.log(each.spread_mrad) for each in others if each.spread_mrad]
    spread, unsure = scatter.spread_mrad, scatter.spread_sd_ln
    if scatter.assumed and spreads:
        spread, unsure = math.exp(sum(spreads) / len(spreads)), OTHER_BOW_SD_LN
    precision, mean = DAY_SD_LN**-2, math.log(DAY_PART) * DAY_SD_LN**-2
    for told in (each.day_told for each in others if each.day_told is not None):
        adds = told[1] ** -2 - DAY_SD_LN**-2
        if adds > 0.0:
            precision += adds
            mean += told[0] * told[1] ** -2 - math.log(DAY_PART) * DAY_SD_LN**-2
    day = spread * math.exp(mean / precision)
    other = scatter.assumed and bool(spreads)
    return replace(
        scatter, spread_mrad=spread, day_mrad=day, spread_sd_ln=unsure, day_sd_ln=precision**-0.5, other_bows=other
    )


def usual_scatter(card: RigCard) -> Scatter:
    """What is known of an archer's scatter before any arrow.

    Args:
        card: the rig's card.

    Returns:
        the card's spread, else the median of archers and how far they differ; the day in proportion [mrad].

    Source:
        docs/method.md, section 5.
    """
    stated = card.goals.spread_mrad
    spread = stated or USUAL_SPREAD_MRAD
    return Scatter(spread, DAY_PART * spread, 0.0 if stated else SPREAD_SD_LN)
