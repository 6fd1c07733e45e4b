"""Marks of any pin, left out with a reason; the tapes that were printed; strips of a booklet in the card."""

import sqlalchemy as sa
from alembic import op

revision = "0005"
down_revision = "0004"


def upgrade() -> None:
    # adding a column with a default leaves the rows, and the triggers that guard them, as they are
    op.add_column("observations", sa.Column("pin", sa.Integer(), nullable=False, server_default="0"))
    op.add_column("observations", sa.Column("reason", sa.String(), nullable=False, server_default=""))
    op.create_table(
        "printed_tapes",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("rig_id", sa.Integer(), nullable=False),
        sa.Column("revision", sa.Integer(), nullable=False),
        sa.Column("printed_utc", sa.DateTime(), nullable=False),
        sa.Column("sheet", sa.JSON(), nullable=False),
        sa.ForeignKeyConstraint(["rig_id"], ["rigs.id"], name="fk_printed_tapes_rig_id_rigs"),
        sa.PrimaryKeyConstraint("id", name="pk_printed_tapes"),
    )
    op.create_index("ix_printed_tapes_rig_id", "printed_tapes", ["rig_id"])
    for act in ("UPDATE", "DELETE"):
        op.execute(
            f"CREATE TRIGGER printed_tapes_no_{act.lower()} BEFORE {act} ON printed_tapes "
            "BEGIN SELECT RAISE(ABORT, 'printed_tapes is a record: add, never change'); END"
        )
