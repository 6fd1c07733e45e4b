"""What the mount planner says: places, limits, remedies, reasons."""

from __future__ import annotations

from collections.abc import Sequence

from cross_staff.core.mount.planner import HOMES, NOT_KNOWN, PlaceChoice, Plan, Remedy
from cross_staff.core.mount.station import CLASH, EITHER, QUIVER, STEPS, WHEEL
from cross_staff.core.mount.station import STEPS as MOUNT_STEPS
from cross_staff.core.rig.card import RigCard
from cross_staff.core.rig.log import BenchEntry
from cross_staff.core.rig.reach import Place
from cross_staff.core.stations import NextStep
from cross_staff.web.forms.units import Units
from cross_staff.web.shared.log import EntryWords
from cross_staff.web.shared.reach_words import LIMITS, extension, hole, mm, reach, remedy_cells
from cross_staff.web.shared.words import Now, on_target, whole_distance

WHY = {
    NOT_KNOWN: "what this sight reaches is not known yet; measure what is asked for here, and the best place is named",
    "only_place": "it is the only place that the card knows of",
    "finest_tape": "every place reaches both ends, and here the tape is longest, so it reads finest",
    "finest_that_reaches": "of the places that reach both ends, the tape is longest here, so it reads finest",
    "near_end_lost": "the far end is reached, but the nearest distance needs the sight above home: a reserve gives it",
    "farthest_of_all": "no place reaches the far end; this one goes farthest",
    "home_beyond_travel": "home lies outside the slider's travel at every place: another hole, or the housing on its post",
}


def gone(noted: int | None, here: int | None) -> str:
    """Asks anew for a place that was noted and is not among the sight's by now; empty while it is."""
    return "" if noted is None or here is not None else "the one noted is not among the sight's any more: which is it?"


def place(card: RigCard, place: Place) -> str:
    """A place in words."""
    parts = []
    if card.sight.holes_mm and place.hole is not None:
        parts.append(hole(card, place.hole))
    if card.sight.extension_mm and place.detent is not None:
        parts.append(f"extension {extension(card, place.detent)}")
    if card.sight_kind.dialled:
        parts.append(f"home {HOMES[place.home].name}")
    return ", ".join(parts) or "as it is"


def limit(plan: Plan, units: Units) -> str:
    """What binds, and by how much it misses."""
    if plan.reach.binding is None:
        return "nothing on the card limits it" if not plan.reach.unknown else "not all of its limits are known"
    short = f", {mm(plan.short_by_mm)} short" if plan.short_by_mm else ""
    return f"{LIMITS[plan.reach.binding]}{short}"


def short(card: RigCard, here: Plan, units: Units) -> str:
    """That the sight, where it sits, does not reach what is wanted; empty where it does."""
    far = card.goals.farthest_m
    if not here.fits:
        return "Home lies outside the slider's travel where the sight sits: look for another place."
    if far is not None and not here.far_enough(far):
        return f"Where it sits it reaches {reach(here.reach, units)}, and {whole_distance(units, far)} is wanted."
    return (
        ""
        if here.near_enough
        else "Where it sits the nearest distance cannot be dialled: it needs a reserve above home."
    )


def pins_beyond(card: RigCard, plan: Plan) -> str:
    """That the stack asked for does not fit into the housing; empty where it does."""
    room = card.sight.housing.pin_room_mm
    if room is None or plan.pins_mm is None or plan.pins_mm <= room:
        return ""
    return f"These pins span {mm(plan.pins_mm)}, and the housing has room for {mm(room)}: the lowest will not fit."


def near_end(card: RigCard, plan: Plan) -> str:
    """What is left above home, beside what the nearest distance asks for; each home position by itself, also of a
    slide whose travel nobody measured."""
    if not card.sight_kind.dialled:
        return "no slider"
    needed = f"{mm(plan.wanted_above_mm)} needed" if plan.wanted_above_mm else "none needed"
    if plan.above_home_mm is not None:
        return f"{mm(plan.above_home_mm)} above home, {needed}"
    left = {
        "top": "nothing above home",
        "reserve": f"{mm(card.mount.reserve_mm or plan.wanted_above_mm)} kept above home",
        "centred": "half the travel above home, which is not known",
    }[plan.place.home]
    return f"{left}, {needed}"


def torque(plan: Plan, units: Units) -> str:
    return "not known" if plan.torque_m is None else on_target(units, plan.torque_m)


def torque_beside(plan: Plan, plans: Sequence[Plan], units: Units) -> str:
    """What a degree of hand torque shows here, and how much more than where it shows least; nothing is compared where
    there is no other place."""
    shown = [p.torque_m for p in plans if p.torque_m is not None]
    if plan.torque_m is None or not shown:
        return "measure the pin ahead of the grip"
    here, more = on_target(units, plan.torque_m), plan.torque_m - min(shown)
    if max(shown) - min(shown) <= 0.001:
        return here
    return (
        f"{here}, {on_target(units, more)} more than nearest the riser"
        if more > 0.001
        else f"{here}, the least of all places"
    )


def picture(plan: Plan, card: RigCard, units: Units) -> str:
    """Which peep rings the housing, and what the far end does to the picture."""
    if plan.ringing_aperture_mm is None:
        return "not known"
    yours = card.peep.aperture_m
    fine = 1 if units.length == "mm" else 3
    said = f"{units.show('diameter', plan.ringing_aperture_mm / 1000.0, fine)} rings it"
    return said if yours is None else f"{said}, yours is {units.show('diameter', yours, fine)}"


def remedy(remedy: Remedy, units: Units) -> str:
    return ": ".join(remedy_cells(remedy, units))


def best(choice: PlaceChoice, card: RigCard) -> str:
    """Which place, and why, in a sentence."""
    if not choice.told:
        return f"{WHY[choice.why][0].upper()}{WHY[choice.why][1:]}."
    words = place(card, choice.best.place)
    return f"{words[0].upper()}{words[1:]}: {WHY[choice.why]}."


FIRST_ON = {
    QUIVER: "The quiver bracket goes on first: the wheel covers its bolts.",
    WHEEL: "Mount and wheel go on first: the quiver bracket covers them.",
    EITHER: "Quiver bracket and wheel do not cover one another: either may go on first.",
    CLASH: "Quiver bracket and wheel stand alike from the riser, one behind the other: they will meet. Move one of them.",
}


def first_on(first: str | None) -> str:
    """Which of quiver bracket and wheel goes on first."""
    return (
        FIRST_ON[first]
        if first
        else "Which of quiver bracket and wheel goes on first is not known: measure both outlines."
    )


STEP_WORDS = {"done": "done", "skipped": "skipped", "wrong": "not so"}
_STEPS = {step.key: step.say for step in STEPS}


def logged(entry: BenchEntry) -> EntryWords:
    """What the log says of a step of mounting."""
    return EntryWords(_STEPS.get(entry.key, entry.key), STEP_WORDS.get(entry.choice, ""))


CAUTION_MOUNT = "Small screws shear: the right key, alternate opposing screws, and never two joints loose at once."


def next_step(step: NextStep, _units: Units) -> Now:
    """The next step of mounting."""
    due, left = next(s for s in MOUNT_STEPS if s.key == step.code), int(step.numbers["left"])
    why = f"{due.do} {'The last step' if left == 1 else f'{left} steps are left'} of the mount."
    return Now(due.say, why, due.caution or CAUTION_MOUNT, "mount", "Go on mounting")


STANDING = {"mounted": "done", "steps_open": "{} steps left", "steps_old": "{} steps again"}
