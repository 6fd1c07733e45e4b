"""What the program says, in the trade's words and the user's units.

Core decides and hands over codes and numbers; here they become sentences.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

from cross_staff.core.errors import InvalidValue, OutOfReach
from cross_staff.core.rig.priors import Known
from cross_staff.core.tape.forecast import COVERAGE
from cross_staff.web.forms.units import Units, fixed, trimmed

CAUTION_RANGE = (
    "Know what is behind and beyond the target. The tape says what the equipment reaches, never what you may shoot at."
)
CAUTION_DRAW = (
    "No ruler near a bow held at draw by a person: measure on a rated draw board, locked and tied, "
    "hands clear of string and cables. Press and string work only as the bow's maker says."
)
CAUTION_STRING = (
    "Nothing near string, cables or rest is moved while the bow is drawn: let down first. Never dry-fire. Press and "
    "string work only as the bow's maker says; when unsure, a qualified shop."
)
CAUTION_ARROW = "Keep the arrow no lighter than the bow's maker allows, and inspect carbon shafts."
CAUTION_BLADE = "Cut on a board, away from strings and fingers; never beside a strung bow."


PLUS_MINUS = "Every ± is 95 %: 19 times in 20 the truth lies within it."


@dataclass(frozen=True)
class Now:
    """The one imperative sentence, why, the caution that applies, and where it is done."""

    say: str
    why: str
    caution: str
    station: str
    action: str


def whole_distance(units: Units, metres: float) -> str:
    """A distance to be shot: as it was typed, or to the tenth."""
    return f"{units.as_typed('distance', metres)}\u00a0{units.label('distance')}"


def good_to(trusted_m: float | None, units: Units) -> str:
    """How far the tape is good, in whole units."""
    if trusted_m is None:
        return "not good yet"
    return f"good to {int(units.from_si('distance', trusted_m) + 1e-9)}\u00a0{units.label('distance')}"


def on_target(units: Units, metres: float) -> str:
    """A size on the target, with no more digits than a group can bear."""
    value = abs(units.from_si("offset", metres))
    return f"{fixed(value, 0 if value >= 9.95 else 1)}\u00a0{units.label('offset')}"


PARAMETERS = {
    "speed_mps": "the speed on the card",
    "drag_per_m": "the drag expected of this arrow",
    "eye_to_sight_m": "eye to sight",
    "peep_height_m": "the peep height",
    "tape_ratio": "the tape ratio",
}
_QUANTITY = {"speed_mps": "speed", "eye_to_sight_m": "length", "peep_height_m": "length"}


def figure(name: str, known: Known, units: Units) -> str:
    """A fitted figure in the user's units, its uncertainty beside it."""
    sd = known.sd or 0.0
    if name in _QUANTITY:
        quantity = _QUANTITY[name]
        fine = units.length == "in" and quantity == "length"
        return (
            f"{units.show(quantity, known.value, 2 if fine else 1)} {plus_minus(units, quantity, sd, 2 if fine else 1)}"
        )
    if name == "drag_per_m":
        return f"{known.value:.5f} /m ± {100.0 * COVERAGE * sd:.0f} %"
    return f"{known.value:.3f} ± {COVERAGE * sd:.3f}"


def plus_minus(units: Units, quantity: str, sd: float, decimals: int = 1) -> str:
    """How far something may be off, the one way in which the program says it: 19 times in 20 within, without its
    unit."""
    return f"± {trimmed(COVERAGE * units.from_si(quantity, sd), decimals)}"


def by_luck(chance: float) -> str:
    """How often something happens by luck alone."""
    if chance < 1e-3:
        return "less than once in 1000 times by luck"
    return (
        f"about {round(100.0 * chance):.0f} times in 100 by luck"
        if chance >= 0.1
        else f"about once in {1.0 / chance:.0f} times by luck"
    )


def far_out(sds: float) -> str:
    """How often something lies so far out by luck alone; beyond so many of its own sds."""
    return by_luck(math.erfc(abs(sds) / math.sqrt(2.0)))


def gone_pin(pin: int) -> str:
    """A pin that something was shot with, and that the card does not name by now; counted from zero."""
    return f"pin {pin + 1}, gone"


def problem(error: InvalidValue | OutOfReach) -> str:
    """Why there is no tape, with the input that it hangs on."""
    if isinstance(error, InvalidValue):
        return f"{named(error.field)}{error.message}"
    return str(error)


def named(parameter: str) -> str:
    """An input by its name, before what is said of it; nothing where none is meant."""
    return f"{PARAMETERS.get(parameter, parameter)} " if parameter else ""
