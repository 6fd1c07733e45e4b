"""The card that is handed over: what it said when it was signed, and what became otherwise since."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from datetime import datetime

from cross_staff.core.errors import InvalidValue

MOST_NAME, MOST_NOTE, MOST_SECTIONS, MOST_LINES, MOST_LETTERS = 60, 400, 20, 60, 400


@dataclass(frozen=True)
class Section:
    """A part of the card: its key, its title, and lines of a name and what is said of it."""

    key: str
    title: str
    lines: tuple[tuple[str, str], ...]


@dataclass(frozen=True)
class CardContent:
    """Everything that stands on a card, in words as they were signed; photos of witness marks as (joint, SHA-256)."""

    sections: tuple[Section, ...]
    photos: tuple[tuple[str, str], ...] = ()
    address: str = ""


@dataclass(frozen=True)
class HandoverCard:
    """A card that was handed over: its number, the revision it is of, when and by whom it was signed, a note. It is
    never altered: another one follows it."""

    number: int
    revision: int
    entered: datetime
    signed_by: str
    content: CardContent
    note: str = ""


@dataclass(frozen=True)
class Difference:
    """A line that is otherwise by now: its section's title, its name, what it said (empty: nothing), what it says."""

    section: str
    name: str
    was: str
    now: str


def check_handover(card: HandoverCard) -> None:
    """Refuse a card that nobody signed, or that is none.

    Args:
        card: to be kept.

    Raises:
        InvalidValue: with the field.

    Source:
        what one side of paper bears.
    """
    if not card.signed_by.strip():
        raise InvalidValue("signed_by", "who hands it over? The name stands on the card")
    if len(card.signed_by) > MOST_NAME:
        raise InvalidValue("signed_by", f"at most {MOST_NAME} letters")
    if len(card.note) > MOST_NOTE:
        raise InvalidValue("note", f"at most {MOST_NOTE} letters")
    sections = card.content.sections
    if not sections or len(sections) > MOST_SECTIONS or any(len(each.lines) > MOST_LINES for each in sections):
        raise InvalidValue("content", "is not what a card holds")
    if any(len(text) > MOST_LETTERS for each in sections for line in each.lines for text in line):
        raise InvalidValue("content", f"a line has at most {MOST_LETTERS} letters")


def differences(signed: CardContent, now: CardContent) -> tuple[Difference, ...]:
    """What would stand otherwise on a card that was made now.

    Args:
        signed: what was handed over.
        now: what holds.

    Returns:
        the lines that differ, in the order of the card as it is now, then what it no longer says.

    Source:
        line by line.
    """
    return tuple(_differing(signed, now))


def _differing(signed: CardContent, now: CardContent) -> Iterator[Difference]:
    was, is_now = _lines(signed), _lines(now)
    titles = {each.key: each.title for each in (*signed.sections, *now.sections)}
    for place in dict.fromkeys((*is_now, *was)):
        before, after = was.get(place, ""), is_now.get(place, "")
        if before != after:
            yield Difference(titles[place[0]], place[1], before, after)


def _lines(content: CardContent) -> dict[tuple[str, str], str]:
    return {(each.key, name): said for each in content.sections for name, said in each.lines}
