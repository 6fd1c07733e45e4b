"""Practice rigs are found at once among all: an index over the entries that make a rig one."""

from alembic import op

revision = "0015"
down_revision = "0014"


def upgrade() -> None:
    op.execute("CREATE INDEX ix_bench_entries_practice ON bench_entries (rig_id) WHERE station = 'practice'")
