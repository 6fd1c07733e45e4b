"""An arrow build and its newest session at the chronograph, as fields of a form and back."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace
from datetime import date

from cross_staff.core.ballistics.arrow import USUAL_DRAG_PER_M, Component
from cross_staff.core.ranges import DRAG_PER_M
from cross_staff.core.rig.arrow_build import ArrowBuild, usual_centre
from cross_staff.core.rig.card import RigCard
from cross_staff.core.rig.chronograph import DEFAULT_ACCURACY, DEFAULT_DISTANCE_M, ChronographSession
from cross_staff.web.card.fields import (
    CHOICES,
    COMPONENT_NAMES,
    COMPONENT_ROWS,
    ESTIMATED,
    MOST_COMPONENTS,
    NUMBERS,
    PART_CENTRE,
    PART_MASS,
    READING_SPAN,
    SPARE_COMPONENTS,
    TEXTS,
)
from cross_staff.web.forms.form import FormInput
from cross_staff.web.forms.units import Units


def build_values(build: ArrowBuild) -> dict[str, float | None]:
    """The numbers of a build by the names of their fields, in SI units."""
    session = build.newest_session
    values = {
        "shaft_length": build.shaft_length_m,
        "shaft_density": build.shaft_kg_per_m,
        "shaft_diameter": build.shaft_diameter_m,
        "arrow_mass": build.measured_mass_kg,
        "balance_point": build.balance_point_m,
        "chrono_distance": session.distance_m,
        "chrono_accuracy": session.accuracy,
    }
    for row, part in enumerate(build.components):
        values |= {f"part_mass_{row}": part.mass_kg, f"part_centre_{row}": part.centre_from_throat_m}
    return values


def build_fields(index: int) -> dict[str, str]:
    """The form's field for each place of a build at which something can be wrong."""
    return {
        f"builds.{index}.shaft_diameter_m": "shaft_diameter",
        f"builds.{index}.sessions": "readings",
        f"builds.{index}.balance_point_m": "balance_point",
    }


def build_lists(build: ArrowBuild) -> dict[str, tuple[float, ...]]:
    """The lists of a build by the names of their fields."""
    return {"readings": build.newest_session.readings_mps}


def build_texts(build: ArrowBuild, units: Units) -> dict[str, str]:
    """A build as text, field by field, but for its numbers."""
    session = build.newest_session
    texts = {
        "arrow_name": build.name,
        "spine": build.spine,
        "session": "same",
        "speed_way": "unmeasured" if build.speed_unmeasured else "measured",
        "readings": units.listed("speed", session.readings_mps),
    }
    texts |= {f"left_out_{index}": "on" for index in sorted(session.left_out)}
    for row in range(max(COMPONENT_ROWS, len(build.components) + SPARE_COMPONENTS)):
        known = row < len(build.components)
        usual = COMPONENT_NAMES[row] if not build.components else ""
        texts[f"part_name_{row}"] = build.components[row].name if known else usual
        texts[f"part_mass_{row}"] = texts[f"part_centre_{row}"] = ""
    return texts


def part_rows(typed: Mapping[str, str]) -> list[int]:
    """Indexes of the component rows in a form."""
    rows = [int(name[10:]) for name in typed if name.startswith("part_name_") and name[10:].isdecimal()]
    return sorted(rows)[:MOST_COMPONENTS]


def read_build(form: FormInput, kept: ArrowBuild, draw_weight_n: float | None, today: date) -> ArrowBuild:
    """The build that was typed; what is wrong stands in `form.errors`, and is unknown on the build."""
    length = _numeric(form, "shaft_length")
    parts = [part for row in part_rows(form.typed) if (part := _read_part(form, row, length)) is not None]
    build = replace(
        kept,
        name=form.text("arrow_name", TEXTS["arrow_name"]),
        shaft_length_m=length,
        balance_point_m=_numeric(form, "balance_point"),
        shaft_kg_per_m=_numeric(form, "shaft_density"),
        shaft_diameter_m=_numeric(form, "shaft_diameter"),
        components=tuple(parts),
        measured_mass_kg=_numeric(form, "arrow_mass"),
        spine=form.text("spine", TEXTS["spine"]),
        sessions=_read_sessions(form, kept, today),
        speed_unmeasured=form.choice("speed_way", tuple(key for key, _ in CHOICES["speed_way"])) == "unmeasured",
        mass_estimated=still_estimated(form, "arrow_mass", kept.mass_estimated),
        diameter_estimated=still_estimated(form, "shaft_diameter", kept.diameter_estimated),
    )
    _note_drag(form, build)
    return build


def still_estimated(form: FormInput, key: str, kept: bool) -> bool:
    """Whether a field still says what was put there in place of a measurement; as kept, where the form is silent."""
    field = ESTIMATED[key]
    text, given = form.typed.get(field, "").strip(), form.typed.get(f"estimated_{key}")
    if given is None and kept:
        given = form.units.plain(NUMBERS[field].quantity, form.kept.get(field))
    return bool(text) and given == text


def estimated_texts(card: RigCard, units: Units) -> dict[str, str]:
    """What was put in place of measurements, beside the fields that say it, to be known again."""
    build = card.build
    told = {
        "arrow_mass": build.measured_mass_kg,
        "shaft_diameter": build.shaft_diameter_m,
        "eye_to_sight": card.eye_to_sight_m,
        "peep": card.peep.square_m,
    }
    return {
        f"estimated_{key}": units.plain(NUMBERS[ESTIMATED[key]].quantity, value) if key in card.estimated else ""
        for key, value in told.items()
    }


def _numeric(form: FormInput, name: str) -> float | None:
    spec = NUMBERS[name]
    return form.number(name, spec.quantity, spec.span)


def _read_part(form: FormInput, row: int, shaft_length_m: float | None) -> Component | None:
    mass_name, centre_name = f"part_mass_{row}", f"part_centre_{row}"
    mass = form.number(mass_name, PART_MASS.quantity, PART_MASS.span)
    centre = form.number(centre_name, PART_CENTRE.quantity, PART_CENTRE.span)
    name = form.text(f"part_name_{row}", 40)
    if mass is None and centre is None:
        return None
    if mass is None and mass_name not in form.errors:
        form.errors[mass_name] = "its mass is missing"
    if centre is None and centre_name not in form.errors:
        centre = usual_centre(name, shaft_length_m) if shaft_length_m is not None else None
        if centre is None:
            form.errors[centre_name] = "where its centre sits is missing"
        else:
            form.notes[centre_name] = f"placed from the shaft: {form.units.show('length', centre, 0)}"
    if mass is None or centre is None:
        return None
    return Component(name or "part", mass, centre)


def _read_sessions(form: FormInput, kept: ArrowBuild, today: date) -> tuple[ChronographSession, ...]:
    """The kept sessions with the newest as typed, or with a new one behind them."""
    readings = form.numbers("readings", "speed", READING_SPAN)
    left_out = frozenset(i for i in range(len(readings)) if form.typed.get(f"left_out_{i}"))
    if "readings" in form.errors:
        return kept.sessions
    distance, accuracy = _numeric(form, "chrono_distance"), _numeric(form, "chrono_accuracy")
    newest = kept.newest_session
    typed = ChronographSession(
        readings,
        left_out,
        DEFAULT_DISTANCE_M if distance is None else distance,
        DEFAULT_ACCURACY if accuracy is None else accuracy,
    )
    if form.choice("session", tuple(key for key, _ in CHOICES["session"])) == "new" and kept.chronographed:
        if readings == newest.readings_mps:
            form.errors["readings"] = "these are the newest session's: type the readings of the new one"
            return kept.sessions
        return (*kept.sessions, replace(typed, day=today)) if readings else kept.sessions
    if typed == replace(newest, day=None, draw_weight_n=None, mass_kg=None):
        return kept.sessions
    if not readings and not kept.sessions:
        return ()
    day = newest.day if newest.same_as(typed) else today
    stamped = replace(typed, day=day, draw_weight_n=newest.draw_weight_n, mass_kg=newest.mass_kg)
    return kept.with_newest(stamped).sessions


def _note_drag(form: FormInput, build: ArrowBuild) -> None:
    """An unusual drag is worth a second look."""
    drag = build.drag_per_m()
    if drag is None:
        return
    if DRAG_PER_M.holds(drag) and not USUAL_DRAG_PER_M.holds(drag):
        form.notes["shaft_diameter"] = f"with this mass it makes an unusual drag, {drag:.4f} /m: check both"
