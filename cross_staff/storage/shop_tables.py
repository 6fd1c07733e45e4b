"""The tables of what belongs to the shop and not to a rig; they stand in the same metadata."""

from __future__ import annotations

from sqlalchemy import JSON, Boolean, Column, DateTime, Index, Integer, String, Table, UniqueConstraint

from cross_staff.storage.tables import metadata

# The shop's own levels and jigs; the newest number of an instrument holds.
instruments = Table(
    "instruments",
    metadata,
    Column("id", Integer, primary_key=True),
    Column("instrument", Integer, nullable=False),
    Column("number", Integer, nullable=False),
    Column("saved_utc", DateTime, nullable=False),
    Column("record", JSON, nullable=False),
    Column("removed", Boolean, nullable=False),
    Column("uid", String, nullable=False, server_default=""),
    UniqueConstraint("instrument", "number"),
)

# Measuring instruments of the shop over a wire; the newest number of one holds.
devices = Table(
    "devices",
    metadata,
    Column("id", Integer, primary_key=True),
    Column("device", Integer, nullable=False),
    Column("number", Integer, nullable=False),
    Column("saved_utc", DateTime, nullable=False),
    Column("name", String, nullable=False),
    Column("kind", String, nullable=False),
    Column("host", String, nullable=False),
    Column("port", Integer, nullable=False),
    Column("removed", Boolean, nullable=False),
    UniqueConstraint("device", "number"),
)

# When an instrument was last heard; written over.
device_sightings = Table(
    "device_sightings",
    metadata,
    Column("device", Integer, primary_key=True),
    Column("seen_utc", DateTime, nullable=False),
)

# Somebody of the shop; the newest number of a person holds.
people = Table(
    "people",
    metadata,
    Column("id", Integer, primary_key=True),
    Column("person", Integer, nullable=False),
    Column("number", Integer, nullable=False),
    Column("saved_utc", DateTime, nullable=False),
    Column("name", String, nullable=False, server_default=""),
    Column("role", String, nullable=False, server_default=""),
    Column("pin_hash", String, nullable=False, server_default=""),
    Column("removed", Boolean, nullable=False),
    UniqueConstraint("person", "number"),
)

# A device that was let in, by the sum of its cookie, and who holds it; written over. `passphrase` names the one it
# was let in by, empty for one of this machine.
visits = Table(
    "visits",
    metadata,
    Column("id", Integer, primary_key=True),
    Column("token_sha256", String, nullable=False, unique=True),
    Column("passphrase", String, nullable=False, server_default=""),
    Column("device", String, nullable=False, server_default=""),
    Column("address", String, nullable=False, server_default=""),
    Column("begun_utc", DateTime, nullable=False),
    Column("seen_utc", DateTime, nullable=False),
    Column("person", Integer),
    Column("ended_utc", DateTime),
)

# Who wrote a row of a log, and when; of rows from before there were people only the last of each log has one.
authors = Table(
    "authors",
    metadata,
    Column("id", Integer, primary_key=True),
    Column("log", String, nullable=False),
    Column("row_id", Integer, nullable=False),
    Column("rig_id", Integer),
    Column("who", String, nullable=False, server_default=""),
    Column("came_by", String, nullable=False, server_default=""),
    Column("written_utc", DateTime, nullable=False),
    UniqueConstraint("log", "row_id"),
    Index("ix_authors_rig_id", "rig_id"),
)

# When the shop is open, and where it is; the newest holds.
shop_hours = Table(
    "shop_hours",
    metadata,
    Column("id", Integer, primary_key=True),
    Column("saved_utc", DateTime, nullable=False),
    Column("record", JSON, nullable=False),
)

# What somebody has no time for, as a calendar said; the newest of a person's calendar holds.
busy_times = Table(
    "busy_times",
    metadata,
    Column("id", Integer, primary_key=True),
    Column("saved_utc", DateTime, nullable=False),
    Column("person", String, nullable=False, server_default=""),
    Column("calendar", String, nullable=False, server_default=""),
    Column("spans", JSON, nullable=False),
)
