"""Readings of the level station."""

import sqlalchemy as sa
from alembic import op

revision = "0003"
down_revision = "0002"


def upgrade() -> None:
    op.create_table(
        "level_readings",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("rig_id", sa.Integer(), nullable=False),
        sa.Column("revision", sa.Integer(), nullable=False),
        sa.Column("entered_utc", sa.DateTime(), nullable=False),
        sa.Column("axis", sa.String(), nullable=False),
        sa.Column("method", sa.String(), nullable=False),
        sa.Column("pitch_rad", sa.Float(), nullable=False),
        sa.Column("vial_div", sa.Float(), nullable=False),
        sa.Column("reference_div", sa.Float(), nullable=False),
        sa.Column("turns", sa.Float(), nullable=True),
        sa.Column("locked", sa.Boolean(), nullable=False),
        sa.Column("who", sa.String(), nullable=False),
        sa.Column("note", sa.String(), nullable=False),
        sa.Column("photo_id", sa.Integer(), nullable=True),
        sa.Column("undoes", sa.Integer(), nullable=True),
        sa.ForeignKeyConstraint(["rig_id"], ["rigs.id"], name="fk_level_readings_rig_id_rigs"),
        sa.ForeignKeyConstraint(["photo_id"], ["photos.id"], name="fk_level_readings_photo_id_photos"),
        sa.PrimaryKeyConstraint("id", name="pk_level_readings"),
    )
    op.create_index("ix_level_readings_rig_id", "level_readings", ["rig_id"])
    for act in ("UPDATE", "DELETE"):
        op.execute(
            f"CREATE TRIGGER level_readings_no_{act.lower()} BEFORE {act} ON level_readings "
            "BEGIN SELECT RAISE(ABORT, 'level_readings is a record: add, never change'); END"
        )
