"""How each rig stands, as it was last worked out: the lines of the bench, found and sorted here."""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache
from typing import Any

from pydantic import TypeAdapter
from sqlalchemy import Connection, Row, Select, String, case, func, literal_column, null, select, type_coerce, update

from cross_staff.core.stations import STANDING_VERSION, Summary
from cross_staff.storage.practice import practised
from cross_staff.storage.tables import rig_revisions, rig_standings, rigs

_SUMMARY = TypeAdapter(Summary)
_LAST = "9999"  # behind every date, and every letter
_S = rig_standings.c
_COLUMNS = (_S.rig_id, type_coerce(_S.summary, String).label("text"), _S.archived, _S.fresh, rigs.c.units)
ORDERS: dict[str, tuple[Any, ...]] = {
    "due": (_S.due, _S.name, _S.rig_id),
    "archer": (_S.archer_key, _S.due, _S.name, _S.rig_id),
    "state": (_S.urgency, _S.due, _S.name, _S.rig_id),
    "name": (_S.name, _S.rig_id),
}


@dataclass(frozen=True)
class BenchLine:
    """A rig's line on the bench: its summary, None until it was worked out, the units it is shown in, whether
    it was taken off the bench; the text that the summary was read from; whether its records are the same since."""

    rig_id: int
    summary: Summary | None
    units: dict[str, str]
    archived: bool
    written: str
    fresh: bool = True


@dataclass(frozen=True)
class Filter:
    """Which lines are wanted: archived ones or those on the bench, an archer's, those of an urgency; rigs of
    the shop, or those of the practice bench."""

    archived: bool = False
    archer: str = ""
    urgency: int | None = None
    practice: bool = False


def outdated(connection: Connection, most: int, below: int | None = None) -> tuple[list[int], int]:
    """Rigs whose standing is not that of their records, the newest first, `most` at the most; and how many
    there are in all. Args: below, a number that theirs are to be below."""
    old = select(_S.rig_id).where(_S.fresh == literal_column("0"))
    old = old if below is None else old.where(_S.rig_id < below)
    ids = connection.execute(old.order_by(_S.rig_id.desc()).limit(most + 1)).scalars().all()
    if len(ids) <= most:
        return list(ids), len(ids)
    return list(ids[:most]), int(connection.execute(select(func.count()).select_from(old.subquery())).scalar() or 0)


def never_worked_out(connection: Connection, most: int) -> list[int]:
    """Rigs of which not even the name is in their line yet, the newest first, `most` at the most."""
    new = select(_S.rig_id).where(_S.fresh == literal_column("0"), _S.summary.is_(null()))
    return list(connection.execute(new.order_by(_S.rig_id.desc()).limit(most)).scalars())


def outdate_older_rules(connection: Connection) -> None:
    """Standings of other rules than these are worked out anew."""
    connection.execute(update(rig_standings).where(_S.program != STANDING_VERSION).values(fresh=False))


def keep(connection: Connection, rig_id: int, version: int, summary: Summary) -> None:
    """Write how a rig stands at a version of its records; nothing where it has moved on meanwhile."""
    values = {
        "fresh": True,
        "program": STANDING_VERSION,
        "name": summary.name.lower(),
        "archer": summary.archer,
        "archer_key": summary.archer.lower() or "\uffff",
        "due": summary.due.isoformat() if summary.due else _LAST,
        "urgency": summary.urgency,
        "summary": _SUMMARY.dump_python(summary, mode="json"),
    }
    now = select(rigs.c.version).where(rigs.c.id == rig_id).scalar_subquery()
    connection.execute(update(rig_standings).where(_S.rig_id == rig_id, now == version).values(**values))


def lines(connection: Connection, wanted: Filter, order: str, most: int, after: int = 0) -> list[BenchLine]:
    """A page of lines. Args: order, a key of ORDERS; after, how many to pass over."""
    query = _filtered(select(*_COLUMNS).join(rigs, rigs.c.id == _S.rig_id), wanted)
    rows = connection.execute(query.order_by(*ORDERS[order]).limit(most).offset(after))
    return [_line(row) for row in rows]


def count(connection: Connection, wanted: Filter) -> int:
    """How many lines there are."""
    return int(connection.execute(_filtered(select(func.count()).select_from(rig_standings), wanted)).scalar() or 0)


def line(connection: Connection, rig_id: int) -> BenchLine | None:
    """One rig's line."""
    row = connection.execute(select(*_COLUMNS).join(rigs, rigs.c.id == _S.rig_id).where(_S.rig_id == rig_id)).first()
    return _line(row) if row else None


def _line(row: Row) -> BenchLine:
    summary = None if row.text is None else _summary(row.text)
    return BenchLine(row.rig_id, summary, dict(row.units), bool(row.archived), row.text or "", bool(row.fresh))


@lru_cache(maxsize=512)  # the same text is read once
def _summary(text: str) -> Summary:
    return _SUMMARY.validate_json(text)


def archers(connection: Connection, archived: bool, most: int) -> list[str]:
    """The archers whose rigs are on the bench, or archived, by name, `most` at the most.

    Each is found from the one before it by the index, so that many rigs of few archers cost no more.
    """
    first = select(func.min(_S.archer).label("archer")).where(_S.archived == archived, _S.archer > "")
    named = first.cte("named", recursive=True)
    following = select(func.min(_S.archer)).where(_S.archived == archived, _S.archer > named.c.archer)
    named = named.union_all(select(following.scalar_subquery()).where(named.c.archer.is_not(None)))
    names = connection.execute(select(named.c.archer).where(named.c.archer.is_not(None)).limit(most)).scalars()
    return list(names)


def _filtered(query: Select[Any], wanted: Filter) -> Select[Any]:
    of_practice = practised(_S.rig_id)
    conditions = [_S.archived == wanted.archived, of_practice if wanted.practice else ~of_practice]
    if wanted.archer:
        conditions.append(_S.archer == wanted.archer)
    if wanted.urgency is not None:
        conditions.append(_S.urgency == wanted.urgency)
    return query.where(*conditions)


def names(connection: Connection) -> list[tuple[int, str]]:
    """Every rig's number and name, archived ones too, by name."""
    own = rig_revisions.c
    latest = select(func.json_extract(own.card, "$.name")).where(own.rig_id == rig_standings.c.rig_id)
    newest = latest.order_by(own.number.desc()).limit(1).scalar_subquery()
    name = case((rig_standings.c.name != "", rig_standings.c.name), else_=newest).label("name")
    query = select(rig_standings.c.rig_id, name).order_by(name, rig_standings.c.rig_id)
    return [(row.rig_id, row.name) for row in connection.execute(query)]
