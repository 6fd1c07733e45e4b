"""Pins and pointers by name: the same one on every page and sheet."""

from __future__ import annotations

from collections.abc import Sequence

from cross_staff.core.rig.card import RigCard
from cross_staff.core.rig.pins import Pins
from cross_staff.core.tape.forecast import COVERAGE
from cross_staff.core.tape.pointers import PointerLine
from cross_staff.web.forms.units import YARD_M, Units, trimmed
from cross_staff.web.shared.words import whole_distance


def pin_name(card: RigCard, at_m: Sequence[float], pin: int, units: Units) -> str:
    """A pin by its place, a dot by its distance; `at_m`, what those in use are for [m as ranged]."""
    kind, count = card.sight_kind, len(at_m)
    if kind.computes_dots:
        return f"dot for {whole_distance(units, at_m[pin])}" if pin < count else f"dot {pin + 1}"
    if max(count, len(card.sight.pins), pin + 1) < 2:
        return kind.aim_word
    if pin == 0:
        return "top pin"
    return "low pin" if pin == count - 1 else f"pin {pin + 1}"


def the(name: str) -> str:
    """A pin's name within a sentence."""
    return name if name.startswith(("pin ", "dot ")) and name[4:5].isdigit() else f"the {name}"


def short_name(name: str) -> str:
    """A pin's name where there is little room."""
    return {"top pin": "top", "low pin": "low"}.get(name, name)


def with_distance(card: RigCard, at_m: Sequence[float], pin: int, units: Units) -> str:
    """A pin by its name, with what it is for where there are several."""
    name = pin_name(card, at_m, pin, units)
    if card.sight_kind.computes_dots or pin >= len(at_m) or max(len(at_m), len(card.sight.pins)) < 2:
        return name
    return f"{name} ({whole_distance(units, at_m[pin])})"


def pointer_name(card: RigCard, pins: Pins, pin: int, units: Units) -> str:
    """The pointer of a pin; where there is but one pin it needs no other name."""
    name = pin_name(card, pins.at_m, pin, units)
    return f"{name}'s pointer" if len(pins.at_m) > 1 else "the pointer"


def pointer_width(card: RigCard, line: PointerLine) -> str:
    """How far a pointer's line may be off, in the strip's unit; empty for a pin that was not shot."""
    if line.sd_m is None:
        return ""
    return f"± {max(COVERAGE * line.sd_m / card.tape.unit_m, 0.1):.1f}"


def pointers_words(card: RigCard, pins: Pins, lines: Sequence[PointerLine], units: Units) -> str:
    """Every pointer with its line and how far that may be off, in a row."""
    said = []
    for each in lines:
        name = pointer_name(card, pins, each.pin, units)
        if each.line_m is None:
            said.append(f"{name} stands above every line")
            continue
        width = pointer_width(card, each) or "its pin is not shot yet"
        said.append(f"{name} to the line of {on_strip(card, card.ranged_distance(each.line_m), units)} ({width})")
    return ", ".join(said) or "the pointer to the home line"


def strip_number(card: RigCard, ranged_m: float) -> str:
    """A number of the strip, in the strip's own unit [m as ranged in]."""
    return trimmed(ranged_m / card.tape.unit_m, 1)


def strip_unit(card: RigCard) -> str:
    """The unit that the strip is numbered in."""
    return "yd" if abs(card.tape.unit_m - YARD_M) < 1e-6 else "m"


def on_strip(card: RigCard, ranged_m: float, units: Units) -> str:
    """A number under a pointer; its unit beside it where distances are shown in another."""
    other = "" if strip_unit(card) == units.label("distance") else f"\u00a0{strip_unit(card)}"
    return f"{strip_number(card, ranged_m)}{other}"
