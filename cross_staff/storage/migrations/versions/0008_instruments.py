"""Looks and turns of the level as entries of their own, with seat and end of the glass; the shop's instruments."""

import sqlalchemy as sa
from alembic import op

revision = "0008"
down_revision = "0007"


def upgrade() -> None:
    for column in (
        sa.Column("vial_end", sa.Integer(), nullable=False, server_default="0"),
        sa.Column("seat", sa.String(), nullable=False, server_default=""),
        sa.Column("reseated", sa.Boolean(), nullable=False, server_default="0"),
        sa.Column("turn", sa.Boolean(), nullable=False, server_default="0"),
        sa.Column("distance_m", sa.Float()),
        sa.Column("right_m", sa.Float()),
        sa.Column("arrows", sa.Integer()),
        sa.Column("key", sa.String(), nullable=False, server_default=""),
    ):
        op.add_column("level_readings", column)
    op.create_table(
        "instruments",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("instrument", sa.Integer(), nullable=False),
        sa.Column("number", sa.Integer(), nullable=False),
        sa.Column("saved_utc", sa.DateTime(), nullable=False),
        sa.Column("record", sa.JSON(), nullable=False),
        sa.Column("removed", sa.Boolean(), nullable=False),
        sa.PrimaryKeyConstraint("id", name="pk_instruments"),
        sa.UniqueConstraint("instrument", "number", name="uq_instruments_instrument"),
    )
