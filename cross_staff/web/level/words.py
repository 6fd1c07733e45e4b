"""What the level station says: bubbles, turns, verdicts, instructions."""

from __future__ import annotations

import math

from cross_staff.core.level import screws as adjust
from cross_staff.core.level.methods import BY_KEY
from cross_staff.core.level.station import AxisState, LevelState
from cross_staff.core.rig.card import LevelSetup, RigCard
from cross_staff.core.rig.sight import Screw
from cross_staff.core.stations import NextStep
from cross_staff.web.forms.units import Units, trimmed
from cross_staff.web.shared.words import CAUTION_STRING, Now

NAMES = {"first": "first axis", "second": "second axis", "third": "third axis"}
STANDINGS = {"open": "open", "good": "good enough", "recheck": "read again", "accepted": "accepted in writing"}
_FRACTIONS = {3: "1/8", 4: "1/6", 6: "1/4", 8: "1/3", 9: "3/8", 12: "1/2", 16: "2/3", 18: "3/4", 24: "1"}


def bubble(divisions: float) -> str:
    """Where a bubble stands."""
    shown = trimmed(abs(divisions), 1)
    return "in the middle" if shown == "0" else f"{shown} {'right' if divisions > 0 else 'left'}"


def turn(turns: float) -> str:
    """A turn of the key in words, without its direction."""
    steps = round(abs(turns) * 24)
    if steps in _FRACTIONS:
        return f"{_FRACTIONS[steps]} turn"
    whole, rest = divmod(steps, 24)
    if whole:
        return f"{whole} turn{'s' if whole > 1 else ''} and {rest * 15}°" if rest else f"{whole} turns"
    return f"{steps * 15}° of the key"


def way(turns: float) -> str:
    return "clockwise" if turns > 0 else "anticlockwise"


def tilt(pitch_rad: float) -> str:
    degrees = round(math.degrees(pitch_rad))
    return "level" if not degrees else f"{abs(degrees)}° {'up' if degrees > 0 else 'down'}"


def amount(state: AxisState, value: float, decimals: int = 1) -> str:
    """An axis in degrees, or in lines of its vial while that is not calibrated."""
    if not state.unit.calibrated:
        return f"{trimmed(value, 1)} lines".replace("-", "−")
    return f"{math.degrees(value):+.{decimals}f}°".replace("-", "−")


def spread(state: AxisState, value: float) -> str:
    return f"± {math.degrees(value):.2f}" if state.unit.calibrated else f"± {value:.1f}"


def lines_of(setup: LevelSetup, axis: str, value_rad: float) -> str:
    """An axis's amount as lines of the vial that it is read with; empty when that is not calibrated."""
    line = setup.vial_of(axis).per_division_rad
    return f"{value_rad / line:.1f} lines" if line else ""


def level_order(axis: str) -> int:
    """Place of an axis among the three."""
    return tuple(NAMES).index(axis)


def screw_of(card: RigCard, axis: str) -> Screw | None:
    """The screw or pair that the map names for an axis."""
    return next((s for s in card.sight.screws if s.movement == f"{axis}_axis" and not s.never), None)


def moves_freely(screw: Screw | None) -> bool:
    """Whether there is no turn to count: a ring or slotted holes."""
    return screw is not None and screw.drive in ("ring", "slots")


def expected_lines(state: AxisState, move: float) -> float:
    """How far the vial's bubble should come for a move of the axis [divisions, right positive]."""
    tilted = move * math.sin(state.pitch_rad) if state.axis == "third" else -move * math.cos(state.pitch_rad)
    return tilted / state.unit.vial


def now(level: LevelState, card: RigCard) -> tuple[str, str, str]:
    """What to do: the imperative sentence, how it should look, and why."""
    if level.current is None:
        return _UNTIL_AXES[level.step]
    state = level.axes[level.current]
    if state.action.kind != adjust.TURN:
        return _read(state)
    seen = next((r.vial_div for r in reversed(level.readings) if r.axis == state.axis), 0.0)
    return _instruction(state, card, seen)


SHUT = (
    "Get the bow ready first.",
    "Everything is levelled to string and arrow: they must stand before the sight does.",
    "Levelling a bow that is tuned afterwards is done twice.",
)
_UNTIL_AXES = {
    "reference": (
        "Prove the reference level.",
        "Read it, turn it end for end, read it again, both towards the same side of the room.",
        "Half the difference is its own error, and would go into every axis.",
    ),
    "plumb": (
        "Set the bow plumb both ways.",
        "String level on the string: side to side, then fore and aft.",
        "The string decides; a straightedge across the limb pockets only confirms.",
    ),
    "done": (
        "Good enough: stop.",
        "Lock, mark the joints, and print the record.",
        "Every axis is inside its tolerance, read locked, and read again after the later ones were turned.",
    ),
}


def _read(state: AxisState) -> tuple[str, str, str]:
    name = NAMES[state.axis]
    say = {
        "first_look": f"Read the {name}.",
        "second_look": f"Read the {name} once more.",
        "looks_apart": "Those two looks differ. Read again.",
        "not_sure": f"Read the {name} again.",
        "within": f"The {name} is good enough.",
    }[state.action.because]
    if state.standing == "recheck":
        return say, "Locked, as it now stands.", "Another axis was turned since: this one may have moved with it."
    look = "Wait until it rests, tap once, read square-on, both vials together."
    if not state.unit.calibrated:
        look = f"The vials are not calibrated: bring the reference to its middle, by the bow. {look}"
    before = "it is judged" if state.turns else "anything is turned"
    why = {
        "first_look": "As found is kept before anything is touched.",
        "second_look": f"Two looks that agree, before {before}.",
        "looks_apart": "A bubble that had not settled, or an eye that was not square-on.",
        "not_sure": "It lies too near the limit to be sure; a look costs less than a turn.",
        "within": "",
    }[state.action.because]
    return say, look, why


def _instruction(state: AxisState, card: RigCard, seen: float) -> tuple[str, str, str]:
    """Which screw, which way, how much; or the bubble to aim for where there is nothing to count."""
    if card.sight.axes[level_order(state.axis)] == "none":
        return (
            f"The {NAMES[state.axis]} of this sight does not adjust.",
            "Shim it at the mount and read again, or accept it in writing below.",
            "It is measured all the same: what it costs stands beside it.",
        )
    screw = screw_of(card, state.axis)
    name = screw.name[0].lower() + screw.name[1:] if screw else f"{NAMES[state.axis]} screw"
    kind = screw.drive if screw else ""
    if moves_freely(screw):
        aim = seen + expected_lines(state, -(state.now.value if state.now else 0.0))
        return (
            f"Move the {name} until its bubble stands {bubble(aim)}.",
            "Just loose: it moves only when pushed. The reference must stay where it is.",
            "A ring and slotted holes have no turns to count: the bubble itself is the measure.",
        )
    turns = state.action.turns
    say = f"Turn the {name} {turn(turns)} {way(turns)}."
    how = []
    if screw and screw.unlock_first:
        how.append(f"Unlock first, by {screw.unlock_first}.")
    if kind == "pair":
        how.append("Loosen the one before tightening the other, by the same.")
    if state.action.move is not None:
        lines = expected_lines(state, state.action.move)
        how.append(f"The bubble should come {bubble(lines).replace('in the middle', 'hardly at all')}.")
    if state.tightening is not None and abs(expected_lines(state, state.tightening)) >= 0.1:
        how.append(f"Locking moves it {bubble(expected_lines(state, state.tightening))}: stop that much short.")
    how.append("Lock, wait, read again at the same tilt.")
    return say, " ".join(how), _why(state)


def _why(state: AxisState) -> str:
    if state.other_way:
        return "This screw goes the other way than its card says; the last turn showed it."
    if state.overshot:
        return "The last turn went past the middle: a little back."
    if state.action.because == "test_turn":
        return "A small test turn: nobody knows yet what a turn of this screw does, or which way."
    if state.action.because == "test_again":
        return "The last turn moved hardly anything that can be told: twice as much, the same way."
    angle_per_turn = state.angle_per_turn
    if angle_per_turn is None:
        return ""
    per = abs(expected_lines(state, angle_per_turn.value))
    part = 100.0 * angle_per_turn.sd / abs(angle_per_turn.value)
    count = len(state.turns)
    return f"{count} turn{'s' if count > 1 else ''} so far moved it {per:.1f} lines a turn, within {part:.0f} %."


def caution(level: LevelState) -> str:
    """The caution of the method in use."""
    if level.current is None:
        return ""
    return BY_KEY[level.axes[level.current].method].caution


LEVEL_NOW = {
    "reference": ("Prove the reference level by reversal.", "A vial that errs by itself errs into every axis."),
    "plumb": ("Set the bow plumb both ways.", "The string decides: everything is levelled to it."),
    "first": ("Read the first axis.", "A rail that leans drifts sideways as the sight is dialled."),
    "second": ("Read the second axis.", "On the level, a bubble that lies costs more with every metre."),
    "third": ("Read the third axis.", "It shows on slopes, in opposite directions up and down."),
}


def next_step(step: NextStep, _units: Units) -> Now:
    """What to prove, plumb or read next."""
    say, why = LEVEL_NOW[step.code]
    return Now(say, why, CAUTION_STRING, "level", "Go on levelling")


STANDING = {
    "levelled": "done",
    "level_only": "for level ground",
    "waits_for_gate": "waits for Prepare",
    "readings_old": "stale: read again",
    "reference": "reference to prove",
    "plumb": "bow to be plumbed",
    "first_open": "first axis open",
    "second_open": "second axis open",
    "third_open": "third axis open",
}
