"""The tables. Revisions and observations are only ever added, which triggers enforce."""

from __future__ import annotations

from sqlalchemy import (
    JSON,
    Boolean,
    Column,
    DateTime,
    Float,
    ForeignKey,
    Index,
    Integer,
    LargeBinary,
    MetaData,
    String,
    Table,
    UniqueConstraint,
    text,
)

metadata = MetaData(
    naming_convention={
        "ix": "ix_%(column_0_label)s",
        "uq": "uq_%(table_name)s_%(column_0_name)s",
        "ck": "ck_%(table_name)s_%(constraint_name)s",
        "fk": "fk_%(table_name)s_%(column_0_name)s_%(referred_table_name)s",
        "pk": "pk_%(table_name)s",
    }
)

rigs = Table(
    "rigs",
    metadata,
    Column("id", Integer, primary_key=True),
    Column("created_utc", DateTime, nullable=False),
    Column("units", JSON, nullable=False),
    Column("archived", Boolean, nullable=False, server_default="0"),
    # grows with every record of the rig, by triggers
    Column("version", Integer, nullable=False, server_default="1"),
    # by which it is known in every shop
    Column("uid", String, nullable=False, server_default=""),
    # the identity of the rig that it was one with, where it was put beside it from a file
    Column("origin", String, nullable=False, server_default=""),
    Index("ix_rigs_uid", "uid", unique=True),
)

# How each rig stands, worked out from its records by a version of the rules. A rig has a row from its first
# day; triggers say that it is not fresh any more with every record of the rig, and it is written anew.
rig_standings = Table(
    "rig_standings",
    metadata,
    Column("rig_id", ForeignKey("rigs.id"), primary_key=True),
    Column("fresh", Boolean, nullable=False),
    Column("program", Integer, nullable=False),
    Column("archived", Boolean, nullable=False),
    Column("name", String, nullable=False),
    Column("archer", String, nullable=False),
    Column("archer_key", String, nullable=False),
    Column("due", String, nullable=False),
    Column("urgency", Integer, nullable=False),
    Column("summary", JSON),
    Index("ix_rig_standings_archived_due_name", "archived", "due", "name"),
    Index("ix_rig_standings_archived_archer_due_name", "archived", "archer", "due", "name"),
    Index("ix_rig_standings_archived_archer_key_due_name", "archived", "archer_key", "due", "name"),
    Index("ix_rig_standings_archived_urgency_due_name", "archived", "urgency", "due", "name"),
    Index("ix_rig_standings_archived_name", "archived", "name"),
    Index("ix_rig_standings_old", "rig_id", sqlite_where=text("fresh = 0")),
)

rig_revisions = Table(
    "rig_revisions",
    metadata,
    Column("id", Integer, primary_key=True),
    Column("rig_id", ForeignKey("rigs.id"), nullable=False, index=True),
    Column("number", Integer, nullable=False),
    Column("saved_utc", DateTime, nullable=False),
    Column("why", String, nullable=False),
    Column("card", JSON, nullable=False),
    Column("happened", JSON, nullable=False, server_default="[]"),
    Column("meant", JSON, nullable=False, server_default="[]"),
    Column("undoes", JSON, nullable=False, server_default="[]"),
    Column("taken_up", JSON, nullable=False, server_default="[]"),
    UniqueConstraint("rig_id", "number"),
)

# What was typed into a form and is not saved yet, a row a form of a rig on a device.
rig_drafts = Table(
    "rig_drafts",
    metadata,
    Column("id", Integer, primary_key=True),
    Column("rig_id", ForeignKey("rigs.id"), nullable=False),
    Column("device", String, nullable=False),
    Column("form", String, nullable=False),
    Column("saved_utc", DateTime, nullable=False),
    Column("fields", JSON, nullable=False),
    UniqueConstraint("rig_id", "device", "form"),
)

observations = Table(
    "observations",
    metadata,
    Column("id", Integer, primary_key=True),
    Column("rig_id", ForeignKey("rigs.id"), nullable=False, index=True),
    Column("line", Integer, nullable=False),
    Column("revision", Integer, nullable=False),
    Column("entered_utc", DateTime, nullable=False),
    Column("ranged_m", Float, nullable=False),
    Column("mark_mm", Float, nullable=False),
    Column("up_m", Float),
    Column("arrows", Integer),
    Column("left_out", Boolean, nullable=False),
    Column("removed", Boolean, nullable=False),
    Column("key", String, nullable=False),
    Column("pin", Integer, nullable=False, server_default="0"),
    Column("reason", String, nullable=False, server_default=""),
    Column("ruler", String, nullable=False, server_default=""),
    Column("from_m", Float),
    Column("reads", String, nullable=False, server_default=""),
    Column("reading_sd_mm", Float),
    Column("laid_mm", Float),
)

# Tapes as they were printed, with everything that lays them out again; the number stands on the paper.
printed_tapes = Table(
    "printed_tapes",
    metadata,
    Column("id", Integer, primary_key=True),
    Column("rig_id", ForeignKey("rigs.id"), nullable=False, index=True),
    Column("revision", Integer, nullable=False),
    Column("printed_utc", DateTime, nullable=False),
    Column("sheet", JSON, nullable=False),
    Column("number", Integer, nullable=False, server_default="0"),
)

# What was measured, seen or done at a station of the bench, a row an entry; the newest of a key holds.
bench_entries = Table(
    "bench_entries",
    metadata,
    Column("id", Integer, primary_key=True),
    Column("rig_id", ForeignKey("rigs.id"), nullable=False, index=True),
    Column("station", String, nullable=False),
    Column("key", String, nullable=False),
    Column("revision", Integer, nullable=False),
    Column("entered_utc", DateTime, nullable=False),
    Column("number", Float),
    Column("choice", String, nullable=False),
    Column("points", JSON, nullable=False),
    Column("after", String, nullable=False),
    Column("note", String, nullable=False),
    Column("removed", Boolean, nullable=False),
    Index("ix_bench_entries_practice", "rig_id", sqlite_where=text("station = 'practice'")),
)

# A photo that came in a file without its picture is empty until it is given it, known by its sum.
photos = Table(
    "photos",
    metadata,
    Column("id", Integer, primary_key=True),
    Column("rig_id", ForeignKey("rigs.id"), nullable=False, index=True),
    Column("added_utc", DateTime, nullable=False),
    Column("width", Integer, nullable=False),
    Column("height", Integer, nullable=False),
    Column("jpeg", LargeBinary, nullable=False),
    Column("sha256", String, nullable=False, server_default=""),
)

witness_marks = Table(
    "witness_marks",
    metadata,
    Column("id", Integer, primary_key=True),
    Column("rig_id", ForeignKey("rigs.id"), nullable=False, index=True),
    Column("line", Integer, nullable=False),
    Column("revision", Integer, nullable=False),
    Column("entered_utc", DateTime, nullable=False),
    Column("joint", String, nullable=False),
    Column("place", String, nullable=False),
    Column("photo_id", ForeignKey("photos.id")),
    Column("removed", Boolean, nullable=False),
)

# Sight models that can be copied onto a card; the newest revision of a model holds.
sight_models = Table(
    "sight_models",
    metadata,
    Column("id", Integer, primary_key=True),
    Column("model", Integer, nullable=False),
    Column("number", Integer, nullable=False),
    Column("saved_utc", DateTime, nullable=False),
    Column("sight", JSON, nullable=False),
    Column("removed", Boolean, nullable=False),
    Column("uid", String, nullable=False, server_default=""),
    UniqueConstraint("model", "number"),
)

level_readings = Table(
    "level_readings",
    metadata,
    Column("id", Integer, primary_key=True),
    Column("rig_id", ForeignKey("rigs.id"), nullable=False, index=True),
    Column("revision", Integer, nullable=False),
    Column("entered_utc", DateTime, nullable=False),
    Column("axis", String, nullable=False),
    Column("method", String, nullable=False),
    Column("pitch_rad", Float, nullable=False),
    Column("vial_div", Float, nullable=False),
    Column("reference_div", Float, nullable=False),
    Column("turns", Float),
    Column("locked", Boolean, nullable=False),
    Column("who", String, nullable=False),
    Column("note", String, nullable=False),
    Column("photo_id", ForeignKey("photos.id")),
    Column("undoes", Integer),
    Column("vial_end", Integer, nullable=False, server_default="0"),
    Column("seat", String, nullable=False, server_default=""),
    Column("reseated", Boolean, nullable=False, server_default="0"),
    Column("turn", Boolean, nullable=False, server_default="0"),
    Column("distance_m", Float),
    Column("right_m", Float),
    Column("arrows", Integer),
    Column("key", String, nullable=False, server_default=""),
    Column("place", String, nullable=False, server_default=""),
    Column("settled_s", Float),
)

# A visit to the range; the newest entry of a number holds.
range_sessions = Table(
    "range_sessions",
    metadata,
    Column("id", Integer, primary_key=True),
    Column("rig_id", ForeignKey("rigs.id"), nullable=False, index=True),
    Column("number", Integer, nullable=False),
    Column("revision", Integer, nullable=False),
    Column("entered_utc", DateTime, nullable=False),
    Column("place", String, nullable=False),
    Column("light", String, nullable=False),
    Column("who", String, nullable=False),
    Column("note", String, nullable=False),
    Column("crosswind_mps", Float),
    Column("temperature_c", Float),
    Column("build", String, nullable=False),
    Column("counts", String, nullable=False),
    Column("key", String, nullable=False),
)

# An end of arrows; the newest entry of a key holds. `place` orders ends and moves of a rig.
range_ends = Table(
    "range_ends",
    metadata,
    Column("id", Integer, primary_key=True),
    Column("rig_id", ForeignKey("rigs.id"), nullable=False, index=True),
    Column("key", String, nullable=False),
    Column("place", Integer, nullable=False),
    Column("session", Integer, nullable=False),
    Column("revision", Integer, nullable=False),
    Column("entered_utc", DateTime, nullable=False),
    Column("ranged_m", Float),
    Column("pin", Integer, nullable=False),
    Column("dial_mm", Float),
    Column("note", String, nullable=False),
    Column("left_out", Boolean, nullable=False),
    Column("removed", Boolean, nullable=False),
    Column("asked", Boolean, nullable=False),
    Column("dial_from", String, nullable=False, server_default=""),
    Column("line_arrows", Integer),
    Column("line_right_m", Float),
    Column("line_up_m", Float),
)

# Where an arrow of an end hit; the newest entry of a key holds.
range_shots = Table(
    "range_shots",
    metadata,
    Column("id", Integer, primary_key=True),
    Column("rig_id", ForeignKey("rigs.id"), nullable=False, index=True),
    Column("end_key", String, nullable=False),
    Column("key", String, nullable=False),
    Column("entered_utc", DateTime, nullable=False),
    Column("right_m", Float, nullable=False),
    Column("up_m", Float, nullable=False),
    Column("called_bad", Boolean, nullable=False),
    Column("removed", Boolean, nullable=False),
    Column("shaft", String, nullable=False, server_default=""),
)

range_moves = Table(
    "range_moves",
    metadata,
    Column("id", Integer, primary_key=True),
    Column("rig_id", ForeignKey("rigs.id"), nullable=False, index=True),
    Column("key", String, nullable=False),
    Column("place", Integer, nullable=False),
    Column("revision", Integer, nullable=False),
    Column("entered_utc", DateTime, nullable=False),
    Column("drive", String, nullable=False),
    Column("moves", String, nullable=False),
    Column("amount", Float, nullable=False),
    Column("unit", String, nullable=False),
    Column("pin", Integer),
    Column("placed", Boolean, nullable=False),
    Column("removed", Boolean, nullable=False),
    Column("before", String, nullable=False, server_default=""),
)

# The proof log; the newest entry of a key holds.
proof_lines = Table(
    "proof_lines",
    metadata,
    Column("id", Integer, primary_key=True),
    Column("rig_id", ForeignKey("rigs.id"), nullable=False, index=True),
    Column("key", String, nullable=False),
    Column("revision", Integer, nullable=False),
    Column("entered_utc", DateTime, nullable=False),
    Column("day", String, nullable=False),
    Column("ranged_m", Float, nullable=False),
    Column("dialled_m", Float),
    Column("arrows", Integer, nullable=False),
    Column("up_m", Float),
    Column("right_m", Float),
    Column("slope_rad", Float, nullable=False),
    Column("crosswind_mps", Float),
    Column("cold", Boolean, nullable=False),
    Column("tape", String, nullable=False),
    Column("laying", Integer, nullable=False),
    Column("label", String, nullable=False),
    Column("note", String, nullable=False),
    Column("removed", Boolean, nullable=False),
)

# What was taken from an instrument into a field, with the value as it stood there.
taken_readings = Table(
    "taken_readings",
    metadata,
    Column("id", Integer, primary_key=True),
    Column("rig_id", ForeignKey("rigs.id"), nullable=False, index=True),
    Column("station", String, nullable=False),
    Column("entry", String, nullable=False),
    Column("field", String, nullable=False),
    Column("text", String, nullable=False),
    Column("instrument", String, nullable=False),
    Column("figure", String, nullable=False),
    Column("value_si", Float, nullable=False),
    Column("resolution_si", Float, nullable=False),
    Column("sequence", Integer, nullable=False),
    Column("taken_utc", DateTime, nullable=False),
)

# A card as it was handed over and signed, with everything that stood on it.
handover_cards = Table(
    "handover_cards",
    metadata,
    Column("id", Integer, primary_key=True),
    Column("rig_id", ForeignKey("rigs.id"), nullable=False, index=True),
    Column("number", Integer, nullable=False),
    Column("revision", Integer, nullable=False),
    Column("entered_utc", DateTime, nullable=False),
    Column("signed_by", String, nullable=False, server_default=""),
    Column("note", String, nullable=False, server_default=""),
    Column("content", JSON, nullable=False),
    UniqueConstraint("rig_id", "number"),
)

# A link by which an archer sees one rig; signed with its own secret, ended by hand or by the day.
archer_links = Table(
    "archer_links",
    metadata,
    Column("id", Integer, primary_key=True),
    Column("rig_id", ForeignKey("rigs.id"), nullable=False, index=True),
    Column("secret", String, nullable=False, server_default=""),
    Column("made_by", String, nullable=False, server_default=""),
    Column("made_utc", DateTime, nullable=False),
    Column("until_utc", DateTime, nullable=False),
    Column("ended_utc", DateTime),
    Column("opened_utc", DateTime),
)

# When the archer of a rig is free, and sessions that somebody put somewhere; the newest of a rig holds.
rig_days = Table(
    "rig_days",
    metadata,
    Column("id", Integer, primary_key=True),
    Column("rig_id", ForeignKey("rigs.id"), nullable=False, index=True),
    Column("saved_utc", DateTime, nullable=False),
    Column("record", JSON, nullable=False),
)
