"""Who wrote each row of a log, written down with the row, in the same transaction."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from contextvars import ContextVar
from dataclasses import dataclass
from datetime import UTC, datetime
from typing import Any

from sqlalchemy import Connection, Engine, Insert, Select, event, func, insert, literal, null, select

from cross_staff.storage import tables
from cross_staff.storage.shop_tables import authors


@dataclass(frozen=True)
class Acting:
    """Who acts now, by name, empty where nobody said; by what: a page, a link of an archer, a file."""

    who: str = ""
    came_by: str = ""


NOBODY = Acting()
ACTING: ContextVar[Acting] = ContextVar("acting", default=NOBODY)
# tables of which each row has an author: name -> whether its rows are of a rig
AUTHORED = {
    name: "rig_id" in tables.metadata.tables[name].c
    for name in (
        "rig_revisions", "observations", "printed_tapes", "bench_entries", "photos", "witness_marks", "sight_models",
        "level_readings", "instruments", "range_sessions", "range_ends", "range_shots", "range_moves", "proof_lines",
        "devices", "taken_readings", "people", "handover_cards", "shop_hours", "rig_days", "busy_times",
    )
}  # fmt: skip
_TOUCHED = "tables that were written to"


def watch(engine: Engine) -> None:
    """Write the author of every row down that a transaction of this engine adds, before it is kept."""

    @event.listens_for(engine, "after_execute")
    def note(connection: Connection, statement: Any, *_: Any) -> None:
        if isinstance(statement, Insert) and statement.table.name in AUTHORED:
            connection.info.setdefault(_TOUCHED, set()).add(statement.table.name)

    @event.listens_for(engine, "begin")
    def begin(connection: Connection) -> None:
        connection.info.pop(_TOUCHED, None)


def sign(connection: Connection) -> None:
    """The authors of the rows that this transaction added."""
    acting, now = ACTING.get(), datetime.now(UTC).replace(tzinfo=None)
    for log in sorted(connection.info.pop(_TOUCHED, ())):
        table = tables.metadata.tables[log]
        signed = select(func.coalesce(func.max(authors.c.row_id), 0)).where(authors.c.log == log).scalar_subquery()
        rig = table.c.rig_id if AUTHORED[log] else null()
        rows = select(literal(log), table.c.id, rig, literal(acting.who), literal(acting.came_by), literal(now)).where(
            table.c.id > signed
        )
        columns = ["log", "row_id", "rig_id", "who", "came_by", "written_utc"]
        connection.execute(insert(authors).from_select(columns, rows))


@dataclass(frozen=True)
class Authored:
    """A row of a log, who wrote it, and when."""

    log: str
    row_id: int
    rig_id: int | None
    who: str
    came_by: str
    written: datetime
    author_id: int


def newest(
    connection: Connection, before: int | None, most: int, who: str | None, rig_id: int | None, logs: Sequence[str]
) -> list[Authored]:
    """Rows with their authors, the newest first.

    Args: before, the number of the author row that the ones wanted are older than; who, whose alone (empty: nobody's);
    rig_id, of one rig; logs, of these alone (empty: of all).
    """
    query: Select[Any] = select(authors).where(authors.c.came_by != "before").order_by(authors.c.id.desc()).limit(most)
    for wanted, clause in (
        (before, authors.c.id < (before or 0)),
        (rig_id, authors.c.rig_id == rig_id),
        (logs or None, authors.c.log.in_(logs)),
    ):
        query = query if wanted is None else query.where(clause)
    if who is not None:
        query = query.where(authors.c.who == who)
    return [
        Authored(r.log, r.row_id, r.rig_id, r.who, r.came_by, r.written_utc.replace(tzinfo=UTC), r.id)
        for r in connection.execute(query)
    ]


def names(connection: Connection) -> list[str]:
    """Every name that stands beside a row, sorted."""
    return [row.who for row in connection.execute(select(authors.c.who).distinct().order_by(authors.c.who)) if row.who]


def by_row(connection: Connection, rig_id: int, log: str) -> dict[int, str]:
    """Who wrote each row of a log of a rig; rows that nobody signed are not in it."""
    query = select(authors.c.row_id, authors.c.who).where(
        authors.c.rig_id == rig_id, authors.c.log == log, authors.c.who != ""
    )
    return {row.row_id: row.who for row in connection.execute(query)}


def rows(connection: Connection, log: str, ids: Iterable[int]) -> dict[int, dict[str, Any]]:
    """Rows of a log by their number, without pictures."""
    table = tables.metadata.tables[log]
    columns = [
        column for column in table.c if column.name not in ("jpeg", "pin_hash", "sheet", "content", "record", "spans")
    ]
    query = select(*columns).where(table.c.id.in_(list(ids)))
    return {row.id: dict(row._mapping) for row in connection.execute(query)}
