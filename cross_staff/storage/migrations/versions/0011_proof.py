"""The proof log: groups that were shot by a tape, or to be held against one another."""

import sqlalchemy as sa
from alembic import op

revision = "0011"
down_revision = "0010"


def upgrade() -> None:
    op.create_table(
        "proof_lines",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("rig_id", sa.Integer(), nullable=False),
        sa.Column("key", sa.String(), nullable=False),
        sa.Column("revision", sa.Integer(), nullable=False),
        sa.Column("entered_utc", sa.DateTime(), nullable=False),
        sa.Column("day", sa.String(), nullable=False),
        sa.Column("ranged_m", sa.Float(), nullable=False),
        sa.Column("dialled_m", sa.Float()),
        sa.Column("arrows", sa.Integer(), nullable=False),
        sa.Column("up_m", sa.Float()),
        sa.Column("right_m", sa.Float()),
        sa.Column("slope_rad", sa.Float(), nullable=False),
        sa.Column("crosswind_mps", sa.Float()),
        sa.Column("cold", sa.Boolean(), nullable=False),
        sa.Column("tape", sa.String(), nullable=False),
        sa.Column("laying", sa.Integer(), nullable=False),
        sa.Column("label", sa.String(), nullable=False),
        sa.Column("note", sa.String(), nullable=False),
        sa.Column("removed", sa.Boolean(), nullable=False),
        sa.ForeignKeyConstraint(["rig_id"], ["rigs.id"], name="fk_proof_lines_rig_id_rigs"),
        sa.PrimaryKeyConstraint("id", name="pk_proof_lines"),
    )
    op.create_index("ix_proof_lines_rig_id", "proof_lines", ["rig_id"])
    for act in ("UPDATE", "DELETE"):
        op.execute(
            f"CREATE TRIGGER proof_lines_no_{act.lower()} BEFORE {act} ON proof_lines "
            "BEGIN SELECT RAISE(ABORT, 'proof_lines is a record: add, never change'); END"
        )
    op.execute(
        "CREATE TRIGGER proof_lines_counts AFTER INSERT ON proof_lines "
        "BEGIN UPDATE rigs SET version = version + 1 WHERE id = NEW.rig_id; END"
    )
