"""Two cards field by field, as the card's own form would show them."""

from __future__ import annotations

from dataclasses import dataclass

from cross_staff.core.mount.planner import HOMES
from cross_staff.core.rig.card import PEEP_WAYS, RigCard
from cross_staff.core.rig.sight_kinds import KINDS
from cross_staff.web.card.fields import CHOICES, ESTIMATED, LISTS, NUMBERS
from cross_staff.web.card.form import filled
from cross_staff.web.card.sight_fields import sight_texts
from cross_staff.web.forms.units import Units
from cross_staff.web.level.setup import setup_texts
from cross_staff.web.mount.fields import FIELDS, OUT, OUTLINES, mount_texts
from cross_staff.web.shared import reach_words

_LABELS = {
    "name": "Name",
    "archer": "Archer",
    "occasion": "For",
    "due": "Due",
    "bow": "Bow",
    "handed": "Hand",
    "cams_by": "Cams are set by",
    "release": "Release aid",
    "anchor": "Anchor",
    "sight": "Sight",
    "sight_kind": "Kind of sight",
    "arrow_name": "Arrow build",
    "spine": "Spine",
    "readings": "Chronograph readings",
    "ranged_from": "Ranged from",
    "peep_way": "Peep measured",
    "level_only": "Ground",
    "rules": "Local rules",
    "tape_ticks_at": "Ticks start at",
    "tape_runs": "Farther runs",
    "tape_scale": "Scale numbers",
    "tape_kind": "The tape sits",
}
_GUESSED = {field: key for key, field in ESTIMATED.items()}
LABELS = {name: spec.label for name, spec in (NUMBERS | LISTS).items()} | _LABELS


@dataclass(frozen=True)
class Row:
    """A field with its two values in words."""

    label: str
    one: str
    other: str

    @property
    def differs(self) -> bool:
        return self.one != self.other


def compared(one: RigCard, other: RigCard, units: Units) -> list[Row]:
    """Every field of two cards that either has, in the order of the form."""
    left, right = in_words(one, units), in_words(other, units)
    labels = dict.fromkeys([*left, *right])
    rows = [Row(label, left.get(label, ""), right.get(label, "")) for label in labels]
    return [row for row in rows if row.one or row.other]


def in_words(card: RigCard, units: Units) -> dict[str, str]:
    """The card by the labels of its fields, units behind the numbers."""
    typed, labelled = filled(card, units), {}
    for name, text in typed.items():
        spec = NUMBERS.get(name) or LISTS.get(name)
        if spec is not None and text:
            guessed = ", estimated" if typed.get(f"estimated_{_GUESSED.get(name, '')}") else ""
            labelled[spec.label] = f"{text} {units.label(spec.quantity)}{guessed}"
        elif name in _LABELS:
            labelled[_LABELS[name]] = _chosen(name, text)
    for row, part in enumerate(card.build.components, start=1):
        mass, centre = units.show("mass", part.mass_kg), units.show("length", part.centre_from_throat_m)
        labelled[f"Part {row}"] = f"{part.name}, {mass} at {centre}"
    labelled["Arrow builds"] = ", ".join(build.name or "unnamed" for build in card.builds)
    return labelled | sight_texts(card.sight, units) | _mount_texts(card, units) | setup_texts(card.level, units)


def _mount_texts(card: RigCard, units: Units) -> dict[str, str]:
    """Where the sight sits, and what was measured there."""
    mount, typed = card.mount, mount_texts(card, units)
    texts = {
        "Mounting hole": "" if card.hole is None else reach_words.hole(card, card.hole),
        "Extension": "" if card.detent is None else reach_words.extension(card, card.detent),
        "Home position": HOMES[mount.home].name if mount.home else "",
        "Torque and threads": mount.torque,
    }
    return texts | {
        spec.label: f"{typed[name]} {units.label(spec.quantity)}"
        for name, spec in (FIELDS | OUTLINES | OUT).items()
        if typed[name]
    }


def _chosen(name: str, text: str) -> str:
    if name == "peep_way":
        return PEEP_WAYS.get(text, text)
    if name == "sight_kind":
        return KINDS[text].name
    return dict(CHOICES.get(name, ())).get(text, text)
