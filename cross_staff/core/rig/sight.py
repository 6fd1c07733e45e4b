"""A sight model: everything a sight can do, how it is driven, and where it stands on this bow.

A model is a record that can be reused: it is copied onto a rig's card and adapted there. Unknown
is None (or an empty word) everywhere. Lengths that belong to the sight are in millimetres, as its
scales are.
"""

from __future__ import annotations

import math
from dataclasses import dataclass, field

from cross_staff.core.rig.booklet import Booklet

# What a control or a screw moves, in the words of the craft.
MOVEMENTS = {
    "elevation": "elevation",
    "windage": "windage",
    "gang_elevation": "housing, up/down",
    "gang_windage": "housing, left/right",
    "pin": "one pin",
    "spread": "spread of pins",
    "first_axis": "first axis",
    "second_axis": "second axis",
    "third_axis": "third axis",
    "extension": "extension",
    "slide_lock": "lock of the slide",
    "mount": "mount to riser",
    "stop": "end stop",
    "vial": "vial in its seat",
}
DRIVES = {
    "": "not known",
    "screw_lock": "single screw with a lock",
    "pair": "opposing pair",
    "ring": "ring turned by hand",
    "micro": "micro driver",
    "slots": "slotted holes",
    "knob": "knob or wheel",
    "bolt": "bolt",
}
# What the two screws of an opposing pair are called; the first of them is the one that a clockwise amount drives.
PAIRS = {
    "": "no pair, or no names",
    "front_rear": "front and rear",
    "left_right": "left and right",
    "upper_lower": "upper and lower",
}
AXIS_KEYS = ("first_axis", "second_axis", "third_axis")
WAYS = {"": "not known", "up": "up", "down": "down", "right": "right", "left": "left"}
HANDS = {"": "not known", "right": "right-handed bows", "left": "left-handed bows", "either": "either hand"}
HOME_STOPS = {"": "not known", "none": "none", "fixed": "fixed", "settable": "can be set"}
YES_NO = {"": "not known", "yes": "yes", "no": "no"}
KEY_SYSTEMS = {"": "not known", "metric": "metric", "inch": "inch", "none": "by hand"}


@dataclass(frozen=True)
class TapeSeat:
    """How the tape sits on the sight: width [mm], edge of the ticks, which way farther runs,
    whether the scale's numbers grow with distance, the tape ratio (None: find it) with its sd (0: exact),
    metres per printed unit of distance, and the length there is room for [mm]; places_mm, where the rail has
    several seats for a tape: how far each begins below the pointer with the sight at home [mm]."""

    width_mm: float = 9.0
    ticks_at: str = "right"
    farther_runs: str = "down"
    scale_grows: bool = True
    ratio: float | None = 1.0
    unit_m: float = 1.0
    length_mm: float | None = None
    ratio_sd: float = 0.0
    places_mm: tuple[float, ...] = ()

    @property
    def direction(self) -> float:
        """+1 where the scale's numbers grow with distance, -1 where they fall."""
        return 1.0 if self.scale_grows else -1.0


@dataclass(frozen=True)
class Control:
    """A knob, wheel or drum: what it moves, travel per click and per turn [mm], clicks per turn,
    total travel [mm] and present position from its lower or left end [mm], which way a clockwise
    turn moves it, and whether that was checked on this bow."""

    name: str
    moves: str = "elevation"
    per_click_mm: float | None = None
    clicks_per_turn: float | None = None
    per_turn_mm: float | None = None
    travel_mm: float | None = None
    position_mm: float | None = None
    clockwise: str = ""
    checked: bool = False

    def travel_per_turn(self) -> float | None:
        """Travel of a whole turn [mm], said or made of its clicks."""
        if self.per_turn_mm is not None:
            return self.per_turn_mm
        if self.per_click_mm is None or self.clicks_per_turn is None:
            return None
        return self.per_click_mm * self.clicks_per_turn

    def clicks(self, travel_mm: float) -> float:
        """Clicks for a travel, to a tenth; the travel of one must be known."""
        assert self.per_click_mm
        return round(travel_mm / self.per_click_mm, 1)

    def turns_and_clicks(self, count: float) -> tuple[int, float] | None:
        """A count of clicks as whole turns and the rest, without its sign; None where a turn is not known."""
        if not self.clicks_per_turn:
            return None
        turns = math.floor(abs(count) / self.clicks_per_turn)
        return turns, abs(count) - turns * self.clicks_per_turn

    def left(self) -> tuple[float, float] | None:
        """Travel that remains towards the lower (or left) and the upper (or right) end [mm]."""
        if self.travel_mm is None or self.position_mm is None:
            return None
        return self.position_mm, self.travel_mm - self.position_mm


@dataclass(frozen=True)
class Screw:
    """A row of the screw map: what it drives and how, what must be unlocked first, its key; what the two of an
    opposing pair are called (a key of PAIRS)."""

    name: str
    movement: str = "mount"
    drive: str = ""
    unlock_first: str = ""
    key_size: str = ""
    key_system: str = ""
    hidden: bool = False
    never: bool = False
    pair: str = ""

    @property
    def ends(self) -> tuple[str, str]:
        """The two screws of a pair, the one first that a clockwise amount drives; a dot of marker tells two apart
        that nobody named."""
        first, _, other = (PAIRS[self.pair] if self.pair else "dotted and plain").partition(" and ")
        return first, other

    @property
    def tool(self) -> str:
        """The key to fetch; empty where none is known or needed."""
        return "" if self.never or self.key_system == "none" else self.key_size


@dataclass(frozen=True)
class Pin:
    """A pin: thickness [mm], colour in words, whether it can be drawn out of the way."""

    thickness_mm: float | None = None
    colour: str = ""
    retractable: bool = False


@dataclass(frozen=True)
class Housing:
    """Inner and outer diameter, lower edge below the top pin, and how far below the top pin the
    lowest can be set [mm]."""

    inner_mm: float | None = None
    outer_mm: float | None = None
    below_pin_mm: float | None = None
    pin_room_mm: float | None = None


@dataclass(frozen=True)
class DisplayLength:
    """A length that an electronic display asks for: what it calls it, and what that is (a key of
    display.DISPLAY_LENGTHS)."""

    name: str
    what: str = ""


@dataclass(frozen=True)
class SightModel:
    """Every capability of a sight (docs/names.md).

    axes: how first, second and third axis adjust, a key of DRIVES or "none". coarse_steps_mm:
    bracket or spacer positions; slider_travel_mm of the housing on its rail; extension_mm: places on
    the dovetail, farther from the riser, the nearest first, dovetail_mm its length; holes_mm: heights
    of the mounting holes, the lowest first; scale_division_mm of a target sight's scale; hand: for
    which bows it is made; index_marks: whether its axis joints carry marks that can be noted; booklet: the
    printed strips that came with it, as measured; display_lengths, what an electronic display asks for; pointers,
    which pin each indicator belongs to, by its place from the top, 0 the top one (empty: not said); as_usual, while its
    figures are those of any sight of its kind, and nobody looked at this one.
    """

    name: str = ""
    kind: str = "single_pin_slider"
    axes: tuple[str, str, str] = ("", "", "")
    second_axis_carries_pins: str = ""
    pins: tuple[Pin, ...] = ()
    pins_in_line: str = ""
    housing: Housing = field(default_factory=Housing)
    slider_travel_mm: float | None = None
    home_stop: str = ""
    coarse_steps_mm: tuple[float, ...] = ()
    extension_mm: tuple[float, ...] = ()
    holes_mm: tuple[float, ...] = ()
    scale_division_mm: float | None = None
    controls: tuple[Control, ...] = ()
    screws: tuple[Screw, ...] = ()
    heads: tuple[str, ...] = ()
    head_in_use: str = ""
    tape: TapeSeat = field(default_factory=TapeSeat)
    note: str = ""
    hand: str = ""
    index_marks: str = ""
    dovetail_mm: float | None = None
    booklet: Booklet = field(default_factory=Booklet)
    display_lengths: tuple[DisplayLength, ...] = ()
    pointers: tuple[int, ...] = ()
    as_usual: bool = False

    def dialling_control(self) -> Control | None:
        """The control with known clicks that dials the elevation."""
        return next((c for c in self.controls if c.moves == "elevation" and c.per_click_mm), None)

    @property
    def travel_mm(self) -> float | None:
        """Travel of the housing on its rail [mm], as it is said of the slide, else of the control that drives it."""
        if self.slider_travel_mm is not None:
            return self.slider_travel_mm
        return next((c.travel_mm for c in self.controls if c.moves == "elevation" and c.travel_mm is not None), None)

    def gang_travel_mm(self) -> float | None:
        """Travel of the whole housing up and down by its own control [mm]."""
        known = [c.travel_mm for c in self.controls if c.moves == "gang_elevation" and c.travel_mm is not None]
        return sum(known) if known else None


@dataclass(frozen=True)
class Fault:
    """Something on a card or a model that cannot be, at a field of it; `words` have {} for the length [m] that
    is made of several fields."""

    field: str
    words: str
    length_m: float | None = None

    @property
    def message(self) -> str:
        """What is wrong, lengths in millimetres."""
        return self.words if self.length_m is None else self.words.format(f"{1000.0 * self.length_m:.0f} mm")


def faults(model: SightModel) -> tuple[Fault, ...]:
    """What contradicts itself on a model; what is unknown contradicts nothing."""
    faults = [fault for row, control in enumerate(model.controls) for fault in _control_faults(row, control)]
    inner, outer = model.housing.inner_mm, model.housing.outer_mm
    if inner is not None and outer is not None and inner >= outer:
        faults.append(Fault("housing.inner_mm", "the opening cannot be larger than its frame"))
    room = model.housing.pin_room_mm
    if inner is not None and room is not None and room > inner:
        faults.append(Fault("housing.pin_room_mm", "the lowest pin must lie inside the housing"))
    for name in ("extension_mm", "holes_mm", "coarse_steps_mm"):
        places = getattr(model, name)
        if any(b <= a for a, b in zip(places, places[1:])):
            faults.append(Fault(name, "must rise from one place to the next"))
    faults += _pointer_faults(model)
    if model.head_in_use and model.heads and model.head_in_use not in model.heads:
        faults.append(Fault("head_in_use", "is not one of the heads"))
    return tuple(faults)


def _pointer_faults(model: SightModel) -> list[Fault]:
    """Pointers that belong to no pin of the sight, or two to the same one."""
    count = len(model.pins)
    gone = [pin + 1 for pin in model.pointers if count and pin >= count]
    if gone:
        have = "1 pin" if count == 1 else f"{count} pins"
        return [
            Fault("pointers", f"a pointer for pin {gone[0]}, and this sight has {have}: a pointer belongs to a pin")
        ]
    if len(set(model.pointers)) < len(model.pointers):
        return [Fault("pointers", "two pointers for the same pin: name each pin once")]
    return []


def _control_faults(row: int, control: Control) -> list[Fault]:
    faults_here, place = [], f"controls.{row}"
    if control.travel_mm is not None and control.position_mm is not None and control.position_mm > control.travel_mm:
        faults_here.append(Fault(f"{place}.position_mm", "stands beyond its own travel"))
    said, clicks = control.per_turn_mm, control.clicks_per_turn
    if said and clicks and control.per_click_mm and abs(clicks * control.per_click_mm / said - 1.0) > 0.05:
        made = clicks * control.per_click_mm
        faults_here.append(
            Fault(f"{place}.per_turn_mm", f"its clicks make {made:.3g} mm a turn: one of the three is wrong")
        )
    sideways = control.moves in ("windage", "gang_windage")
    if control.clockwise and sideways != (control.clockwise in ("left", "right")) and control.moves in _UPRIGHT:
        faults_here.append(Fault(f"{place}.clockwise", "this control does not move that way"))
    return faults_here


_UPRIGHT = ("elevation", "windage", "gang_elevation", "gang_windage")


@dataclass(frozen=True)
class Tool:
    """A key to fetch, and what it is for."""

    size: str
    system: str
    used_for: tuple[str, ...]


def tool_list(model: SightModel) -> tuple[Tool, ...]:
    """The keys that this sight's screws ask for, each once, with what each drives."""
    used: dict[tuple[str, str], list[str]] = {}
    for screw in model.screws:
        if screw.tool:
            used.setdefault((screw.key_system, screw.tool), []).append(screw.name)
    return tuple(Tool(size, system, tuple(names)) for (system, size), names in sorted(used.items()))
