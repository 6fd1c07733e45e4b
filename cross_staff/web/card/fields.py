"""The fields of the card's form, as data: name, label, quantity, range, hint."""

from __future__ import annotations

import math
from dataclasses import dataclass

from cross_staff.core import ranges
from cross_staff.core.ranges import Range

COMPONENT_ROWS = 6
SPARE_COMPONENTS = 1
MOST_COMPONENTS = 40
COMPONENT_NAMES = ("Nock", "Vanes", "Wrap", "Collar", "Insert", "Point")


@dataclass(frozen=True)
class NumberField:
    """A number on the card: its quantity in web/units, and the SI range it must lie in."""

    name: str
    label: str
    quantity: str
    span: Range
    hint: str = ""


NUMBERS = {
    field.name: field
    for field in (
        NumberField("shaft_length", "Shaft length", "length", Range(0.3, 1.2), "nock throat to end of shaft"),
        NumberField("shaft_density", "Shaft weight", "density", Range(0.002, 0.04), "per length, from the maker"),
        NumberField("arrow_mass", "Weighed", "mass", Range(0.005, 0.1), "whole arrow on the scale; overrides the sum"),
        NumberField("shaft_diameter", "Shaft diameter", "diameter", Range(0.003, 0.015), "outside"),
        NumberField("chrono_distance", "Chronograph stood", "distance", Range(0.0, 20.0), "in front of the bow"),
        NumberField("chrono_accuracy", "Its accuracy", "percent", Range(0.0005, 0.05), "one sd; 0.5 if unknown"),
        NumberField(
            "eye_to_sight",
            "Eye to sight",
            "length",
            ranges.EYE_TO_SIGHT_M,
            "along the arrow, peep to pin, at full draw",
        ),
        NumberField("peep_square", "Peep height", "length", ranges.PEEP_HEIGHT_M, "square to the arrow line"),
        NumberField("peep_along", "Nock to peep", "length", Range(0.03, 0.4), "along the string"),
        NumberField(
            "peep_angle",
            "String's angle",
            "angle",
            Range(math.radians(15.0), math.radians(70.0)),
            "to the arrow; 35° to 42° is usual",
        ),
        NumberField("draw_weight", "Draw weight", "force", Range(45.0, 550.0), "peak, as it is set now"),
        NumberField(
            "nock_to_rest", "Nock to rest", "length", Range(0.4, 0.95), "at full draw; for the arrow's margins"
        ),
        NumberField(
            "least_mass", "Least arrow", "mass_per_force", Range(1e-5, 3e-4), "per draw weight, as the bow's maker says"
        ),
        NumberField("peep_aperture", "Peep aperture", "diameter", Range(0.0005, 0.012)),
        NumberField("eye_to_peep", "Eye to peep", "length", Range(0.01, 0.3), "70 mm is usual"),
        NumberField("slope_up", "Steepest up", "angle", Range(0.0, math.radians(60.0)), "slope of the line of sight"),
        NumberField("slope_down", "Steepest down", "angle", Range(0.0, math.radians(60.0)), "typed without a sign"),
        NumberField(
            "tape_length",
            "Room for the tape",
            "mark",
            Range(10.0, 300.0),
            "length of its seat; on a wheel, once round it",
        ),
        NumberField("bow_axles", "Axle to axle", "length", Range(0.6, 1.3), "at rest"),
        NumberField("bow_draw", "True draw", "length", Range(0.45, 0.95), "nocking point to grip, at full draw"),
        NumberField("home", "Home distance", "distance", Range(2.0, 100.0), "where the slider rests"),
        NumberField("farthest", "Farthest wanted", "distance", Range(5.0, 200.0)),
        NumberField("target_size", "Good means within", "offset", Range(0.02, 2.0), "size of the target across"),
        NumberField("group_size", "Usual group", "offset", Range(0.005, 3.0), "six arrows, across"),
        NumberField("group_at", "at", "distance", Range(2.0, 150.0)),
        NumberField("tape_width", "Tape width", "mark", Range(4.0, 25.0)),
        NumberField(
            "tape_ratio",
            "Tape ratio",
            "plain",
            Range(0.05, 20.0),
            "tape travel per housing travel; 1 on a straight slide",
        ),
        NumberField("tape_ratio_sd", "Ratio, give or take", "plain", Range(0.0, 1.0), "empty: exact"),
    )
}
LISTS = {
    field.name: field
    for field in (
        NumberField("distances", "Distances shot", "distance", Range(2.0, 200.0), "one after the other, with a space"),
        NumberField("pin_distances", "Pins set for", "distance", Range(2.0, 150.0), "nearest first; empty for one pin"),
        NumberField(
            "tape_places",
            "Seats for a tape",
            "mark",
            Range(-100.0, 200.0),
            "where each begins below the pointer at home; empty for one",
        ),
    )
}
PART_MASS = NumberField("part_mass", "Mass", "mass", Range(0.0, 0.1))
PART_CENTRE = NumberField("part_centre", "Centre from throat", "length", Range(-0.1, 1.4))
READING_SPAN = ranges.SPEED_MPS

CHOICES: dict[str, tuple[tuple[str, str], ...]] = {
    "handed": (("right", "right-handed"), ("left", "left-handed")),
    "ranged_from": (("eye", "the eye"), ("sight", "the sight")),
    "level_only": (("no", "hills too"), ("yes", "level ground only")),
    "session": (("same", "the newest session"), ("new", "a new session")),
    "tape_ticks_at": (("right", "right edge"), ("left", "left edge")),
    "tape_runs": (("down", "down (pointer passes tape)"), ("up", "up (tape passes pointer)")),
    "tape_scale": (("grows", "grow with distance"), ("falls", "fall with distance")),
    "tape_kind": (
        ("slide", "on a straight slide"),
        ("ratio", "on a wheel, ratio measured"),
        ("unknown", "on a wheel, find the ratio"),
    ),
}
TEXTS = {
    "name": 80, "archer": 80, "occasion": 80, "bow": 120, "release": 80, "anchor": 120, "sight": 120, "rules": 200,
    "arrow_name": 120, "spine": 24, "why": 200,
}  # fmt: skip
