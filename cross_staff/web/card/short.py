"""The short sheet of the card: what matters for a tape first, the rest folded, each group with what it would give."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

from cross_staff.core.rig.card import RigCard
from cross_staff.core.rig.sight_kinds import KINDS
from cross_staff.services.card.short import Usual, needed
from cross_staff.web.card import fields, words
from cross_staff.web.card.form import filled
from cross_staff.web.forms.form import FormInput
from cross_staff.web.forms.units import Units
from cross_staff.web.shared.words import on_target, whole_distance

# what a tape needs, in the order of the sheet: the field, and what stands for it in the core where it can be estimated
SHORT = (
    ("sight_kind", ""),
    ("arrow_mass", "arrow_mass"),
    ("shaft_diameter", "shaft_diameter"),
    ("readings", "speed"),
    ("eye_to_sight", "eye_to_sight"),
    ("peep_square", "peep"),
    ("home", ""),
    ("farthest", ""),
    ("target_size", ""),
)
_FIELD_OF = {key: name for name, key in SHORT if key}


@dataclass(frozen=True)
class Group:
    """A part of the card that opens by need: its name, what it would give, and its fields."""

    key: str
    name: str
    gives: str
    fields: tuple[str, ...]


GROUPS = (
    Group("units", "Units", "every number in the units that you think in; any other may be typed behind a number", ()),
    Group("who", "Who, and what for", "the bench's list, the prints, and what must be proved again when it changes",
          ("name", "archer", "occasion", "due", "bow", "handed", "sight", "release", "anchor", "rules")),
    Group("bow", "Bow", "a speed where none is measured, the arrow's margins at the rest, what tuning may turn",
          ("draw_weight", "let_off", "bow_draw", "nock_to_rest", "least_mass", "cams_by")),
    Group("parts", "Arrow in parts", "balance and front of centre; what another point will do before it is shot",
          ("arrow_name", "spine", "shaft_length", "shaft_density", "balance_point")),
    Group("chronograph", "Chronograph", "how far its reading is to be trusted",
          ("session", "chrono_distance", "chrono_accuracy")),
    Group("eye", "Peep and eye", "whether peep and housing ring one another, and distances as the archer ranges them",
          ("ranged_from", "peep_aperture", "eye_to_peep")),
    Group("goals", "How the archer shoots", "how many arrows settle a question, and how good the level must be",
          ("group_size", "group_at", "distances", "level_only", "slope_up", "slope_down")),
    Group("seat", "Where the tape sits", "a printed strip that fits its seat",
          ("tape_ticks_at", "tape_width", "tape_length", "tape_runs", "tape_scale", "tape_kind", "tape_ratio",
           "tape_ratio_sd", "tape_places")),
)  # fmt: skip
# what is chosen from a list says nothing of having been looked at
_CHOSEN = frozenset(fields.CHOICES)


def short_context(form: FormInput, card: RigCard, unsaid: bool, kept: Mapping[str, str]) -> dict[str, Any]:
    """What the short sheet shows of a form: what is lacking, what an estimate costs, which groups are open.

    Args: unsaid, whether nobody said yet what kind of sight it is; kept, the fields as they are kept.
    """
    told = needed(card)
    needs = {}
    for name, key in SHORT:
        each = told.get(key)
        empty = not form.typed.get(name, "").strip()
        lacks = empty if each is None else each.lacks
        needs[name] = {
            "key": key,
            "known": False,
            "lacks": lacks and not (name == "sight_kind" and not unsaid),
            "estimated": each.estimated if each else False,
            "cost": _cost_words(each.cost.off_m, each.cost.at_m, form.units) if each and each.cost else "",
            "stamp": form.typed.get(f"estimated_{key}", "") if key in fields.ESTIMATED else None,
        }
    by_parts = card.build.mass_kg() if not form.typed.get("arrow_mass", "").strip() else None
    whole = "the whole arrow on the scale"
    needs["arrow_mass"]["known"] = by_parts is not None
    needs["arrow_mass"]["hint"] = f"{words.mass(form.units, by_parts)} by its parts; or {whole}" if by_parts else whole
    groups = {group.key: _group(form, group, kept) for group in GROUPS}
    kind = KINDS.get(form.typed.get("sight_kind", ""))
    return {
        "needs": needs,
        "first_lacking": next((name for name, _ in SHORT if needs[name]["lacks"]), ""),
        "groups": groups,
        "unsaid": unsaid,
        "kinds_with_pins": " ".join(each.key for each in KINDS.values() if each.most_pins > 1),
        "kind": kind,
        "home_hint": "" if kind is None or kind.dialled else "what the top pin is set for",
    }


def _group(form: FormInput, group: Group, kept: Mapping[str, str]) -> dict[str, Any]:
    typed = [name for name in group.fields if name not in _CHOSEN]
    own = [*group.fields, *(name for name in kept if group.key == "parts" and name.startswith("part_"))]
    unsaved = any(form.typed.get(name, kept.get(name)) != kept.get(name) for name in own if name not in form.notes)
    wrong = unsaved or any(name in form.errors for name in own)
    filled = sum(bool(form.typed.get(name, "").strip()) for name in typed)
    return {"name": group.name, "gives": group.gives, "open": wrong, "filled": filled, "of": len(typed)}


def _cost_words(off_m: float, at_m: float, units: Units) -> str:
    return f"{on_target(units, off_m)} at {whole_distance(units, at_m)}"


def estimated_form(form: FormInput, card: RigCard, field: str) -> dict[str, str]:
    """What was typed, with an estimate in one field: the usual value, marked as such."""
    key = dict(SHORT).get(field, "")
    if key == "speed":
        return {**form.typed, "speed_way": "unmeasured"}
    if not key:
        return dict(form.typed)
    before, after = filled(card, form.units), filled(card.with_estimate(key), form.units)
    return {**form.typed, **{name: text for name, text in after.items() if before.get(name) != text}}


USUAL = {
    "home": lambda card: card.goals.home_m,
    "target_size": lambda card: card.goals.target_size_m,
    "chrono_distance": lambda card: card.chronograph.distance_m if card.build.chronographed else None,
    "chrono_accuracy": lambda card: card.chronograph.accuracy if card.build.chronographed else None,
}


def with_usual(
    texts: dict[str, str], notes: dict[str, str], usual: Usual | None, units: Units, unsaid: bool
) -> dict[str, str]:
    """The texts of a card on which nothing was written yet, with what the shop chose last, said at each field; the
    kind of sight is asked for."""
    told = texts | {"sight_kind": ""} if unsaid else dict(texts)
    if usual is None:
        return told
    for name, of in USUAL.items():
        value = of(usual.card)
        if value is not None and (name.startswith("chrono_") or not texts.get(name)):
            told[name] = units.plain(fields.NUMBERS[name].quantity, value)
            notes[name] = f"as on {usual.card.name}: look whether it holds here"
    return told
