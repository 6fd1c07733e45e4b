"""Finding rigs, archers, sights and notes by words that stand in them."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass

from sqlalchemy import Column, ColumnElement, Connection, String, Table, and_, func, literal_column, select

from cross_staff.storage.tables import (
    bench_entries,
    level_readings,
    proof_lines,
    range_ends,
    range_sessions,
    rig_revisions,
    rigs,
)

# what is looked at on a card: a word for it, and its place in the record
CARD = (
    ("rig", "$.name"),
    ("archer", "$.archer"),
    ("bow", "$.bow.words"),
    ("sight", "$.sight.name"),
    ("for", "$.occasion"),
    ("release", "$.release"),
    ("rules", "$.goals.rules"),
)
# where notes stand: the station, the table
NOTES: tuple[tuple[str, Table], ...] = (
    ("prepare", bench_entries),
    ("level", level_readings),
    ("sight_in", range_sessions),
    ("sight_in", range_ends),
    ("prove", proof_lines),
)
_ESCAPE = "\\"


@dataclass(frozen=True)
class Found:
    """Where the words stand: the rig, its name, the station and what it is of it, and the text itself."""

    rig_id: int
    name: str
    station: str
    what: str
    text: str


def find(connection: Connection, words: Sequence[str], most: int) -> list[Found]:
    """Where all of these words stand in one text, rigs by their cards first, `most` at the most."""
    found: list[Found] = []
    for each in (*_cards(connection, words, most), *_notes(connection, words, most)):
        if len(found) < most and each not in found:
            found.append(each)
    return found


def _like(column: ColumnElement[str] | Column[str], words: Sequence[str]) -> ColumnElement[bool]:
    plain = (word.replace(_ESCAPE, _ESCAPE * 2).replace("%", r"\%").replace("_", r"\_") for word in words)
    return and_(*(column.like(f"%{word}%", escape=_ESCAPE) for word in plain))


def _newest() -> ColumnElement[bool]:
    """Of the revisions of a rig the one that holds."""
    other = rig_revisions.alias()
    last = select(func.max(other.c.number)).where(other.c.rig_id == rig_revisions.c.rig_id).scalar_subquery()
    return rig_revisions.c.number == last


def _of_card(place: str) -> ColumnElement[str]:
    return literal_column(f"json_extract(rig_revisions.card, '{place}')", String)


def _cards(connection: Connection, words: Sequence[str], most: int) -> Iterator[Found]:
    for what, place in CARD:
        text = _of_card(place)
        query = select(rig_revisions.c.rig_id, _of_card("$.name").label("name"), text.label("text"))
        rows = connection.execute(query.where(_newest(), _like(text, words)).limit(most))
        yield from (Found(row.rig_id, row.name, "card", what, row.text) for row in rows)


def _notes(connection: Connection, words: Sequence[str], most: int) -> Iterator[Found]:
    for station, table in NOTES:
        own = table.c.station if "station" in table.c else literal_column(f"'{station}'", String)
        query = select(table.c.rig_id, _of_card("$.name").label("name"), own.label("station"), table.c.note)
        joined = query.join(rigs, rigs.c.id == table.c.rig_id).join(rig_revisions, rig_revisions.c.rig_id == rigs.c.id)
        if table is bench_entries:
            joined = joined.where(table.c.station != "practice")  # nobody wrote that, and it tells what is hidden
        rows = connection.execute(joined.where(_newest(), _like(table.c.note, words)).distinct().limit(most))
        yield from (Found(row.rig_id, row.name, row.station, "note", row.note) for row in rows)
