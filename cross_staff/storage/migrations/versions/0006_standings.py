"""A rig's version, which grows with every record of it; how each rig stands, as a line of the bench.

Files of the very first versions lack a column that was written into 0001 afterwards: it is added here.
"""

import sqlalchemy as sa
from alembic import op

revision = "0006"
down_revision = "0005"

RECORDS = ("rig_revisions", "observations", "printed_tapes", "bench_entries", "photos", "witness_marks",
           "level_readings", "range_sessions", "range_ends", "range_shots", "range_moves")  # fmt: skip


def upgrade() -> None:
    columns = {row[1] for row in op.get_bind().execute(sa.text("PRAGMA table_info(observations)"))}
    if "key" not in columns:
        op.add_column("observations", sa.Column("key", sa.String(), nullable=False, server_default=""))
    op.add_column("rigs", sa.Column("version", sa.Integer(), nullable=False, server_default="1"))
    for table in RECORDS:
        op.execute(
            f"CREATE TRIGGER {table}_counts AFTER INSERT ON {table} "
            "BEGIN UPDATE rigs SET version = version + 1 WHERE id = NEW.rig_id; END"
        )
    op.execute(
        "CREATE TRIGGER rigs_counts AFTER UPDATE OF units, archived ON rigs "
        "BEGIN UPDATE rigs SET version = version + 1 WHERE id = NEW.id; END"
    )
    op.create_table(
        "rig_standings",
        sa.Column("rig_id", sa.Integer(), nullable=False),
        sa.Column("fresh", sa.Boolean(), nullable=False),
        sa.Column("program", sa.Integer(), nullable=False),
        sa.Column("archived", sa.Boolean(), nullable=False),
        sa.Column("name", sa.String(), nullable=False),
        sa.Column("archer", sa.String(), nullable=False),
        sa.Column("archer_key", sa.String(), nullable=False),
        sa.Column("due", sa.String(), nullable=False),
        sa.Column("urgency", sa.Integer(), nullable=False),
        sa.Column("summary", sa.JSON(), nullable=True),
        sa.ForeignKeyConstraint(["rig_id"], ["rigs.id"], name="fk_rig_standings_rig_id_rigs"),
        sa.PrimaryKeyConstraint("rig_id", name="pk_rig_standings"),
    )
    for first in ("", "archer", "archer_key", "urgency"):
        sorted_by = [column for column in ("archived", first, "due", "name") if column]
        op.create_index("ix_rig_standings_" + "_".join(sorted_by), "rig_standings", sorted_by)
    op.create_index("ix_rig_standings_archived_name", "rig_standings", ["archived", "name"])
    op.execute("CREATE INDEX ix_rig_standings_old ON rig_standings (rig_id) WHERE fresh = 0")
    op.execute(
        "INSERT INTO rig_standings (rig_id, fresh, program, archived, name, archer, archer_key, due, urgency) "
        "SELECT id, 0, 0, archived, '', '', '', '', 0 FROM rigs"
    )
    op.execute(
        "CREATE TRIGGER rigs_stand AFTER INSERT ON rigs BEGIN "
        "INSERT INTO rig_standings (rig_id, fresh, program, archived, name, archer, archer_key, due, urgency) "
        "VALUES (NEW.id, 0, 0, NEW.archived, '', '', '', '', 0); END"
    )
    op.execute(
        "CREATE TRIGGER rigs_changed AFTER UPDATE OF version ON rigs "
        "BEGIN UPDATE rig_standings SET fresh = 0, archived = NEW.archived WHERE rig_id = NEW.id; END"
    )
    # which rigs ever had a sight of a name: their screws tell what to expect of the next one's
    op.execute("CREATE INDEX ix_rig_revisions_sight ON rig_revisions (json_extract(card, '$.sight.name'), rig_id)")
