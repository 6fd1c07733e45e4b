"""Generic sight models, one for each kind of sight, to copy and adapt.

They describe no maker's product: travels and keys are common ones, to be replaced by what the sight
in hand has.
"""

from __future__ import annotations

from dataclasses import replace

from cross_staff.core.rig.sight import Control, Housing, Pin, Screw, SightModel, TapeSeat

_MOUNT = Screw("Mount bolts, two", "mount", "bolt", key_size="4 mm", key_system="metric")
_DOVETAIL = Screw("Dovetail clamp", "extension", "knob", key_system="none")
_SLIDE_LOCK = Screw("Slide lock", "slide_lock", "knob", key_system="none")
_END_STOP = Screw("End-stop screw of the rail", "stop", "bolt", hidden=True, never=True)
_VIAL = Screw("Vial's end screws", "vial", "pair", key_size="1.3 mm", key_system="metric", pair="left_right")
_FIRST = Screw("Rail block screws", "first_axis", "slots", "half a turn", "3 mm", "metric")
_QUARTER = "quarter of a turn on the lock"
_SECOND = Screw("Second-axis pair", "second_axis", "pair", _QUARTER, "2 mm", "metric", pair="left_right")
_THIRD = Screw("Third-axis pair", "third_axis", "pair", _QUARTER, "2 mm", "metric", pair="front_rear")
_GANG_SCREWS = (
    Screw("Housing, up and down", "gang_elevation", "screw_lock", "half a turn", "2.5 mm", "metric"),
    Screw("Housing, left and right", "gang_windage", "screw_lock", "half a turn", "2.5 mm", "metric"),
)
_PIN_SCREW = Screw("Pin screw", "pin", "screw_lock", "a turn", "1.5 mm", "metric")
_WINDAGE = Control("Windage micro", "windage", 0.05, 20.0, travel_mm=10.0)
_WHEEL = Control("Elevation wheel", "elevation", travel_mm=45.0)
_GANG = (Control("Housing, up and down", "gang_elevation", travel_mm=18.0), _WINDAGE)
_DETENTS = (0.0, 12.0, 24.0, 36.0)
_HOLES = (0.0, 9.5)


def _pins(count: int, thickness_mm: float = 0.48) -> tuple[Pin, ...]:
    return (Pin(thickness_mm),) * count


FIXED_PINS = SightModel(
    "fixed pins, generic",
    "fixed_pins",
    ("none", "pair", "pair"),
    "no",
    _pins(5),
    "yes",
    Housing(44.0, 52.0, 26.0, 34.0),
    home_stop="none",
    holes_mm=_HOLES,
    controls=_GANG,
    screws=(_MOUNT, *_GANG_SCREWS, _PIN_SCREW, _SECOND, _THIRD, _VIAL),
    hand="either",
)
SINGLE_PIN_SLIDER = SightModel(
    "single-pin slider, generic",
    "single_pin_slider",
    ("slots", "pair", "pair"),
    "yes",
    _pins(1),
    "yes",
    Housing(41.0, 48.0, 24.0),
    45.0,
    "fixed",
    extension_mm=_DETENTS,
    holes_mm=_HOLES,
    controls=(_WHEEL, _WINDAGE),
    screws=(_MOUNT, _DOVETAIL, _SLIDE_LOCK, _FIRST, _SECOND, _THIRD, _VIAL, _END_STOP),
    tape=TapeSeat(9.0, length_mm=60.0),
    hand="either",
)
MULTI_PIN_SLIDER = replace(
    SINGLE_PIN_SLIDER,
    name="multi-pin slider, generic",
    kind="multi_pin_slider",
    pins=_pins(3),
    housing=Housing(44.0, 52.0, 26.0, 30.0),
    controls=(_WHEEL, *_GANG),
    screws=(*SINGLE_PIN_SLIDER.screws[:3], *_GANG_SCREWS, _PIN_SCREW, *SINGLE_PIN_SLIDER.screws[3:]),
)
VERTICAL_PIN_SLIDER = replace(
    SINGLE_PIN_SLIDER,
    name="vertical pins on one post, generic",
    kind="vertical_pin_slider",
    pins=_pins(2),
    housing=Housing(42.0, 50.0, 25.0, 22.0),
    home_stop="settable",
    screws=(*SINGLE_PIN_SLIDER.screws[:3], _PIN_SCREW, *SINGLE_PIN_SLIDER.screws[3:]),
)
GEARED_STACK = replace(
    FIXED_PINS,
    name="geared pin stack, generic",
    kind="geared_stack",
    controls=(Control("Spread knob", "spread"), *_GANG),
    screws=(_MOUNT, *_GANG_SCREWS, _SECOND, _THIRD, _VIAL),
)
TARGET_SCOPE = SightModel(
    "target sight with scope, generic",
    "target_scope",
    ("screw_lock", "ring", "screw_lock"),
    "yes",
    (Pin(1.0, "dot on the lens"),),
    "yes",
    Housing(29.0, 35.0, 17.5),
    60.0,
    "none",
    (0.0, 6.0, 12.0),
    (0.0, 10.0, 20.0, 30.0, 40.0, 50.0, 60.0),
    (0.0, 12.7),
    1.0,
    (
        Control("Elevation drum", "elevation", 0.05, 20.0, 1.0, 60.0),
        Control("Windage micro", "windage", 0.05, 20.0, 1.0, 12.0),
    ),
    (
        Screw("Mount bolts, two", "mount", "bolt", key_size="5/32 in", key_system="inch"),
        _DOVETAIL,
        _SLIDE_LOCK,
        Screw("Rail clamp screw", "first_axis", "screw_lock", "an eighth of a turn", "3/32 in", "inch"),
        Screw("Scope rod ring", "second_axis", "ring", "the ring's lock, just loose", "5/64 in", "inch"),
        Screw("Third-axis screw", "third_axis", "screw_lock", "its lock, an eighth", "5/64 in", "inch"),
        _VIAL,
        _END_STOP,
    ),
    ("scope", "ring"),
    "scope",
    TapeSeat(6.0, length_mm=65.0),
    hand="either",
)
PIN_DISPLAY = replace(
    FIXED_PINS,
    name="electronic pin display, generic",
    kind="pin_display",
    pins=(),
    housing=Housing(40.0, 58.0, 29.0),
    controls=(
        Control("Display, up and down", "gang_elevation", travel_mm=16.0),
        Control("Display, left and right", "gang_windage", travel_mm=16.0),
    ),
    screws=(_MOUNT, *_GANG_SCREWS, _SECOND, _THIRD),
    note="Lights and range finders are ruled by local law and event rules: ask before it is used.",
)
