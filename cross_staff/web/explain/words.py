"""What an explanation says, in a sentence or two, with its numbers."""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping

from cross_staff.core.explain.explainers import Slider
from cross_staff.services.explain import Explained
from cross_staff.web.forms.units import Units

Numbers = Mapping[str, float]


def value_words(slider: Slider, value: float, units: Units) -> str:
    """Where a slider stands."""
    if slider.quantity == "angle":
        return f"{value:g}°"
    if slider.quantity == "distance":
        return units.show("distance", value, 0)
    if slider.quantity == "length":
        return units.show("length", 1e-3 * value)
    return f"{value:g}{ {'mrad': ' mrad', 'percent': ' %'}.get(slider.quantity, '') }"


def _side(units: Units, right_m: float) -> str:
    return f"{units.show('offset', abs(right_m))} to the {'right' if right_m >= 0 else 'left'}"


def _bubbles(n: Numbers, units: Units, v: Numbers) -> str:
    return (
        f"At {v['tilt']:g}° the sight's vial and the reference stand {abs(n['apart']):.2f}° apart, though the bow has not "
        "moved. On the level they agree whatever the third axis is: there it cannot be read."
    )


def _cant(n: Numbers, units: Units, v: Numbers) -> str:
    return (
        f"A bow that leans {abs(v['cant']):g}° throws {_side(units, n['right'])}, and {units.show('offset', n['low'])} low. "
        "Near by nobody sees it; it grows with the fall of the arrow, not with the distance."
    )


def _slope(n: Numbers, units: Units, v: Numbers) -> str:
    return (
        f"With its bubble centred the bow leans {abs(n['cant']):.1f}° at this slope, and throws {_side(units, n['right'])}. "
        "Nobody canted it: the vial did. Uphill and downhill it goes opposite ways."
    )


def _extension(n: Numbers, units: Units, v: Numbers) -> str:
    tape = [units.show("length", n[key]) for key in ("tape_now", "tape_out")]
    torque = [units.show("offset", n[key]) for key in ("torque_now", "torque_out")]
    return (
        f"The tape to that distance goes from {tape[0]} to {tape[1]}, so it reads finer and ends sooner. The same twist of the hand "
        f"shows {torque[1]} instead of {torque[0]}: a comparison of places, no forecast."
    )


def _chased(n: Numbers, units: Units, v: Numbers) -> str:
    chased, pooled = (units.show("offset", n[key]) for key in ("chased", "pooled"))
    return (
        f"300 archers with a sight that was right. Moved after each of {v['groups']:.0f} groups it ends {chased} off (the middle of "
        f"all), however many were shot; with all arrows pooled {pooled}. The last group decides, or all of them."
    )


def _days(n: Numbers, units: Units, v: Numbers) -> str:
    one, more = (units.show("offset", n[key]) for key in ("one", "more"))
    return (
        f"{v['arrows']:.0f} arrows of one day leave {one}, of {v['days']:.0f} days {more}. More arrows of one day do not mend what "
        "that day set all of them off by."
    )


def _peep(n: Numbers, units: Units, v: Numbers) -> str:
    square, along = (units.show("length", n[key]) for key in ("square", "along"))
    return (
        f"A peep {along} along the string stands {square} above the arrow, square to it. The flight wants the second."
    )


def _cosine(n: Numbers, units: Units, v: Numbers) -> str:
    true, rule = (units.show("distance", n[key]) for key in ("true", "rule"))
    return (
        f"To be dialled: {true}; the cosine says {rule}. The arrow slows on its way up and not on its way down, and the eye is not "
        "where the arrow starts: up and down are not alike."
    )


_SAYS: dict[str, Callable[[Numbers, Units, Numbers], str]] = {
    "bubbles": _bubbles, "cant": _cant, "slope": _slope, "extension": _extension, "chased": _chased, "days": _days,
    "peep": _peep, "cosine": _cosine,
}  # fmt: skip


def says(told: Explained, units: Units) -> str:
    """What the picture says, where the sliders stand."""
    picture = told.picture
    if picture is None or not all(map(math.isfinite, picture.numbers.values())):
        return "This arrow does not get there: slide to something nearer."
    return _SAYS[told.explainer.key](picture.numbers, units, told.values)
