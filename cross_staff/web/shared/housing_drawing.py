"""Coordinates of the pins in their housing, to scale."""

from __future__ import annotations

from dataclasses import dataclass

from cross_staff.core.tape.forecast import COVERAGE
from cross_staff.core.tape.stack import Stack
from cross_staff.services.rig import Rig
from cross_staff.web.forms.units import fixed


@dataclass(frozen=True)
class PinDrawing:
    """A pin in the housing [px]: its height, how far off it may be, its name, how far below the top one, whether
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
    """The pins where they belong in the housing; None where its size or their places are not known."""
    if rig.stack is None:
        return None
    places = [(place.pin, place.below_mm, place.sd_mm, place.fits is not False) for place in rig.stack.pins]
    return _drawn(rig, rig.stack, names, places)


def stood_housing(rig: Rig, names: list[str]) -> HousingDrawing | None:
    """The pins where they stand in the housing; None while no pin beside the top one was shot or set."""
    known = [each for each in rig.pins_stand if each.below_mm is not None]
    if rig.stack is None or not any(each.pin for each in known):
        return None
    return _drawn(rig, rig.stack, names, [(each.pin, each.below_mm, each.sd_mm, True) for each in known])


def _drawn(
    rig: Rig, stack: Stack, names: list[str], places: list[tuple[int, float | None, float | None, bool]]
) -> HousingDrawing | None:
    inner, outer = rig.card.sight.housing.inner_mm, rig.card.sight.housing.outer_mm
    if inner is None:
        return None
    outer = outer or 1.15 * inner
    per_mm = 200.0 / outer
    middle_x, middle_y = 105.0, 112.0
    top = middle_y - per_mm * (stack.top_above_middle_mm or 0.0)
    pins = tuple(
        PinDrawing(top + per_mm * below, COVERAGE * per_mm * (sd or 0.0), names[pin], fixed(below, 1), fits)
        for pin, below, sd, fits in places
        if below is not None
    )
    return HousingDrawing(middle_x, middle_y, per_mm * inner / 2.0, per_mm * outer / 2.0, pins)
