"""Ends written as one line, how a reading came about, movements before an end, numbered arrows."""

import sqlalchemy as sa
from alembic import op

revision = "0009"
down_revision = "0008"


def upgrade() -> None:
    for column in (
        sa.Column("dial_from", sa.String(), nullable=False, server_default=""),
        sa.Column("line_arrows", sa.Integer()),
        sa.Column("line_right_m", sa.Float()),
        sa.Column("line_up_m", sa.Float()),
    ):
        op.add_column("range_ends", column)
    op.add_column("range_moves", sa.Column("before", sa.String(), nullable=False, server_default=""))
    op.add_column("range_shots", sa.Column("shaft", sa.String(), nullable=False, server_default=""))
