"""Histories of a tape that is proven: lines over visits, whose truth only the simulator knows."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from cross_staff.core.prove.lines import ProofShots, Proving, TapeScale

NEAR_M, FAR_M = (26.0, 38.0, 47.0), (61.0, 78.0)
ARROWS = 4


@dataclass(frozen=True)
class HiddenTape:
    """What is wrong with a tape, and with those who prove it: shift [mm] and stretch; how many times what is believed
    a day does; what the pointer is knocked by [mm] before a visit; what share the drop of the arrows of one visit is
    more by; what one line lies by [m]."""

    shift_mm: float = 0.0
    stretch: float = 0.0
    days_times: float = 1.0
    knocked_mm: float = 0.0
    knocked_before: int = 0
    swapped: float = 0.0
    lie_m: float = 0.0

    def up_m(self, scale: TapeScale, distance_m: float, visit: int = 0, last: bool = False) -> float:
        """How high arrows come in, dialled by the tape, on no day's own [m].

        Args:
            scale: the tape as printed [mm; m].
            distance_m: [m as the tape counts].
            visit: which visit.
            last: after all visits, whatever happened on one of them.

        Returns:
            [m], up.

        Source:
            docs/method.md, section 17.
        """
        moved = self.shift_mm + (self.knocked_mm if last or visit >= self.knocked_before else 0.0)
        away = moved + self.stretch * scale.beyond_home_mm(distance_m)
        return -away / scale.mm_per_m(distance_m)


def history(
    scale: TapeScale,
    truth: HiddenTape,
    asked: Proving,
    visits: int,
    rng: np.random.Generator,
    spread_out: bool = True,
) -> list[ProofShots]:
    """Lines of so many visits, two each.

    Args:
        scale: the tape as printed [mm; m].
        truth: what is wrong with it.
        asked: what the archer is believed to scatter by [mrad].
        visits: how many.
        rng: the source of chance.
        spread_out: one near stake and one far a visit, else any two.

    Returns:
        the lines, shape (2 visits,).

    Source:
        docs/method.md, section 17.
    """
    swapped = int(rng.integers(visits)) if truth.swapped else -1
    lies = int(rng.integers(2 * visits)) if truth.lie_m else -1
    lines: list[ProofShots] = []
    for visit in range(visits):
        day = rng.normal(0.0, truth.days_times * asked.day_mrad) * 1e-3
        pair = (rng.choice(NEAR_M), rng.choice(FAR_M)) if spread_out else rng.choice(NEAR_M + FAR_M, 2, False)
        for distance in pair:
            d, f = scale.from_sight_m(distance), scale.mm_per_m(distance)
            up = truth.up_m(scale, float(distance), visit) + day * d
            up -= truth.swapped * scale.beyond_home_mm(distance) / f if visit == swapped else 0.0
            up += rng.normal(0.0, 1e-3 * asked.spread_mrad * d / ARROWS**0.5)
            up += rng.normal(0.0, asked.reading_mm) / f
            up += truth.lie_m if len(lines) == lies else 0.0
            lines.append(ProofShots(float(distance), float(distance), round(float(up), 3), ARROWS, f"visit {visit}"))
    return lines
