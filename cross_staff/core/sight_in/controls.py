"""Which control moves the aiming point: coarse before fine, how much of it, which way, what is left."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from enum import StrEnum

from cross_staff.core.estimation.kalman import TravelPerUnit
from cross_staff.core.rig.sight import Control, Screw, SightModel
from cross_staff.core.rig.sight_kinds import kind_of


class ControlUnit(StrEnum):
    """What a movement of a control is counted in."""

    CLICK = "click"
    TURN = "turn"
    MM = "mm"
    MARK = "mark"
    STEP = "step"


CLICK, TURN, MM, MARK, STEP = ControlUnit
# what a unit moves when the card does not say: median [mm], sd of its logarithm
UNKNOWN = {CLICK: (0.05, 0.7), TURN: (0.7, 0.6)}
KNOWN_SD_LN = {CLICK: 0.05, TURN: 0.08, MM: 0.03, MARK: 0.01, STEP: 0.02}
# what a hand cannot help in one movement: a fixed part [mm] and a part of the movement
CLICK_NOISE_MM, HAND_NOISE_MM, HAND_NOISE_PART = 0.02, 0.06, 0.04
MICRO_PART = 0.25  # of its travel is the most that a micro adjustment is asked for at once
MICRO_MM = 2.0  # the same where its travel is not known
SMALLEST = {CLICK: 1.0, TURN: 1.0 / 8.0, MM: 0.1, MARK: 0.1, STEP: 1.0}  # nothing finer than a hand can set
# the most that is turned at once of a control whose travel or way nobody knows yet
TRIAL = {CLICK: 10.0, TURN: 0.5}
SURE_WAY = 0.95
SIDEWAYS = ("windage", "gang_windage", "coarse")


@dataclass(frozen=True)
class RangeControl:
    """A control of a sight as it is used at the range: what it moves, in which unit, what a unit moves
    [mm] (None: not known), what must be unlocked first, its key, whether its way was checked, the way
    a clockwise turn goes, travel left to the lower or left and the upper or right end [mm], and the
    places of a bracket [mm]; assumed, where the card names no control and a sight of this kind has it;
    most_mm, where nobody wrote down where in its travel it stands, the most that can be left either way [mm];
    last_resort, where nothing is left but the whole sight."""

    name: str
    moves: str
    unit: ControlUnit
    per_unit_mm: float | None = None
    unlock: str = ""
    key_size: str = ""
    checked: bool = False
    clockwise: str = ""
    left_mm: tuple[float, float] | None = None
    travel_mm: float | None = None
    places_mm: tuple[float, ...] = ()
    assumed: bool = False
    most_mm: tuple[float, ...] | None = None
    last_resort: bool = False

    def travel_per_unit(self) -> TravelPerUnit:
        """What is known of a unit before any arrow."""
        if self.per_unit_mm is not None:
            return TravelPerUnit(self.per_unit_mm, self.per_unit_mm * KNOWN_SD_LN[self.unit], self.sure_way)
        median, sd_ln = UNKNOWN[self.unit]
        return TravelPerUnit(median, median * sd_ln, self.sure_way)

    @property
    def sure_way(self) -> bool:
        """Whether up is up: checked, or moved by eye."""
        return self.checked or self.unit in (MM, MARK, STEP)

    def noise_mm(self, moved_mm: float) -> float:
        """The sd of what one movement leaves [mm]."""
        if self.unit in (CLICK, MARK):
            return CLICK_NOISE_MM
        return math.hypot(HAND_NOISE_MM, HAND_NOISE_PART * moved_mm)


WHOLE_UPRIGHT = RangeControl("whole sight, up and down", "gang_elevation", MM, 1.0, last_resort=True)
WHOLE_SIDEWAYS = RangeControl("whole sight, left and right", "gang_windage", MM, 1.0, last_resort=True)
LAST_RESORTS = (WHOLE_UPRIGHT, WHOLE_SIDEWAYS)


def range_controls(model: SightModel, moved_mm: Callable[[str], float] = lambda name: 0.0) -> tuple[RangeControl, ...]:
    """Every control of a sight that moves the aiming point, of its controls and of its screw map.

    Args:
        model: the sight.
        moved_mm: gives what a control was moved since the card's position was written down [mm], by its name.

    Returns:
        the controls, the sight's own first; where the card names the kind alone, those of the generic sight of that
            kind, marked as assumed, their travel and way not known.

    Source:
        docs/method.md, section 14.
    """
    if not model.controls and not model.screws:
        return _assumed(model, moved_mm)
    screws = {screw.movement: screw for screw in model.screws if not screw.never}
    controls = [_of_control(control, screws, moved_mm(control.name)) for control in model.controls]
    held = {drive.moves for drive in controls}
    for movement in ("gang_elevation", "gang_windage", "windage", "elevation", "pin", "spread"):
        if movement not in held and movement in screws:
            controls.append(_of_screw(screws[movement], movement))
    if len(model.coarse_steps_mm) > 1:
        controls.append(
            RangeControl("bracket or spacer", "coarse", STEP, 1.0, checked=True, places_mm=model.coarse_steps_mm)
        )
    return tuple(controls)


def _assumed(model: SightModel, moved_mm: Callable[[str], float]) -> tuple[RangeControl, ...]:
    """What a sight of this kind usually has, as it is assumed: how far a unit goes, its ends and its way are for the
    bow to show."""
    generic = kind_of(model).template
    bare = replace(
        generic,
        controls=tuple(Control(c.name, c.moves, clicks_per_turn=c.clicks_per_turn) for c in generic.controls),
        coarse_steps_mm=model.coarse_steps_mm,
    )
    return tuple(replace(drive, assumed=True) for drive in range_controls(bare, moved_mm))


def _of_control(control: Control, screws: dict[str, Screw], moved_mm: float) -> RangeControl:
    unit, per_unit = _unit(control)
    lock = screws.get("slide_lock" if control.moves == "elevation" else control.moves)
    left, most = control.left(), None
    if left is not None:
        left = (left[0] + moved_mm, left[1] - moved_mm)
    elif control.travel_mm is not None:
        most = tuple(control.travel_mm - max(way * moved_mm, 0.0) for way in (-1.0, 1.0))
    return RangeControl(
        control.name,
        control.moves,
        unit,
        per_unit,
        _unlock(lock),
        lock.tool if lock else "",
        control.checked,
        control.clockwise,
        left,
        control.travel_mm,
        most_mm=most,
    )


def _unit(control: Control) -> tuple[ControlUnit, float | None]:
    if control.per_click_mm is not None:
        return CLICK, control.per_click_mm
    turn = control.travel_per_turn()
    if turn is not None:
        return (CLICK, turn / control.clicks_per_turn) if control.clicks_per_turn else (TURN, turn)
    if control.clicks_per_turn is not None:
        return CLICK, None
    return (TURN, None) if control.moves in ("spread", "windage") else (MM, 1.0)


def _unlock(screw: Screw | None) -> str:
    if screw is None:
        return ""
    if screw.movement == "slide_lock":
        return screw.name
    return f"{screw.name}: {screw.unlock_first}" if screw.unlock_first else ""


def _of_screw(screw: Screw, movement: str) -> RangeControl:
    by_turns = screw.drive in ("micro", "knob", "pair")
    unit, per_unit = (TURN, None) if by_turns else (MM, 1.0)
    return RangeControl(screw.name, movement, unit, per_unit, _unlock(screw), screw.tool)


@dataclass(frozen=True)
class MovementAdvice:
    """One movement to make: the control, which way, how far the aiming point goes [mm, right or up
    positive] and by how many units of it; what the control leaves undone when its travel ends, with
    what this sight offers instead; what remains of its travel that way afterwards [mm]; whether it
    is a trial, because what a unit does or which way it goes is not known yet; the pin, where one is moved;
    place_mm, the place of a bracket that it goes to [mm]."""

    drive: RangeControl
    way: str
    moved_mm: float
    amount: float
    short_mm: float = 0.0
    instead: tuple[str, ...] = ()
    left_mm: float | None = None
    trial: bool = False
    pin: int | None = None
    place_mm: float | None = None


def choose_sideways(controls: Sequence[RangeControl], wanted_mm: float) -> RangeControl | None:
    """The control for the whole housing's windage: the coarsest that the error needs, micro travel last.

    Args:
        controls: those of the sight.
        wanted_mm: how far [mm], right positive.

    Returns:
        the control; None where nothing moves it.

    Source:
        a rule of the craft.
    """
    by = {drive.moves: drive for drive in controls if not drive.last_resort}
    coarse = by.get("coarse")
    if coarse is not None and abs(wanted_mm) >= 0.75 * min(_gaps(coarse)):
        return coarse
    micro, gang = by.get("windage"), by.get("gang_windage")
    if micro is None or gang is None:
        return micro or gang
    limit = MICRO_MM if micro.travel_mm is None else MICRO_PART * micro.travel_mm
    return gang if abs(wanted_mm) > limit else micro


def _gaps(coarse: RangeControl) -> list[float]:
    return [b - a for a, b in zip(coarse.places_mm, coarse.places_mm[1:])]


def control_for(controls: Sequence[RangeControl], movement: str) -> RangeControl | None:
    """The control of one movement; None when the card has none."""
    return next((drive for drive in controls if drive.moves == movement and not drive.last_resort), None)


def last_resort_for(drive: RangeControl) -> RangeControl:
    """What moves the same way when a control's travel has ended: the whole sight, on its mount."""
    return WHOLE_SIDEWAYS if drive.moves in SIDEWAYS else WHOLE_UPRIGHT


def advise(
    drive: RangeControl,
    wanted_mm: float,
    travel_per_unit: tuple[float, float],
    model: SightModel,
    pin: int | None = None,
    way_chance: float = 1.0,
    place_mm: float | None = None,
) -> MovementAdvice | None:
    """How much of a control for a wanted movement; None when it is less than half of its smallest step.

    Of a control whose travel or way is not known yet only a small trial is asked for: the arrows then tell the rest.

    Args:
        drive: the control.
        wanted_mm: [mm], right or up positive.
        travel_per_unit: what a unit moves, its way counted, and the sd [mm].
        model: the sight, for what it offers when the travel ends.
        pin: the pin that is moved; None for all.
        way_chance: how likely up is up on this bow [-], 0 to 1.
        place_mm: where a control that goes by steps stands [mm], one of its places; None where nobody knows.

    Returns:
        how many units [clicks, turns or mm], which way, what is left; None when it is less than half of its smallest
            step.

    Source:
        docs/method.md, section 14.
    """
    room = _room(drive, wanted_mm)
    made = wanted_mm if room is None else math.copysign(min(abs(wanted_mm), max(room, 0.0)), wanted_mm)
    trial = travel_per_unit[1] > 0.3 * abs(travel_per_unit[0]) or way_chance < SURE_WAY
    step = SMALLEST[drive.unit]
    if drive.unit == STEP:
        step = min(_gaps(drive))
        amount = 0.0 if place_mm is None else next_place(drive, place_mm, made) - place_mm
        room, made = None, amount if amount else made
    else:
        amount = step * round(made / travel_per_unit[0] / step)
    if trial and abs(amount) > TRIAL.get(drive.unit, math.inf):
        amount, made = math.copysign(TRIAL[drive.unit], amount), wanted_mm
    sideways = drive.moves in SIDEWAYS
    way = ("right" if wanted_mm > 0 else "left") if sideways else ("up" if wanted_mm > 0 else "down")
    short = wanted_mm - made
    if amount == 0.0 and abs(short) < 0.5 * abs(step * travel_per_unit[0]):
        return None
    moved = amount * travel_per_unit[0]
    return MovementAdvice(
        drive,
        way,
        moved,
        amount,
        short if abs(short) > 0.05 else 0.0,
        remedies(drive, model) if abs(short) > 0.05 else (),
        None if room is None or drive.left_mm is None else room - abs(moved),
        trial,
        pin,
        place_mm=None if place_mm is None else place_mm + amount,
    )


def next_place(drive: RangeControl, place_mm: float, wanted_mm: float) -> float:
    """The place of a bracket that comes nearest to a wanted movement.

    Args:
        drive: a control that goes by steps.
        place_mm: where it stands [mm].
        wanted_mm: how far it should go [mm], right positive.

    Returns:
        one of its places [mm].

    Source:
        a rule of the craft.
    """
    return min(drive.places_mm, key=lambda place: abs(place - place_mm - wanted_mm))


def _room(drive: RangeControl, wanted_mm: float) -> float | None:
    left = drive.most_mm if drive.left_mm is None else drive.left_mm
    return None if left is None else left[1] if wanted_mm > 0 else left[0]


def remedies(drive: RangeControl, model: SightModel) -> tuple[str, ...]:
    """What this sight offers when a control's travel ends, the nearest at hand first: codes."""
    others = {drive.moves for drive in range_controls(model)} - {drive.moves}
    if drive.moves in SIDEWAYS:
        offered = (
            ("gang_windage", "gang_windage" in others),
            ("coarse", "coarse" in others),
            ("windage", drive.moves == "gang_windage" and "windage" in others),
            ("reversed_bracket", True),
        )
    else:
        offered = (
            ("gang_elevation", "gang_elevation" in others),
            ("other_hole", len(model.holes_mm) > 1),
            ("elevation", drive.moves == "pin" and "elevation" in others),
            ("other_pin", len(model.pins) > 1),
        )
    remedies = tuple(code for code, there in offered if there)
    return remedies or ("shop",)
