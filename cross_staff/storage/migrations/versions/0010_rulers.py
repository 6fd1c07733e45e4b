"""Marks that are read off pencil lines, a printed strip or a trial strip; what an archer's other bows tell."""

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
    # an archer's bows tell of one another: when one changes, the others stand otherwise
    op.execute("CREATE INDEX ix_rig_revisions_archer ON rig_revisions (json_extract(card, '$.archer'), rig_id)")
    op.execute("DROP TRIGGER rigs_changed")
    op.execute(
        "CREATE TRIGGER rigs_changed AFTER UPDATE OF version ON rigs BEGIN "
        "UPDATE rig_standings SET fresh = 0, archived = NEW.archived WHERE rig_id = NEW.id; "
        "UPDATE rig_standings SET fresh = 0 WHERE rig_id IN (SELECT DISTINCT rig_id FROM rig_revisions "
        "WHERE json_extract(card, '$.archer') != '' AND json_extract(card, '$.archer') IN (SELECT json_extract(card, "
        "'$.archer') FROM rig_revisions WHERE rig_id = NEW.id) "
        "ORDER BY rig_id DESC LIMIT 8); END"
    )
