"""The words of left and right, of two groups, of the slope and of the knock."""

from __future__ import annotations

import math

from cross_staff.core.prove.drift import Cause, Drift
from cross_staff.core.prove.pairs import PairDifference, PairKind, PairWords
from cross_staff.core.prove.triage import NONE, SEVERAL, JointChance
from cross_staff.core.rig.priors import Known
from cross_staff.core.tape.forecast import COVERAGE
from cross_staff.services.prove.sides import LEVEL, PROOF, RANGE, Pair
from cross_staff.web.forms.units import Units, fixed
from cross_staff.web.prove.words import high, in_times, sideways
from cross_staff.web.shared.words import on_target, whole_distance

CAUSES = {
    Cause.WINDAGE: "Windage",
    Cause.OFFSET: "Sight plane beside the arrow",
    Cause.LEAN: "Rail lean, or a false second axis",
    Cause.THIRD: "Third axis",
    Cause.WIND: "Wind",
    Cause.TORQUE: "Grip torque, or out of tune",
    Cause.NONE: "Nothing shows",
}
APART = {
    frozenset((Cause.WINDAGE, Cause.OFFSET)): "a group at the nearest stake: windage is all but nought there",
    frozenset((Cause.WINDAGE, Cause.LEAN)): "a group half way out: lean bends, windage is straight",
    frozenset((Cause.LEAN, Cause.WIND)): "the same groups on a calm day",
    frozenset((Cause.WINDAGE, Cause.WIND)): "the same groups on a calm day",
    frozenset((Cause.LEAN, Cause.THIRD)): "a group uphill and one downhill: lean goes one way on both",
    frozenset((Cause.WINDAGE, Cause.THIRD)): "a group uphill and one downhill: windage goes one way on both",
    frozenset((Cause.OFFSET, Cause.LEAN)): "a group at the farthest stake: lean is largest there",
}
TERMS = {
    "windage": "Windage",
    "offset": "Planes apart",
    "lean": "Lean less second axis",
    "third_axis": "Third axis",
}
WRITTEN = {RANGE: "Sight in", LEVEL: "Level", PROOF: "Prove"}
PAIR_NAMES = {
    PairKind.POINTS: "Hunting points and field points",
    PairKind.BUILDS: "Two builds",
    PairKind.BOWS: "Two bows or set-ups",
    PairKind.CANT: "Plumb and canted",
    PairKind.AFTER: "Before and after",
}
SEEN = (("", "not looked"), ("stands", "lines meet"), ("moved", "moved"))
_WAYS = {
    "up_mm": ("worth {} mm {} at the sight", ("up", "down")),
    "side_mm": ("{} mm {}", ("to the right", "to the left")),
    "lean_deg": ("leaning {}° {}", ("to the right", "to the left")),
    "vial_deg": ("vial {}° {}", ("clockwise", "anticlockwise")),
    "ahead_mm": ("{} mm {}", ("farther from the eye", "nearer to the eye")),
    "leaves_up_mrad": ("arrow leaves {} mrad {}", ("high", "low")),
    "leaves_side_mrad": ("{} mrad {}", ("to the right", "to the left")),
    "peep_mm": ("{} mm {}", ("up", "down")),
}


def term_words(name: str, known: Known | None) -> str:
    """A term with its uncertainty, in its own unit."""
    if known is None:
        return "these groups do not tell"
    value, sd = known.value, COVERAGE * (known.sd or 0.0)
    side = "right" if value >= 0.0 else "left"
    if name == "windage":
        return f"{1e3 * abs(value):.1f} mrad {side} ± {1e3 * sd:.1f}"
    if name == "offset":
        return f"{1e3 * abs(value):.0f} mm {side} ± {1e3 * sd:.0f}"
    return f"{fixed(math.degrees(value), 1)} ± {math.degrees(sd):.1f}°"


def mend_words(cause: Cause, drift: Drift) -> str:
    """What mends a cause, with the amount worked out; empty where nothing does, or the amount is not known."""
    if cause == Cause.WINDAGE and drift.housing_mm is not None:
        moves = drift.housing_mm
        side = "right" if moves.value > 0.0 else "left"
        much = f"{abs(moves.value):.2f} mm (± {COVERAGE * (moves.sd or 0.0):.2f})"
        return f"Housing {much} to the {side}, chasing the arrow."
    offset, lean, third = (drift.amount(each) for each in (Cause.OFFSET, Cause.LEAN, Cause.THIRD))
    if cause == Cause.OFFSET and offset is not None:
        side = "left" if offset.value > 0.0 else "right"
        much = f"{1e3 * abs(offset.value):.0f} mm (± {COVERAGE * 1e3 * (offset.sd or 0.0):.0f})"
        return f"The pins stand {much} to the {side} of the arrow's plane: bring both into one plane, then windage."
    if cause == Cause.LEAN and lean is not None:
        side = "clockwise" if lean.value > 0.0 else "anticlockwise"
        much = f"{math.degrees(abs(lean.value)):.1f}° (± {COVERAGE * math.degrees(lean.sd or 0.0):.1f})"
        return f"First axis {much} too far {side}, or the second axis by as much the other way. Read both on the bench."
    if cause == Cause.THIRD and third is not None:
        much = f"{math.degrees(abs(third.value)):.1f}° (± {COVERAGE * math.degrees(third.sd or 0.0):.1f})"
        end = "right end forward" if third.value > 0.0 else "left end forward"
        return f"The vial stands {much} with its {end}: turn the third axis back by as much."
    return ""


def apart_words(drift: Drift) -> str:
    """What tells the two likeliest causes apart; empty for one alone."""
    if len(drift.causes) < 2:
        return ""
    first, second = drift.causes[0], drift.causes[1]
    told = APART.get(frozenset((first.cause, second.cause)), first.check)
    return f"To tell {CAUSES[first.cause].lower()} from {CAUSES[second.cause].lower()}: {told}."


def pair_words(pair: Pair, told: PairDifference, words: PairWords, units: Units, distance_m: float) -> tuple[str, str]:
    """Whether two kinds differ, and by how much."""
    second = words.second
    if told.real:
        ways = []
        right, up = told.right_mrad, told.up_mrad
        if right is not None and {"left", "right"} & set(told.sides):
            ways.append(f"{sideways(units, 1e-3 * right.value * distance_m)} {_within(right, units, distance_m)}")
        if up is not None and {"high", "low"} & set(told.sides):
            ways.append(f"{high(units, 1e-3 * up.value * distance_m)} {_within(up, units, distance_m)}")
        at = whole_distance(units, pair.distance_m)
        return "They differ.", f"At {at} {second} hit {' and '.join(ways) or 'elsewhere'}."
    most = on_target(units, 1e-3 * told.at_most_mrad * distance_m)
    at = whole_distance(units, pair.distance_m)
    more = (
        f"If it stays as it is, {told.more} arrows more of each would tell it."
        if told.more is not None
        else "Sixty arrows more of each would not tell a difference this small."
    )
    return "Not told apart.", f"At most {most} at {at}, 19 times in 20. {more}"


def _within(known: Known, units: Units, distance_m: float) -> str:
    return f"± {on_target(units, COVERAGE * 1e-3 * (known.sd or 0.0) * distance_m)}"


def joint_name(each: JointChance) -> str:
    """A joint, none, or several, by name."""
    if each.joint is not None:
        return each.joint.mark.capitalize()
    return {NONE: "Nothing moved", SEVERAL: "More than one joint"}[each.key]


def moved_words(each: JointChance) -> str:
    """How far a joint went, where the groups tell it; empty where they do not."""
    told = []
    for way, known in each.moved.items():
        if abs(known.value) > COVERAGE * (known.sd or 0.0):
            words, (plus, minus) = _WAYS[way]
            told.append(words.format(f"{abs(known.value):.1f}", plus if known.value > 0.0 else minus))
    return ", ".join(told)


def chance_words(chance: float) -> str:
    """The chance of a cause, beside its name."""
    return in_times(chance)
