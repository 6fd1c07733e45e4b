"""Chronograph readings: what they say of the speed at the sight plane, and which one is odd."""

from __future__ import annotations

import math
from collections import Counter
from dataclasses import dataclass
from datetime import date

import numpy as np

from cross_staff.core.errors import InvalidValue

DEFAULT_DISTANCE_M = 1.5
DEFAULT_ACCURACY = 0.005  # one sd, as a part of the reading, for an instrument without a paper
ODD_CHANCE = 0.05  # of pointing at a sound reading, in a whole session
ONE_SHOT_S = 1.0  # no bow is shot twice within a second: what comes again so soon is the same arrow
_LEAST_SPREAD = 0.001  # part of the speed: below this the spread is luck, not knowledge


@dataclass(frozen=True)
class ChronographSession:
    """Readings as displayed [m/s], kept and left out alike; the instrument; where it stood; when, at
    which draw weight [N] and with which mass of arrow [kg], None for what the card says now."""

    readings_mps: tuple[float, ...]
    left_out: frozenset[int] = frozenset()
    distance_m: float = DEFAULT_DISTANCE_M
    accuracy: float = DEFAULT_ACCURACY
    day: date | None = None
    draw_weight_n: float | None = None
    mass_kg: float | None = None

    @property
    def kept_mps(self) -> tuple[float, ...]:
        return tuple(v for i, v in enumerate(self.readings_mps) if i not in self.left_out)

    def summary(self) -> SpeedSummary:
        """Mean, spread and standard error. Raises InvalidValue when nothing is kept."""
        return summary(self)

    def same_as(self, other: ChronographSession) -> bool:
        """Whether it is another one with a few readings mended: more than half of them are the same."""
        shared = sum((Counter(self.readings_mps) & Counter(other.readings_mps)).values())
        return shared > 0 and 2 * shared > max(len(self.readings_mps), len(other.readings_mps))


@dataclass(frozen=True)
class SpeedSummary:
    """Of the kept readings: count, mean [m/s], spread s [m/s], standard error [m/s].

    spread and standard error are None for a single reading. `odd` is the index, among all
    readings, of the one that the others do not expect.
    """

    count: int
    mean_mps: float
    spread_mps: float | None
    standard_error_mps: float | None
    odd: int | None


def same_shot(before_s: float, after_s: float) -> bool:
    """Whether a reading comes so soon after the last one that both are of one arrow.

    Args:
        before_s: the instrument's own time of the earlier reading [s].
        after_s: that of the later one [s]; earlier than the other where the instrument was switched on anew.

    Returns:
        True within ONE_SHOT_S of one another, in this order.

    Source:
        derived in docs/method.md, section 5.
    """
    return 0.0 <= after_s - before_s < ONE_SHOT_S


def summary(session: ChronographSession) -> SpeedSummary:
    """Mean, spread and standard error of a session. Raises InvalidValue when nothing is kept."""
    kept = np.array(session.kept_mps)
    if not len(kept):
        raise InvalidValue("readings", "at least one reading must be kept")
    mean = float(kept.mean())
    if len(kept) == 1:
        return SpeedSummary(1, mean, None, None, None)
    spread = float(kept.std(ddof=1))
    return SpeedSummary(len(kept), mean, spread, spread / math.sqrt(len(kept)), odd_reading(session))


def odd_reading(session: ChronographSession) -> int | None:
    """Index of the kept reading that lies farthest outside what the others predict, if any does.

    Each is held against mean and spread of the rest, |x - mean| / (s sqrt(1 + 1/(n - 1))), and
    Student's t with n - 2 degrees of freedom, shared over the n readings; at least four of them.

    Source: deletion residual, R. D. Cook and S. Weisberg, Residuals and Influence in Regression, 1982.
    """
    from scipy.special import stdtrit

    indexes = [i for i in range(len(session.readings_mps)) if i not in session.left_out]
    count = len(indexes)
    if count < 4:
        return None
    values = np.array([session.readings_mps[i] for i in indexes])
    distances = [_held_against_the_rest(values, i) for i in range(count)]
    worst = int(np.argmax(distances))
    limit = float(stdtrit(count - 2, 1.0 - ODD_CHANCE / (2.0 * count)))
    return indexes[worst] if distances[worst] > limit else None


def _held_against_the_rest(values: np.ndarray, index: int) -> float:
    rest = np.delete(values, index)
    spread = max(float(rest.std(ddof=1)), _LEAST_SPREAD * float(rest.mean()))
    return abs(float(values[index] - rest.mean())) / (spread * math.sqrt(1.0 + 1.0 / len(rest)))


@dataclass(frozen=True)
class SpeedAtSight:
    """Speed at the sight plane [m/s] and its sd [m/s]."""

    speed_mps: float
    sd_mps: float
