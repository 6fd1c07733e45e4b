"""Which strip of the booklet to cut, in words, and what was cut before."""

from __future__ import annotations

from collections.abc import Sequence

from cross_staff.core.rig.booklet import Booklet
from cross_staff.core.tape.booklet import StripChoice
from cross_staff.core.tape.booklet_choice import Cut, Leaves
from cross_staff.core.tape.forecast import COVERAGE
from cross_staff.core.tape.station import ARROWS_TO_SHOOT
from cross_staff.services.tape.booklet import Matched, WasCut
from cross_staff.web.forms.units import fixed
from cross_staff.web.shared import reach_words
from cross_staff.web.shared.moments import local_time
from cross_staff.web.shared.words import on_target, whole_distance
from cross_staff.web.tape import words
from cross_staff.web.tape.tables import TapeView

FEW = 2  # rivals that are named one by one


def named(choice: StripChoice) -> str:
    """A strip by its label, with the edge it is on."""
    return f"{choice.label}, {choice.side}" if choice.side else choice.label


def say(t: TapeView, matched: Matched, cut: Cut) -> tuple[str, str]:
    """What to cut, and why."""
    used = t.card.sight.booklet.used
    standing = [each for each in (cut.best, *cut.rivals) if each.choice.label == used]
    best, rivals = named(cut.best.choice), _rivals(cut.rivals)
    if t.evaluation.doubtful:
        head = "Settle the marks first."
    elif standing:
        head = f"Strip {used} stays on."
    elif used:
        head = f"Put on strip {best}{f', or {rivals}' if rivals and not cut.alike else ''}."
    elif not rivals:
        head = f"Use strip {best}."
    elif cut.alike:
        head = f"Use strip {best}; {rivals} {'does' if len(cut.rivals) == 1 else 'do'} as well."
    else:
        head = f"Strip {best}, or {rivals}."
    return head, " ".join(_why(t, matched, cut, standing))


def _rivals(rivals: Sequence[Leaves]) -> str:
    """The rivals, by their labels."""
    if len(rivals) <= FEW:
        return " or ".join(named(each.choice) for each in rivals)
    ends = [f(rivals, key=lambda each: each.choice.order) for f in (min, max)]
    return f"one of {named(ends[0].choice)} to {named(ends[1].choice)}"


def _why(t: TapeView, matched: Matched, cut: Cut, standing: Sequence[Leaves]) -> list[str]:
    far = whole_distance(t.units, t.card.goals.farthest_m or 0.0)
    told = []
    if t.evaluation.doubtful:
        told.append("They disagree, and which strip is right cannot be said before that is settled. As they are:")
    if matched.used is not None and not standing:
        off = words.high_low_unit(t.units, matched.used.farthest_m)
        told.append(f"Strip {named(matched.used.choice)}, which is on, shoots {off} at {far}.")
    shown = standing[0] if standing else cut.best
    told.append(f"{_laid(t, shown, far)}, ±\u00a0{on_target(t.units, COVERAGE * cut.sd_m)}.")
    if cut.rivals and not cut.alike:
        told.append(_telling(t, cut, far))
    match = next(m for m in matched.sides if any(c is cut.best.choice for c in m.choices))
    told.append(f"The rig's own length is {match.span_mm:.1f} mm, place {fixed(match.exact_order, 1)} of the booklet.")
    if match.beyond and not cut.best.choice.measured:
        told.append("That lies beyond the strips you measured: measure this one too before it is cut.")
    if t.card.sight.booklet.read_label:
        told.append(_calibration(t.card.sight.booklet, match.exact_order))
    detent = min(matched.detents, key=lambda each: abs(each[1].up_m or 0.0), default=None)
    if detent is not None and abs(detent[1].up_m or 0.0) < 0.5 * abs(cut.best.farthest_m) - 0.002:
        place = reach_words.extension(t.card, detent[0])
        off = words.high_low_unit(t.units, detent[1].up_m)
        told.append(f"With the extension at {place}, strip {named(detent[1])} would shoot {off}.")
    return told


def _laid(t: TapeView, left: Leaves, far: str) -> str:
    """What a strip leaves, laid on at home."""
    shoots = words.high_low_unit(t.units, left.farthest_m)
    on_the_way = abs(left.worst_m) > abs(left.farthest_m) + 0.01
    more = f" and {words.high_low_unit(t.units, left.worst_m)} on the way there" if on_the_way else ""
    return f"Laid on at home {named(left.choice)} shoots {shoots} at {far}{more}"


def _telling(t: TapeView, cut: Cut, far: str) -> str:
    """That the fit cannot tell the rivals from the best, and what would."""
    first = cut.rivals[0]
    open_ = f"This fit cannot tell it from {named(first.choice)}, {words.high_low_unit(t.units, first.farthest_m)}"
    if cut.tell is None:
        return f"{open_}; no group within reach would tell more."
    at, arrows = whole_distance(t.units, cut.tell.distance_m), f"{ARROWS_TO_SHOOT} arrows"
    if cut.tells:
        return f"{open_}: {arrows} at {at} will."
    then = f"±\u00a0{on_target(t.units, COVERAGE * cut.tell.sd_at_farthest_m_then)}"
    return f"{open_}: {arrows} at {at} would leave {then} {'there' if at == far else f'at {far}'}."


def _calibration(kept: Booklet, exact: float) -> str:
    """What the calibration strip said at the far distance, against the reckoning."""
    read = kept.order_of(kept.read_label)
    if read is None:
        return f"The calibration strip said {kept.read_label}, whose place in the booklet is not known."
    if abs(read - exact) <= 1.0:
        return f"The calibration strip said {kept.read_label}: the two agree."
    return f"The calibration strip said {kept.read_label}, {abs(read - exact):.1f} places off: read it again."


def on_sight(t: TapeView, cut: Sequence[WasCut]) -> list[str]:
    """What is on the sight, for which arrow it was cut, and what was cut before."""
    used, told = t.card.sight.booklet.used, []
    newest = cut[-1] if cut and cut[-1].label == used else None
    if newest is not None:
        arrow, now = newest.build, t.card.build.name
        made = f" for “{arrow}”" if arrow else ""
        told.append(f"Strip {used} is on this sight, cut {local_time(newest.when)[:10]}{made}.")
        if arrow != now:
            told.append(f"The arrow on the card now is “{now}”.")
    before = [each for each in cut if each is not newest]
    if before:
        each = "; ".join(f"{one.label} on {local_time(one.when)[:10]}" for one in before[::-1])
        told.append(f"Cut before: {each}.")
    return told
