"""The words of the tape's pages: pins by name, days, reasons, what to do with what was reckoned."""

from __future__ import annotations

from collections.abc import Sequence

from cross_staff.core.tape.comparison import ALL, SPEED, TWO, Compared, Laying
from cross_staff.core.tape.comparison import days as days_of
from cross_staff.core.tape.forecast import COVERAGE
from cross_staff.core.tape.station import Reckoning
from cross_staff.web.forms.units import Units, fixed, trimmed
from cross_staff.web.shared.words import on_target, whole_distance

PAGES = (
    ("", "Marks"),
    ("/print", "Print"),
    ("/pins", "Pins"),
    ("/dialled", "Dialled"),
    ("/holds", "Holds"),
    ("/slopes", "Slopes and reach"),
    ("/fits", "Fits"),
    ("/booklet", "Booklet"),
    ("/change", "Change"),
    ("/range-sheet", "Range sheet"),
)
NO_TAPE = "There is no tape yet: the card lacks something."
CAUTION_ESTIMATE = "An estimate, to judge a sideways miss by; never a windage setting."
CAUTION_SLOPE = "On a slope look twice at what is behind and beyond, more so when shooting from above."
CAUTION_PINS = "Unlock a pin before it is moved, the right key; tightening moves it: look again."
CAUTION_NEW_ARROW = (
    "An arrow no lighter than the bow's maker allows. The new tape is a starting tape until two distances confirm it."
)
LAYING = {"home": "at home", "far": "at the far mark", "best": "best over all"}
FITS = {SPEED: "speed alone", TWO: "two marks", ALL: "all marks"}


def pin_name(pin: int, count: int) -> str:
    """A pin by its place."""
    if count < 2:
        return "the pin"
    return "top pin" if pin == 0 else "low pin" if pin == count - 1 else f"pin {pin + 1}"


def short_name(pin: int, count: int) -> str:
    """A pin's name where there is little room."""
    return {"top pin": "top", "low pin": "low"}.get(name := pin_name(pin, count), name)


def the(name: str) -> str:
    """A pin's name within a sentence."""
    return name if name.startswith(("pin ", "the ")) else f"the {name}"


def pin_choices(reckoning: Reckoning, units: Units) -> list[tuple[int, str]]:
    """The pins a mark can be of, with what each is set for; none where there is but one."""
    pins = reckoning.pins.at_m
    if len(pins) < 2:
        return []
    return [(pin, f"{short_name(pin, len(pins))}, {_number(units, at)}") for pin, at in enumerate(pins)]


def _number(units: Units, metres: float) -> str:
    return trimmed(units.from_si("distance", metres), 1)


def days(reckoning: Reckoning, units: Units) -> list[str]:
    """What each day's marks say against all, where they were shot on more than one."""
    found = days_of(reckoning)
    if len(found) < 2:
        return []
    return [
        f"{day.day.isoformat()}: {day.count} mark{'s' if day.count > 1 else ''}, {fixed(day.off_mm, 2)} mm from the line "
        f"of all ({'more than luck: was something moved, or another air?' if day.differs else 'no more than luck'})"
        for day in found
    ]


def high_low(units: Units, up_m: float | None, middle: str = "0") -> str:
    """How high or low arrows come in, without the unit."""
    if up_m is None:
        return "–"
    value = abs(units.from_si("offset", up_m))
    shown = fixed(value, 0 if value >= 9.95 else 1)
    if float(shown) == 0.0:
        return middle
    return f"{shown} {'high' if up_m > 0 else 'low'}"


def high_low_unit(units: Units, up_m: float | None) -> str:
    """How high or low arrows come in, with the unit, within a sentence."""
    words = high_low(units, up_m, "dead on")
    amount, _, side = words.partition(" ")
    return words if words in ("dead on", "–") else f"{amount} {units.label('offset')} {side}"


def hold(units: Units, up_m: float | None, target_m: float | None) -> str:
    """Where to hold against a pin that shoots so: the other way, and in heights of the target."""
    if up_m is None:
        return "–"
    words = high_low(units, -up_m, "on")
    if target_m and words != "on":
        parts = abs(up_m) / target_m
        words += f" ({fixed(parts, 1) if parts >= 0.1 else '<0.1'})"
    return words


def compared(found: Sequence[Compared], units: Units, farthest_m: float) -> list[list[str]]:
    """The fits beside one another, a row each."""
    rows = []
    for each in found:
        up = "–" if each.key == ALL or each.up_m is None else high_low(units, each.up_m)
        used = ", ".join(whole_distance(units, row.entry.ranged_m) for row in each.used) or "none"
        rows.append(
            [
                FITS[each.key],
                used,
                "–" if each.length_mm is None else f"{each.length_mm:.1f}",
                "out of reach" if each.sd_m is None else f"± {on_target(units, COVERAGE * each.sd_m)}",
                up,
            ]
        )
    return rows


def laying(found: Laying, units: Units) -> str:
    """How far from its home line a tape is laid on."""
    if abs(found.shift_mm) < 0.05:
        return "home line on the home mark"
    return f"{trimmed(abs(found.shift_mm), 1)} mm {'farther' if found.shift_mm > 0 else 'nearer'} than the home mark"
