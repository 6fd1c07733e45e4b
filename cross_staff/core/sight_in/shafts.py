"""Numbered arrows: does one of them land apart from the others, beyond chance, and what was done about it."""

from __future__ import annotations

import math
from collections.abc import Iterable, Mapping
from dataclasses import dataclass, replace
from enum import StrEnum

from cross_staff.core.rig.card import RigCard
from cross_staff.core.rig.log import BenchEntry
from cross_staff.core.sight_in.dispersion import pooled_dispersion
from cross_staff.core.sight_in.log import End

LEAST_SHOTS = 3
CHANCE = 0.01  # of naming a sound shaft, over all that were numbered


class ShaftSaid(StrEnum):
    """What was done about a shaft."""

    TURNED = "turned"
    WEEDED = "weeded"
    KEPT = "kept"


TURNED, WEEDED, KEPT = ShaftSaid


@dataclass(frozen=True)
class Shaft:
    """A numbered arrow: how many shots of it count, where they land beside the other arrows of their ends, right and
    up, as angles [mrad], the sd of each, what was said of it, and whether it lands apart beyond chance."""

    number: str
    shots: int
    right_mrad: float
    up_mrad: float
    sd_mrad: float
    said: str = ""
    apart: bool = False

    @property
    def away(self) -> float:
        """How far it lands from the others, in sds."""
        return math.hypot(self.right_mrad, self.up_mrad) / self.sd_mrad


def without_weeded(ends: Iterable[End], said: Mapping[str, BenchEntry]) -> tuple[End, ...]:
    """Ends with the shots of shafts that were weeded out left out of their sums; the log keeps them."""
    gone = frozenset(
        key.removeprefix("shaft:") for key, e in said.items() if key.startswith("shaft:") and e.choice == WEEDED
    )
    return tuple(replace(end, weeded=gone) if gone else end for end in ends)


def shafts(card: RigCard, ends: Iterable[End], said: Mapping[str, BenchEntry]) -> tuple[Shaft, ...]:
    """Every numbered shaft, by number. Since its nock was turned a shaft is another one.

    A shot is held against the other shots of its end: its distance from their middle has the variance
    spread^2 (1 + 1 / m); the mean of n such has a T^2 that follows chi-squared with two degrees of freedom.

    Args:
        card: the rig's card.
        ends: ends of arrows.
        said: what was said of shafts, by "shaft:" and the number.

    Returns:
        the shafts; apart, where T^2 is beyond chance among so many shafts.

    Source:
        docs/method.md, section 13.
    """
    ends = tuple(ends)
    spread = pooled_dispersion(card, ends).mrad
    away: dict[str, list[tuple[float, float, float]]] = {}
    for end in ends:
        for number, right, up, variance in _beside_the_others(card, end):
            entry = said.get(f"shaft:{number}")
            if entry is None or entry.choice != TURNED or end.entered >= entry.entered:
                away.setdefault(number, []).append((right, up, variance))
    told = [_shaft(number, rows, spread, said) for number, rows in away.items()]
    gone = {key.removeprefix("shaft:"): e.choice for key, e in said.items() if key.startswith("shaft:")}
    told += [Shaft(n, 0, 0.0, 0.0, spread, choice) for n, choice in gone.items() if n not in away and choice == WEEDED]
    limit = math.sqrt(-2.0 * math.log(CHANCE / max(len(told), 1)))
    named = (replace(s, apart=s.shots >= LEAST_SHOTS and s.away > limit and s.said not in (WEEDED, KEPT)) for s in told)
    return tuple(sorted(named, key=lambda s: (len(s.number), s.number)))


def _beside_the_others(card: RigCard, end: End) -> Iterable[tuple[str, float, float, float]]:
    """Each numbered shot of an end against the middle of its others: right and up [mrad], and the variance in those
    of one shot."""
    if end.ranged_m is None or len(end.kept) < 3 or end.left_out:
        return
    scale = 1e3 / card.distance_from_sight(end.ranged_m)
    for shot in end.shots:
        if shot.shaft and not shot.called_bad:
            others = [other for other in end.kept if other is not shot]
            x = shot.right_m - sum(other.right_m for other in others) / len(others)
            y = shot.up_m - sum(other.up_m for other in others) / len(others)
            yield shot.shaft, scale * x, scale * y, 1.0 + 1.0 / len(others)


def _shaft(
    number: str, rows: list[tuple[float, float, float]], spread_mrad: float, said: Mapping[str, BenchEntry]
) -> Shaft:
    count = len(rows)
    right, up = (sum(row[i] for row in rows) / count for i in (0, 1))
    sd = spread_mrad * math.sqrt(sum(row[2] for row in rows)) / count
    entry = said.get(f"shaft:{number}")
    return Shaft(number, count, right, up, sd, entry.choice if entry else "")
