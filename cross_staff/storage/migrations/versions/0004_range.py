"""The log of the range: sessions, ends, shots, moves."""

from typing import Any

import sqlalchemy as sa
from alembic import op

revision = "0004"
down_revision = "0003"


def _common(table: str) -> list[Any]:
    return [
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("rig_id", sa.Integer(), nullable=False),
        sa.Column("key", sa.String(), nullable=False),
        sa.Column("entered_utc", sa.DateTime(), nullable=False),
        sa.ForeignKeyConstraint(["rig_id"], ["rigs.id"], name=f"fk_{table}_rig_id_rigs"),
        sa.PrimaryKeyConstraint("id", name=f"pk_{table}"),
    ]


def _words(*names: str) -> list[sa.Column]:
    return [sa.Column(name, sa.String(), nullable=False) for name in names]


def _counts(*names: str) -> list[sa.Column]:
    return [sa.Column(name, sa.Integer(), nullable=False) for name in names]


def _flags(*names: str) -> list[sa.Column]:
    return [sa.Column(name, sa.Boolean(), nullable=False) for name in names]


def _numbers(*names: str, nullable: bool = False) -> list[sa.Column]:
    return [sa.Column(name, sa.Float(), nullable=nullable) for name in names]


TABLES = {
    "range_sessions": [
        *_counts("number", "revision"),
        *_words("place", "light", "who", "note", "build", "counts"),
        *_numbers("crosswind_mps", "temperature_c", nullable=True),
    ],
    "range_ends": [
        *_counts("place", "session", "revision", "pin"),
        *_numbers("ranged_m", "dial_mm", nullable=True),
        *_words("note"),
        *_flags("left_out", "removed", "asked"),
    ],
    "range_shots": [*_words("end_key"), *_numbers("right_m", "up_m"), *_flags("called_bad", "removed")],
    "range_moves": [
        *_counts("place", "revision"),
        *_words("drive", "moves", "unit"),
        *_numbers("amount"),
        sa.Column("pin", sa.Integer(), nullable=True),
        *_flags("placed", "removed"),
    ],
}


def upgrade() -> None:
    for table, columns in TABLES.items():
        op.create_table(table, *_common(table), *columns)
        op.create_index(f"ix_{table}_rig_id", table, ["rig_id"])
        for act in ("UPDATE", "DELETE"):
            op.execute(
                f"CREATE TRIGGER {table}_no_{act.lower()} BEFORE {act} ON {table} "
                f"BEGIN SELECT RAISE(ABORT, '{table} is a record: add, never change'); END"
            )
