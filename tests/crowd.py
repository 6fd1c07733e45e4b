"""A shop of many rigs: copies of those that are there, each with its logs and with arrows of its own at the range."""

from __future__ import annotations

import random

from sqlalchemy import Connection, text

from cross_staff.services import bench
from cross_staff.services.rig import open_rig
from cross_staff.storage.database import Database

LOGS = ("rig_revisions", "observations", "bench_entries", "level_readings", "range_sessions", "range_ends",
        "range_shots", "range_moves")  # fmt: skip
AN_END, SPREAD_RAD, HOME_M = 6, 0.001, 17.0
BOWS_EACH = 2  # that an archer has of a kind
_RIGS = (
    "INSERT INTO rigs (id, created_utc, units, archived, uid) "
    "SELECT id + :by, created_utc, units, 0, lower(hex(randomblob(16))) FROM rigs WHERE id <= :last"
)
_ARCHER = "json_set(card, '$.archer', rtrim(card ->> '$.archer', '0123456789 ') || ' ' || ((rig_id + :by) / :share))"
_ENDS = (
    "INSERT INTO range_ends (rig_id, key, entered_utc, place, session, revision, pin, ranged_m, dial_mm, note, "
    "left_out, removed, asked, dial_from) "
    "VALUES (:rig, :key, '2026-11-20 12:00:00', :place, 1, 1, 0, :home, NULL, '', 0, 0, 0, 'home')"
)
_SHOTS = (
    "INSERT INTO range_shots (rig_id, end_key, entered_utc, right_m, up_m, called_bad, key, removed) "
    "VALUES (:rig, :end, '2026-11-20 12:00:00', :right, :up, 0, :key, 0)"
)
# as those stand that they were copied from: to work thousands out takes longer than what is tried with them
_STANDINGS = (
    "UPDATE rig_standings SET (fresh, program, archived, name, archer, archer_key, due, urgency, summary) = "
    "(SELECT 1, program, archived, name, archer, archer_key, due, urgency, summary FROM rig_standings AS first "
    "WHERE first.rig_id = (rig_standings.rig_id - 1) % :first + 1) WHERE rig_id > :first"
)
_SESSIONS = (
    "INSERT INTO range_sessions (rig_id, key, entered_utc, number, revision, place, light, who, note, build, counts) "
    "SELECT id, '', '2026-11-20 12:00:00', 1, 1, '', '', '', '', '', '' FROM rigs WHERE id > :first "
    "AND NOT EXISTS (SELECT 1 FROM range_sessions WHERE rig_id = rigs.id)"
)


def crowd(database: Database, rigs: int, arrows: int, seed: int = 1) -> None:
    """Copy the shop's rigs with their logs until there are so many, and let each copy shoot so many arrows at home.

    Args:
        rigs: How many the shop has then.
        arrows: How many each copy shoots, in ends of six.
    """
    with database.reading() as connection:
        first = int(connection.execute(text("SELECT max(id) FROM rigs")).scalar() or 0)
    homes = [open_rig(database, number).card.goals.home_m or HOME_M for number in range(1, first + 1)]
    while bench.bring_up(database):
        pass
    with database.writing() as connection:
        _copies(connection, first, rigs)
        _arrows(connection, homes, rigs, arrows, random.Random(seed))
        connection.execute(text(_STANDINGS), {"first": first})


def _copies(connection: Connection, first: int, rigs: int) -> None:
    known = first
    while known < rigs:
        step = {"by": known, "last": min(known, rigs - known), "share": BOWS_EACH * first}
        connection.execute(text(_RIGS), step)
        for table in LOGS:
            names = [row[1] for row in connection.execute(text(f"PRAGMA table_info({table})"))]
            names = [name for name in names if name not in ("id", "photo_id")]
            copied = ", ".join({"rig_id": "rig_id + :by", "card": _ARCHER}.get(name, name) for name in names)
            query = f"INSERT INTO {table} ({', '.join(names)}) SELECT {copied} FROM {table} WHERE rig_id <= :last"
            connection.execute(text(query), step)
        known += step["last"]
    connection.execute(text(_SESSIONS), {"first": first})


def _arrows(connection: Connection, homes: list[float], rigs: int, arrows: int, chance: random.Random) -> None:
    first, ends, shots = len(homes), [], []
    for rig in range(first + 1, rigs + 1):
        home = homes[(rig - 1) % first]
        for n in range(arrows):
            key = f"crowd-{n // AN_END}"
            if n % AN_END == 0:
                ends.append({"rig": rig, "key": key, "place": 1000 + n // AN_END, "home": home})
            right, up = (round(chance.gauss(0.0, SPREAD_RAD * home), 4) for _ in range(2))
            shots.append({"rig": rig, "end": key, "right": right, "up": up, "key": f"c{n}"})
    connection.execute(text(_ENDS), ends)
    connection.execute(text(_SHOTS), shots)
