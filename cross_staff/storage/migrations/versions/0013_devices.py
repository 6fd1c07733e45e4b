"""Measuring instruments of the shop over a wire, when each was last heard, and what was taken from them."""

import sqlalchemy as sa
from alembic import op

revision = "0013"
down_revision = "0012"


def upgrade() -> None:
    op.create_table(
        "devices",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("device", sa.Integer(), nullable=False),
        sa.Column("number", sa.Integer(), nullable=False),
        sa.Column("saved_utc", sa.DateTime(), nullable=False),
        sa.Column("name", sa.String(), nullable=False),
        sa.Column("kind", sa.String(), nullable=False),
        sa.Column("host", sa.String(), nullable=False),
        sa.Column("port", sa.Integer(), nullable=False),
        sa.Column("removed", sa.Boolean(), nullable=False),
        sa.PrimaryKeyConstraint("id", name="pk_devices"),
        sa.UniqueConstraint("device", "number", name="uq_devices_device"),
    )
    op.create_table(
        "device_sightings",
        sa.Column("device", sa.Integer(), nullable=False),
        sa.Column("seen_utc", sa.DateTime(), nullable=False),
        sa.PrimaryKeyConstraint("device", name="pk_device_sightings"),
    )
    op.create_table(
        "taken_readings",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("rig_id", sa.Integer(), nullable=False),
        sa.Column("station", sa.String(), nullable=False),
        sa.Column("entry", sa.String(), nullable=False),
        sa.Column("field", sa.String(), nullable=False),
        sa.Column("text", sa.String(), nullable=False),
        sa.Column("instrument", sa.String(), nullable=False),
        sa.Column("figure", sa.String(), nullable=False),
        sa.Column("value_si", sa.Float(), nullable=False),
        sa.Column("resolution_si", sa.Float(), nullable=False),
        sa.Column("sequence", sa.Integer(), nullable=False),
        sa.Column("taken_utc", sa.DateTime(), nullable=False),
        sa.ForeignKeyConstraint(["rig_id"], ["rigs.id"], name="fk_taken_readings_rig_id_rigs"),
        sa.PrimaryKeyConstraint("id", name="pk_taken_readings"),
    )
    op.create_index("ix_taken_readings_rig_id", "taken_readings", ["rig_id"])
    for table in ("devices", "taken_readings"):
        for act in ("UPDATE", "DELETE"):
            op.execute(
                f"CREATE TRIGGER {table}_no_{act.lower()} BEFORE {act} ON {table} "
                f"BEGIN SELECT RAISE(ABORT, '{table} is a record: add, never change'); END"
            )
