"""The procedure of this rig: its steps, the choices it leaves open, what each pin is for."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import replace
from functools import lru_cache

from cross_staff.core.ballistics.reach import SightRoom, reach
from cross_staff.core.rig.card import RigCard
from cross_staff.core.rig.pins import Pins, may_be_dialled, pointed_pins
from cross_staff.core.rig.procedure import MARKS, PLACE, SHOOT, ProcedureStep
from cross_staff.core.rig.schools import DIALLED, SECOND, Question
from cross_staff.core.sight_in.controls import control_for, range_controls


def questions(card: RigCard, chosen: Mapping[str, str] | None = None) -> tuple[Question, ...]:
    """The choices that this rig's procedure leaves open, each with the schools that it can go by."""
    open_ones = (_of_this_sight(card, chosen or {}, question) for question in card.sight_kind.questions)
    return tuple(question for question in open_ones if len(question.schools) > 1)


def _of_this_sight(card: RigCard, chosen: Mapping[str, str], question: Question) -> Question:
    """A question with the schools that this sight's pins and pointers leave."""
    if question is not DIALLED:
        return question
    options = may_be_dialled(card.sight, len(pin_distances(card, chosen)))
    keys = {"near", "far"} if len(options) > 1 else set()
    keys.update(f"pin{pin + 1}" for pin in options[1:-1])
    return replace(question, schools=tuple(school for school in question.schools if school.key in keys))


def answers(card: RigCard, chosen: Mapping[str, str]) -> dict[str, str]:
    """Every choice, as chosen or as the sight has it, else our stand."""
    open_ones = card.sight_kind.questions
    answers = {question.key: question.school(chosen.get(question.key, "")).key for question in open_ones}
    if DIALLED.key in answers and not chosen.get(DIALLED.key):
        answers[DIALLED.key] = _usually_dialled(card)
    if SECOND.key in answers and not chosen.get(SECOND.key) and card.goals.pin_distances_m:
        answers[SECOND.key] = "wanted"  # the card says for which distances
    if "stop" in answers and not chosen.get("stop") and card.sight.home_stop in ("fixed", "settable", "none"):
        answers["stop"] = card.sight.home_stop
    answers.setdefault("pointer", "to_pin")
    answers["slow"] = "yes" if card.mount.home == "reserve" else "no"
    return answers


def _usually_dialled(card: RigCard) -> str:
    """The pin that goes with the wheel where nobody chose: of a single pointer the one whose it is; the first one where
    each has its own."""
    pointers = card.sight.pointers
    if len(pointers) == 1:
        return "near" if pointers[0] == 0 else f"pin{pointers[0] + 1}"
    return "near" if card.sight_kind.has_indicators else "far"


def dialled_pin(card: RigCard, chosen: Mapping[str, str]) -> int:
    """The pin that goes with the wheel, for which the tape is laid on.

    Args:
        card: the rig's card.
        chosen: schools by their question, as they were chosen.

    Returns:
        its place, the top one 0 [-].

    Source:
        schools in core/rig/schools.py; the sight's pointers.
    """
    if not card.sight_kind.asks(DIALLED):
        return 0
    options = may_be_dialled(card.sight, len(pin_distances(card, chosen)))
    school = answers(card, chosen)[DIALLED.key]
    wanted = int(school[3:]) - 1 if school.startswith("pin") else options[0 if school == "near" else -1]
    return wanted if wanted in options else options[-1]


def pins_of(card: RigCard, chosen: Mapping[str, str]) -> Pins:
    """What each pin is set for, which one goes with the wheel, and whose the pointers are.

    Args:
        card: the rig's card.
        chosen: schools by their question, as they were chosen.

    Returns:
        the pins [m as ranged].

    Source:
        the card; schools in core/rig/schools.py.
    """
    distances, dialled = pin_distances(card, chosen), dialled_pin(card, chosen)
    return Pins(distances, dialled, pointed_pins(card.sight, len(distances), dialled))


def pin_distances(card: RigCard, chosen: Mapping[str, str] | None = None) -> tuple[float, ...]:
    """What each pin is for [m, as ranged], the top one first; the reference at home.

    Args:
        card: the rig's card.
        chosen: schools by their question; None: our stands.

    Returns:
        [m as ranged], the top pin first; empty without home.

    Source:
        the card; schools in core/rig/schools.py.
    """
    home = card.goals.home_m
    if home is None:
        return ()
    kind = card.sight_kind
    if answers(card, chosen or {}).get(SECOND.key) == "gap":
        lowest = _largest_gap(card)
        return (home,) if lowest is None else (home, lowest)
    most = min(len(card.sight.pins) or kind.most_pins, kind.most_pins)
    wanted = card.goals.pin_distances_m or (card.goals.distances_m if kind.computes_dots else ())
    farther = sorted({d for d in wanted if d > home + 0.5})
    return (home, *farther)[:most]


@lru_cache(maxsize=64)
def _largest_gap(card: RigCard) -> float | None:
    """The farthest whole distance for which the post has room below the near pin [m as ranged]; None
    where the room, or the flight, is not known."""
    room, priors, home = card.sight.housing.pin_room_mm, card.priors(), card.goals.home_m
    if room is None or priors is None or home is None:
        return None
    farthest_m = reach(priors.figures, card.distance_from_sight(home), SightRoom(pin_room_m=room / 1000.0)).farthest_m
    if not farthest_m:
        return None
    unit = card.tape.unit_m
    far = math.floor(card.ranged_distance(farthest_m) / unit) * unit
    return far if far > home + unit else None


def steps(card: RigCard, chosen: Mapping[str, str]) -> tuple[ProcedureStep, ...]:
    """The steps of this rig, those of each pin told apart by their number."""
    steps: list[ProcedureStep] = []
    chosen = {**chosen, "marks": "late" if dialled_pin(card, chosen) else "early"}
    pins = range(1, len(pin_distances(card, chosen)))
    group: list[ProcedureStep] = []
    for step in card.sight_kind.procedure:
        if any(chosen.get(key) != value for key, value in step.only_if):
            continue
        step = _as_fitted(card, step, chosen)
        if step.key == "retract" and not any(pin.retractable for pin in card.sight.pins):
            continue
        if step.pin in ("each", "second") and step.kind in (PLACE, SHOOT):
            group.append(step)
            continue
        steps += _spread_out(group, pins)
        group = []
        steps.append(step)
    steps += _spread_out(group, pins)
    return tuple(steps)


def _spread_out(group: list[ProcedureStep], pins: range) -> list[ProcedureStep]:
    """A run of steps that belong to each pin, pin by pin."""
    return [replace(step, key=f"{step.key}_{pin}", pin=str(pin), index=pin) for pin in pins for step in group]


def _as_fitted(card: RigCard, step: ProcedureStep, chosen: Mapping[str, str]) -> ProcedureStep:
    """The step with the control that this sight has: a fixed stop is met by the whole housing, where
    there is a control for it."""
    if step.movement != "elevation" or step.kind == MARKS:
        return step
    gang = control_for(range_controls(card.sight), "gang_elevation")
    return replace(step, movement="gang_elevation") if chosen.get("stop") == "fixed" and gang else step
