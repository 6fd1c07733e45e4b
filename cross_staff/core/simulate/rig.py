"""A rig whose hidden figures are known, shot by an archer with a known spread."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from cross_staff.core.ballistics.flight import RigFigures
from cross_staff.core.ballistics.sightline import impact_heights, pin_height


@dataclass(frozen=True)
class SimulatedGroup:
    """What is written down after shooting: mark on the scale [mm], mean height [m], arrows."""

    distance_m: float
    mark_mm: float
    up_m: float
    arrows: int


@dataclass(frozen=True)
class VirtualRig:
    """Hidden figures; home distance [m]; the scale's reading at home [mm]; the archer's spread, one
    sd in one direction [mrad]; sd of reading a mark [mm]; distances from the sight plane."""

    figures: RigFigures
    home_m: float
    scale_at_home_mm: float
    spread_mrad: float = 1.0
    reading_sd_mm: float = 0.1

    def mark(self, distance_m: float) -> float:
        """The true mark on the scale [mm]."""
        below = pin_height(self.figures, self.home_m) - pin_height(self.figures, distance_m)
        return self.scale_at_home_mm + 1000.0 * below

    def shoot(self, generator: np.random.Generator, distance_m: float, mark_mm: float, arrows: int) -> SimulatedGroup:
        """Set the sight to a mark, shoot, and write down where the middle of the group is."""
        set_to = mark_mm + generator.normal(0.0, self.reading_sd_mm)
        height = pin_height(self.figures, self.home_m) - (set_to - self.scale_at_home_mm) / 1000.0
        spread = self.spread_mrad * 1e-3 * distance_m / math.sqrt(arrows)
        up = float(impact_heights(self.figures, height, distance_m)[0]) + generator.normal(0.0, spread)
        return SimulatedGroup(distance_m, mark_mm, up, arrows)

    def chronograph(
        self, generator: np.random.Generator, count: int, in_front_m: float, spread_mps: float
    ) -> list[float]:
        """Readings as displayed, a chronograph standing `in_front_m` of the sight [m/s]."""
        speed = self.figures.speed_mps * math.exp(-self.figures.drag_per_m * in_front_m)
        return [float(v) for v in generator.normal(speed, spread_mps, count)]
