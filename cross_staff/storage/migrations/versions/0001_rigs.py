"""Rigs, their revisions and the observations of the tape."""

import sqlalchemy as sa
from alembic import op

revision = "0001"
down_revision = None


def upgrade() -> None:
    op.create_table(
        "rigs",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("created_utc", sa.DateTime(), nullable=False),
        sa.Column("units", sa.JSON(), nullable=False),
        sa.PrimaryKeyConstraint("id", name="pk_rigs"),
    )
    op.create_table(
        "rig_revisions",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("rig_id", sa.Integer(), nullable=False),
        sa.Column("number", sa.Integer(), nullable=False),
        sa.Column("saved_utc", sa.DateTime(), nullable=False),
        sa.Column("why", sa.String(), nullable=False),
        sa.Column("card", sa.JSON(), nullable=False),
        sa.ForeignKeyConstraint(["rig_id"], ["rigs.id"], name="fk_rig_revisions_rig_id_rigs"),
        sa.PrimaryKeyConstraint("id", name="pk_rig_revisions"),
        sa.UniqueConstraint("rig_id", "number", name="uq_rig_revisions_rig_id"),
    )
    op.create_index("ix_rig_revisions_rig_id", "rig_revisions", ["rig_id"])
    op.create_table(
        "observations",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("rig_id", sa.Integer(), nullable=False),
        sa.Column("line", sa.Integer(), nullable=False),
        sa.Column("revision", sa.Integer(), nullable=False),
        sa.Column("entered_utc", sa.DateTime(), nullable=False),
        sa.Column("ranged_m", sa.Float(), nullable=False),
        sa.Column("mark_mm", sa.Float(), nullable=False),
        sa.Column("up_m", sa.Float(), nullable=True),
        sa.Column("arrows", sa.Integer(), nullable=True),
        sa.Column("left_out", sa.Boolean(), nullable=False),
        sa.Column("removed", sa.Boolean(), nullable=False),
        sa.Column("key", sa.String(), nullable=False),
        sa.ForeignKeyConstraint(["rig_id"], ["rigs.id"], name="fk_observations_rig_id_rigs"),
        sa.PrimaryKeyConstraint("id", name="pk_observations"),
    )
    op.create_index("ix_observations_rig_id", "observations", ["rig_id"])
    for table in ("rig_revisions", "observations"):
        for act in ("UPDATE", "DELETE"):
            op.execute(
                f"CREATE TRIGGER {table}_no_{act.lower()} BEFORE {act} ON {table} "
                f"BEGIN SELECT RAISE(ABORT, '{table} is a record: add, never change'); END"
            )
