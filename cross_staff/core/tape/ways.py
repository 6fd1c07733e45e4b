"""How a distance is shot: a pin that holds it with the sight at home, else a pointer and the number under it.

Heights and travels are of the housing; distances from the sight plane, on the far branch.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from enum import StrEnum

import numpy as np

from cross_staff.core.ballistics.flight import RigFigures, Trajectories
from cross_staff.core.ballistics.sightline import far_distances, pin_heights
from cross_staff.core.tape.holds import impacts

HALF_A_LINE_MM = 0.1  # travel that a hand does not see
_LIMIT_M = 0.05


class NoWay(StrEnum):
    """Why a distance cannot be had."""

    ARROW = "arrow"  # the arrow does not fly so far
    ABOVE = "above"  # the sight would have to stand higher above home than it can
    BELOW = "below"  # the housing, or the tape, ends before


@dataclass(frozen=True)
class Way:
    """A way to shoot a distance: with which pin; at_home, where nothing is dialled, and how high it then comes in [m];
    else how far the housing goes down from home [mm], and the number that is set under the pin's own pointer [m from
    the sight plane]."""

    pin: int
    at_home: bool
    travel_mm: float = 0.0
    line_m: float | None = None
    up_m: float = 0.0


@dataclass(frozen=True)
class Answer:
    """How a distance [m from the sight plane] is shot, the best way first; where there is none, why, and by how much
    it misses [mm of the housing]."""

    distance_m: float
    ways: tuple[Way, ...] = ()
    problem: NoWay | None = None
    misses_mm: float = 0.0

    @property
    def best(self) -> Way | None:
        return self.ways[0] if self.ways else None


@dataclass(frozen=True)
class Travel:
    """What there is to dial with: travel of the housing above and below home [mm], None below where nothing is known
    to end it; and how far each pin's pointer goes [m from the sight plane], None likewise."""

    above_mm: float = 0.0
    below_mm: float | None = None
    ends_m: Mapping[int, float | None] | None = None


def answers(
    figures: RigFigures,
    heights_m: Sequence[float],
    pointed: Sequence[int],
    wanted_m: Sequence[float],
    hold_m: float,
    travel: Travel,
) -> list[Answer]:
    """How each of several distances is shot.

    A pin holds a distance at home where it comes in within half of the target: then nothing is dialled. Else every pin
    that has a pointer can be brought there, s = h_p - h(d), and its pointer then stands on that distance, because the
    tape is one and each pointer stays as far from the others as its pin. Nearer than the turnover it stands on the
    farther distance that shares the mark.

    Args:
        figures: speed [m/s], drag [1/m], eye to sight [m] and peep height [m] of the rig.
        heights_m: [m] of the pins above the arrow line at home, shape (n,).
        pointed: the pins that have a pointer, by their places.
        wanted_m: [m] from the sight plane, shape (k,).
        hold_m: how far off the aim is good enough with nothing dialled [m]; nought where everything is dialled.
        travel: what there is to dial with.

    Returns:
        k answers, in the order asked.

    Source:
        derived in docs/method.md, section 15.
    """
    if not len(wanted_m):
        return []
    goals = pin_heights(Trajectories.of(figures, list(wanted_m)))
    lines = far_distances(figures, [float(h) if ok else -1.0 for h, ok in zip(goals.height_m, goals.reached)])
    up = impacts(figures, list(heights_m), list(wanted_m)) if len(heights_m) else np.zeros((0, len(wanted_m)))
    told = []
    for row, distance in enumerate(wanted_m):
        if not goals.reached[row]:
            told.append(Answer(distance, problem=NoWay.ARROW))
            continue
        held = [(abs(float(v)), pin) for pin, v in enumerate(up[:, row]) if np.isfinite(v) and abs(v) <= hold_m]
        at_home = [Way(pin, True, up_m=float(up[pin, row])) for _, pin in sorted(held)[:1]]
        travels = {
            pin: 1000.0 * (heights_m[pin] - float(goals.height_m[row])) for pin in pointed if pin < len(heights_m)
        }
        dialled = [
            Way(pin, False, mm, lines[row]) for pin, mm in travels.items() if not _ends(pin, mm, distance, travel)
        ]
        ways = (*at_home, *sorted(dialled, key=lambda way: abs(way.travel_mm)))
        told.append(Answer(distance, ways) if ways else _none(distance, travels, travel))
    return told


def _ends(pin: int, travel_mm: float, distance_m: float, travel: Travel) -> NoWay | None:
    """What a pin lacks to be brought to a distance."""
    if travel_mm < -travel.above_mm - HALF_A_LINE_MM:
        return NoWay.ABOVE
    end = (travel.ends_m or {}).get(pin)
    if travel.below_mm is not None and travel_mm > travel.below_mm + HALF_A_LINE_MM:
        return NoWay.BELOW
    return NoWay.BELOW if end is not None and distance_m > end + _LIMIT_M else None


def _none(distance_m: float, travels_mm: Mapping[int, float], travel: Travel) -> Answer:
    """That no pin comes there, and what the one that comes nearest lacks."""
    above = [-mm - travel.above_mm for mm in travels_mm.values() if mm < -travel.above_mm]
    if above and len(above) == len(travels_mm):
        return Answer(distance_m, problem=NoWay.ABOVE, misses_mm=min(above))
    below = [mm - travel.below_mm for mm in travels_mm.values() if travel.below_mm is not None]
    return Answer(distance_m, problem=NoWay.BELOW, misses_mm=max(min(below, default=0.0), 0.0))
