"""Coordinates of the pins in their housing, to scale."""

from __future__ import annotations

from dataclasses import dataclass

from cross_staff.core.tape.stack import Stack
from cross_staff.services.rig import Rig


@dataclass(frozen=True)
class PinDrawing:
    """A pin in the housing [px]: its height, twice its sd, its name, how far below the top one, whether
    it fits."""

    y: float
    spread: float
    name: str
    below: str
    fits: bool

    @property
    def band(self) -> float:
        """Height of the band that it may stand in."""
        return 2.0 * self.spread


@dataclass(frozen=True)
class HousingDrawing:
    """The housing to scale [px of 260 by 230]: its rings about the middle, and its pins."""

    middle_x: float
    middle_y: float
    inner: float
    outer: float
    pins: tuple[PinDrawing, ...]

    @property
    def edge(self) -> float:
        """The outermost point of the housing, where the names begin."""
        return self.middle_x + self.outer


def housing(rig: Rig, names: list[str]) -> HousingDrawing | None:
    """The pins where they are predicted, in the housing; None where its size or their places are not known."""
    stack: Stack | None = rig.stack
    inner, outer = rig.card.sight.housing.inner_mm, rig.card.sight.housing.outer_mm
    if stack is None or inner is None:
        return None
    outer = outer or 1.15 * inner
    per_mm = 200.0 / outer
    middle_x, middle_y = 105.0, 112.0
    top = middle_y - per_mm * (stack.top_above_middle_mm or 0.0)
    pins = tuple(
        PinDrawing(
            top + per_mm * place.below_mm,
            2.0 * per_mm * (place.sd_mm or 0.0),
            names[place.pin],
            f"{place.below_mm:.1f}",
            place.fits is not False,
        )
        for place in stack.pins
        if place.below_mm is not None
    )
    return HousingDrawing(middle_x, middle_y, per_mm * inner / 2.0, per_mm * outer / 2.0, pins)
