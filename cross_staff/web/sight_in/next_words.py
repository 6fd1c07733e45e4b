"""The range in a line, for staff and bench: what is next, and how the station stands."""

from __future__ import annotations

from cross_staff.core.stations import NextStep
from cross_staff.web.forms.units import Units
from cross_staff.web.shared.words import CAUTION_RANGE, Now, whole_distance

SIGHT_IN_NOW = {
    "shoot": ("Shoot the next end.", "Every arrow is counted together with those before it."),
    "move": ("Move the sight as it says.", "The offset is more than chance: control, way and clicks are worked out."),
    "place": ("Set the next pin to its place.", "It is predicted, so that it starts nearly right."),
    "ask": ("Answer a question at the range.", "Something there is not as it was believed: nothing is ordered before."),
    "rest": ("Change nothing today.", "This visit does not count: begin another one when the wind is down."),
    "proved": ("It is proved: take it up again.", "The arrows hit where the old marks have them."),
    "confirm": ("Go on sighting in.", "Close first, then home, then out: in this order no arrow is wasted."),
}


def next_step(step: NextStep, units: Units) -> Now:
    """What to do next at the range."""
    if step.code == "reprove":
        return _reprove(step, units)
    say, why = SIGHT_IN_NOW[step.code]
    if step.code == "shoot":
        count = int(step.numbers["arrows"])
        say = f"Shoot {count} arrow{'' if count == 1 else 's'} at {whole_distance(units, step.numbers['ranged_m'])}."
    return Now(say, why, CAUTION_RANGE, "sight_in", "Go to the range")


def _reprove(step: NextStep, units: Units) -> Now:
    """The fewest arrows that prove what was set aside."""
    at, count = whole_distance(units, step.numbers["ranged_m"]), int(step.numbers["arrows"])
    band = units.show("offset", step.numbers["band_m"], 1)
    say = f"Prove it: {count} arrow{'' if count == 1 else 's'} at {at}."
    why = f"If their mean hits within {band} of where it was, all that was shot before holds again."
    return Now(say, why, CAUTION_RANGE, "sight_in", "Go to the range")


STANDING = {
    "waits_for_card": "waits for the card",
    "by_marks": "typed marks",
    "sighted_in": "done",
    "asked": "a question first",
    "no_arrows": "no arrow yet",
    "steps_left": "{} steps left",
    "ends_old": "ends set aside: {}",
    "marks_aside": "marks set aside: {}",
    "usable_to": "pins usable to {far}",
}
