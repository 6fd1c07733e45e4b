"""The tables. Revisions and observations are only ever added, which triggers enforce."""

from __future__ import annotations

from sqlalchemy import (
    JSON,
    Boolean,
    Column,
    DateTime,
    Float,
    ForeignKey,
    Integer,
    MetaData,
    String,
    Table,
    UniqueConstraint,
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
    UniqueConstraint("rig_id", "number"),
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
)
