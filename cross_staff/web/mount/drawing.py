"""Coordinates of the side view: riser, rail, housing, peep, arrow and vanes, to scale."""

from __future__ import annotations

from dataclasses import dataclass

from cross_staff.core.mount.planner import Plan
from cross_staff.core.rig.card import USUAL_EYE_TO_PEEP_M, RigCard

WIDTH, HEIGHT = 920.0, 226.0
_BASE = 164.0  # the arrow line's y [px]
_USUAL_AHEAD_M, _USUAL_NOCK_M, _RISER_M, _VANES_M = 0.17, 0.12, 0.055, 0.055
_REAR_M = 0.014  # the nock's end of the vanes ahead of the nock
_BEHIND_M, _AHEAD_M = 0.03, 0.10  # room behind the nock or the eye, and ahead of the sight


@dataclass(frozen=True)
class DrawnHousing:
    """A housing edge on: top, pin and lower edge [px]."""

    x: float
    top: float
    pin: float
    bottom: float

    @property
    def height(self) -> float:
        return self.bottom - self.top


@dataclass(frozen=True)
class SideView:
    """The side view [px]; `scale` pixels a millimetre. far_pin is None where it is not known how far,
    far where the housing stays and only the pin is another."""

    width: float
    height: float
    scale: float
    base: float
    nock: float
    end: float
    peep: tuple[float, float]
    eye: tuple[float, float]
    riser: tuple[float, float]
    vanes: tuple[float, float, float]
    rail: tuple[float, float, float]
    home: DrawnHousing
    far: DrawnHousing | None
    far_pin: float | None
    detents: tuple[tuple[float, bool], ...]
    clear_words: str
    peep_words: str
    lever_words: str
    far_words: str

    @property
    def notch_y(self) -> float:
        """Where the riser gives way to the arrow."""
        return self.base - 26.0

    @property
    def riser_foot(self) -> float:
        return self.height - 30.0

    @property
    def string_end(self) -> tuple[float, float]:
        """Where the string above the peep is broken off."""
        right, up = self.peep[0] - self.nock, self.base - self.peep[1]
        return self.peep[0] + 0.55 * right, self.peep[1] - 0.55 * up

    @property
    def vane_path(self) -> str:
        back, front, top = self.vanes
        return f"M{back} {self.base} L{back + 3.0} {top} H{front - 10.0} L{front} {self.base} z"

    @property
    def clear_end(self) -> float:
        return self.width - 24.0

    @property
    def rail_middle(self) -> float:
        return (self.rail[1] + self.rail[2]) / 2.0

    @property
    def rail_height(self) -> float:
        return self.rail[2] - self.rail[1]

    @property
    def lever_middle(self) -> float:
        return (self.peep[0] + self.home.x) / 2.0

    @property
    def peep_middle(self) -> float:
        return (self.peep[1] + self.base) / 2.0 + 6.0


def side_view(card: RigCard, plan: Plan, far_words: str) -> SideView:
    """The rig from its side at full draw, the archer to the left, in the plan's place."""
    figures, mount, housing = plan.figures, card.mount, card.sight.housing
    lever = figures.eye_to_sight_m
    height = card.peep.height()
    nock_behind = height.ahead_of_nock_m if height and height.ahead_of_nock_m else _USUAL_NOCK_M
    behind = max(nock_behind, card.peep.eye_to_peep_m or USUAL_EYE_TO_PEEP_M) + _BEHIND_M
    scale = WIDTH / (behind + lever + _AHEAD_M)  # px a metre

    def x(metres: float) -> float:
        return round(scale * (behind + metres), 1)

    def y(metres: float) -> float:
        return round(_BASE - scale * metres, 1)

    ahead = mount.ahead_of_grip_m
    moved = figures.eye_to_sight_m - (card.eye_to_sight_m or lever)
    grip = lever - (_USUAL_AHEAD_M if ahead is None else ahead + moved)
    pin = plan.home_pin_m(card)
    below = (housing.below_pin_mm or 26.0) / 1000.0
    outer = (housing.outer_mm or 2.0 * 1000.0 * below) / 1000.0

    def at(pin_m: float) -> DrawnHousing:
        return DrawnHousing(x(lever), y(pin_m - below + outer), y(pin_m), y(pin_m - below))

    drop = None if plan.drop_mm is None else plan.drop_mm / 1000.0
    vanes = (mount.vanes_mm or 9.0) / 1000.0
    measured = mount.vanes_mm is not None and housing.below_pin_mm is not None
    above = (plan.above_home_mm or 0.0) / 1000.0
    travel = (card.sight.slider_travel_mm or 0.0) / 1000.0
    dialled = card.sight_kind.dialled
    moved_down = (drop or 0.0) if dialled else 0.0
    clear = None if drop is None or not measured else 1000.0 * (pin - moved_down - below - vanes)
    places, now = card.sight.extension_mm, plan.place.detent
    detents = tuple((x(lever + (p - places[now]) / 1000.0), i == now) for i, p in enumerate(places) if now is not None)
    return SideView(
        WIDTH,
        HEIGHT,
        scale / 1000.0,
        _BASE,
        x(-nock_behind),
        x(grip + 0.03),
        (x(0.0), y(figures.peep_height_m)),
        (x(-(card.peep.eye_to_peep_m or USUAL_EYE_TO_PEEP_M)), y(figures.peep_height_m + 0.004)),
        (x(grip), x(grip + _RISER_M)),
        (x(-nock_behind + _REAR_M), x(-nock_behind + _REAR_M + _VANES_M), y(vanes)),
        (x(lever) - (16.0 if travel else 5.0), y(pin + above), y(pin + above - travel)),
        at(pin),
        at(pin - drop) if dialled and drop is not None else None,
        None if drop is None else y(pin - drop),
        detents,
        "" if clear is None else f"{clear:.0f} mm over the vanes" if clear >= 0 else f"{-clear:.0f} mm into the vanes",
        f"{1000.0 * figures.peep_height_m:.0f} mm",
        f"{1000.0 * lever:.0f} mm",
        far_words,
    )
