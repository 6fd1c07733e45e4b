"""Words of the practice bench."""

from __future__ import annotations

import math

from cross_staff.core.practice.exercise import Budget, Exercise
from cross_staff.core.simulate import debrief as told
from cross_staff.core.simulate.debrief import Debrief, Left
from cross_staff.web.forms.units import Units
from cross_staff.web.shared.practice_words import AXIS_NAMES, SPENT_WORDS

MISTAKES = {
    told.DRAWN: "A screw was turned with the bow at full draw ({first}): read, let down, then turn.",
    told.EARLIER: "A later axis was turned while an earlier one was still off ({first}): first, second, third.",
    told.UNREAD: "Turned and locked, and not read again ({first}): tightening moves what was just set.",
    told.UNPROVEN: "Read against a reference that nobody had proven ({first}): end for end, then matched with the string.",
    told.ONE_ARROW: "A control was moved after a single arrow ({first}): one arrow tells where one arrow went.",
    told.IN_WIND: "The windage was moved in a wind ({first}): it stays wrong when the wind is gone.",
    told.TOO_FAR: "The first arrows of a sight that nobody had shot went to {first} m: start well inside 10 m.",
    told.WORSE: "What was moved was farther off afterwards ({first}): a small trial first, and a look at which way it went.",
}  # fmt: skip
_GOALS = {
    "home": "Home",
    "tape": "The tape at the farthest",
    "peep": "The peep's height on the card",
    "paper": "The paper tear",
}


def budget_words(budget: Budget) -> str:
    """A budget in a line; what there is none of is not told."""
    parts = ((getattr(budget, name), words) for name, words in SPENT_WORDS.items())
    return ", ".join(f"{most} {words if most != 1 else words.removesuffix('s')}" for most, words in parts if most)


def _goal(left: Left) -> str:
    if left.goal in AXIS_NAMES:
        return AXIS_NAMES[left.goal]
    if left.goal.startswith("pin:"):
        return f"Pin {left.goal.partition(':')[2]}"
    return _GOALS[left.goal]


def off_words(left: Left, units: Units) -> str:
    """A goal with how far off it truly is, and what is allowed."""
    if not math.isfinite(left.off):
        return f"{_goal(left)}: there is none"
    if left.unit == "deg":
        return f"{_goal(left)} at {abs(left.off):.2f}°, allowed {left.allowed:.2f}°"
    quantity, per = ("offset", 0.01) if left.unit == "cm" else ("length", 0.001)
    off, allowed = (units.show(quantity, per * v) for v in (abs(left.off), left.allowed))
    return f"{_goal(left)} off by {off}, allowed {allowed}"


def far_words(left: Left, units: Units) -> str:
    """What an axis costs at the farthest, steepest shot; empty where that is no question."""
    return "" if left.far_cm is None else units.show("offset", 0.01 * left.far_cm)


def sentence(went: Debrief, exercise: Exercise) -> str:
    """The one sentence to take along: of a false belief, else of the commonest mistake, else what it teaches."""
    if went.believed:
        return "Good enough is what was measured after the last screw was locked, not what was hoped."
    if went.mistakes and not went.solved:
        return MISTAKES[went.mistakes[0].key].format(first="").replace(" ()", "").partition(": ")[2].capitalize()
    return exercise.teaches
