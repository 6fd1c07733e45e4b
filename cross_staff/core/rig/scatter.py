"""How much arrows scatter about the middle of their end, and ends about the archer's own middle from day to day."""

from __future__ import annotations

from dataclasses import dataclass

from cross_staff.core.rig.card import SPREAD_SD_LN, USUAL_SPREAD_MRAD, RigCard

DAY_PART = 0.35  # of the archer's spread is what a day sets all its arrows off by, until it is learned


@dataclass(frozen=True)
class Scatter:
    """One sd, in one direction, of an arrow about the middle of its end, and of all arrows of a day together [mrad];
    spread_sd_ln, how unsure the first is (sd of its logarithm), nought where somebody stated it or arrows told."""

    spread_mrad: float
    day_mrad: float
    spread_sd_ln: float = 0.0

    @property
    def assumed(self) -> bool:
        """Whether nobody stated the spread."""
        return self.spread_sd_ln > 0.0


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
