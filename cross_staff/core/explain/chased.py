"""A sight moved after every group by that group's own error, against all arrows pooled."""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache

import numpy as np

SEEDS = 300
WILD = 4.0  # times as far as usual goes an arrow that was let go wildly


@dataclass(frozen=True)
class Chased:
    """Where the aim ends in each of so many trials [m, right and up], and the median of how far off that is [m]."""

    chased_m: tuple[tuple[float, float], ...]
    pooled_m: tuple[tuple[float, float], ...]
    chased_off_m: float
    pooled_off_m: float


@lru_cache(maxsize=64)
def chase(spread_mrad: float, arrows: int, groups: int, wild_percent: float, distance_m: float) -> Chased:
    """Two archers shoot the same arrows at a sight that is right. One moves it after each group by that group's own
    error; the other not before the last arrow, by the mean of all.

    Args:
        spread_mrad: one sd of the archer in one direction [mrad].
        arrows: in a group.
        groups: how many.
        wild_percent: arrows that go four times as far as usual [% of all].
        distance_m: [m].

    Returns:
        where both sights then point, of SEEDS trials [m].

    Source:
        simulation.
    """
    generator = np.random.default_rng(1)
    sd = 1e-3 * spread_mrad * distance_m
    wide = np.where(generator.random((SEEDS, groups, arrows, 1)) < wild_percent / 100.0, WILD, 1.0)
    shots = generator.normal(0.0, sd, (SEEDS, groups, arrows, 2)) * wide
    # after each group the sight is moved by what it saw: only the last group's own scatter is left in it
    chased = -shots[:, -1].mean(axis=1)
    pooled = -shots.reshape(SEEDS, -1, 2).mean(axis=1)
    off = [float(np.median(np.hypot(*each.T))) for each in (chased, pooled)]
    points = [tuple((float(x), float(y)) for x, y in each) for each in (chased, pooled)]
    return Chased(points[0], points[1], off[0], off[1])
