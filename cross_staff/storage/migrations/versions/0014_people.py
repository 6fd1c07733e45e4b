"""The people of the shop, devices that were let in, who wrote what, hand-over cards, links for archers, the days."""

import sqlalchemy as sa
from alembic import op

revision = "0014"
down_revision = "0013"

# the logs whose rows have an author from now on
_AUTHORED = (
    "rig_revisions", "observations", "printed_tapes", "bench_entries", "photos", "witness_marks", "sight_models",
    "level_readings", "instruments", "range_sessions", "range_ends", "range_shots", "range_moves", "proof_lines",
    "devices", "taken_readings",
)  # fmt: skip


def _text(*names: str) -> list[sa.Column]:
    return [sa.Column(name, sa.String(), nullable=False, server_default="") for name in names]


def upgrade() -> None:
    op.create_table(
        "people",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("person", sa.Integer(), nullable=False),
        sa.Column("number", sa.Integer(), nullable=False),
        sa.Column("saved_utc", sa.DateTime(), nullable=False),
        *_text("name", "role", "pin_hash"),
        sa.Column("removed", sa.Boolean(), nullable=False),
        sa.PrimaryKeyConstraint("id", name="pk_people"),
        sa.UniqueConstraint("person", "number", name="uq_people_person"),
    )
    op.create_table(
        "visits",
        sa.Column("id", sa.Integer(), nullable=False),
        *_text("token_sha256", "passphrase", "device", "address"),
        sa.Column("begun_utc", sa.DateTime(), nullable=False),
        sa.Column("seen_utc", sa.DateTime(), nullable=False),
        sa.Column("person", sa.Integer()),
        sa.Column("ended_utc", sa.DateTime()),
        sa.PrimaryKeyConstraint("id", name="pk_visits"),
        sa.UniqueConstraint("token_sha256", name="uq_visits_token_sha256"),
    )
    op.create_table(
        "authors",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("log", sa.String(), nullable=False),
        sa.Column("row_id", sa.Integer(), nullable=False),
        sa.Column("rig_id", sa.Integer()),
        *_text("who", "came_by"),
        sa.Column("written_utc", sa.DateTime(), nullable=False),
        sa.PrimaryKeyConstraint("id", name="pk_authors"),
        sa.UniqueConstraint("log", "row_id", name="uq_authors_log"),
    )
    op.create_index("ix_authors_rig_id", "authors", ["rig_id"])
    op.create_table(
        "handover_cards",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("rig_id", sa.Integer(), nullable=False),
        sa.Column("number", sa.Integer(), nullable=False),
        sa.Column("revision", sa.Integer(), nullable=False),
        sa.Column("entered_utc", sa.DateTime(), nullable=False),
        *_text("signed_by", "note"),
        sa.Column("content", sa.JSON(), nullable=False),
        sa.ForeignKeyConstraint(["rig_id"], ["rigs.id"], name="fk_handover_cards_rig_id_rigs"),
        sa.PrimaryKeyConstraint("id", name="pk_handover_cards"),
        sa.UniqueConstraint("rig_id", "number", name="uq_handover_cards_rig_id"),
    )
    op.create_index("ix_handover_cards_rig_id", "handover_cards", ["rig_id"])
    op.create_table(
        "archer_links",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("rig_id", sa.Integer(), nullable=False),
        *_text("secret", "made_by"),
        sa.Column("made_utc", sa.DateTime(), nullable=False),
        sa.Column("until_utc", sa.DateTime(), nullable=False),
        sa.Column("ended_utc", sa.DateTime()),
        sa.Column("opened_utc", sa.DateTime()),
        sa.ForeignKeyConstraint(["rig_id"], ["rigs.id"], name="fk_archer_links_rig_id_rigs"),
        sa.PrimaryKeyConstraint("id", name="pk_archer_links"),
    )
    op.create_index("ix_archer_links_rig_id", "archer_links", ["rig_id"])
    op.create_table(
        "shop_hours",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("saved_utc", sa.DateTime(), nullable=False),
        sa.Column("record", sa.JSON(), nullable=False),
        sa.PrimaryKeyConstraint("id", name="pk_shop_hours"),
    )
    op.create_table(
        "rig_days",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("rig_id", sa.Integer(), nullable=False),
        sa.Column("saved_utc", sa.DateTime(), nullable=False),
        sa.Column("record", sa.JSON(), nullable=False),
        sa.ForeignKeyConstraint(["rig_id"], ["rigs.id"], name="fk_rig_days_rig_id_rigs"),
        sa.PrimaryKeyConstraint("id", name="pk_rig_days"),
    )
    op.create_index("ix_rig_days_rig_id", "rig_days", ["rig_id"])
    op.create_table(
        "busy_times",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("saved_utc", sa.DateTime(), nullable=False),
        *_text("person", "calendar"),
        sa.Column("spans", sa.JSON(), nullable=False),
        sa.PrimaryKeyConstraint("id", name="pk_busy_times"),
    )
    for table in ("people", "authors", "handover_cards", "shop_hours", "rig_days", "busy_times"):
        for act in ("UPDATE", "DELETE"):
            op.execute(
                f"CREATE TRIGGER {table}_no_{act.lower()} BEFORE {act} ON {table} "
                f"BEGIN SELECT RAISE(ABORT, '{table} is a record: add, never change'); END"
            )
    # what was written before has nobody's name; later rows are told by their number
    for log in _AUTHORED:
        op.execute(
            f"INSERT INTO authors (log, row_id, who, came_by, written_utc) "
            f"SELECT '{log}', id, '', 'before', '1970-01-01 00:00:00.000000' FROM {log} ORDER BY id DESC LIMIT 1"
        )
    op.execute(
        "CREATE TRIGGER handover_cards_counts AFTER INSERT ON handover_cards "
        "BEGIN UPDATE rigs SET version = version + 1 WHERE id = NEW.rig_id; END"
    )
