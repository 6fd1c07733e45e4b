"""What the mount planner shows: the place looked at, its numbers, the alternatives."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from cross_staff.core.mount.planner import HOMES, PlaceChoice, Plan
from cross_staff.core.rig.card import RigCard
from cross_staff.core.rig.reach import Place
from cross_staff.services.mount.page import NO_PLAN, planner
from cross_staff.services.rig import Rig
from cross_staff.web.forms.units import Units
from cross_staff.web.mount import words
from cross_staff.web.mount.drawing import side_view
from cross_staff.web.shared import reach_words
from cross_staff.web.shared import words as sentences
from cross_staff.web.shared.staleness import stale_ahead

NEEDS_CARD = "The planner needs the card first: arrow, speed, peep, home and farthest."


def place_index(text: str, places: tuple[float, ...]) -> int | None:
    """A place on the sight by the number that stands for it; None for none, or one that is not there."""
    return int(text) if text.isdecimal() and len(text) < 4 and int(text) < len(places) else None


def place_of(card: RigCard, typed: Mapping[str, str]) -> Place:
    """The place asked for; what is not asked stays as it is on the card."""
    hole, detent = (
        place_index(typed.get("hole", ""), card.sight.holes_mm),
        place_index(typed.get("detent", ""), card.sight.extension_mm),
    )
    home = typed.get("home", "")
    known_home = home if home in HOMES else card.mount.home or "top"
    return Place(card.hole if hole is None else hole, card.detent if detent is None else detent, known_home)


def planned(rig: Rig, asked: Mapping[str, str], units: Units) -> dict[str, Any]:
    """What the planner shows, or why it cannot."""
    card = rig.card
    try:
        made = planner(rig, (lambda here: place_of(here, asked)) if asked else None)
    except NO_PLAN as error:
        return {"plan": None, "plan_problem": f"No plan: {error}.", "short_words": ""}
    if made is None:
        return {"plan": None, "plan_problem": NEEDS_CARD, "short_words": ""}
    shown, place, choice = made.shown, made.place, made.choice
    return {
        "plan": shown,
        "plan_problem": "",
        "place": place,
        "reach_words": reach_words.reach(shown.reach, units),
        "not_known": reach_words.not_known(shown.reach),
        "arrow_flies": reach_words.arrow_flies(shown.reach, units),
        "limit_words": words.limit(shown, units)[0].upper() + words.limit(shown, units)[1:],
        "place_words": words.place(card, place),
        "short_words": words.short(card, made.here, units),
        "stale_there": stale_ahead(card, made.taken)["stale_results"],
        "is_here": place == Place(card.hole, card.detent, card.mount.home),
        "is_best": choice.told and place == choice.best.place,
        "best_told": choice.told,
        "assumed": reach_words.assumed(card),
        "other_hand": reach_words.other_hand(card),
        "best_words": words.best(choice, card),
        "figures_shown": _shown(card, shown, choice.plans, units),
        "remedies": [words.remedy(r, units) for r in made.remedies],
        "alternatives": [_alternative(card, p, place, choice, units) for p in choice.plans],
        "view": side_view(card, shown, sentences.whole_distance(units, card.goals.farthest_m or 0.0)),
        "pins_words": words.pins_beyond(card, shown),
        "pins_wanted": len(card.sight.pins) > 1 and not card.goals.pin_distances_m,
    }


def _shown(card: RigCard, plan: Plan, plans: tuple[Plan, ...], units: Units) -> list[tuple[str, str]]:
    """The numbers of the place that is looked at."""
    home, far = card.goals.home_m, card.goals.farthest_m
    span = f"{sentences.whole_distance(units, home or 0.0)} to {sentences.whole_distance(units, far or 0.0)}"
    moves = "Tape" if card.sight_kind.dialled else "Pins"
    rows = [
        (f"{moves}, {span}", reach_words.mm(plan.tape_mm)),
        ("1° of hand torque shows", words.torque_beside(plan, plans, units)),
        ("Peep", words.picture(plan, card, units)),
    ]
    if card.sight_kind.dialled:
        rows.insert(1, ("At the near end", words.near_end(card, plan)))
    if plan.pins_mm is not None and card.sight_kind.dialled:
        rows.insert(1, ("First pin to last", reach_words.mm(plan.pins_mm)))
    if plan.far_pin_reach_m is not None:
        rows.insert(1, ("Far pin on the wheel", reach_words.distance(plan.far_pin_reach_m, units)))
    if plan.peep_shift_mm is not None and plan.picture_part is not None:
        closes = 100.0 * (1.0 - plan.picture_part)
        rows.append(
            (
                "At the far end",
                f"{reach_words.mm(plan.peep_shift_mm)} lower through the peep, {closes:.1f} % less high",
            )
        )
    return rows


def _alternative(card: RigCard, plan: Plan, now: Place, choice: PlaceChoice, units: Units) -> dict[str, Any]:
    place = plan.place
    query = {"hole": place.hole, "detent": place.detent, "home": place.home}
    return {
        "query": "&".join(f"{k}={v}" for k, v in query.items() if v is not None),
        "place": words.place(card, place),
        "reach": reach_words.reach(plan.reach, units) if plan.fits else "home does not fit",
        "enough": plan.fits and plan.far_enough(card.goals.farthest_m) and plan.near_enough and not plan.reach.unknown,
        "limit": words.limit(plan, units),
        "near": words.near_end(card, plan),
        "tape": reach_words.mm(plan.tape_mm),
        "pins": reach_words.mm(plan.pins_mm),
        "torque": words.torque(plan, units),
        "here": place == now,
        "best": choice.told and place == choice.best.place,
    }


def choices(card: RigCard) -> dict[str, Any]:
    return {
        "holes": [(str(i), reach_words.hole(card, i)) for i in range(len(card.sight.holes_mm))],
        "hole_hint": words.gone(card.mount.hole, card.hole),
        "detent_hint": words.gone(card.mount.detent, card.detent) or "where eye to sight was measured",
        "detents": [(str(i), reach_words.extension(card, i)) for i in range(len(card.sight.extension_mm))],
        "homes": [(h.key, h.name, h.price) for h in HOMES.values()] if card.sight_kind.dialled else [],
    }
