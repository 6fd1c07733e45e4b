"""What the arrows say, in words: the verdict, an end by itself, today, what makes one doubt."""

from __future__ import annotations

from cross_staff.core.estimation.groups import ADJUST, LEAVE, NOT_YET_KNOWN, SHOOT_MORE, GroupStatistics
from cross_staff.core.sight_in.acts import SightIn
from cross_staff.core.sight_in.aims import AimState
from cross_staff.core.sight_in.anomalies import Trend
from cross_staff.core.sight_in.conditions import TapeDay
from cross_staff.core.sight_in.log import End
from cross_staff.core.tape.forecast import COVERAGE
from cross_staff.services.rig import Rig
from cross_staff.web.forms.units import Units
from cross_staff.web.shared.words import by_luck, on_target, whole_distance
from cross_staff.web.sight_in.words import allowed, offset_words, six_more, target_scale

VERDICTS = {ADJUST: "Adjust now", SHOOT_MORE: "Shoot more", LEAVE: "Leave it", NOT_YET_KNOWN: "Not yet known"}


def judged(rig: Rig, at: AimState, units: Units) -> dict[str, object]:
    """What all arrows at an aim come to: the verdict and a sentence a direction."""
    verdict = at.verdict
    head = VERDICTS[verdict.kind]
    if verdict.kind == SHOOT_MORE and verdict.more:
        head = f"Shoot {verdict.more} more"
    scale = target_scale(rig, at.aim)
    lines = []
    for side, words, beyond, sd in zip(
        ("Sideways", "Height"), offset_words(rig, at, units), verdict.beyond, at.standing.sd
    ):
        if sd > 20.0:
            lines.append((side, "not known yet", ""))
            continue
        chance = "beyond chance" if beyond else "may be chance"
        lines.append((side, f"{words or 'dead on'}", f"± {on_target(units, COVERAGE * sd * scale)}, {chance}"))
    return {
        "head": head,
        "kind": verdict.kind,
        "lines": lines,
        "arrows": at.standing.arrows,
        "radius": "" if at.radius_m is None else on_target(units, at.radius_m),
        "circle": on_target(units, at.circle_m),
        "surely": f"{min(100.0 * verdict.surely, 99.0):.0f} in 100",
        "allowed": allowed(rig, at, units),
        "six": six_more(rig, at, units),
        "spread": on_target(units, at.standing.spread * scale),
    }


def alone(group: GroupStatistics, compared: tuple[float | None, float | None], units: Units) -> str:
    """One end by itself: its middle, whether that is chance, and its spread against the archer's own."""
    if group.mean_m is None:
        return ""
    right, up = group.mean_m
    sideways = f"{on_target(units, right)} {'right' if right > 0 else 'left'}"
    height = f"{on_target(units, up)} {'high' if up > 0 else 'low'}"
    error = "" if group.se_m is None else f" ± {on_target(units, COVERAGE * max(group.se_m))}"
    sides = [side for side, beyond in zip(("sideways", "height"), group.beyond_chance) if beyond]
    chance = f"{' and '.join(sides)} beyond chance" if sides else "may be chance"
    luck_words = "" if group.p_value is None else f" (so far off {by_luck(group.p_value)})"
    ratio, luck = compared
    more = ", more than chance" if luck is not None and luck < 0.05 else ""
    spread = "" if ratio is None else f" Its spread is {ratio:.1f} times that of your earlier ends{more}."
    return f"{sideways}, {height}{error}: {chance}{luck_words}.{spread}"


DAYS = {
    "go": "A tape day",
    "half": "Count it half",
    "no": "Change nothing today",
    "not_yet": "Not yet known",
}


def day(day: TapeDay) -> tuple[str, str]:
    """Is today a tape day, and why."""
    ratio = "" if day.ratio is None else f"{day.ratio:.1f} times your own earlier ends"
    why = {
        "no_session": "Shoot the first end at home: it tells.",
        "too_few": "Five arrows at home, against your own earlier ones and the wind, tell.",
        "no_history": "No earlier ends to compare with; nothing speaks against it.",
        "much_wider": f"The ends at home are {ratio}, far more than chance.",
        "wider": f"The ends at home are {ratio}, more than chance.",
        "windy": "The crosswind moves them by more than half of your spread.",
        "very_windy": "The crosswind moves them by more than your groups can tell.",
        "as_usual": f"The ends at home are {ratio}: as usual.",
    }[day.because]
    return DAYS[day.verdict], why


def suspect(end: End, number: int, units: Units) -> str:
    """The question about a shot that lies far from the others."""
    shot = end.shots[number - 1]
    side, height = "right" if shot.right_m > 0 else "left", "high" if shot.up_m > 0 else "low"
    at = "" if end.ranged_m is None else f" at {whole_distance(units, end.ranged_m)}"
    where = f"{on_target(units, shot.right_m)} {side}, {on_target(units, shot.up_m)} {height}"
    return f"Arrow {number} of the end{at} is far from the others: {where}. Was it called bad?"


def reversed_words(names: tuple[str, ...]) -> str:
    """Controls that go against their card on this bow."""
    return f"{', '.join(names)}: goes against its card on this bow, by what the arrows did." if names else ""


def trend(trend: Trend, units: Units) -> str:
    """A sideways trend with distance."""
    side = "right" if trend.mrad > 0 else "left"
    near, far = whole_distance(units, trend.near_m), whole_distance(units, trend.far_m)
    apart = 1e-3 * (trend.far_m - trend.near_m)
    drift = f"{on_target(units, trend.mrad * apart)} ± {on_target(units, COVERAGE * trend.sd_mrad * apart)} on that way"
    return (
        f"From {near} to {far} the arrows drift to the {side}, by {drift}: that is no windage setting. Leave it, and "
        "look at the level and the bow's tune."
    )


def usable(state: SightIn, units: Units) -> str:
    """What the rig is good for already."""
    far = state.usable_to_m()
    if far is None or state.current is None:
        return ""
    return f"Usable with its pins as they are to {whole_distance(units, far)}; the rest may follow later."
