"""What happened to a rig, rigs off the bench, bench entries, witness marks with photos, sight models."""

import sqlalchemy as sa
from alembic import op

revision = "0002"
down_revision = "0001"


def upgrade() -> None:
    # adding a column with a default leaves the rows, and the triggers that guard them, as they are
    op.add_column("rigs", sa.Column("archived", sa.Boolean(), nullable=False, server_default="0"))
    op.add_column("rig_revisions", sa.Column("happened", sa.JSON(), nullable=False, server_default="[]"))
    op.create_table(
        "bench_entries",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("rig_id", sa.Integer(), nullable=False),
        sa.Column("station", sa.String(), nullable=False),
        sa.Column("key", sa.String(), nullable=False),
        sa.Column("revision", sa.Integer(), nullable=False),
        sa.Column("entered_utc", sa.DateTime(), nullable=False),
        sa.Column("number", sa.Float(), nullable=True),
        sa.Column("choice", sa.String(), nullable=False),
        sa.Column("points", sa.JSON(), nullable=False),
        sa.Column("after", sa.String(), nullable=False),
        sa.Column("note", sa.String(), nullable=False),
        sa.Column("removed", sa.Boolean(), nullable=False),
        sa.ForeignKeyConstraint(["rig_id"], ["rigs.id"], name="fk_bench_entries_rig_id_rigs"),
        sa.PrimaryKeyConstraint("id", name="pk_bench_entries"),
    )
    op.create_index("ix_bench_entries_rig_id", "bench_entries", ["rig_id"])
    op.create_table(
        "photos",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("rig_id", sa.Integer(), nullable=False),
        sa.Column("added_utc", sa.DateTime(), nullable=False),
        sa.Column("width", sa.Integer(), nullable=False),
        sa.Column("height", sa.Integer(), nullable=False),
        sa.Column("jpeg", sa.LargeBinary(), nullable=False),
        sa.ForeignKeyConstraint(["rig_id"], ["rigs.id"], name="fk_photos_rig_id_rigs"),
        sa.PrimaryKeyConstraint("id", name="pk_photos"),
    )
    op.create_index("ix_photos_rig_id", "photos", ["rig_id"])
    op.create_table(
        "witness_marks",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("rig_id", sa.Integer(), nullable=False),
        sa.Column("line", sa.Integer(), nullable=False),
        sa.Column("revision", sa.Integer(), nullable=False),
        sa.Column("entered_utc", sa.DateTime(), nullable=False),
        sa.Column("joint", sa.String(), nullable=False),
        sa.Column("place", sa.String(), nullable=False),
        sa.Column("photo_id", sa.Integer(), nullable=True),
        sa.Column("removed", sa.Boolean(), nullable=False),
        sa.ForeignKeyConstraint(["rig_id"], ["rigs.id"], name="fk_witness_marks_rig_id_rigs"),
        sa.ForeignKeyConstraint(["photo_id"], ["photos.id"], name="fk_witness_marks_photo_id_photos"),
        sa.PrimaryKeyConstraint("id", name="pk_witness_marks"),
    )
    op.create_index("ix_witness_marks_rig_id", "witness_marks", ["rig_id"])
    op.create_table(
        "sight_models",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("model", sa.Integer(), nullable=False),
        sa.Column("number", sa.Integer(), nullable=False),
        sa.Column("saved_utc", sa.DateTime(), nullable=False),
        sa.Column("sight", sa.JSON(), nullable=False),
        sa.Column("removed", sa.Boolean(), nullable=False),
        sa.PrimaryKeyConstraint("id", name="pk_sight_models"),
        sa.UniqueConstraint("model", "number", name="uq_sight_models_model"),
    )
    for table in ("bench_entries", "photos", "witness_marks", "sight_models"):
        for act in ("UPDATE", "DELETE"):
            op.execute(
                f"CREATE TRIGGER {table}_no_{act.lower()} BEFORE {act} ON {table} "
                f"BEGIN SELECT RAISE(ABORT, '{table} is a record: add, never change'); END"
            )
