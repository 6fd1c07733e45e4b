"""What the level station says: bubbles, turns, verdicts, instructions."""

from __future__ import annotations

import math

from cross_staff.core.level.axis import COUNTLESS, AxisState
from cross_staff.core.rig.card import LevelSetup, Vial
from cross_staff.core.rig.sight import Screw
from cross_staff.core.stations import NextStep
from cross_staff.web.forms.units import Units, trimmed
from cross_staff.web.shared.words import CAUTION_STRING, Now

NAMES = {"first": "first axis", "second": "second axis", "third": "third axis"}
STANDINGS = {
    "open": "open",
    "good": "good enough",
    "squared": "squared",
    "recheck": "read again",
    "accepted": "accepted in writing",
}
_EIGHTHS = {3: "1/8", 6: "1/4", 9: "3/8", 12: "1/2", 15: "5/8", 18: "3/4", 21: "7/8"}  # of a turn, by its 24ths
_QUARTERS = {1: "1/4", 2: "1/2", 3: "3/4"}


def bubble(divisions: float) -> str:
    """Where a bubble stands."""
    shown = trimmed(abs(divisions), 1)
    return "in the middle" if shown == "0" else f"{shown} {'right' if divisions > 0 else 'left'}"


def own_error(vial: Vial) -> str:
    """What a reversal showed of a level, with its day where that was noted; empty before one."""
    if vial.roll_error_div is None:
        return ""
    stands = bubble(vial.roll_error_div)
    error = "it has no error of its own" if stands == "in the middle" else f"its own error is {stands}"
    return f"{error}, of {vial.reversed_on}" if vial.reversed_on else f"{error}, of a day that nobody noted"


def seen(divisions: float, end: int) -> str:
    """Where a bubble was seen, in its glass or at an end of it."""
    return f"at its {'right' if end > 0 else 'left'} end" if end else bubble(divisions)


def turn(turns: float) -> str:
    """A turn of the key in words, without its direction: in eighths of a turn, or in flats of a key with six."""
    whole, rest = divmod(round(abs(turns) * 24), 24)
    if rest in _EIGHTHS:
        return f"{whole} {_EIGHTHS[rest]} turns" if whole else f"{_EIGHTHS[rest]} turn"
    told = [f"{whole} turn{'s' if whole > 1 else ''}"] if whole else []
    return " and ".join([*told, *([_flats(rest)] if rest else [])]) or "nothing"


def _flats(steps: int) -> str:
    """Quarters of a flat, of which a key has six."""
    whole, rest = divmod(steps, 4)
    amount = " ".join([*([str(whole)] if whole else []), *([_QUARTERS[rest]] if rest else [])])
    return f"{amount} {'flats' if steps > 4 else 'flat'} of the key"


def way(turns: float) -> str:
    return "clockwise" if turns > 0 else "anticlockwise"


def tilt(pitch_rad: float) -> str:
    degrees = round(math.degrees(pitch_rad))
    return "level" if not degrees else f"{abs(degrees)}° {'up' if degrees > 0 else 'down'}"


def amount(state: AxisState, value: float, decimals: int = 1) -> str:
    """An axis in degrees, or in lines of its vial while that is not calibrated."""
    if not state.unit.calibrated:
        return f"{trimmed(value / state.unit.vial, 1)} lines".replace("-", "−")
    return f"{math.degrees(value):+.{decimals}f}°".replace("-", "−")


def spread(state: AxisState, sd: float) -> str:
    """What an amount is sure to, 19 times in 20."""
    return within(state, 1.96 * sd)


def within(state: AxisState, limit: float) -> str:
    """A limit either way."""
    return f"± {math.degrees(limit):.2f}" if state.unit.calibrated else f"± {limit / state.unit.vial:.1f}"


def lines_of(setup: LevelSetup, axis: str, value_rad: float) -> str:
    """An axis's amount as lines of the vial that it is read with; empty when that is not calibrated."""
    line = setup.vial_of(axis).per_division_rad
    return f"{value_rad / line:.1f} lines" if line else ""


def stands(divisions: float) -> str:
    """Where a bubble is to be brought."""
    words = bubble(divisions)
    return "its middle" if words == "in the middle" else f"{words}, where it stands when the bow is plumb"


def turned_words(turns: float | None, screw: Screw | None) -> str:
    """A turn that was made: how much and which way, or that nobody counted."""
    if turns is None:
        return "moved, not counted" if screw and screw.drive in COUNTLESS else "turned by eye, not counted"
    if screw is not None and screw.drive == "pair":
        return f"{turn(turns)}, {screw.ends[0 if turns > 0 else 1]} screw driven"
    return f"{turn(turns)} {way(turns)}"


LABELS = {
    "bench_only": "bench only",
    "squared_at_rest": "squared at rest",
    "not_proved": "squared, not proved",
}


LEVEL_NOW = {
    "reference": ("Prove the reference level by reversal.", "A vial that errs by itself errs into every axis."),
    "string": ("Prove the string level by reversal.", "The string decides, and it is read by this level."),
    "plumb": ("Set the bow plumb both ways.", "The string decides: everything is levelled to it."),
    "rail": ("Prove the level for the rail by reversal.", "A vial that errs by itself errs into the first axis."),
    "match": ("Read the reference beside the string level.", "A reference put on a new seat rolls with it."),
    "first": ("Read the first axis.", "A rail that leans drifts sideways as the sight is dialled."),
    "second": ("Read the second axis.", "On the level, a bubble that lies costs more with every metre."),
    "third": ("Read the third axis.", "It shows on slopes, in opposite directions up and down."),
}


def next_step(step: NextStep, _units: Units) -> Now:
    """What to prove, plumb or read next."""
    say, why = LEVEL_NOW[step.code]
    return Now(say, why, CAUTION_STRING, "level", "Go on levelling")


STANDING = {
    "levelled": "done",
    "accepted": "accepted in part",
    "bench_only": "bench only",
    "squared_at_rest": "squared at rest",
    "not_proved": "squared, not proved",
    "left_bench_only": "bench only, accepted",
    "left_squared_at_rest": "squared at rest, accepted",
    "left_not_proved": "squared, not proved; accepted",
    "string": "string level to prove",
    "rail": "rail level to prove",
    "match": "reference to match",
    "level_only": "for level ground",
    "waits_for_gate": "waits for Prepare",
    "readings_old": "set aside: read again",
    "reference": "reference to prove",
    "plumb": "bow to be plumbed",
    "first_open": "first axis open",
    "second_open": "second axis open",
    "third_open": "third axis open",
}
