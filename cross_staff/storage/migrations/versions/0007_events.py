"""What a change of the card meant, events that did not happen after all, results taken up again; drafts of forms."""

import sqlalchemy as sa
from alembic import op

revision = "0007"
down_revision = "0006"


def upgrade() -> None:
    op.add_column("rig_revisions", sa.Column("meant", sa.JSON(), nullable=False, server_default="[]"))
    op.add_column("rig_revisions", sa.Column("undoes", sa.JSON(), nullable=False, server_default="[]"))
    op.add_column("rig_revisions", sa.Column("taken_up", sa.JSON(), nullable=False, server_default="[]"))
    op.create_table(
        "rig_drafts",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("rig_id", sa.Integer(), nullable=False),
        sa.Column("device", sa.String(), nullable=False),
        sa.Column("form", sa.String(), nullable=False),
        sa.Column("saved_utc", sa.DateTime(), nullable=False),
        sa.Column("fields", sa.JSON(), nullable=False),
        sa.ForeignKeyConstraint(["rig_id"], ["rigs.id"], name="fk_rig_drafts_rig_id_rigs"),
        sa.PrimaryKeyConstraint("id", name="pk_rig_drafts"),
        sa.UniqueConstraint("rig_id", "device", "form", name="uq_rig_drafts_rig_id"),
    )
