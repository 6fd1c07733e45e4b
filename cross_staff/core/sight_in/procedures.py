"""The procedure of this rig: its steps, the choices it leaves open, what each pin is for."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import replace
from functools import lru_cache

from cross_staff.core.ballistics.reach import SightRoom, reach
from cross_staff.core.rig.card import RigCard
from cross_staff.core.rig.procedure import MARKS, PLACE, SHOOT, ProcedureStep
from cross_staff.core.rig.schools import SECOND, Question
from cross_staff.core.sight_in.controls import control_for, range_controls


def questions(card: RigCard) -> tuple[Question, ...]:
    """The choices that this rig's procedure leaves open."""
    return card.sight_kind.questions


def answers(card: RigCard, chosen: Mapping[str, str]) -> dict[str, str]:
    """Every choice, as chosen or as the sight has it, else our stand."""
    answers = {question.key: question.school(chosen.get(question.key, "")).key for question in questions(card)}
    if SECOND.key in answers and not chosen.get(SECOND.key) and card.goals.pin_distances_m:
        answers[SECOND.key] = "wanted"  # the card says for which distances
    if "stop" in answers and not chosen.get("stop") and card.sight.home_stop in ("fixed", "settable", "none"):
        answers["stop"] = card.sight.home_stop
    answers.setdefault("pointer", "to_pin")
    answers["slow"] = "yes" if card.mount.home == "reserve" else "no"
    return answers


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
