"""The fields of the card's form, as data: name, label, quantity, range, hint."""

from __future__ import annotations

from dataclasses import dataclass

from cross_staff.core.ranges import Range
from cross_staff.core.rig.card import CAMS_BY
from cross_staff.core.rig.limits import LIMITS

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
        NumberField(
            "shaft_length", "Shaft length", "length", LIMITS["builds.shaft_length_m"], "nock throat to end of shaft"
        ),
        NumberField(
            "shaft_density", "Shaft weight", "density", LIMITS["builds.shaft_kg_per_m"], "per length, from the maker"
        ),
        NumberField(
            "arrow_mass",
            "Weighed",
            "mass",
            LIMITS["builds.measured_mass_kg"],
            "whole arrow on the scale; overrides the sum",
        ),
        NumberField(
            "balance_point",
            "Balance point",
            "length",
            LIMITS["builds.balance_point_m"],
            "from the nock throat, on an edge; in place of every part's centre",
        ),
        NumberField("shaft_diameter", "Shaft diameter", "diameter", LIMITS["builds.shaft_diameter_m"], "outside"),
        NumberField(
            "chrono_distance",
            "Chronograph stood",
            "distance",
            LIMITS["builds.sessions.distance_m"],
            "in front of the bow",
        ),
        NumberField(
            "chrono_accuracy",
            "Chronograph, accuracy",
            "percent",
            LIMITS["builds.sessions.accuracy"],
            "two readings in three within; 0.5 if unknown",
        ),
        NumberField(
            "eye_to_sight",
            "Eye to sight",
            "length",
            LIMITS["eye_to_sight_m"],
            "along the arrow, peep to pin, at full draw",
        ),
        NumberField(
            "peep_square",
            "Peep height",
            "length",
            LIMITS["peep.square_m"],
            "square to the arrow; the eye's, without a peep",
        ),
        NumberField(
            "peep_square_sd",
            "Its doubt, off the photo",
            "length",
            LIMITS["peep.square_sd_m"],
            "two in three within; empty: as is usual of a photo",
        ),
        NumberField(
            "eye_to_sight_sd",
            "Doubt of eye to sight",
            "length",
            LIMITS["eye_to_sight_sd_m"],
            "two in three within; empty: 5 mm",
        ),
        NumberField("peep_along", "Nock to peep", "length", LIMITS["peep.along_m"], "along the string"),
        NumberField(
            "peep_angle",
            "String's angle",
            "angle",
            LIMITS["peep.angle_rad"],
            "to the arrow; 35° to 42° is usual",
        ),
        NumberField("draw_weight", "Draw weight", "force", LIMITS["bow.draw_weight_n"], "peak, as it is set now"),
        NumberField(
            "nock_to_rest",
            "Nock to rest",
            "length",
            LIMITS["bow.nock_to_rest_m"],
            "at full draw; for the arrow's margins",
        ),
        NumberField(
            "least_mass",
            "Lightest arrow allowed",
            "mass_per_force",
            LIMITS["bow.least_mass_per_force"],
            "per draw weight, as the bow's maker says",
        ),
        NumberField("let_off", "Let-off", "percent", LIMITS["bow.let_off"], "80 is usual; 0 on a bow without cams"),
        NumberField("peep_aperture", "Peep aperture", "diameter", LIMITS["peep.aperture_m"]),
        NumberField("eye_to_peep", "Eye to peep", "length", LIMITS["peep.eye_to_peep_m"], "70 mm is usual"),
        NumberField("slope_up", "Steepest up", "angle", LIMITS["goals.slope_up_rad"], "slope of the line of sight"),
        NumberField("slope_down", "Steepest down", "angle", LIMITS["goals.slope_down_rad"], "typed without a sign"),
        NumberField(
            "tape_length",
            "Length of the tape's seat",
            "mark",
            LIMITS["sight.tape.length_mm"],
            "length of its seat; on a wheel, once round it",
        ),
        NumberField("bow_axles", "Axle to axle", "length", LIMITS["peep.axle_to_axle_m"], "at rest"),
        NumberField(
            "bow_draw",
            "True draw",
            "length",
            LIMITS["peep.true_draw_m"],
            "nocking point to grip, at full draw: for the string, and a speed that was not measured",
        ),
        NumberField("home", "Home distance", "distance", LIMITS["goals.home_m"], "where the slider rests"),
        NumberField("farthest", "Farthest wanted", "distance", LIMITS["goals.farthest_m"]),
        NumberField(
            "target_size", "Good means within", "offset", LIMITS["goals.target_size_m"], "size of the target across"
        ),
        NumberField("group_size", "Usual group", "offset", LIMITS["goals.group_size_m"], "six arrows, across"),
        NumberField("group_at", "at", "distance", LIMITS["goals.group_at_m"]),
        NumberField("tape_width", "Tape width", "mark", LIMITS["sight.tape.width_mm"]),
        NumberField(
            "tape_ratio",
            "Tape ratio",
            "plain",
            LIMITS["sight.tape.ratio"],
            "tape travel per housing travel; 1 on a straight slide",
        ),
        NumberField("tape_ratio_sd", "Ratio, give or take", "plain", LIMITS["sight.tape.ratio_sd"], "empty: exact"),
    )
}
LISTS = {
    field.name: field
    for field in (
        NumberField(
            "distances", "Distances shot", "distance", LIMITS["goals.distances_m"], "one after the other, with a space"
        ),
        NumberField(
            "pin_distances",
            "Pins set for",
            "distance",
            LIMITS["goals.pin_distances_m"],
            "nearest first; empty for one pin",
        ),
        NumberField(
            "tape_places",
            "Seats for a tape",
            "mark",
            LIMITS["sight.tape.places_mm"],
            "where each begins below the pointer at home; empty for one",
        ),
    )
}
PART_MASS = NumberField("part_mass", "Mass", "mass", LIMITS["builds.components.mass_kg"])
PART_CENTRE = NumberField(
    "part_centre", "Centre from throat", "length", LIMITS["builds.components.centre_from_throat_m"]
)
READING_SPAN = LIMITS["builds.sessions.readings_mps"]

CHOICES: dict[str, tuple[tuple[str, str], ...]] = {
    "handed": (("right", "right-handed"), ("left", "left-handed")),
    "cams_by": tuple(CAMS_BY.items()),
    "ranged_from": (("eye", "the eye"), ("sight", "the sight")),
    "level_only": (("no", "hills too"), ("yes", "level ground only")),
    "speed_way": (("measured", "from the readings"), ("unmeasured", "not measured: by the bow")),
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
# what can be put in place of a figure: its name in the core -> the field
ESTIMATED = {
    "arrow_mass": "arrow_mass",
    "shaft_diameter": "shaft_diameter",
    "eye_to_sight": "eye_to_sight",
    "peep": "peep_square",
}
TEXTS = {
    "name": 80, "archer": 80, "occasion": 80, "bow": 120, "release": 80, "anchor": 120, "sight": 120, "rules": 200,
    "arrow_name": 120, "spine": 24, "why": 200,
}  # fmt: skip
