"""The card's form: from the card to text in the user's units, and back with every message."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass
from datetime import date

from cross_staff.core import peep, ranges
from cross_staff.core.arrow import USUAL_DRAG_PER_M, Component
from cross_staff.core.chronograph import DEFAULT_ACCURACY, DEFAULT_DISTANCE_M, Session
from cross_staff.core.ranges import Range
from cross_staff.core.rig import PEEP_WAYS, Build, Goals, PeepEntry, RigCard, TapeWish
from cross_staff.core.sights import KINDS
from cross_staff.web.card_fields import (
    CHOICES,
    COMPONENT_NAMES,
    COMPONENT_ROWS,
    NUMBERS,
    PART_CENTRE,
    PART_MASS,
    READING_SPAN,
    TEXTS,
)
from cross_staff.web.forms import Typing, out_of_range
from cross_staff.web.numbers import NotANumber, read_list
from cross_staff.web.units import CHOICES as UNIT_CHOICES
from cross_staff.web.units import Units

_ANY = Range(-1e9, 1e9)


@dataclass
class CardForm(Typing):
    """The card as it stands in the browser, beside the one that is kept.

    A field that still shows what is kept gives the kept value back, so that showing it rounded, or
    in another unit, changes nothing.
    """

    kept: RigCard | None = None

    def number(self, name: str, quantity: str, span: Range) -> float | None:
        if self.kept is not None:
            value = values(self.kept).get(name)
            if value is not None and self.typed.get(name) == self.units.plain(quantity, value):
                return value
        return super().number(name, quantity, span)

    def readings(self) -> tuple[float, ...]:
        """Speeds typed as a list [m/s]. Raises: NotANumber."""
        text = self.typed.get("readings", "")
        if self.kept is not None and text == filled(self.kept, self.units)["readings"]:
            return self.kept.chronograph.readings_mps
        return tuple(each.value for each in read_list(text, "speed", self.units))

    def numeric(self, name: str) -> float | None:
        spec = NUMBERS[name]
        return self.number(name, spec.quantity, spec.span)

    def chosen(self, name: str) -> str:
        return self.choice(name, tuple(key for key, _ in CHOICES[name]))


def units_of(typed: Mapping[str, str], prefix: str) -> Units:
    """Units from the fields `prefix` + quantity."""
    return Units.of({quantity: typed.get(prefix + quantity, "") for quantity in UNIT_CHOICES})


def filled(card: RigCard, units: Units) -> dict[str, str]:
    """The card as text, field by field."""
    build, tape, way = card.build, card.tape, card.peep
    session = card.chronograph
    texts = {
        "name": card.name,
        "archer": card.archer,
        "occasion": card.occasion,
        "bow": card.bow,
        "sight": card.sight,
        "arrow_name": build.name,
        "due": card.due.isoformat() if card.due else "",
        "handed": card.handed,
        "sight_kind": card.sight_kind,
        "ranged_from": card.ranged_from,
        "peep_way": way.way,
        "tape_ticks_at": tape.ticks_at,
        "tape_runs": tape.farther_runs,
        "tape_scale": "grows" if tape.scale_grows else "falls",
        "tape_kind": "unknown" if tape.ratio is None else "slide" if tape.ratio == 1.0 else "ratio",
        "readings": "  ".join(units.plain("speed", v) for v in session.readings_mps),
    }
    texts |= {name: units.plain(_quantity(name), v) for name, v in values(card).items()}
    texts |= {f"left_out_{index}": "on" for index in sorted(session.left_out)}
    for row in range(max(COMPONENT_ROWS, len(build.components))):
        known = row < len(build.components)
        usual = COMPONENT_NAMES[row] if not build.components else ""
        texts[f"part_name_{row}"] = build.components[row].name if known else usual
        texts.setdefault(f"part_mass_{row}", "")
        texts.setdefault(f"part_centre_{row}", "")
    return texts


def values(card: RigCard) -> dict[str, float | None]:
    """The numbers of the card by the names of their fields, in SI units."""
    build, goals, tape, way = card.build, card.goals, card.tape, card.peep
    found = {
        "shaft_length": build.shaft_length_m,
        "shaft_density": build.shaft_kg_per_m,
        "shaft_diameter": build.shaft_diameter_m,
        "chrono_distance": card.chronograph.distance_m,
        "chrono_accuracy": card.chronograph.accuracy,
        "eye_to_sight": card.eye_to_sight_m,
        "peep_square": way.square_m,
        "peep_along": way.along_m,
        "peep_angle": way.angle_rad,
        "bow_axles": way.axle_to_axle_m,
        "bow_draw": way.true_draw_m,
        "home": goals.home_m,
        "farthest": goals.farthest_m,
        "target_size": goals.target_size_m,
        "group_size": goals.group_size_m,
        "group_at": goals.group_at_m,
        "tape_width": tape.width_mm,
        "tape_ratio": None if tape.ratio in (None, 1.0) else tape.ratio,
    }
    for row, part in enumerate(build.components):
        found |= {f"part_mass_{row}": part.mass_kg, f"part_centre_{row}": part.centre_from_throat_m}
    return found


def _quantity(name: str) -> str:
    if name in NUMBERS:
        return NUMBERS[name].quantity
    return "mass" if name.startswith("part_mass_") else "length"


def part_rows(typed: Mapping[str, str]) -> list[int]:
    """Indexes of the component rows in a form."""
    rows = [int(name[10:]) for name in typed if name.startswith("part_name_") and name[10:].isdigit()]
    return sorted(rows)[:40]


def read_card(form: CardForm) -> RigCard:
    """The card that was typed; what is wrong stands in `form.errors`, and is unknown on the card."""
    name = form.text("name", TEXTS["name"])
    if not name:
        form.errors["name"] = "a rig needs a name"
    card = RigCard(
        name=name,
        archer=form.text("archer", TEXTS["archer"]),
        occasion=form.text("occasion", TEXTS["occasion"]),
        due=_read_due(form),
        bow=form.text("bow", TEXTS["bow"]),
        handed=form.chosen("handed"),
        sight_kind=form.choice("sight_kind", tuple(KINDS)),
        sight=form.text("sight", TEXTS["sight"]),
        build=_read_build(form),
        chronograph=_read_session(form),
        eye_to_sight_m=form.numeric("eye_to_sight"),
        peep=_read_peep(form),
        ranged_from=form.chosen("ranged_from"),
        goals=_read_goals(form),
        tape=_read_tape(form),
    )
    _check_together(form, card)
    return card


def _check_together(form: CardForm, card: RigCard) -> None:
    """What no field shows by itself: the drag that the build makes, the height that the peep makes."""
    drag, height = card.build.drag_per_m(), card.peep.height()
    if drag is not None and not ranges.DRAG_PER_M.holds(drag):
        form.errors["shaft_diameter"] = (
            f"with this mass it makes a drag of {drag:.3f} /m, which no arrow has: check both"
        )
    elif drag is not None and not USUAL_DRAG_PER_M.holds(drag):
        form.notes["shaft_diameter"] = f"with this mass it makes an unusual drag, {drag:.4f} /m: check both"
    if height is not None and not ranges.PEEP_HEIGHT_M.holds(height.height_m):
        made = form.units.show("length", height.height_m, 0 if form.units.length == "mm" else 2)
        name = "peep_square" if card.peep.way in ("square", "eye") else "peep_along"
        form.errors[name] = f"with this angle the peep would be {made} high, which no bow has: check both"


def _read_due(form: CardForm) -> date | None:
    text = form.typed.get("due", "").strip()
    if not text:
        return None
    try:
        return date.fromisoformat(text)
    except ValueError:
        form.errors["due"] = f"“{text[:24]}” is not a date: year-month-day, like 2026-12-05"
        return None


def _read_build(form: CardForm) -> Build:
    parts = [part for row in part_rows(form.typed) if (part := _read_part(form, row)) is not None]
    return Build(
        form.text("arrow_name", TEXTS["arrow_name"]),
        form.numeric("shaft_length"),
        form.numeric("shaft_density"),
        form.numeric("shaft_diameter"),
        tuple(parts),
    )


def _read_part(form: CardForm, row: int) -> Component | None:
    mass_name, centre_name = f"part_mass_{row}", f"part_centre_{row}"
    mass = form.number(mass_name, PART_MASS.quantity, PART_MASS.span)
    centre = form.number(centre_name, PART_CENTRE.quantity, PART_CENTRE.span)
    name = form.text(f"part_name_{row}", 40)
    if mass is None and centre is None:
        return None
    if mass is None and mass_name not in form.errors:
        form.errors[mass_name] = "its mass is missing"
    if centre is None and centre_name not in form.errors:
        form.errors[centre_name] = "where its centre sits is missing"
    if mass is None or centre is None:
        return None
    return Component(name or "part", mass, centre)


def _read_session(form: CardForm) -> Session:
    distance, accuracy = form.numeric("chrono_distance"), form.numeric("chrono_accuracy")
    readings: tuple[float, ...] = ()
    try:
        readings = form.readings()
    except NotANumber as error:
        form.errors["readings"] = str(error)
    wrong = [value for value in readings if not READING_SPAN.holds(value)]
    if wrong:
        form.errors["readings"] = out_of_range("speed", READING_SPAN, wrong[0], form.units)
    left_out = frozenset(i for i in range(len(readings)) if form.typed.get(f"left_out_{i}"))
    if readings and len(left_out) == len(readings):
        form.errors["readings"] = "every reading is left out: keep at least one"
    if "readings" in form.errors:
        readings, left_out = (), frozenset()
    return Session(
        readings,
        left_out,
        DEFAULT_DISTANCE_M if distance is None else distance,
        DEFAULT_ACCURACY if accuracy is None else accuracy,
    )


def _read_peep(form: CardForm) -> PeepEntry:
    way = form.choice("peep_way", tuple(PEEP_WAYS))
    square = form.numeric("peep_square")
    if way == "square" and square is not None and peep.looks_along_string(square):
        places = 0 if form.units.length == "mm" else 2
        low = form.units.show("length", square * math.sin(peep.USUAL_ANGLE_RAD[0]), places)
        high = form.units.show("length", square * math.sin(peep.USUAL_ANGLE_RAD[1]), places)
        form.notes["peep_square"] = (
            f"this looks like a length along the string; square to the arrow it would be {low} to {high}"
        )
    return PeepEntry(
        way,
        square,
        form.numeric("peep_along"),
        form.numeric("peep_angle"),
        form.numeric("bow_axles"),
        form.numeric("bow_draw"),
    )


def _read_goals(form: CardForm) -> Goals:
    home, farthest = form.numeric("home"), form.numeric("farthest")
    if home is not None and farthest is not None and farthest <= home:
        form.errors["farthest"] = "must be farther than home"
    if form.typed.get("group_size", "").strip() and not form.typed.get("group_at", "").strip():
        form.errors["group_at"] = "at which distance?"
    size, at = form.numeric("group_size"), form.numeric("group_at")
    return Goals(home, farthest, form.numeric("target_size"), size, at)


def _read_tape(form: CardForm) -> TapeWish:
    width, kind = form.numeric("tape_width"), form.chosen("tape_kind")
    ratio = form.numeric("tape_ratio")
    if kind == "ratio" and ratio is None and "tape_ratio" not in form.errors:
        form.errors["tape_ratio"] = "type the ratio, or let it be found from the marks"
    known = {"slide": 1.0, "ratio": ratio or 1.0, "unknown": None}[kind]
    return TapeWish(
        TapeWish.width_mm if width is None else width,
        form.chosen("tape_ticks_at"),
        form.chosen("tape_runs"),
        form.chosen("tape_scale") == "grows",
        known,
        form.units.to_si("distance", 1.0),
    )


def converted(typed: Mapping[str, str], old: Units, new: Units, kept: RigCard) -> dict[str, str]:
    """The same form in other units; what cannot be read as a number stays as it was typed."""
    form, result = CardForm(typed, old, kept=kept), dict(typed)
    for name in typed:
        if name in NUMBERS or name.startswith(("part_mass_", "part_centre_")):
            quantity = _quantity(name)
            value = form.number(name, quantity, _ANY)
            if value is not None and old.unit(quantity) != new.unit(quantity):
                result[name] = new.plain(quantity, value)
    try:
        if old.speed != new.speed:
            result["readings"] = "  ".join(new.plain("speed", v) for v in form.readings())
    except NotANumber:
        pass
    return result
