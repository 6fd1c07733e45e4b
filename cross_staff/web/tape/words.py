"""The words of the tape's pages: pins by name, days, reasons, what to do with what was reckoned."""

from __future__ import annotations

from collections.abc import Collection, Sequence

from cross_staff.core.rig.card import RigCard
from cross_staff.core.rig.priors import Known
from cross_staff.core.stations import NextStep
from cross_staff.core.tape.comparison import ALL, SPEED, TWO, ComparedFits, Laying
from cross_staff.core.tape.forecast import COVERAGE
from cross_staff.core.tape.rows import Finding
from cross_staff.core.tape.rulers import LINES
from cross_staff.core.tape.station import Evaluation
from cross_staff.core.tape.unchecked import Unchecked
from cross_staff.web.forms.units import Units, fixed, trimmed
from cross_staff.web.shared import pin_words
from cross_staff.web.shared.words import (
    CAUTION_BLADE,
    CAUTION_DRAW,
    CAUTION_RANGE,
    PARAMETERS,
    Now,
    by_luck,
    far_out,
    figure,
    gone_pin,
    good_to,
    on_target,
    whole_distance,
)

PAGES = (
    ("", "Marks"),
    ("/print", "Print"),
    ("/pins", "Pins"),
    ("/dialled", "Dialled"),
    ("/holds", "Holds"),
    ("/slopes", "Slopes and reach"),
    ("/fits", "Fits"),
    ("/booklet", "Booklet"),
    ("/change", "Change"),
    ("/range-sheet", "Range sheet"),
)
NOT_DIALLED = "Nothing is dialled on this sight: no strip goes on it."
NO_TAPE = "There is no tape yet: the card lacks something."
CAUTION_ESTIMATE = "An estimate, to judge a sideways miss by; never a windage setting."
CAUTION_SLOPE = "On a slope look twice at what is behind and beyond, more so when shooting from above."
CAUTION_PINS = "Unlock a pin before it is moved, the right key; tightening moves it: look again."
CAUTION_NEW_ARROW = (
    "An arrow no lighter than the bow's maker allows. The new tape is a starting tape until two distances confirm it."
)
LAYING = {"home": "at home", "far": "at the far mark", "best": "best over all"}
FITS = {SPEED: "speed alone", TWO: "two marks", ALL: "all marks"}


def pin_choices(
    card: RigCard, evaluation: Evaluation, units: Units, kept: Collection[int] = ()
) -> list[tuple[int, str]]:
    """The pins a mark can be of, with what each is set for, and those of kept marks that the card does not name by
    now; none where there is but one."""
    pins = evaluation.pins.at_m
    gone = [(pin, gone_pin(pin)) for pin in sorted(set(kept)) if pin >= max(len(pins), 1)]
    if gone and not pins:
        return [(0, pin_words.pin_name(card, pins, 0, units)), *gone]
    if len(pins) + len(gone) < 2:
        return []
    names = [pin_words.short_name(pin_words.pin_name(card, pins, pin, units)) for pin in range(len(pins))]
    return [*((pin, f"{names[pin]}, {_number(units, at)}") for pin, at in enumerate(pins)), *gone]


def _number(units: Units, metres: float) -> str:
    return units.as_typed("distance", metres)


def high_low(units: Units, up_m: float | None, middle: str = "0") -> str:
    """How high or low arrows hit, without the unit."""
    if up_m is None:
        return "–"
    value = abs(units.from_si("offset", up_m))
    shown = fixed(value, 0 if value >= 9.95 else 1)
    if float(shown) == 0.0:
        return middle
    return f"{shown} {'high' if up_m > 0 else 'low'}"


def high_low_unit(units: Units, up_m: float | None) -> str:
    """How high or low arrows hit, with the unit, within a sentence."""
    words = high_low(units, up_m, "dead on")
    amount, _, side = words.partition(" ")
    return words if words in ("dead on", "–") else f"{amount} {units.label('offset')} {side}"


def hold(units: Units, up_m: float | None, target_m: float | None) -> str:
    """Where to hold against a pin that shoots so: the other way, and in heights of the target."""
    if up_m is None:
        return "–"
    words = high_low(units, -up_m, "on")
    if target_m and words != "on":
        parts = abs(up_m) / target_m
        words += f" ({fixed(parts, 1) if parts >= 0.1 else '<0.1'})"
    return words


def compared(fits: Sequence[ComparedFits], units: Units, farthest_m: float) -> list[list[str]]:
    """The fits beside one another, a row each."""
    rows = []
    for each in fits:
        up = "–" if each.key == ALL or each.up_m is None else high_low(units, each.up_m)
        used = ", ".join(whole_distance(units, row.entry.ranged_m) for row in each.used) or "none"
        rows.append(
            [
                FITS[each.key],
                used,
                "–" if each.length_mm is None else f"{each.length_mm:.1f}",
                "out of reach" if each.sd_m is None else f"± {on_target(units, COVERAGE * each.sd_m)}",
                up,
            ]
        )
    return rows


def laying(laying: Laying, units: Units) -> str:
    """How far from its home line a tape is laid on."""
    if abs(laying.shift_mm) < 0.05:
        return "home line on the home mark"
    return f"{trimmed(abs(laying.shift_mm), 1)} mm {'farther' if laying.shift_mm > 0 else 'nearer'} than the home mark"


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


def _other_arrow(step: NextStep, u: Units) -> Now:
    n = step.numbers
    return Now(
        f"Shoot {n['arrows']:.0f} arrows at {whole_distance(u, n['home_m'])} with this arrow.",
        "Nobody has shot it yet. Bow, sight and home are known from the other arrow's marks, which count for this one "
        "as far as both share them: a group at home shows what it leaves the bow with.",
        CAUTION_RANGE,
        "tape",
        "Enter the home mark",
    )


def _look_again(step: NextStep, u: Units) -> Now:
    n = step.numbers
    mark = trimmed(n["mark_mm"], 2)
    where = {
        "": f"mark {mark}",
        LINES: f"{mark} mm from the other line",
        "origin": "the line that the others are measured from",
    }.get(step.about, f"where the strip reads {step.message}")
    return Now(
        f"Look again at {whole_distance(u, n['ranged_m'])}, {where}.",
        f"It lies as far from what card and other marks expect as it would {far_out(n['against_others'])}. Read the scale and the distance "
        "once more, or shoot it again; leave it out only if you know why.",
        CAUTION_RANGE,
        "tape",
        "Open the marks",
    )


def _measure_again(step: NextStep, u: Units) -> Now:
    n = step.numbers
    return Now(
        f"Measure the line of {whole_distance(u, n['ranged_m'])} again.",
        f"It was measured twice, {n['apart_mm']:.1f} mm apart: one of the two is a slip. Mend it, or leave it out.",
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


def _print_marks(step: NextStep, u: Units) -> Now:
    return Now(
        "Print the table of marks.",
        f"It is {good_to(step.numbers.get('good_to_m'), u)}: line and drum for every distance, clicks from zero and from home.",
        CAUTION_RANGE,
        "tape",
        "Print the marks",
    )


def _set_pins(step: NextStep, u: Units) -> Now:
    return Now(
        "Set the pins by the template.",
        f"Nothing is dialled on this sight. Where its pins belong is {good_to(step.numbers.get('good_to_m'), u)}.",
        CAUTION_PINS,
        "tape",
        "Open the pins",
    )


def _enter_dots(step: NextStep, u: Units) -> Now:
    return Now(
        "Check the display against these dots.",
        f"Nothing is dialled on this sight. Where its dots belong is {good_to(step.numbers.get('good_to_m'), u)}: a far group "
        "with its offset brings the display there.",
        CAUTION_RANGE,
        "tape",
        "Open the dots",
    )


# where what is good enough is taken from
READY = {"print_tape": "/print", "print_marks": "/range-sheet", "set_pins": "/pins", "enter_dots": "/pins"}
_TAPE_NOW = {
    "shoot_home": _shoot_home,
    "marks_old": _marks_old,
    "other_arrow": _other_arrow,
    "look_again": _look_again,
    "measure_again": _measure_again,
    "scale_backwards": _scale_backwards,
    "contradiction": _contradiction,
    "shoot_next": _shoot_next,
    "print_tape": _print_tape,
    "print_marks": _print_marks,
    "set_pins": _set_pins,
    "enter_dots": _enter_dots,
}


def contradiction(step: NextStep, units: Units) -> str:
    """Which inputs contradict each other, with the largest pull named."""
    n, name = step.numbers, step.about
    wanted = figure(name, Known(n["wanted"], n.get("wanted_sd")), units)
    was = figure(name, Known(n["was"], n.get("was_sd")), units).split(" ±")[0]
    mildly = abs(n["pull_sds"]) < 2.0
    return (
        f"Card and marks contradict each other ({by_luck(n['p_value'])}). They differ most about "
        f"{PARAMETERS[name]}: the card says {was}, the marks want {wanted}."
        f"{' That is not far: look at the marks first.' if mildly else ''}"
    )


def finding(finding: Finding, units: Units) -> str:
    """What is to be said about a row of the marks table."""
    n = finding.numbers
    if finding.code == "suspect":
        side = "low" if n["residual_mm"] > 0 else "high"
        return (
            f"Suspect: so far from what the others expect {far_out(n['sds'])}; at the fitted mark it would hit "
            f"{on_target(units, n['target_m'])} {side}. Read scale and distance again."
        )
    return _FINDINGS[finding.code](n, units)


_FINDINGS = {
    "old": lambda n, u: f"Set aside: measured at revision {n['revision']:.0f}, before the rig changed.",
    "arrow": lambda n, u: "Shot with another arrow: it counts for bow and sight.",
    "span": lambda n, u: "From before the zero could move: only its distance from the others of its day counts.",
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
    "measured_apart": lambda n, u: (
        f"The same line was also measured as {trimmed(n['other_mm'], 2)}, {n['apart_mm']:.1f} mm apart: one of them is a slip."
    ),
    "disagrees_with": lambda n, u: (
        f"The same distance also has mark {trimmed(n['other_mm'], 2)}, {trimmed(n['apart_mm'], 2)} mm apart: more than "
        "chance. Both are used; leave out the one you do not trust."
    ),
}


def unchecked(mark: Unchecked | None, units: Units) -> str:
    """That the farthest mark is hardly checked by the others, and what would check it; empty while it is."""
    if mark is None:
        return ""
    at = whole_distance(units, mark.row.entry.ranged_m)
    return (
        f"The farthest mark, {at}, is hardly checked by the others: a slip there would be noticed about "
        f"{max(round(20.0 * mark.caught), 0)} times in 20. A second group at {at} on another day checks it."
    )


def next_step(step: NextStep, units: Units) -> Now:
    """What to do next at the tape."""
    return _TAPE_NOW[step.code](step, units)


STANDING = {
    "waits_for_card": "waits for the card",
    "unsolved": "cannot be solved",
    "marks_old": "set aside: rig changed",
    "no_marks": "from speed alone",
    "disagrees": "card and marks contradict",
    "end_asked": "an end is asked about",
    "good_to": "{good_to}",
}
