"""The card's form: from the card to text in the user's units, and back with every message."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import replace
from datetime import date

from cross_staff.core.card.faults import faults
from cross_staff.core.ranges import Range
from cross_staff.core.rig import peep
from cross_staff.core.rig.card import PEEP_WAYS, Bow, Goals, PeepEntry, RigCard
from cross_staff.core.rig.sight_kinds import KINDS
from cross_staff.web.card.arrow_form import (
    build_fields,
    build_lists,
    build_texts,
    build_values,
    estimated_texts,
    read_build,
    still_estimated,
)
from cross_staff.web.card.fields import CHOICES, ESTIMATED, LISTS, NUMBERS, TEXTS
from cross_staff.web.card.tape_seat import read_seat, seat_lists, seat_texts, seat_values
from cross_staff.web.forms.form import FormInput
from cross_staff.web.forms.merge import seen_by
from cross_staff.web.forms.units import CHOICES as UNIT_CHOICES
from cross_staff.web.forms.units import Units

_ANY = Range(-1e9, 1e9)


def card_typing(typed: Mapping[str, str], units: Units, kept: RigCard) -> FormInput:
    """What was typed beside the card that is kept."""
    return FormInput(typed, units, kept=values(kept), kept_lists=lists(kept))


def units_of(typed: Mapping[str, str], prefix: str, kept: Mapping[str, str]) -> Units:
    """Units from the fields `prefix` + quantity; those that were kept where a form does not say."""
    return Units.of({quantity: typed.get(prefix + quantity, kept.get(quantity, "")) for quantity in UNIT_CHOICES})


def units_kept(typed: Mapping[str, str], kept: Mapping[str, str]) -> dict[str, str]:
    """The rig's units after a save: those that the writer changed, else those that hold by now."""
    chosen, seen = units_of(typed, "typed_unit_", kept).keys(), seen_by(typed)
    was = seen.units if seen else kept
    return {name: unit if unit != was.get(name) else kept.get(name, unit) for name, unit in chosen.items()}


def filled(card: RigCard, units: Units) -> dict[str, str]:
    """The card as text, field by field."""
    goals = card.goals
    texts = {
        "name": card.name,
        "archer": card.archer,
        "occasion": card.occasion,
        "bow": card.bow.words,
        "release": card.release,
        "anchor": card.anchor,
        "sight": card.sight.name,
        "due": card.due.isoformat() if card.due else "",
        "handed": card.handed,
        "cams_by": card.bow.cams_by,
        "sight_kind": card.sight.kind,
        "ranged_from": card.ranged_from,
        "peep_way": card.peep.way,
        "level_only": "yes" if goals.level_only else "no",
        "rules": goals.rules,
    } | build_texts(card.build, units)
    texts |= estimated_texts(card, units)
    texts |= seat_texts(card.tape)
    texts |= {name: units.plain(_quantity(name), v) for name, v in values(card).items()}
    return texts | {name: units.listed(LISTS[name].quantity, v) for name, v in lists(card).items() if name in LISTS}


def values(card: RigCard) -> dict[str, float | None]:
    """The numbers of the card by the names of their fields, in SI units."""
    goals, way, bow = card.goals, card.peep, card.bow
    return (
        {
            "draw_weight": bow.draw_weight_n,
            "nock_to_rest": bow.nock_to_rest_m,
            "least_mass": bow.least_mass_per_force,
            "let_off": bow.let_off,
            "eye_to_sight": card.eye_to_sight_m,
            "peep_square": way.square_m,
            "peep_square_sd": way.square_sd_m,
            "eye_to_sight_sd": card.eye_to_sight_sd_m,
            "peep_along": way.along_m,
            "peep_angle": way.angle_rad,
            "peep_aperture": way.aperture_m,
            "eye_to_peep": way.eye_to_peep_m,
            "bow_axles": way.axle_to_axle_m,
            "bow_draw": way.true_draw_m,
            "home": goals.home_m,
            "farthest": goals.farthest_m,
            "target_size": goals.target_size_m,
            "group_size": goals.group_size_m,
            "group_at": goals.group_at_m,
            "slope_up": goals.slope_up_rad,
            "slope_down": goals.slope_down_rad,
        }
        | seat_values(card.tape)
        | build_values(card.build)
    )


def lists(card: RigCard) -> dict[str, tuple[float, ...]]:
    """The lists of the card by the names of their fields, in SI units."""
    goals = card.goals
    return {"distances": goals.distances_m, "pin_distances": goals.pin_distances_m} | (
        build_lists(card.build) | seat_lists(card.tape)
    )


def _quantity(name: str) -> str:
    if name in NUMBERS:
        return NUMBERS[name].quantity
    return "mass" if name.startswith("part_mass_") else "length"


def read_card(form: FormInput, kept: RigCard, today: date) -> RigCard:
    """The card that was typed; what is wrong stands in `form.errors`, and is unknown on the card."""
    name = form.text("name", TEXTS["name"])
    bow = _read_bow(form)
    card = replace(
        kept,
        name=name,
        archer=form.text("archer", TEXTS["archer"]),
        occasion=form.text("occasion", TEXTS["occasion"]),
        due=_read_due(form),
        bow=bow,
        handed=_chosen(form, "handed"),
        release=form.text("release", TEXTS["release"]),
        anchor=form.text("anchor", TEXTS["anchor"]),
        sight=replace(
            kept.sight,
            name=form.text("sight", TEXTS["sight"]),
            kind=form.choice("sight_kind", (kept.sight.kind, *KINDS)),
            tape=read_seat(form),
        ),
        eye_to_sight_m=_numeric(form, "eye_to_sight"),
        eye_to_sight_sd_m=_numeric(form, "eye_to_sight_sd"),
        eye_to_sight_estimated=still_estimated(form, "eye_to_sight", kept.eye_to_sight_estimated),
        peep=_read_peep(form, kept.peep),
        ranged_from=_chosen(form, "ranged_from"),
        goals=_read_goals(form),
    ).with_build(read_build(form, kept.build, bow.draw_weight_n, today))
    form.say(faults(card), _FIELDS | build_fields(card.in_use))
    return card


def _numeric(form: FormInput, name: str) -> float | None:
    spec = NUMBERS[name]
    return form.number(name, spec.quantity, spec.span)


def _list(form: FormInput, name: str) -> tuple[float, ...]:
    spec = LISTS[name]
    return form.numbers(name, spec.quantity, spec.span)


def _chosen(form: FormInput, name: str) -> str:
    return form.choice(name, tuple(key for key, _ in CHOICES[name]))


_FIELDS = {
    "name": "name",
    "goals.farthest_m": "farthest",
    "goals.group_at_m": "group_at",
    "goals.pin_distances_m": "pin_distances",
    "peep.along_m": "peep_along",
    "sight.kind": "sight_kind",
    "sight.pointers": "pin_distances",
}


def _read_due(form: FormInput) -> date | None:
    text = form.typed.get("due", "").strip()
    if not text:
        return None
    try:
        return date.fromisoformat(text)
    except ValueError:
        form.errors["due"] = f"“{text[:24]}” is not a date: year-month-day, like 2026-12-05"
        return None


def _read_bow(form: FormInput) -> Bow:
    return Bow(
        form.text("bow", TEXTS["bow"]),
        _numeric(form, "draw_weight"),
        _numeric(form, "nock_to_rest"),
        _numeric(form, "least_mass"),
        _numeric(form, "let_off"),
        _chosen(form, "cams_by"),
    )


def _read_peep(form: FormInput, kept: PeepEntry) -> PeepEntry:
    way = form.choice("peep_way", tuple(PEEP_WAYS))
    square = _numeric(form, "peep_square")
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
        _numeric(form, "peep_along"),
        _numeric(form, "peep_angle"),
        _numeric(form, "bow_axles"),
        _numeric(form, "bow_draw"),
        _numeric(form, "peep_aperture"),
        _numeric(form, "eye_to_peep"),
        way == "square" and still_estimated(form, "peep", kept.estimated),
        _numeric(form, "peep_square_sd"),
    )


def _read_goals(form: FormInput) -> Goals:
    home, farthest = _numeric(form, "home"), _numeric(form, "farthest")
    size, at = _numeric(form, "group_size"), _numeric(form, "group_at")
    pins = _list(form, "pin_distances")
    return Goals(
        home,
        farthest,
        _numeric(form, "target_size"),
        size,
        at,
        tuple(sorted(set(_list(form, "distances")))),
        pins,
        _chosen(form, "level_only") == "yes",
        _numeric(form, "slope_up"),
        _numeric(form, "slope_down"),
        form.text("rules", TEXTS["rules"]),
    )


def converted(typed: Mapping[str, str], old: Units, new: Units, kept: RigCard) -> dict[str, str]:
    """The same form in other units; what cannot be read as a number stays as it was typed."""
    form, result = card_typing(typed, old, kept), dict(typed)
    for name in typed:
        if name in NUMBERS or name.startswith(("part_mass_", "part_centre_")):
            quantity = _quantity(name)
            value = form.number(name, quantity, _ANY)
            if value is not None and old.unit(quantity) != new.unit(quantity):
                result[name] = new.plain(quantity, value)
                for key in (key for key, place in ESTIMATED.items() if place == name):
                    if typed.get(f"estimated_{key}") == typed[name]:
                        result[f"estimated_{key}"] = result[name]
    for name, quantity in [("readings", "speed"), *((name, spec.quantity) for name, spec in LISTS.items())]:
        several = form.numbers(name, quantity, _ANY)
        if several and old.unit(quantity) != new.unit(quantity):
            result[name] = new.listed(quantity, several)
    return result
