"""Two who change one thing: a form carries what its writer saw, and is merged field by field with what holds now.

What the writer did not touch stays as it holds; what only the writer touched is taken; what both
changed to different things is asked, with both values. Rows of a table are one thing each: they move.
"""

from __future__ import annotations

import json
import re
from collections.abc import Callable, Collection, Mapping
from dataclasses import dataclass, field

from cross_staff.web.forms.units import Units

SEEN = "seen"  # the field that carries it
CHOICE = "choose-"
MINE, THEIRS = "mine", "theirs"
MOST_SEEN = 200_000
_ROW = re.compile(r"([a-z]+(?:_[a-z]+)*)_([0-9]{1,3})(_[a-z_]+)?")


@dataclass(frozen=True)
class Conflict:
    """A field that two changed: the writer's text, and the one that was kept meanwhile."""

    name: str
    mine: str
    theirs: str


@dataclass(frozen=True)
class Merged:
    """The form as it then reads, what is to be asked, and what its next answer carries."""

    typed: dict[str, str]
    conflicts: tuple[Conflict, ...]
    seen: str


@dataclass(frozen=True)
class SeenFields:
    """What a form's writer saw: the text of each field, the units it was shown in, and the fields that are
    being asked, each with the text that was kept when it was asked."""

    fields: dict[str, str]
    units: dict[str, str] = field(default_factory=dict)
    asked: dict[str, str] = field(default_factory=dict)

    def text(self) -> str:
        """As a form carries it."""
        kept = {"f": {name: text for name, text in self.fields.items() if text}, "u": self.units, "a": self.asked}
        return json.dumps(kept, separators=(",", ":"), ensure_ascii=False)


def seen_by(typed: Mapping[str, str]) -> SeenFields | None:
    """What the writer of a form saw; None for one that does not say."""
    text = typed.get(SEEN, "")
    if not text or len(text) > MOST_SEEN:
        return None
    try:
        kept = json.loads(text)
        parts = [kept.get(name, {}) for name in ("f", "u", "a")]
        return SeenFields(*({str(name): str(value) for name, value in part.items()} for part in parts))
    except (ValueError, AttributeError, RecursionError):
        return None


def merged(
    typed: Mapping[str, str],
    now: Mapping[str, str],
    units: dict[str, str] | None = None,
    ticks: Callable[[str], bool] = lambda _name: False,
    outdated: bool = False,
) -> Merged:
    """A form against what holds now.

    Args: typed, as sent; now, what the form would show of what holds now, in the units it was typed in;
        units, those, for the form's next answer; ticks, which fields are boxes to tick, that are not
        sent while they are empty; outdated, whether a form that does not say what its writer saw was
        opened before what holds now: then whatever differs is asked.
    """
    seen = seen_by(typed)
    was, asked = (seen.fields, seen.asked) if seen else (now, {})
    reads = {name: text for name, text in typed.items() if name != SEEN and not name.startswith(CHOICE)}
    for name in now:
        if name not in reads:  # a box that is not ticked, or a field that this form does not have
            reads[name] = "" if seen and ticks(name) else was.get(name, "")
    mine = {name for name in reads if reads[name] != was.get(name, "") and (name in now or _row(name))}
    others = {name for name in now if now[name] != was.get(name, "")}
    if outdated and seen is None:
        others = mine
    conflicts = _conflicts(typed, reads, now, mine, others, asked)
    for name in now:
        if name not in mine and name not in asked:
            reads[name] = now[name]
    kept = {name: text for name, text in reads.items() if text or not ticks(name)}
    carried = SeenFields(dict(now), dict(units or {}), {each.name: each.theirs for each in conflicts})
    return Merged(kept, conflicts, carried.text())


def _conflicts(
    typed: Mapping[str, str],
    reads: dict[str, str],
    now: Mapping[str, str],
    mine: Collection[str],
    others: Collection[str],
    asked: Mapping[str, str],
) -> tuple[Conflict, ...]:
    """What is to be asked; an answer that was given to what still holds is carried out."""
    rows = {_row(name) for name in others} - {None}
    conflicts = []
    for name in [name for name in reads if name in mine or name in asked]:
        theirs = now.get(name, "")
        if reads[name] == theirs:
            continue
        choice = typed.get(CHOICE + name) if asked.get(name) == theirs else None
        if choice == THEIRS:
            reads[name] = theirs
        elif choice != MINE and (name in asked or name in others or _row(name) in rows):
            conflicts.append(Conflict(name, reads[name], theirs))
    return tuple(conflicts)


def _row(name: str) -> tuple[str, str] | None:
    """The row of a table that a field belongs to; None for a field by itself."""
    row = _ROW.fullmatch(name)
    if row is None:
        return None
    table = row.group(1) if row.group(3) else row.group(1).rpartition("_")[0]
    return table, row.group(2)


def seen_text(now: Mapping[str, str], units: dict[str, str] | None = None) -> str:
    """What a form that shows `now` carries."""
    return SeenFields(dict(now), dict(units or {})).text()


def units_seen(typed: Mapping[str, str], kept: Mapping[str, str]) -> Units:
    """The units that a form was typed in: those that it was shown in, whatever was chosen since."""
    seen = seen_by(typed)
    return Units.of(dict(kept) | (seen.units if seen else {}))


def waits(conflicts: Collection[Conflict]) -> str:
    """What is said of a form that is asked about."""
    one = len(conflicts) == 1
    return (
        f"Not saved yet: {'one field was' if one else f'{len(conflicts)} fields were'} changed meanwhile, in another "
        f"window, and by you. Say which {'one' if one else 'ones'} to keep; everything else is joined."
    )
