"""The log of a station: an entry written down, the newest of a key taken back."""

from __future__ import annotations

from dataclasses import replace
from datetime import timedelta

from sqlalchemy import Connection

from cross_staff.core.errors import NotFound
from cross_staff.core.rig.log import BenchEntry, standing
from cross_staff.core.stations import check_entry
from cross_staff.storage import bench_entries, rigs
from cross_staff.storage.database import Database

DOUBLE_TAP = timedelta(seconds=5)


def enter(database: Database, rig_id: int, entry: BenchEntry) -> None:
    """Add an entry to the log of its station, at the revision that holds now; the same answer twice
    in a row (a double tap) is kept once. Raises NotFound; InvalidValue for what its station cannot have."""
    with database.writing() as connection:
        keep_entry(connection, rig_id, entry)


def keep_entry(connection: Connection, rig_id: int, entry: BenchEntry) -> None:
    """`enter` within a transaction that does more."""
    latest = rigs.latest(connection, rig_id)
    check_entry(latest.card, entry)
    entry = replace(entry, revision=latest.number)
    log = bench_entries.log(connection, rig_id, entry.station)
    before = standing(log).get(entry.key, [])
    if not before or not _same(before[-1], entry) or _said_anew(before[-1], entry):
        bench_entries.add(connection, rig_id, entry)


def _said_anew(one: BenchEntry, other: BenchEntry) -> bool:
    """Whether the same words are no double tap: where something stands, that a step is done, or a joint locked, may be
    so again."""
    return other.key.startswith(("stand:", "step:", "lock:", "where")) and other.entered - one.entered > DOUBLE_TAP


def _same(one: BenchEntry, other: BenchEntry) -> bool:
    return replace(one, entered=other.entered, entry_id=0) == replace(other, entry_id=0) and not other.after


def take_back(database: Database, rig_id: int, entry: BenchEntry) -> None:
    """Take back the newest entry of a key; the log keeps both. Raises NotFound when there is none."""
    with database.writing() as connection:
        revision = rigs.newest_number(connection, rig_id)
        log = bench_entries.log(connection, rig_id, entry.station)
        if entry.key not in standing(log):
            raise NotFound("there is nothing to take back")
        bench_entries.add(connection, rig_id, replace(entry, revision=revision, removed=True))
