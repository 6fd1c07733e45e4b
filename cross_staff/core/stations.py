"""The stations of the work that this program has, and how each stands for a rig."""

from __future__ import annotations

from dataclasses import dataclass, field

from cross_staff.core.reckoning import ARROWS_TO_SHOOT, Reckoning
from cross_staff.core.rig import RigCard

DONE, DUE, STALE, BLOCKED = "done", "due", "stale", "blocked"


@dataclass(frozen=True)
class Station:
    """A station's key (the same name on every floor) and its name on the staff."""

    key: str
    name: str


STATIONS = (Station("card", "Card"), Station("tape", "Tape"))


@dataclass(frozen=True)
class Standing:
    """How a station stands: one of done, due, stale, blocked, and a code for the word beside it."""

    station: Station
    state: str
    word: str


def standings(card: RigCard, reckoning: Reckoning) -> tuple[Standing, ...]:
    """How every station of this rig stands."""
    return tuple(Standing(station, *_RULES[station.key](card, reckoning)) for station in STATIONS)


def _card(_card: RigCard, reckoning: Reckoning) -> tuple[str, str]:
    if reckoning.missing:
        return DUE, "incomplete"
    return DONE, "complete"


def _tape(_card: RigCard, reckoning: Reckoning) -> tuple[str, str]:
    if reckoning.fit is None:
        return BLOCKED, "unsolved" if reckoning.problem else "waits_for_card"
    if not reckoning.used:
        return (STALE, "marks_old") if reckoning.old else (DUE, "no_marks")
    if reckoning.doubtful:
        return DUE, "disagrees"
    return DONE if reckoning.good_enough else DUE, "good_to"


_RULES = {"card": _card, "tape": _tape}


@dataclass(frozen=True)
class NextStep:
    """The one thing to do now: the station it belongs to, a code, and the numbers that go with it."""

    station: str
    code: str
    numbers: dict[str, float] = field(default_factory=dict)


def next_step(card: RigCard, reckoning: Reckoning) -> NextStep:
    """What to do next with this rig, the most pressing thing first."""
    if reckoning.missing:
        return NextStep("card", reckoning.missing[0])
    if reckoning.fit is None:
        return NextStep("card", "unsolved")
    home = {"home_m": card.goals.home_m or 0.0, "arrows": float(ARROWS_TO_SHOOT)}
    if not reckoning.used:
        return NextStep("tape", "marks_old" if reckoning.old else "shoot_home", home)
    if reckoning.scale_runs_backwards:
        return NextStep("tape", "scale_backwards")
    suspect = reckoning.suspect
    if suspect is not None:
        numbers = {"ranged_m": suspect.entry.ranged_m, "mark_mm": suspect.entry.mark_mm}
        return NextStep("tape", "look_again", numbers)
    if reckoning.contradiction is not None:
        return NextStep("tape", "contradiction")
    return _shoot_or_print(card, reckoning)


def _shoot_or_print(card: RigCard, reckoning: Reckoning) -> NextStep:
    shot = reckoning.next_shot
    if reckoning.good_enough or shot is None:
        return NextStep("tape", "print_tape")
    numbers = {
        "ranged_m": shot.distance_m,
        "arrows": float(ARROWS_TO_SHOOT),
        "now_m": shot.sd_at_farthest_m_now,
        "then_m": shot.sd_at_farthest_m_then,
        "farthest_m": card.goals.farthest_m or 0.0,
    }
    return NextStep("tape", "shoot_next", numbers)
