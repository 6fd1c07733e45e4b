"""A field of the card that is saved anew: was it measured again, mistyped before, or was the bow changed?"""

from __future__ import annotations

import math
from collections.abc import Iterable
from dataclasses import dataclass, fields, is_dataclass, replace
from enum import StrEnum
from typing import Any

from cross_staff.core.rig import peep
from cross_staff.core.rig.card import EYE_TO_SIGHT_SD_M, RigCard

SDS = 2.0  # two measurements of one thing differ by less than this many of their sds, 19 times in 20, and a bit more


class Meaning(StrEnum):
    """What a new value means, of the values that make results old."""

    AGAIN = "again"
    MISTYPED = "mistyped"
    CHANGED = "changed"


WORDS = {
    Meaning.AGAIN: "measured again: the bow is as it was",
    Meaning.MISTYPED: "mistyped before: the bow is as it was",
    Meaning.CHANGED: "the bow was changed",
}


@dataclass(frozen=True)
class Change:
    """One field of the card that differs: its dotted path, the old and the new value; whether the old one was only
    estimated."""

    path: str
    old: Any
    new: Any
    guessed: bool = False

    @property
    def fills_in(self) -> bool:
        """Whether it only writes down what was unknown, which changes nothing about the rig."""
        return self.guessed or self.old is None or self.old == () or self.old == ""

    @property
    def plain_path(self) -> str:
        """The path without the places in lists."""
        return ".".join(part for part in self.path.split(".") if not part.isdigit())

    @property
    def within_reading(self) -> bool:
        """Whether the two are one and the same to the finest that is ever read (0.1 mm): nothing to ask about."""
        size = _READ.get(self.plain_path)
        return size is not None and self._apart is not None and self._apart <= size * (1.0 + 1e-6)

    @property
    def within_error(self) -> bool:
        """Whether the two differ by no more than two measurements of one thing do."""
        sd = _ERRS.get(self.plain_path)
        return sd is not None and self._apart is not None and self._apart <= SDS * math.sqrt(2.0) * sd

    @property
    def _apart(self) -> float | None:
        numbers = [v for v in (self.old, self.new) if isinstance(v, (int, float)) and not isinstance(v, bool)]
        return abs(numbers[1] - numbers[0]) if len(numbers) == 2 else None

    @property
    def looks_mistyped(self) -> bool:
        """Whether one value is the other with two digits changed about, one digit wrong, or the point misplaced; or
        is taken out: that nothing is known says nothing of the bow."""
        if self.new in (None, "", ()):
            return True
        if self._apart is None or not self.old or not self.new:
            return False
        ratio = self.new / self.old
        if any(abs(ratio / factor - 1.0) < 1e-6 for factor in (10.0, 0.1, 100.0, 0.01)):
            return True
        return any(_one_slip(*pair) for pair in _as_typed(self.plain_path, self.old, self.new))


# what is read off a rule, a scale or a caliper at the finest: [m], [N], [kg], [rad], [mm]
_LENGTH, _GRAIN_KG, _POUND_N = 0.0001, 0.0000648, 4.448
_READ = {
    "eye_to_sight_m": _LENGTH,
    "peep.square_m": _LENGTH,
    "peep.along_m": _LENGTH,
    "peep.axle_to_axle_m": _LENGTH,
    "peep.true_draw_m": _LENGTH,
    "peep.aperture_m": 0.00001,
    "peep.eye_to_peep_m": _LENGTH,
    "peep.angle_rad": math.radians(0.05),
    "bow.nock_to_rest_m": _LENGTH,
    "bow.let_off": 0.005,
    "bow.draw_weight_n": 0.1 * _POUND_N,
    "builds.shaft_length_m": _LENGTH,
    "builds.shaft_diameter_m": 0.000005,
    "builds.shaft_kg_per_m": 0.05 * _GRAIN_KG / 0.0254,
    "builds.measured_mass_kg": 0.1 * _GRAIN_KG,
    "builds.balance_point_m": _LENGTH,
    "builds.components.mass_kg": 0.1 * _GRAIN_KG,
    "builds.components.centre_from_throat_m": _LENGTH,
    "sight.housing.inner_mm": 0.1,
    "sight.housing.outer_mm": 0.1,
}
# one sd of such a measurement
_ERRS = {
    "eye_to_sight_m": EYE_TO_SIGHT_SD_M,
    "peep.square_m": peep.SQUARE_SD_M,
    "peep.along_m": peep.ALONG_SD_M,
    "peep.axle_to_axle_m": 0.003,
    "peep.true_draw_m": 0.003,
    "peep.aperture_m": 0.0002,
    "peep.eye_to_peep_m": 0.01,
    "peep.angle_rad": peep.TYPED_ANGLE_SD_RAD,
    "bow.nock_to_rest_m": 0.003,
    "bow.let_off": 0.05,
    "bow.draw_weight_n": 0.5 * _POUND_N,
    "builds.shaft_length_m": 0.001,
    "builds.shaft_diameter_m": 0.00003,
    "builds.shaft_kg_per_m": 0.1 * _GRAIN_KG / 0.0254,
    "builds.measured_mass_kg": 0.5 * _GRAIN_KG,
    "builds.balance_point_m": 0.002,
    "builds.components.mass_kg": 0.5 * _GRAIN_KG,
    "builds.components.centre_from_throat_m": 0.002,
    "sight.housing.inner_mm": 0.5,
    "sight.housing.outer_mm": 0.5,
}
# what a length, a force or a mass was typed in, of which nobody knows which
_UNITS = {
    "m": (0.001, 0.0254),
    "mm": (1.0, 25.4),
    "n": (1.0, _POUND_N, 9.80665),
    "kg": (0.001, _GRAIN_KG),
    "rad": (math.radians(1.0),),
}


def _as_typed(path: str, old: float, new: float) -> list[tuple[str, str]]:
    """Both values as the digits that may have been typed, in each unit that they may have been typed in."""
    units = _UNITS.get(path.rsplit("_", 1)[-1], (1.0,))
    return [(f"{old / unit:.2f}", f"{new / unit:.2f}") for unit in units]


def _one_slip(one: str, other: str) -> bool:
    """Whether two numbers differ by two neighbouring digits changed about, or by one wrong digit before the point."""
    if len(one) != len(other):
        return False
    apart = [place for place, (a, b) in enumerate(zip(one, other)) if a != b]
    if len(apart) == 1:
        return apart[0] < one.index(".") - 1
    if len(apart) != 2 or apart[1] - apart[0] > 2:
        return False
    (a, b), between = apart, one[apart[0] + 1 : apart[1]]
    return between in ("", ".") and one[a] == other[b] and one[b] == other[a]


def likely(changes: Iterable[Change]) -> Meaning:
    """The first answer that is offered for changes of one kind, the gravest of what each looks like.

    Args:
        changes: the fields that differ and belong to one cause, each in SI.

    Returns:
        measured again, where each lies within what such a measurement errs; mistyped, where each is that, or
        looks like a slip of the pen; changed otherwise.

    Source:
        a rule of the craft; 2 sds of the difference of two measurements.
    """
    told = tuple(changes)
    if told and all(change.within_error for change in told):
        return Meaning.AGAIN
    if told and all(change.within_error or change.looks_mistyped for change in told):
        return Meaning.MISTYPED
    return Meaning.CHANGED


def changes(old: RigCard, new: RigCard) -> tuple[Change, ...]:
    """Every field that differs, in the card's order."""
    guessed = _guessed(old)
    return tuple(replace(each, guessed=each.path in guessed) for each in _differences("", old, new))


def _guessed(card: RigCard) -> set[str]:
    """The places of a card whose values were only estimated."""
    told = {"eye_to_sight_m": card.eye_to_sight_estimated, "peep.square_m": card.peep.estimated}
    told["peep.way"] = card.peep.estimated
    for number, build in enumerate(card.builds):
        told[f"builds.{number}.measured_mass_kg"] = build.mass_estimated
        told[f"builds.{number}.shaft_diameter_m"] = build.diameter_estimated
    return {path for path, only in told.items() if only}


def _differences(prefix: str, old: Any, new: Any) -> list[Change]:
    if old == new:
        return []
    if isinstance(old, tuple) and isinstance(new, tuple) and _records(old) and _records(new) and len(old) == len(new):
        pairs = ((f"{prefix}.{i}", a, b) for i, (a, b) in enumerate(zip(old, new)))
        return [differences for place, a, b in pairs for differences in _differences(place, a, b)]
    if not is_dataclass(old) or type(old) is not type(new):
        return [Change(prefix, old, new)]
    differences = []
    for part in fields(old):
        path = f"{prefix}.{part.name}" if prefix else part.name
        differences += _differences(path, getattr(old, part.name), getattr(new, part.name))
    return differences


def _records(values: tuple[Any, ...]) -> bool:
    return all(is_dataclass(value) for value in values)
