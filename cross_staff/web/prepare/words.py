"""What the bench sheet says: verdicts, measured values, the next thing to try."""

from __future__ import annotations

import math

from cross_staff.core.prepare.checklist import ABSENT, CHECKS, SEEN, Check
from cross_staff.core.prepare.station import OVERRIDE, STOPPED, Judged
from cross_staff.core.prepare.tuning import STEPS, TuningAdvice, WalkBack
from cross_staff.core.rig.card import RigCard
from cross_staff.core.rig.log import BenchEntry
from cross_staff.core.stations import NextStep
from cross_staff.web.forms.units import Units, trimmed
from cross_staff.web.shared.log import EntryWords
from cross_staff.web.shared.words import CAUTION_STRING, Now, on_target, whole_distance

VERDICTS = {"pass": "good", "note": "noted", "fail": "not good", "unknown": "open", "old": "check again"}
STATES = {"pass": "done", "note": "noted", "fail": "bad", "unknown": "due", "old": "stale"}
QUANTITIES = {"tear": "length", "bare_shaft": "offset", "walk_back": "offset"}
AFTER = {"": "as found", **{step.key: step.words for step in STEPS.values()}}
TRIED = {"": "as found", "grip": "grip settled", "nock_down": "nocking point lower", "nock_up": "nocking point higher",
         "rest_right": "rest to the right", "rest_left": "rest to the left", "yoke_right": "right yoke leg shorter",
         "yoke_left": "left yoke leg shorter", "cam_right": "cam to the right", "cam_left": "cam to the left",
         "cable_in": "twist into the cable", "cable_out": "twist out of the cable"}  # fmt: skip


def value(check: Check, entry: BenchEntry | None, units: Units) -> str:
    """What was answered, in a few words."""
    if entry is None:
        return ""
    if entry.choice in SEEN:
        return check.absent if entry.choice == ABSENT else SEEN[entry.choice]
    if check.kind == "choice":
        return next((option.words for option in check.options if option.key == entry.choice), entry.choice)
    if check.kind == "number":
        return number(check, entry.number or 0.0, units)
    if check.kind == "walk_back":
        return f"{len(entry.points)} distances"
    return offset(entry.points[0], QUANTITIES[check.kind], units) if entry.points else ""


def by_card(line: Judged) -> str:
    """What the card answers in place of somebody who looks; empty where it does not."""
    return line.check.absent if line.entry is None and line.verdict == "pass" else ""


def number(check: Check, value: float, units: Units) -> str:
    if check.quantity == "count":
        return f"{value:.0f} shots"
    if check.quantity == "turn":
        return f"{trimmed(value, 3)} turn"
    return units.show(check.quantity, value, 1 if units.length == "mm" else 2)


def limits(check: Check, units: Units) -> str:
    """What a measured line passes with."""
    if check.kind != "number":
        return ""
    if check.quantity == "count":
        return f"{number(check, check.good, units)} or more are good"
    return (
        f"good within {number(check, check.good, units)}, noted up to {number(check, check.fair, units)}; either side"
    )


def offset(point: tuple[float, float], quantity: str, units: Units) -> str:
    """A point off the middle, in words."""
    parts = []
    for size, plus, minus in ((point[0], "right", "left"), (point[1], "high", "low")):
        shown = trimmed(abs(units.from_si(quantity, size)), 1 if quantity == "length" or units.offset == "cm" else 2)
        if shown != "0":
            parts.append(f"{shown}\u00a0{units.label(quantity)} {plus if size > 0 else minus}")
    return ", ".join(parts) or "in the middle"


_WHY = {
    "first_grip": "The grip comes first: half of all tears are the hand.",
    "vertical": "Up and down before sideways; one change at a time.",
    "trial": "Which way helps sideways is not agreed on: this is a trial, and the next shot says whether to keep it.",
    "keep": "The last step shrank it, so the same again.",
    "reverse": "The last step made it worse, so back and past it.",
    "other": "What was tried before did not help, so the next that this bow has.",
    "exhausted": "Each step was tried and has not brought it nearer: look for contact with powder, for a shaft that does not "
    "fit, for a cam that leans; when unsure, a qualified shop.",
}
_SAY_CAMS = " How the cams of this bow are set is not on its card: yoke legs or spacers would be tried next."


def advice(advice: TuningAdvice, cams_by: str = "") -> tuple[str, str]:
    """What to try, and why."""
    if advice.good:
        return "Leave it: this is as good as it can be told.", ""
    if not advice.step:
        return "No step is left to try here.", _WHY[advice.why] + ("" if cams_by else _SAY_CAMS)
    step = STEPS[advice.step].words
    about = advice.about_steps
    many = f" About {max(round(about), 1)} such steps should do." if about is not None and about < 12 else ""
    return f"{step[0].upper()}{step[1:]}.", f"{_WHY[advice.why]}{many}"


def walk_back(back: WalkBack) -> tuple[str, str]:
    """What the impacts show, and what to try."""
    if back.shape is None:
        return "Three distances at least.", "With fewer a slant cannot be told from a bend."
    if back.shape == "plumb":
        return "Plumb, as far as these arrows can tell.", "Nothing here asks for a change of the rest."
    if back.shape == "curve":
        return (
            "The line bends.",
            "That is contact, spine or torque rather than the rest: look for vane contact with powder, then at the "
            "grip, then at the paper.",
        )
    side = "right" if back.slant_rad > 0 else "left"
    return (
        f"The line slants to the {side} with distance, {abs(math.degrees(back.slant_rad)):.1f}°.",
        "Try one small step of the rest, 0.5 mm, walk back again, and keep the direction that stood it up.",
    )


def leaves(line: Judged, card: RigCard, units: Units) -> str:
    """What a line that was not measured leaves open for this archer."""
    if line.leaves_m is None or card.goals.farthest_m is None:
        return "What it leaves open is not a matter of centimetres." if line.verdict == "unknown" and line.entry else ""
    size, far = on_target(units, line.leaves_m), whole_distance(units, card.goals.farthest_m)
    if line.verdict == "unknown" and not line.matters:
        return f"It may stay open: it costs this archer some {size} at {far} at the most."
    return f"It leaves some {size} open at {far}."


def remedy(line: Judged, card: RigCard, units: Units) -> tuple[str, str]:
    """The next thing to try for a line, and why."""
    if line.entry is not None and line.entry.choice in SEEN and not line.stops:
        later = "Look when it can be looked at." if line.verdict == "unknown" else line.remedy
        return later, leaves(line, card, units)
    if line.advice is not None:
        return advice(line.advice, card.bow.cams_by)
    if line.shape is not None:
        return walk_back(line.shape)
    return line.remedy, ""


def logged(entry: BenchEntry, units: Units) -> EntryWords:
    """What the log says of an entry of the bench sheet."""
    name = (
        "Gate opened with a reason"
        if entry.key == OVERRIDE
        else CHECKS[entry.key].name
        if entry.key in CHECKS
        else entry.key
    )
    said = value(CHECKS[entry.key], entry, units) if entry.key in CHECKS else ""
    return EntryWords(name, said, TRIED.get(entry.after, "") if entry.after else "")


CAUTION_PAPER = "Arrow on the string only when pointing at the butt; nobody in front. Know what is behind the paper."


CAUTION_EYES = (
    "Arrow on the string, pointing at a butt behind the line, finger off the trigger, nobody in front. "
    "Let down before anything is moved near the string."
)


CAUTION_PRESS = (
    "Press and string work only with the press and manual that the bow's maker names, and check that the "
    "strings sit in their tracks before taking pressure off. When unsure, a qualified shop."
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


def next_step(step: NextStep, _units: Units) -> Now:
    """The next line of the bench sheet."""
    if step.code == STOPPED:
        check = CHECKS[step.about]
        why = f"{check.name}: somebody qualified has to look first, or it is replaced. No sight is worth a string that breaks."
        return Now(
            "Do not draw this bow.",
            why,
            CAUTIONS_PREPARE.get(check.key, CAUTION_STRING),
            "prepare",
            "Open the bench sheet",
        )
    check, left = CHECKS[step.code], int(step.numbers["left"])
    lines = "the last line" if left == 1 else f"{left} lines are open"
    why = f"{check.why} String and arrow are what everything is levelled to: {lines} of the bench sheet."
    return Now(check.do, why, CAUTIONS_PREPARE.get(check.key, CAUTION_STRING), "prepare", "Open the bench sheet")


STANDING = {
    "ready": "ready",
    "not_to_be_drawn": "do not draw",
    "checks_open": "{} to check",
    "checks_old": "{} to check again",
    "overridden": "opened with a reason",
}
