"""Where on the rail, or by which line, a look at the level was taken, and how long its bubble took to rest."""

import sqlalchemy as sa
from alembic import op

revision = "0016"
down_revision = "0015"


def upgrade() -> None:
    op.add_column("level_readings", sa.Column("place", sa.String(), nullable=False, server_default=""))
    op.add_column("level_readings", sa.Column("settled_s", sa.Float()))
