"""What the program says, in the trade's words and the user's units.

Core decides and hands over codes and numbers; here they become sentences.
"""

from __future__ import annotations

from dataclasses import dataclass

from cross_staff.core.errors import InvalidValue, OutOfReach
from cross_staff.core.mount.station import STEPS as MOUNT_STEPS
from cross_staff.core.prepare.checklist import CHECKS
from cross_staff.core.rig.priors import Known
from cross_staff.core.stations import NextStep, Standing
from cross_staff.core.tape.forecast import COVERAGE
from cross_staff.core.tape.station import Finding
from cross_staff.web.forms.units import Units, fixed, trimmed

CAUTION_RANGE = (
    "Know what is behind and beyond the target. The tape says what the equipment reaches, never what you may shoot at."
)
CAUTION_DRAW = (
    "No ruler near a bow held at draw by a person: measure on a rated draw board, locked and tied, "
    "hands clear of string and cables. Press and string work only as the bow's maker says."
)
CAUTION_MOUNT = "Small screws shear: the right key, alternate opposing screws, and never two joints loose at once."
CAUTION_PAPER = "Arrow on the string only when pointing at the butt; nobody in front. Know what is behind the paper."
CAUTION_EYES = (
    "Arrow on the string, pointing at a butt behind the line, finger off the trigger, nobody in front. "
    "Let down before anything is moved near the string."
)
CAUTION_PRESS = (
    "Press and string work only with the press and manual that the bow's maker names, and check that the "
    "strings sit in their tracks before taking pressure off. When unsure, a qualified shop."
)
CAUTION_STRING = (
    "Nothing near string, cables or rest is moved while the bow is drawn: let down first. Never dry-fire. Press and "
    "string work only as the bow's maker says; when unsure, a qualified shop."
)
CAUTIONS_PREPARE = {
    "paper_tear": CAUTION_PAPER,
    "bare_shaft": CAUTION_PAPER,
    "walk_back": CAUTION_PAPER,
    "eyes_closed": CAUTION_EYES,
    "peep_rotation": CAUTION_EYES,
    "rest_up": CAUTION_EYES,
    "cam_timing": CAUTION_PRESS,
    "servings": CAUTION_PRESS,
    "limb_bolts": CAUTION_PRESS,
    "shafts": "Flex carbon away from face and hands, and listen: a cracked shaft can break at the shot.",
}
CAUTION_ARROW = "Keep the arrow no lighter than the bow's maker allows, and inspect carbon shafts."
CAUTION_BLADE = "Cut on a board, away from strings and fingers; never beside a strung bow."


@dataclass(frozen=True)
class Now:
    """The one imperative sentence, why, the caution that applies, and where it is done."""

    say: str
    why: str
    caution: str
    station: str
    action: str


def whole_distance(units: Units, metres: float) -> str:
    """A distance to be shot: to the tenth at most."""
    return f"{trimmed(units.from_si('distance', metres), 1)}\u00a0{units.label('distance')}"


def good_to(trusted_m: float | None, units: Units) -> str:
    """How far the tape is good, in whole units."""
    if trusted_m is None:
        return "not good yet"
    return f"good to {int(units.from_si('distance', trusted_m) + 1e-9)}\u00a0{units.label('distance')}"


def on_target(units: Units, metres: float) -> str:
    """A size on the target, with no more digits than a group can bear."""
    value = abs(units.from_si("offset", metres))
    return f"{fixed(value, 0 if value >= 9.95 else 1)}\u00a0{units.label('offset')}"


_CARD_NOW = {
    "arrow": (
        "Weigh the arrow's parts.",
        "Shaft, diameter and components give mass, front of centre and the first guess of drag.",
    ),
    "chronograph": (
        "Shoot six arrows over the chronograph.",
        "The mean speed starts the tape; the spread says how far to trust it.",
    ),
    "eye_to_sight": (
        "Measure eye to sight.",
        "It is the lever of everything that follows: 5 mm here is half a per cent of every mark.",
    ),
    "peep": (
        "Measure the peep height.",
        "Square to the arrow, or along the string with its angle: never the one for the other.",
    ),
    "home": ("Write down the home distance.", "The distance for which the slider rests at its home mark."),
    "farthest": ("Write down the farthest distance wanted.", "The tape is judged by what it is worth out there."),
    "target_size": ("Say how large a target counts as good.", "Then the tape can say how far it is good to."),
    "unsolved": ("Look over the card.", "These figures cannot be brought together into a tape."),
}


def now(step: NextStep, units: Units) -> Now:
    """The sentence for what to do next."""
    if step.station == "prepare":
        return prepare_now(step)
    if step.station == "mount":
        return mount_now(step)
    if step.station == "level":
        say, why = LEVEL_NOW[step.code]
        return Now(say, why, CAUTION_STRING, "level", "Go on levelling")
    if step.station == "sight_in":
        say, why = SIGHT_IN_NOW[step.code]
        if step.code == "shoot":
            count = int(step.numbers["arrows"])
            say = (
                f"Shoot {count} arrow{'' if count == 1 else 's'} at {whole_distance(units, step.numbers['ranged_m'])}."
            )
        return Now(say, why, CAUTION_RANGE, "sight_in", "Go to the range")
    if step.station == "card":
        say, why = _CARD_NOW[step.code]
        if step.code == "unsolved" and step.message:
            why = f"The tape cannot be solved: {_named(step.about)}{step.message}."
        caution = CAUTION_DRAW if step.code in ("eye_to_sight", "peep") else CAUTION_ARROW
        return Now(say, why, caution, "card", "Open the card")
    if step.station == "trouble":
        return Now(
            "This rig cannot be reckoned.", f"{step.message}.", CAUTION_STRING, "trouble", "See what can be done"
        )
    return _TAPE_NOW[step.code](step, units)


LEVEL_NOW = {
    "reference": ("Prove the reference level by reversal.", "A vial that errs by itself errs into every axis."),
    "plumb": ("Set the bow plumb both ways.", "The string decides: everything is levelled to it."),
    "first": ("Read the first axis.", "A rail that leans drifts sideways as the sight is dialled."),
    "second": ("Read the second axis.", "On the level, a bubble that lies costs more with every metre."),
    "third": ("Read the third axis.", "It shows on slopes, in opposite directions up and down."),
}


SIGHT_IN_NOW = {
    "shoot": ("Shoot the next end.", "Every arrow is counted together with those before it."),
    "move": ("Move the sight as it says.", "The offset is more than chance: control, way and clicks are worked out."),
    "place": ("Set the next pin to its place.", "It is predicted, so that it starts nearly right."),
    "confirm": ("Go on sighting in.", "Close first, then home, then out: in this order no arrow is wasted."),
}


def prepare_now(step: NextStep) -> Now:
    """The next line of the bench sheet."""
    check, left = CHECKS[step.code], int(step.numbers["left"])
    lines = "the last line" if left == 1 else f"{left} lines are open"
    why = f"{check.why} String and arrow are what everything is levelled to: {lines} of the bench sheet."
    return Now(check.do, why, CAUTIONS_PREPARE.get(check.key, CAUTION_STRING), "prepare", "Open the bench sheet")


def mount_now(step: NextStep) -> Now:
    """The next step of mounting."""
    found, left = next(s for s in MOUNT_STEPS if s.key == step.code), int(step.numbers["left"])
    why = f"{found.do} {'The last step' if left == 1 else f'{left} steps are left'} of the mount."
    return Now(found.say, why, found.caution or CAUTION_MOUNT, "mount", "Go on mounting")


def _shoot_home(step: NextStep, u: Units) -> Now:
    n = step.numbers
    return Now(
        f"Shoot {n['arrows']:.0f} arrows at {whole_distance(u, n['home_m'])}.",
        "Start with the home mark: read the scale there, from any zero, and type it in. "
        "Until then the tape rests on speed and geometry alone.",
        CAUTION_RANGE,
        "tape",
        "Enter the home mark",
    )


def _marks_old(step: NextStep, u: Units) -> Now:
    n = step.numbers
    return Now(
        f"Shoot {n['arrows']:.0f} arrows at {whole_distance(u, n['home_m'])} again.",
        "The rig has changed since its marks were shot, so they are set aside. "
        "If the change was only a correction on paper, say that they still hold.",
        CAUTION_RANGE,
        "tape",
        "Enter the new mark",
    )


def _look_again(step: NextStep, u: Units) -> Now:
    n = step.numbers
    mark = trimmed(n["mark_mm"], 2)
    return Now(
        f"Look again at {whole_distance(u, n['ranged_m'])}, mark {mark}.",
        f"It lies {n['against_others']:.1f} times its own uncertainty from what card and other marks expect. Read the scale and the distance "
        "once more, or shoot it again; leave it out only if you know why.",
        CAUTION_RANGE,
        "tape",
        "Open the marks",
    )


def _scale_backwards(_step: NextStep, _u: Units) -> Now:
    return Now(
        "Check which way the scale runs.",
        "These marks fall as the distance grows, so no arrow can fit them. Either the scale is "
        "numbered from the other end, or the marks are typed in the wrong order.",
        CAUTION_RANGE,
        "tape",
        "Open the marks",
    )


def _contradiction(step: NextStep, u: Units) -> Now:
    return Now("Find out which input is wrong.", contradiction(step, u), CAUTION_DRAW, "card", "Open the card")


def _shoot_next(step: NextStep, u: Units) -> Now:
    n = step.numbers
    farthest = whole_distance(u, n["farthest_m"])
    gain = f"At {farthest} that takes the tape from ±\u00a0{on_target(u, COVERAGE * n['now_m'])} to ±\u00a0{on_target(u, COVERAGE * n['then_m'])}"
    if "then_good_to_m" in n:
        gain += f", {good_to(n['then_good_to_m'], u)}"
    return Now(
        f"Shoot {n['arrows']:.0f} arrows at {whole_distance(u, n['ranged_m'])}.",
        f"{gain}. No other distance gains as much.",
        CAUTION_RANGE,
        "tape",
        "Enter the group",
    )


def _print_tape(step: NextStep, u: Units) -> Now:
    return Now(
        "Print the tape.",
        f"It is {good_to(step.numbers.get('good_to_m'), u)}. Print at 100 %, measure the check bar, cut, and lay it on at the home mark.",
        CAUTION_BLADE,
        "tape",
        "Print the tape",
    )


_TAPE_NOW = {
    "shoot_home": _shoot_home,
    "marks_old": _marks_old,
    "look_again": _look_again,
    "scale_backwards": _scale_backwards,
    "contradiction": _contradiction,
    "shoot_next": _shoot_next,
    "print_tape": _print_tape,
}

PARAMETERS = {
    "speed_mps": "the chronograph's speed",
    "drag_per_m": "the drag expected of this arrow",
    "eye_to_sight_m": "eye to sight",
    "peep_height_m": "the peep height",
    "tape_ratio": "the tape ratio",
}
_QUANTITY = {"speed_mps": "speed", "eye_to_sight_m": "length", "peep_height_m": "length"}


def figure(name: str, known: Known, units: Units) -> str:
    """A fitted figure in the user's units, its uncertainty beside it."""
    sd = known.sd or 0.0
    if name in _QUANTITY:
        quantity = _QUANTITY[name]
        shown = units.show(quantity, known.value, 1)
        return f"{shown} ± {trimmed(units.from_si(quantity, sd), 2 if units.length == 'in' and quantity == 'length' else 1)}"
    if name == "drag_per_m":
        return f"{known.value:.5f} /m ± {100.0 * sd:.0f} %"
    return f"{known.value:.3f} ± {sd:.3f}"


def problem(error: InvalidValue | OutOfReach) -> str:
    """Why there is no tape, with the input that it hangs on."""
    if isinstance(error, InvalidValue):
        return f"{_named(error.field)}{error.message}"
    return str(error)


def _named(parameter: str) -> str:
    """An input by its name, before what is said of it; nothing where none is meant."""
    return f"{PARAMETERS.get(parameter, parameter)} " if parameter else ""


def contradiction(step: NextStep, units: Units) -> str:
    """Which inputs contradict each other, with the largest pull named."""
    n, name = step.numbers, step.about
    wanted = figure(name, Known(n["wanted"], n.get("wanted_sd")), units)
    was = figure(name, Known(n["was"], n.get("was_sd")), units).split(" ±")[0]
    odds = "under 1 in 1000" if n["p_value"] < 1e-3 else f"1 in {1.0 / n['p_value']:.0f}"
    mildly = abs(n["pull_sds"]) < 2.0
    return (
        f"Card and marks contradict each other (by chance: {odds}). The largest pull is on "
        f"{PARAMETERS[name]}: the card says {was}, the marks want {wanted}, "
        f"{abs(n['pull_sds']):.1f} times its uncertainty away."
        f"{' That is not far: look at the marks first.' if mildly else ''}"
    )


def finding(found: Finding, units: Units) -> str:
    """What is to be said about a row of the marks table."""
    n = found.numbers
    if found.code == "suspect":
        side = "low" if n["residual_mm"] > 0 else "high"
        return (
            f"Suspect: {n['sds']:.1f} times its uncertainty from what the others expect; at the fitted mark it would hit "
            f"{on_target(units, n['target_m'])} {side}. Read scale and distance again."
        )
    return _FINDINGS[found.code](n, units)


_FINDINGS = {
    "old": lambda n, u: f"Set aside: measured at revision {n['revision']:.0f}, before the rig changed.",
    "left_out": lambda n, u: "Left out of the fit; it stays in the log.",
    "out_of_reach": lambda n, u: "Out of reach of this arrow, so not used. Check the distance.",
    "inside_turnover": lambda n, u: (
        f"Nearer than the turnover at {whole_distance(u, n['turnover_m'])}: a farther distance shares this "
        "mark. Used in the fit, never printed."
    ),
    "wrong_way": lambda n, u: (
        f"Farther than {whole_distance(u, n['before_m'])}, yet its mark is smaller than {trimmed(n['before_mm'], 2)}. "
        "Were two rows swapped?"
    ),
    "disagrees_with": lambda n, u: (
        f"The same distance also has mark {trimmed(n['other_mm'], 2)}, {trimmed(n['apart_mm'], 2)} mm apart: more than "
        "chance. Both are used; leave out the one you do not trust."
    ),
}

_STANDING = {
    "incomplete": "incomplete",
    "complete": "done",
    "waits_for_card": "waits for the card",
    "unsolved": "cannot be solved",
    "marks_old": "stale: rig changed",
    "no_marks": "from speed alone",
    "disagrees": "inputs disagree",
    "ready": "ready",
    "mounted": "done",
    "levelled": "done",
    "level_only": "for level ground",
    "waits_for_gate": "waits for Prepare",
    "readings_old": "stale: read again",
    "reference": "reference to prove",
    "plumb": "bow to be plumbed",
    "first_open": "first axis open",
    "second_open": "second axis open",
    "third_open": "third axis open",
    "by_marks": "by marks alone",
    "sighted_in": "done",
    "no_arrows": "no arrow yet",
}
_COUNTED = {
    "checks_open": "{} to check",
    "checks_old": "{} to check again",
    "overridden": "opened with a reason",
    "steps_open": "{} steps left",
    "steps_old": "{} steps again",
    "steps_left": "{} steps left",
    "ends_old": "stale: {} ends",
}


def standing(found: Standing, units: Units) -> str:
    """The word beside a station's cross-piece."""
    if found.word == "good_to":
        return good_to(found.far_m, units)
    if found.word == "usable_to":
        return f"pins usable to {whole_distance(units, found.far_m or 0.0)}"
    if found.word in _COUNTED:
        return _COUNTED[found.word].format(found.count)
    return _STANDING[found.word]
