"""Marks that are read off pencil lines, a printed strip or a trial strip."""

import sqlalchemy as sa
from alembic import op

revision = "0010"
down_revision = "0009"


def upgrade() -> None:
    for column in (
        sa.Column("ruler", sa.String(), nullable=False, server_default=""),
        sa.Column("from_m", sa.Float()),
        sa.Column("reads", sa.String(), nullable=False, server_default=""),
        sa.Column("reading_sd_mm", sa.Float()),
        sa.Column("laid_mm", sa.Float()),
    ):
        op.add_column("observations", column)
