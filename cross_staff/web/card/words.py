"""What the card says: its warnings, the names of its fields, what a change makes stale."""

from __future__ import annotations

import re
from collections.abc import Iterable

from cross_staff.core.rig.arrow_build import Margins, SpineDoubt
from cross_staff.core.rig.card import RigCard
from cross_staff.core.rig.chronograph import ChronographSession
from cross_staff.core.rig.correction import Change
from cross_staff.core.rig.expected_speed import ExpectedSpeed
from cross_staff.core.stations import NextStep
from cross_staff.web.forms.units import Units
from cross_staff.web.shared.words import CAUTION_ARROW, CAUTION_DRAW, Now, named, plus_minus

RESULTS = {
    "speed": "speed",
    "tune": "tune",
    "timing": "cam timing",
    "peep_rotation": "peep rotation",
    "peep_height": "peep height",
    "clearance": "clearances",
    "peep_fit": "peep and housing",
    "draw_twist": "draw twist",
    "level": "level",
    "later_axes": "the later axes",
    "windage": "windage",
    "home": "home mark",
    "groups": "groups",
    "pins": "pins",
    "tape": "tape",
    "proof": "proof of the tape",
}

# dotted path on the card -> its name; a number in a path stands for any row
_PATHS = {
    "name": "name",
    "archer": "archer",
    "occasion": "occasion",
    "due": "due date",
    "bow.words": "bow",
    "bow.draw_weight_n": "draw weight",
    "bow.nock_to_rest_m": "nock to rest",
    "bow.least_mass_per_force": "lightest arrow allowed",
    "bow.let_off": "let-off",
    "bow.cams_by": "how the cams are set",
    "handed": "hand",
    "release": "release",
    "anchor": "anchor",
    "in_use": "arrow build in use",
    "builds": "arrow builds",
    "builds.#.name": "arrow's name",
    "builds.#.shaft_length_m": "shaft length",
    "builds.#.shaft_kg_per_m": "shaft weight",
    "builds.#.shaft_diameter_m": "shaft diameter",
    "builds.#.components": "components",
    "builds.#.measured_mass_kg": "weighed mass",
    "builds.#.balance_point_m": "balance point",
    "builds.#.spine": "spine",
    "builds.#.spine_for": "what the spine was chosen for",
    "builds.#.sessions": "chronograph sessions",
    "builds.#.speed_unmeasured": "speed that is not measured",
    "builds.#.mass_estimated": "mass that is only estimated",
    "builds.#.diameter_estimated": "diameter that is only estimated",
    "eye_to_sight_estimated": "eye to sight that is only estimated",
    "peep.estimated": "peep height that is only estimated",
    "eye_to_sight_m": "eye to sight",
    "ranged_from": "ranged from",
    "peep.way": "way of measuring the peep",
    "peep.square_m": "peep height",
    "peep.square_sd_m": "doubt of the peep height off a photo",
    "eye_to_sight_sd_m": "doubt of eye to sight off a photo",
    "peep.along_m": "nock to peep",
    "peep.angle_rad": "string's angle",
    "peep.axle_to_axle_m": "axle to axle",
    "peep.true_draw_m": "true draw",
    "peep.aperture_m": "peep aperture",
    "peep.eye_to_peep_m": "eye to peep",
    "goals.home_m": "home distance",
    "goals.farthest_m": "farthest distance",
    "goals.target_size_m": "target size",
    "goals.group_size_m": "usual group",
    "goals.group_at_m": "distance of the usual group",
    "goals.distances_m": "distances shot",
    "goals.pin_distances_m": "distances of the pins",
    "goals.level_only": "level ground or hills",
    "level": "vials, reference and their tolerance",
    "goals.slope_up_rad": "steepest up",
    "goals.slope_down_rad": "steepest down",
    "goals.rules": "local rules",
    "sight.name": "sight",
    "sight.kind": "kind of sight",
    "sight.tape.width_mm": "tape width",
    "sight.tape.ticks_at": "edge of the ticks",
    "sight.tape.farther_runs": "way the tape runs",
    "sight.tape.scale_grows": "way the scale runs",
    "sight.tape.ratio": "tape ratio",
    "sight.tape.unit_m": "unit of distance",
    "sight.tape.length_mm": "length of the tape's seat",
    "sight.tape.ratio_sd": "tape ratio, give or take",
    "sight.tape.places_mm": "seats for a tape",
    "sight.booklet": "booklet of strips",
    "sight.as_usual": "whether the sight was looked at",
    "sight.controls": "controls",
    "sight.screws": "screw map",
    "sight.pins": "pins",
    "sight.axes": "how the axes adjust",
    "mount.hole": "mounting hole",
    "mount.detent": "extension",
    "mount.home": "home position",
    "mount.reserve_mm": "reserve above home",
    "mount.pin_at_top_mm": "pin height at the top stop",
    "mount.ahead_of_grip_m": "pin ahead of the grip",
    "mount.vanes_mm": "vane height",
    "mount.clearance_mm": "clearance",
    "mount.torque": "torque notes",
}


def path_name(path: str) -> str:
    """The name of a field of the card, for a person."""
    plain = re.sub(r"\.\d+", ".#", path)
    while plain and plain not in _PATHS:
        plain, _, last = plain.rpartition(".")
        if not plain:
            return last.replace("_mm", "").replace("_", " ")
    return _PATHS[plain]


def changed_fields(changed: Iterable[Change]) -> str:
    """The names of the changed fields, each once, as a list in words."""
    return ", ".join(dict.fromkeys(path_name(change.path) for change in changed))


def results(keys: Iterable[str]) -> str:
    """Results by their names, as a list in words."""
    return ", ".join(RESULTS[key] for key in keys)


def session(session: ChronographSession, units: Units) -> str:
    """A session at the chronograph in a line."""
    when = session.day.isoformat() if session.day else "undated"
    if not session.kept_mps:
        return f"{when}: every reading left out"
    total = session.summary()
    error = "" if total.standard_error_mps is None else f" {plus_minus(units, 'speed', total.standard_error_mps)}"
    return f"{when}: {units.show('speed', total.mean_mps, 1)}{error}, mean of {total.count}"


def mass(units: Units, kg: float) -> str:
    return units.show("mass", kg, 0 if units.mass == "gr" else 1)


def weighs_apart(apart_kg: float, units: Units) -> str:
    side = "more" if apart_kg > 0 else "less"
    return (
        f"The scale says {mass(units, abs(apart_kg))} {side} than the parts add up to: one of them is missing or wrong."
    )


def too_light(ratio: float, least: float, units: Units) -> str:
    made, limit = units.show("mass_per_force", ratio, 1), units.show("mass_per_force", least, 1)
    return f"This arrow weighs {made}, and the bow's maker asks for at least {limit}: do not shoot it from this bow."


def spine_doubt(spine: str, doubt: SpineDoubt, units: Units) -> str:
    """Why a recorded spine may not fit any more."""
    name, quantity = {
        "draw_weight": ("draw weight", "force"),
        "shaft_length": ("shaft length", "length"),
        "front": ("mass at the front", "mass"),
    }[doubt.what]
    then, now = units.show(quantity, doubt.then, 1), units.show(quantity, doubt.now, 1)
    asks = "stiffer, heavier shaft, which drops more" if doubt.stiffer > 0 else "weaker shaft"
    return f"Spine {spine} was chosen for a {name} of {then}, now {now}: that asks for a {asks}. See the maker's chart."


def short_margin(part: str, margin: Margins, units: Units) -> str:
    """A margin at the rest that is too little."""
    value = margin.shaft_m if part == "shaft" else margin.collar_m
    behind = value is not None and value < 0.0
    shown = units.show("length", abs(value or 0.0), 0 if units.length == "mm" else 2)
    name = "The shaft" if part == "shaft" else "The point collar"
    if behind:
        return f"{name} would come {shown} behind the rest at full draw: never draw this arrow on this bow."
    return f"{name} stands only {shown} in front of the rest at full draw: too little for a bow drawn a little farther."


def expected(card: RigCard, speed: ExpectedSpeed, units: Units) -> str:
    """What is expected of a bow whose arrow nobody chronographed, and from what."""
    bow = card.bow
    known = {
        "draw_weight": ("draw weight", "force", bow.draw_weight_n, 0),
        "draw_length": ("true draw", "length", card.peep.true_draw_m, 1 if units.length == "in" else 0),
        "let_off": ("let-off", "percent", bow.let_off, 0),
    }
    stated = [f"{units.show(kind, v, places)} {name}" for name, kind, v, places in known.values() if v is not None]
    stated.append(f"an arrow of {mass(units, card.build.mass_kg() or 0.0)}")
    told = speed.at_sight
    wide = f"{units.show('speed', told.speed_mps, 0)} {plus_minus(units, 'speed', told.sd_mps, 0)}"
    words = f"Not measured. {wide} is expected of {', '.join(stated)}, as bows differ."
    taken = [known[key][0] for key in speed.assumed]
    if taken:
        words += f" Taken for granted, as nobody said it: {', '.join(taken)}."
    return f"{words} Marks at two distances tell it better than this."


_CARD_NOW = {
    "arrow": (
        "Weigh the arrow.",
        "Its mass and the shaft's diameter give the first guess of drag. Not at hand? Estimate it: the sheet says what that "
        "costs.",
    ),
    "chronograph": (
        "Shoot six arrows over the chronograph.",
        "The mean speed starts the tape; the spread says how far to trust it. No chronograph? Say “not "
        "measured”: marks at two distances do instead.",
    ),
    "eye_to_sight": (
        "Measure eye to sight.",
        "It is the lever of everything that follows: 5 mm here is half a per cent of every mark.",
    ),
    "peep": (
        "Measure the peep height.",
        "Square to the arrow, or along the string with its angle: never the one for the other. Without a peep, the eye's "
        "height over the arrow.",
    ),
    "home": ("Write down the home distance.", "The distance for which the slider rests at its home mark."),
    "farthest": ("Write down the farthest distance wanted.", "The tape is judged by what it is worth out there."),
    "target_size": ("Say how large a target counts as good.", "Then the tape can say how far it is good to."),
    "unsolved": ("Look over the card.", "These figures cannot be brought together into a tape."),
}


def next_step(step: NextStep, _units: Units) -> Now:
    """What the card lacks first, or why it cannot be solved."""
    say, why = _CARD_NOW[step.code]
    if step.code == "unsolved" and step.message:
        why = f"The tape cannot be solved: {named(step.about)}{step.message}."
    caution = CAUTION_DRAW if step.code in ("eye_to_sight", "peep") else CAUTION_ARROW
    return Now(say, why, caution, "card", "Open the card")


STANDING = {"incomplete": "incomplete", "complete": "done"}
