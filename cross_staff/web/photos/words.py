"""Figures off a photo in words, and where each use takes them."""

from __future__ import annotations

from collections.abc import Mapping
from urllib.parse import urlencode

from cross_staff.core.photos.plane import Figure
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
    return f"Line {number}, from the first" if kind == "line" else f"Pin {number}, {kind} of the middle"


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
        lines = "\n".join(f"\t{1000.0 * figure.value:.2f}" for figure in figures.values())
        return [
            ("To the marks, each with its distance to be typed", f"{here}/tape?{urlencode({'pasted': lines})}#pasted")
        ]
    if use == "pins":
        return [("To Sight in", f"{here}/sight_in")]
    return [("What the marks show after a knock", f"{here}/prove/knocked"), ("Witness marks", f"{here}/mount/marks")]


def pins_against(rig: Rig, figures: Mapping[str, Figure], units: Units) -> list[tuple[str, str, str, str]]:
    """Each pin below the top one as seen on the photo beside where the tape has it: its number, seen, wanted, what to
    do; empty where no tape tells."""
    heights = [figure for name, figure in figures.items() if name.startswith("up_")]
    wanted = rig.stack.pins if rig.stack else ()
    told = []
    for number, (seen, place) in enumerate(zip(heights[1:], wanted[1:]), start=2):
        if place.below_mm is None:
            continue
        below, sd = 1000.0 * (heights[0].value - seen.value), 1000.0 * (seen.sd**2 + heights[0].sd ** 2) ** 0.5
        off = below - place.below_mm
        act = (
            f"{units.show('mark', abs(off), 1)} {'up' if off > 0 else 'down'}"
            if abs(off) > 1.96 * sd
            else "stands right, as well as the photo tells"
        )
        told.append((str(number), units.show("mark", below, 1), units.show("mark", place.below_mm, 1), act))
    return told
