"""A rig with everything that was ever written down of it, read and written at once.

What points at another record does so by its place in that one's log, counted from 1, instead of a number that means
something in this file only.
"""

from __future__ import annotations

from bisect import bisect_right
from collections.abc import Callable, Sequence
from dataclasses import dataclass, fields, replace
from datetime import UTC, date, datetime
from typing import Any

from pydantic import TypeAdapter
from sqlalchemy import Connection, Row, Table, insert, select, update

from cross_staff.core.carry.records import (
    BenchRecord,
    CarriedInstrument,
    CarriedRig,
    EndRecord,
    HandoverRecord,
    LevelRecord,
    MarkRecord,
    MoveRecord,
    PhotoRecord,
    PrintedRecord,
    ProofRecord,
    RevisionRecord,
    SessionRecord,
    ShotRecord,
    TakenRecord,
    WitnessRecord,
)
from cross_staff.core.errors import NotFound
from cross_staff.core.printing.sheet import PrintedTape
from cross_staff.core.prove.handover import CardContent
from cross_staff.core.rig.card import RigCard
from cross_staff.core.sight_in.checks import IMPORT
from cross_staff.core.sight_in.log import STATION as RANGE
from cross_staff.storage import carried, printed_tapes, tables
from cross_staff.storage.rigs import card_of

_CARD, _TAPE, _CONTENT = TypeAdapter(RigCard), TypeAdapter(PrintedTape), TypeAdapter(CardContent)
_POINTERS = {"photo": "photo_id"}  # columns that have another name here than in a record


@dataclass(frozen=True)
class Log:
    """A log of a rig: its table, what a row of it is in a file."""

    table: Table
    record: type[Any]


# in the order in which they are written: what is pointed at comes first
LOGGED: dict[str, Log] = {
    "revisions": Log(tables.rig_revisions, RevisionRecord),
    "photos": Log(tables.photos, PhotoRecord),
    "range_sessions": Log(tables.range_sessions, SessionRecord),
    "range_ends": Log(tables.range_ends, EndRecord),
    "range_shots": Log(tables.range_shots, ShotRecord),
    "range_moves": Log(tables.range_moves, MoveRecord),
    "bench_entries": Log(tables.bench_entries, BenchRecord),
    "witness_marks": Log(tables.witness_marks, WitnessRecord),
    "level_readings": Log(tables.level_readings, LevelRecord),
    "observations": Log(tables.observations, MarkRecord),
    "printed_tapes": Log(tables.printed_tapes, PrintedRecord),
    "proof_lines": Log(tables.proof_lines, ProofRecord),
    "taken_readings": Log(tables.taken_readings, TakenRecord),
    "handover_cards": Log(tables.handover_cards, HandoverRecord),
}
_POINTED_AT = ("photos", "range_shots", "bench_entries", "level_readings")


def by_uid(connection: Connection, uid: str) -> int | None:
    """The rig of this identity; None where there is none."""
    row = connection.execute(select(tables.rigs.c.id).where(tables.rigs.c.uid == uid)).first()
    return None if row is None else int(row.id)


def uid_of(connection: Connection, rig_id: int) -> str:
    """A rig's identity. Raises NotFound."""
    uid = connection.execute(select(tables.rigs.c.uid).where(tables.rigs.c.id == rig_id)).scalar()
    if uid is None:
        raise NotFound(f"there is no rig {rig_id}")
    return str(uid)


def whole(connection: Connection, rig_id: int) -> CarriedRig:
    """Everything of a rig. Raises NotFound."""
    row = connection.execute(select(tables.rigs).where(tables.rigs.c.id == rig_id)).first()
    if row is None:
        raise NotFound(f"there is no rig {rig_id}")
    ids = {name: numbers(connection, rig_id, name) for name in _POINTED_AT}
    reader = _Reader(ids)
    logs = {name: tuple(map(reader.record(name), _rows(connection, rig_id, name))) for name in LOGGED}
    instruments, logs["revisions"] = _with_instruments(connection, logs["revisions"])
    created = row.created_utc.replace(tzinfo=UTC)
    return CarriedRig(
        row.uid, created, dict(row.units), bool(row.archived), row.origin, instruments=instruments, **logs
    )


def _rows(connection: Connection, rig_id: int, name: str) -> list[Row]:
    table, record = LOGGED[name].table, LOGGED[name].record
    columns = [table.c[_POINTERS.get(each.name, each.name)] for each in fields(record)]
    query = select(table.c.id, *columns).where(table.c.rig_id == rig_id)
    order = table.c.number if name == "revisions" else table.c.id
    return list(connection.execute(query.order_by(order)))


def numbers(connection: Connection, rig_id: int, name: str) -> list[int]:
    """The numbers in this file of the rows of a log, oldest first."""
    table = LOGGED[name].table
    return list(connection.execute(select(table.c.id).where(table.c.rig_id == rig_id).order_by(table.c.id)).scalars())


class _Reader:
    """Rows as records, by the numbers of this file's rows."""

    def __init__(self, ids: dict[str, list[int]]) -> None:
        self.ids = ids
        self.places = {name: {number: place for place, number in enumerate(own, start=1)} for name, own in ids.items()}

    def record(self, name: str) -> Callable[[Row], Any]:
        """What makes a record of a row of this log."""
        record = LOGGED[name].record
        names = [each.name for each in fields(record)]
        special = getattr(self, f"_{name}", None)

        def read(row: Row) -> Any:
            values = {each: getattr(row, _POINTERS.get(each, each)) for each in names}
            for each, value in values.items():
                if isinstance(value, datetime):
                    values[each] = value.replace(tzinfo=UTC)
            return record(**(special(values) if special else values))

        return read

    def _revisions(self, values: dict[str, Any]) -> dict[str, Any]:
        lists = {name: tuple(tuple(pair) for pair in values[name]) for name in ("meant", "taken_up")}
        flat = {name: tuple(values[name]) for name in ("happened", "undoes")}
        return values | lists | flat | {"card": card_of(values["card"])}

    def _bench_entries(self, values: dict[str, Any]) -> dict[str, Any]:
        points = tuple((float(a), float(b)) for a, b in values["points"])
        if (values["station"], values["key"]) == (RANGE, IMPORT):
            shots = self.ids["range_shots"]
            points = tuple((float(bisect_right(shots, a)), float(bisect_right(shots, b))) for a, b in points)
        return values | {"points": points}

    def _witness_marks(self, values: dict[str, Any]) -> dict[str, Any]:
        return values | {"photo": self.places["photos"].get(values["photo"])}

    def _level_readings(self, values: dict[str, Any]) -> dict[str, Any]:
        undoes = self.places["level_readings"].get(values["undoes"])
        return values | {"photo": self.places["photos"].get(values["photo"]), "undoes": undoes}

    def _printed_tapes(self, values: dict[str, Any]) -> dict[str, Any]:
        return values | {"sheet": printed_tapes.tape_of(values["sheet"])}

    def _handover_cards(self, values: dict[str, Any]) -> dict[str, Any]:
        return values | {"content": _CONTENT.validate_python(values["content"])}

    def _proof_lines(self, values: dict[str, Any]) -> dict[str, Any]:
        laying = self.places["bench_entries"].get(values["laying"], 0)
        return values | {"day": date.fromisoformat(values["day"]), "laying": laying}


def _with_instruments(
    connection: Connection, revisions: Sequence[RevisionRecord]
) -> tuple[tuple[CarriedInstrument, ...], tuple[RevisionRecord, ...]]:
    """The instruments that cards name, in the order in which they first do, and the cards with their places."""
    uids = carried.instrument_uids(connection)
    places: dict[int, int] = {}
    numbered = []
    for revision in revisions:
        pairs = []
        for kind, number in revision.card.level.from_shop:
            if number in uids:
                pairs.append((kind, places.setdefault(number, len(places) + 1)))
        numbered.append(_from_shop(revision, tuple(pairs)))
    return tuple(carried.instrument(connection, uids[number]) for number in places), tuple(numbered)


def _from_shop(revision: RevisionRecord, pairs: tuple[tuple[str, int], ...]) -> RevisionRecord:
    card = revision.card
    if pairs == card.level.from_shop:
        return revision
    return replace(revision, card=replace(card, level=replace(card.level, from_shop=pairs)))


def jpegs(connection: Connection, rig_id: int) -> dict[str, bytes]:
    """The rig's photos by their sums; those that never came are not among them."""
    photos = tables.photos.c
    query = select(photos.sha256, photos.jpeg).where(photos.rig_id == rig_id).order_by(photos.id)
    return {row.sha256: row.jpeg for row in connection.execute(query) if row.jpeg}


def add(connection: Connection, rig: CarriedRig, pictures: dict[str, bytes], instruments: Sequence[int]) -> int:
    """A rig that is not here yet; returns its id.

    Args: pictures, JPEGs by their sums; instruments, which of this shop's those of the file are.
    """
    created = _naive(rig.created_utc)
    row = insert(tables.rigs).values(created_utc=created, units=rig.units, uid=rig.uid, origin=rig.origin)
    rig_id = int(connection.execute(row).inserted_primary_key[0])  # type: ignore[index]
    _append(connection, rig_id, rig, pictures, instruments)
    if rig.archived:
        connection.execute(update(tables.rigs).where(tables.rigs.c.id == rig_id).values(archived=True))
    return rig_id


def extend(
    connection: Connection, rig_id: int, rig: CarriedRig, pictures: dict[str, bytes], instruments: Sequence[int]
) -> None:
    """Write what the file has beyond this rig, whose logs are the beginnings of its own, and the pictures of photos
    that came without. Args as `add`."""
    photos = tables.photos
    empty = select(photos.c.id, photos.c.sha256).where(photos.c.rig_id == rig_id, photos.c.jpeg == b"")
    for row in connection.execute(empty).all():
        if row.sha256 in pictures:
            given = update(photos).where(photos.c.id == row.id).values(jpeg=pictures[row.sha256])
            connection.execute(given)
    _append(connection, rig_id, rig, pictures, instruments)


def _append(
    connection: Connection, rig_id: int, rig: CarriedRig, pictures: dict[str, bytes], instruments: Sequence[int]
) -> None:
    writer = _Writer(pictures, instruments)
    for name, log in LOGGED.items():
        ids = numbers(connection, rig_id, name)
        writer.ids[name] = ids
        for record in getattr(rig, name)[len(ids) :]:
            values = writer.values(name, record)
            done = connection.execute(insert(log.table).values(rig_id=rig_id, **values))
            ids.append(int(done.inserted_primary_key[0]))  # type: ignore[index]


class _Writer:
    """Records as rows, by the numbers that rows got here."""

    def __init__(self, pictures: dict[str, bytes], instruments: Sequence[int]) -> None:
        self.pictures, self.instruments = pictures, instruments
        self.ids: dict[str, list[int]] = {}

    def values(self, name: str, record: Any) -> dict[str, Any]:
        """The columns of a record."""
        values = {_POINTERS.get(each.name, each.name): getattr(record, each.name) for each in fields(record)}
        for each, value in values.items():
            if isinstance(value, datetime):
                values[each] = _naive(value)
            elif isinstance(value, tuple):
                values[each] = [list(pair) if isinstance(pair, tuple) else pair for pair in value]
        special = getattr(self, f"_{name}", None)
        return values | (special(record) if special else {})

    def _at(self, name: str, place: int | None) -> int | None:
        return None if place is None else self.ids[name][place - 1]

    def _revisions(self, record: RevisionRecord) -> dict[str, Any]:
        pairs = tuple((kind, self.instruments[place - 1]) for kind, place in record.card.level.from_shop)
        card = _from_shop(record, tuple(sorted(pairs))).card
        return {"card": _CARD.dump_python(card, mode="json")}

    def _photos(self, record: PhotoRecord) -> dict[str, Any]:
        return {"jpeg": self.pictures.get(record.sha256, b"")}

    def _bench_entries(self, record: BenchRecord) -> dict[str, Any]:
        if (record.station, record.key) != (RANGE, IMPORT):
            return {}
        shots = self.ids["range_shots"]
        return {
            "points": [[float(self._after(shots, int(a))), float(self._after(shots, int(b)))] for a, b in record.points]
        }

    @staticmethod
    def _after(ids: Sequence[int], place: int) -> int:
        """The number up to which a log has so many rows."""
        return ids[place - 1] if place > 0 else (ids[0] - 1 if ids else 0)

    def _witness_marks(self, record: WitnessRecord) -> dict[str, Any]:
        return {"photo_id": self._at("photos", record.photo)}

    def _level_readings(self, record: LevelRecord) -> dict[str, Any]:
        return {"photo_id": self._at("photos", record.photo), "undoes": self._at("level_readings", record.undoes)}

    def _printed_tapes(self, record: PrintedRecord) -> dict[str, Any]:
        return {"sheet": _TAPE.dump_python(record.sheet, mode="json")}

    def _handover_cards(self, record: HandoverRecord) -> dict[str, Any]:
        return {"content": _CONTENT.dump_python(record.content, mode="json")}

    def _proof_lines(self, record: ProofRecord) -> dict[str, Any]:
        laying = self._at("bench_entries", record.laying or None) or 0
        return {"day": record.day.isoformat(), "laying": laying}


def _naive(moment: datetime) -> datetime:
    return moment.astimezone(UTC).replace(tzinfo=None)
