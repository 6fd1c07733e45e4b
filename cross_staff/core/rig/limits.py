"""What the numbers and words of a card can be, once for forms, services and scripts.

A key is the place of a field on the card, dotted, without the places in a list.
"""

from __future__ import annotations

import math

from cross_staff.core import ranges
from cross_staff.core.ranges import Range
from cross_staff.core.rig.card import CAMS_BY, PEEP_WAYS, SEATS
from cross_staff.core.rig.sight import DRIVES, HANDS, HOME_STOPS, KEY_SYSTEMS, MOVEMENTS, PAIRS, WAYS, YES_NO
from cross_staff.core.rig.sight_kinds import KINDS

_SLOPE = Range(0.0, math.radians(60.0))
_PLUS, _TRAVEL = Range(0.001, 100.0), Range(0.0, 300.0)
RANGED_M = Range(2.0, 200.0)  # distances that a tape is shot at, and made for
VIAL_LINE_RAD = Range(math.radians(0.02), math.radians(5.0))  # what a line of any vial is worth
_SETTLE_S, _VIAL_LINES = Range(0.5, 120.0), Range(1.0, 10.0)

LIMITS: dict[str, Range] = {
    "builds.shaft_length_m": Range(0.3, 1.2),
    "builds.shaft_kg_per_m": Range(0.002, 0.04),
    "builds.measured_mass_kg": Range(0.005, 0.1),
    "builds.shaft_diameter_m": Range(0.003, 0.015),
    "builds.balance_point_m": Range(0.1, 1.1),
    "builds.components.mass_kg": Range(0.0, 0.1),
    "builds.components.centre_from_throat_m": Range(-0.1, 1.4),
    "builds.sessions.readings_mps": ranges.SPEED_MPS,
    "builds.sessions.distance_m": Range(0.0, 20.0),
    "builds.sessions.accuracy": Range(0.0005, 0.05),
    "eye_to_sight_m": ranges.EYE_TO_SIGHT_M,
    "peep.square_m": ranges.PEEP_HEIGHT_M,
    "peep.square_sd_m": Range(0.0002, 0.05),
    "eye_to_sight_sd_m": Range(0.0002, 0.1),
    "peep.along_m": Range(0.03, 0.4),
    "peep.angle_rad": Range(math.radians(15.0), math.radians(70.0)),
    "peep.axle_to_axle_m": Range(0.6, 1.3),
    "peep.true_draw_m": Range(0.45, 0.95),
    "peep.aperture_m": Range(0.0005, 0.012),
    "peep.eye_to_peep_m": Range(0.01, 0.3),
    "bow.draw_weight_n": Range(45.0, 550.0),
    "bow.nock_to_rest_m": Range(0.4, 0.95),
    "bow.let_off": Range(0.0, 0.97),
    "bow.least_mass_per_force": Range(1e-5, 3e-4),
    "goals.home_m": Range(2.0, 100.0),
    "goals.farthest_m": Range(5.0, 200.0),
    "goals.target_size_m": Range(0.02, 2.0),
    "goals.group_size_m": Range(0.005, 3.0),
    "goals.group_at_m": Range(2.0, 150.0),
    "goals.distances_m": RANGED_M,
    "goals.pin_distances_m": Range(2.0, 150.0),
    "goals.slope_up_rad": _SLOPE,
    "goals.slope_down_rad": _SLOPE,
    "mount.pin_at_top_mm": Range(-20.0, 200.0),
    "mount.reserve_mm": Range(0.0, 60.0),
    "mount.ahead_of_grip_m": Range(0.02, 0.6),
    "mount.vanes_mm": Range(0.0, 40.0),
    "mount.quiver.ahead_mm": Range(-400.0, 400.0),
    "mount.quiver.above_mm": Range(-600.0, 600.0),
    "mount.quiver.out_mm": Range(0.0, 200.0),
    "mount.wheel.ahead_mm": Range(-400.0, 400.0),
    "mount.wheel.above_mm": Range(-600.0, 600.0),
    "mount.wheel.out_mm": Range(0.0, 200.0),
    "mount.clearance_mm": Range(0.0, 30.0),
    "level.reference.per_division_rad": VIAL_LINE_RAD,
    "level.rail.per_division_rad": VIAL_LINE_RAD,
    "level.sight.per_division_rad": VIAL_LINE_RAD,
    "level.string.per_division_rad": VIAL_LINE_RAD,
    "level.reference.settle_s": _SETTLE_S,
    "level.rail.settle_s": _SETTLE_S,
    "level.sight.settle_s": _SETTLE_S,
    "level.string.settle_s": _SETTLE_S,
    "level.reference.lines": _VIAL_LINES,
    "level.rail.lines": _VIAL_LINES,
    "level.sight.lines": _VIAL_LINES,
    "level.string.lines": _VIAL_LINES,
    "level.jig.per_division_rad": VIAL_LINE_RAD,
    "level.jig.settle_s": _SETTLE_S,
    "level.jig.lines": _VIAL_LINES,
    "level.yaw_rad": Range(-math.radians(5.0), math.radians(5.0)),
    "level.tolerance_m": Range(0.002, 1.0),
    "sight.slider_travel_mm": Range(1.0, 200.0),
    "sight.housing.inner_mm": Range(5.0, 120.0),
    "sight.housing.outer_mm": Range(5.0, 150.0),
    "sight.housing.below_pin_mm": Range(1.0, 100.0),
    "sight.housing.pin_room_mm": Range(0.5, 100.0),
    "sight.dovetail_mm": Range(10.0, 500.0),
    "sight.scale_division_mm": Range(0.05, 10.0),
    "sight.extension_mm": Range(0.0, 400.0),
    "sight.holes_mm": Range(0.0, 100.0),
    "sight.coarse_steps_mm": Range(0.0, 200.0),
    "sight.pins.thickness_mm": Range(0.05, 5.0),
    "sight.controls.per_click_mm": _PLUS,
    "sight.controls.clicks_per_turn": Range(1.0, 500.0),
    "sight.controls.per_turn_mm": _PLUS,
    "sight.controls.travel_mm": _TRAVEL,
    "sight.controls.position_mm": _TRAVEL,
    "sight.tape.width_mm": Range(4.0, 25.0),
    "sight.tape.length_mm": Range(10.0, 300.0),
    "sight.tape.ratio": Range(0.05, 20.0),
    "sight.tape.ratio_sd": Range(0.0, 1.0),
    "sight.tape.places_mm": Range(-100.0, 200.0),
    "sight.booklet.from_m": RANGED_M,
    "sight.booklet.to_m": RANGED_M,
    "sight.booklet.strips.order": Range(-999.0, 999.0),
    "sight.booklet.strips.span_mm": Range(2.0, 300.0),
}

_AXIS = ("", "none", *DRIVES)


def words_for(place: str) -> tuple[str, ...] | None:
    """The words that a field of the card can hold; None where any will do."""
    return tuple(KINDS) if place == "sight.kind" else _WORDS.get(place)


_WORDS: dict[str, tuple[str, ...]] = {
    "handed": ("right", "left"),
    "ranged_from": ("eye", "sight"),
    "bow.cams_by": tuple(CAMS_BY),
    "peep.way": tuple(PEEP_WAYS),
    "level.seat": tuple(SEATS),
    "sight.axes": _AXIS,
    "sight.second_axis_carries_pins": tuple(YES_NO),
    "sight.pins_in_line": tuple(YES_NO),
    "sight.index_marks": tuple(YES_NO),
    "sight.home_stop": tuple(HOME_STOPS),
    "sight.hand": tuple(HANDS),
    "sight.controls.moves": tuple(MOVEMENTS),
    "sight.controls.clockwise": tuple(WAYS),
    "sight.screws.movement": tuple(MOVEMENTS),
    "sight.screws.drive": tuple(DRIVES),
    "sight.screws.key_system": tuple(KEY_SYSTEMS),
    "sight.screws.pair": tuple(PAIRS),
    "sight.tape.ticks_at": ("right", "left"),
    "sight.tape.farther_runs": ("down", "up"),
}
