"""A sight model as fields of a form, and back."""

from __future__ import annotations

import re
from collections.abc import Mapping
from dataclasses import replace

from cross_staff.core.card.faults import faults, sight_faults
from cross_staff.core.ranges import Range
from cross_staff.core.rig.card import RigCard
from cross_staff.core.rig.display import DISPLAY_LENGTHS
from cross_staff.core.rig.limits import LIMITS
from cross_staff.core.rig.sight import (
    AXIS_KEYS,
    DRIVES,
    HANDS,
    HOME_STOPS,
    KEY_SYSTEMS,
    MOVEMENTS,
    PAIRS,
    WAYS,
    YES_NO,
    Control,
    DisplayLength,
    Housing,
    Pin,
    Screw,
    SightModel,
)
from cross_staff.core.rig.sight_kinds import KINDS
from cross_staff.web.card.fields import NUMBERS as SEAT_NUMBERS
from cross_staff.web.card.fields import NumberField
from cross_staff.web.card.tape_seat import read_seat, seat_lists, seat_texts, seat_values
from cross_staff.web.forms.form import FormInput
from cross_staff.web.forms.table import Column, Rows, joined, options
from cross_staff.web.forms.units import Units

NUMBERS = {
    field.name: field
    for field in (
        NumberField(
            "slider_travel", "Slider travel", "mark", LIMITS["sight.slider_travel_mm"], "of the housing on its rail"
        ),
        NumberField(
            "housing_inner", "Housing, inside", "mark", LIMITS["sight.housing.inner_mm"], "diameter of the opening"
        ),
        NumberField("housing_outer", "Housing, outside", "mark", LIMITS["sight.housing.outer_mm"]),
        NumberField(
            "below_pin",
            "Lower edge",
            "mark",
            LIMITS["sight.housing.below_pin_mm"],
            "of the housing, below the top pin",
        ),
        NumberField(
            "pin_room",
            "Room for pins",
            "mark",
            LIMITS["sight.housing.pin_room_mm"],
            "top pin to the lowest place of a pin",
        ),
        NumberField("dovetail", "Dovetail length", "mark", LIMITS["sight.dovetail_mm"]),
        NumberField(
            "scale_division", "Scale division", "mark", LIMITS["sight.scale_division_mm"], "of a target sight's scale"
        ),
    )
}
LISTS = {
    field.name: field
    for field in (
        NumberField(
            "extension", "Extension places", "mark", LIMITS["sight.extension_mm"], "along the dovetail, nearest 0"
        ),
        NumberField("holes", "Mounting holes", "mark", LIMITS["sight.holes_mm"], "heights, the lowest 0"),
        NumberField(
            "pointers", "Pointers", "count", Range(1.0, 20.0), "each by its pin, the top one 1; empty: the usual"
        ),
        NumberField(
            "coarse_steps", "Coarse steps", "mark", LIMITS["sight.coarse_steps_mm"], "bracket or spacer positions"
        ),
    )
}
_AXIS_WAYS = (("", "not known"), ("none", "does not adjust"), *(item for item in DRIVES.items() if item[0]))
_CHOICES = {
    "first_axis": _AXIS_WAYS,
    "second_axis": _AXIS_WAYS,
    "third_axis": _AXIS_WAYS,
    "carries_pins": options(YES_NO),
    "pins_in_line": options(YES_NO),
    "home_stop": options(HOME_STOPS),
    "hand": options(HANDS),
    "index_marks": options(YES_NO),
    "as_usual": (("no", "looked at on this sight"), ("yes", "as such sights usually are: assumed")),
}


def choices() -> dict[str, tuple[tuple[str, str], ...]]:
    """What can be chosen in each list of the form: keys, and their words."""
    return {"kind": tuple((kind.key, kind.name) for kind in KINDS.values())} | _CHOICES


LABELS = {
    "kind": "Kind",
    "first_axis": "First axis by",
    "second_axis": "Second axis by",
    "third_axis": "Third axis by",
    "carries_pins": "Second axis carries the pins",
    "pins_in_line": "Pins in one plane",
    "home_stop": "Home stop",
    "hand": "Made for",
    "index_marks": "Index marks on the axis joints",
    "as_usual": "These figures are",
}
TEXTS = {"heads": ("Heads", 120), "head_in_use": ("Head in use", 40), "note": ("Note", 300)}
CONTROLS = Rows(
    "control",
    "Controls",
    (
        Column("name", "Control"),
        Column("moves", "moves", options=options(MOVEMENTS)),
        Column("per_click_mm", "mm a click", "mark", LIMITS["sight.controls.per_click_mm"]),
        Column("clicks_per_turn", "clicks a turn", "plain", LIMITS["sight.controls.clicks_per_turn"]),
        Column("per_turn_mm", "mm a turn", "mark", LIMITS["sight.controls.per_turn_mm"]),
        Column("travel_mm", "travel, mm", "mark", LIMITS["sight.controls.travel_mm"]),
        Column("position_mm", "stands at, mm", "mark", LIMITS["sight.controls.position_mm"]),
        Column("clockwise", "clockwise goes", options=options(WAYS)),
        Column("checked", "checked on this bow", tick=True),
    ),
)
SCREWS = Rows(
    "screw",
    "Screw map",
    (
        Column("name", "Screw or knob"),
        Column("movement", "drives", options=options(MOVEMENTS)),
        Column("drive", "as", options=options(DRIVES)),
        Column("unlock_first", "unlock first, by"),
        Column("key_size", "key"),
        Column("key_system", "system", options=options(KEY_SYSTEMS)),
        Column("hidden", "hidden", tick=True),
        Column("never", "never touch", tick=True),
        Column("pair", "a pair's two are", options=options(PAIRS)),
    ),
)
PINS = Rows(
    "pin",
    "Pins, from the top",
    (
        Column("thickness_mm", "thickness, mm", "mark", LIMITS["sight.pins.thickness_mm"]),
        Column("colour", "colour"),
        Column("retractable", "can be drawn away", tick=True),
    ),
)
ASKED = Rows(
    "asked",
    "What its display asks for",
    (Column("name", "it calls it"), Column("what", "that is", options=options(DISPLAY_LENGTHS))),
)
TABLES = (PINS, CONTROLS, SCREWS, ASKED)
_TICKS = re.compile("|".join(rf"{t.prefix}_[0-9]{{1,3}}_{c.name}" for t in TABLES for c in t.columns if c.tick))


def is_tick(name: str) -> bool:
    """Whether a field is a box to tick."""
    return _TICKS.fullmatch(name) is not None


def sight_values(model: SightModel) -> dict[str, float | None]:
    """The numbers of a model by the names of their fields."""
    housing = model.housing
    return {
        "slider_travel": model.slider_travel_mm,
        "housing_inner": housing.inner_mm,
        "housing_outer": housing.outer_mm,
        "below_pin": housing.below_pin_mm,
        "pin_room": housing.pin_room_mm,
        "scale_division": model.scale_division_mm,
        "dovetail": model.dovetail_mm,
        **seat_values(model.tape),
        **CONTROLS.values(model.controls),
        **PINS.values(model.pins),
    }


def sight_lists(model: SightModel) -> dict[str, tuple[float, ...]]:
    return {
        "extension": model.extension_mm,
        "holes": model.holes_mm,
        "coarse_steps": model.coarse_steps_mm,
        "pointers": tuple(float(pin + 1) for pin in model.pointers),
    } | seat_lists(model.tape)


def sight_typing(typed: Mapping[str, str], units: Units, kept: SightModel) -> FormInput:
    """What was typed beside the model that is kept."""
    return FormInput(typed, units, sight_values(kept), sight_lists(kept))


def sight_filled(model: SightModel, units: Units) -> dict[str, str]:
    """A model as text, field by field."""
    texts = {
        "sight_name": model.name,
        "kind": model.kind,
        "carries_pins": model.second_axis_carries_pins,
        "pins_in_line": model.pins_in_line,
        "home_stop": model.home_stop,
        "hand": model.hand,
        "index_marks": model.index_marks,
        "as_usual": "yes" if model.as_usual else "no",
        "heads": ", ".join(model.heads),
        "head_in_use": model.head_in_use,
        "note": model.note,
    } | dict(zip(AXIS_KEYS, model.axes))
    values = sight_values(model)
    numbers = NUMBERS | {name: SEAT_NUMBERS[name] for name in seat_values(model.tape)}
    texts |= seat_texts(model.tape)
    texts |= {name: units.plain(spec.quantity, values[name]) for name, spec in numbers.items()}
    texts |= {name: units.listed(_list_quantity(name), places) for name, places in sight_lists(model).items()}
    texts |= PINS.texts(model.pins, units) | CONTROLS.texts(model.controls, units)
    return texts | SCREWS.texts(model.screws, units) | ASKED.texts(model.display_lengths, units)


def read_sight(form: FormInput, kept: SightModel) -> SightModel:
    """The model that was typed; what is wrong stands in `form.errors`."""
    name = form.text("sight_name", 120)
    if not name and "sight_name" not in form.errors:
        form.errors["sight_name"] = "give it a name, in words"
    controls, control_rows = CONTROLS.read(form, Control)
    screws, _ = SCREWS.read(form, Screw)
    pins, _ = PINS.read(form, Pin)
    asked, _ = ASKED.read(form, DisplayLength)
    heads = tuple(dict.fromkeys(part.strip() for part in form.text("heads", 120).split(",") if part.strip()))
    model = replace(
        kept,
        name=name,
        kind=_chosen(form, "kind"),
        axes=(_chosen(form, "first_axis"), _chosen(form, "second_axis"), _chosen(form, "third_axis")),
        second_axis_carries_pins=_chosen(form, "carries_pins"),
        pins=pins,
        pins_in_line=_chosen(form, "pins_in_line"),
        housing=Housing(*(_number(form, n) for n in ("housing_inner", "housing_outer", "below_pin", "pin_room"))),
        slider_travel_mm=_number(form, "slider_travel"),
        home_stop=_chosen(form, "home_stop"),
        coarse_steps_mm=_several(form, "coarse_steps"),
        extension_mm=_several(form, "extension"),
        holes_mm=_several(form, "holes"),
        scale_division_mm=_number(form, "scale_division"),
        controls=controls,
        screws=screws,
        heads=heads,
        head_in_use=form.text("head_in_use", 40),
        tape=read_seat(form),
        note=form.text("note", 300),
        hand=_chosen(form, "hand"),
        index_marks=_chosen(form, "index_marks"),
        as_usual=_chosen(form, "as_usual") == "yes" if "as_usual" in form.typed else kept.as_usual,
        dovetail_mm=_number(form, "dovetail"),
        display_lengths=asked,
        pointers=_pointers(form),
    )
    rows = {
        f"controls.{place}.{column.name}": f"control_{row}_{column.name}"
        for place, row in enumerate(control_rows)
        for column in CONTROLS.columns
    }
    form.say(sight_faults(model), _FIELDS | rows)
    return model


def say_on_this_rig(form: FormInput, card: RigCard) -> None:
    """What the sight cannot be together with the rest of the card, at the sight's own fields."""
    form.say(faults(card), {f"sight.{path}": name for path, name in _FIELDS.items()} | _WITH_THE_CARD)


_WITH_THE_CARD = {"mount.reserve_mm": "slider_travel"}
_FIELDS = {
    "housing.inner_mm": "housing_inner",
    "housing.pin_room_mm": "pin_room",
    "extension_mm": "extension",
    "holes_mm": "holes",
    "coarse_steps_mm": "coarse_steps",
    "head_in_use": "head_in_use",
    "pointers": "pointers",
    "kind": "kind",
}


def _number(form: FormInput, name: str) -> float | None:
    spec = NUMBERS[name]
    return form.number(name, spec.quantity, spec.span)


def _several(form: FormInput, name: str) -> tuple[float, ...]:
    spec = LISTS[name]
    return form.numbers(name, spec.quantity, spec.span)


def _pointers(form: FormInput) -> tuple[int, ...]:
    """The pins that have a pointer, the top one 0."""
    numbers = _several(form, "pointers")
    if any(number != int(number) for number in numbers):
        form.errors["pointers"] = "whole numbers, each the place of a pin from the top"
        return ()
    return tuple(int(number) - 1 for number in numbers)


def _list_quantity(name: str) -> str:
    return LISTS[name].quantity if name in LISTS else "mark"


def _chosen(form: FormInput, name: str) -> str:
    return form.choice(name, tuple(key for key, _ in choices()[name]))


def sight_texts(model: SightModel, units: Units) -> dict[str, str]:
    """A model by the labels of its fields, for reading; name and kind apart."""
    typed, labelled = sight_filled(model, units), {}
    for name, spec in (NUMBERS | LISTS).items():
        if typed[name]:
            labelled[spec.label] = f"{typed[name]} {units.label(spec.quantity)}"
    for name, offered in choices().items():
        if name != "kind":
            labelled[LABELS[name]] = dict(offered)[typed[name]] if typed[name] else ""
    labelled |= {label: typed[name] for name, (label, _) in TEXTS.items()}
    for number, pin in enumerate(model.pins, start=1):
        thick = units.show("mark", pin.thickness_mm) if pin.thickness_mm else ""
        labelled[f"Pin {number}"] = (
            joined([thick, pin.colour, "can be drawn away" if pin.retractable else ""]) or "there"
        )
    for control in model.controls:
        labelled[f"Control: {control.name}"] = _control_words(control, units)
    for screw in model.screws:
        key = f"{screw.key_size} {KEY_SYSTEMS[screw.key_system]}" if screw.key_size else ""
        never = "never touch" if screw.never else ""
        pair = PAIRS[screw.pair] if screw.pair else ""
        labelled[f"Screw: {screw.name}"] = joined([MOVEMENTS[screw.movement], DRIVES[screw.drive], pair, key, never])
    return labelled


def _control_words(control: Control, units: Units) -> str:
    turn = control.travel_per_turn()
    return joined(
        [
            MOVEMENTS[control.moves],
            f"{units.plain('mark', control.per_click_mm)} mm a click" if control.per_click_mm else "",
            f"{units.plain('mark', turn)} mm a turn" if turn else "",
            f"{units.plain('mark', control.travel_mm)} mm travel" if control.travel_mm else "",
            f"stands at {units.plain('mark', control.position_mm)} mm" if control.position_mm is not None else "",
            f"clockwise goes {control.clockwise}" if control.clockwise else "",
            "checked on this bow" if control.checked else "",
        ]
    )
