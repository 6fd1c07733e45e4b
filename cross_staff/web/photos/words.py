"""Figures off a photo in words, and where each use takes them."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from urllib.parse import urlencode

from cross_staff.core.photos.plane import Figure
from cross_staff.core.photos.uses import PinSeen
from cross_staff.core.tape.forecast import COVERAGE
from cross_staff.core.tape.rulers import LINES as PENCIL_LINES
from cross_staff.services.rig import Rig
from cross_staff.web.forms.units import Units
from cross_staff.web.shared.words import plus_minus

NAMES = {
    "peep_height": "Peep, square to the arrow",
    "peep_ahead": "Peep, ahead of the nock",
    "string_angle": "String's angle to the arrow",
    "eye_to_sight": "Peep to pins, along the arrow",
    "eye_to_peep": "Eye to peep",
    "right": "The nock tore, right",
    "up": "The nock tore, high",
    "apart": "The two halves stand apart",
}
ANGLES = ("string_angle",)


def rows(use: str, figures: Mapping[str, Figure], units: Units) -> list[tuple[str, str, str]]:
    """Each figure's name, its value, and its ± 95 %."""
    return [(_name(name), *_figure(use, name, figure, units)) for name, figure in figures.items()]


def _name(name: str) -> str:
    if name in NAMES:
        return NAMES[name]
    kind, _, number = name.rpartition("_")
    return {
        "line": f"Line {number}, from the first",
        "below": f"Pin {number}, below the top one",
    }.get(kind, f"Pin {number}, {kind} of the middle")


def _figure(use: str, name: str, figure: Figure, units: Units) -> tuple[str, str]:
    if name in ANGLES:
        return units.show("angle", figure.value, 1), plus_minus(units, "angle", figure.sd, 1)
    if use == "peep":
        places = 0 if units.length == "mm" else 2
        return units.show("length", figure.value, places), plus_minus(units, "length", figure.sd, places)
    return units.show("mark", 1000.0 * figure.value, 2), plus_minus(units, "mark", 1000.0 * figure.sd, 2)


def goes_to(rig: Rig, use: str, figures: Mapping[str, Figure], units: Units, key: str) -> list[tuple[str, str]]:
    """Where the figures go: the words of a link, and its address, whose page has them in its fields."""
    here = f"/rigs/{rig.rig_id}"
    if use == "peep":
        return [("Onto the card", f"{here}/card?{urlencode({'photo': key})}")]
    if use == "tear":
        return [("To the paper test", f"{here}/prepare?{urlencode({'line': 'paper_tear', 'photo': key})}")]
    if use == "pencil":
        wide = [f"\t{1000.0 * f.value:.2f} ± {1000.0 * COVERAGE * f.sd:.2f}" for f in figures.values()]
        query = urlencode({"read": PENCIL_LINES, "pasted": "\n".join(wide)})
        return [("To the marks, each with its distance to be typed", f"{here}/tape?{query}#pasted")]
    if use == "pins":
        return [("To Sight in", f"{here}/sight_in")]
    return [("What the marks show after a knock", f"{here}/prove/knocked"), ("Witness marks", f"{here}/mount/marks")]


def pins_words(pins: Sequence[PinSeen], units: Units) -> list[tuple[str, str, str, str]]:
    """Each pin in words: its number, how far below the top one it is seen, and by the tape, what to do."""
    told = []
    for pin in pins:
        wide = plus_minus(units, "mark", 1000.0 * pin.up.sd, 1)
        far = f"{units.show('mark', 1000.0 * abs(pin.up.value), 1)} {wide} {'up' if pin.up.value > 0 else 'down'}"
        seen, wanted = (units.show("mark", 1000.0 * each, 1) for each in (pin.below.value, pin.wanted_m))
        told.append((str(pin.number), seen, wanted, far if pin.told else f"no difference seen, {wide}"))
    return told
