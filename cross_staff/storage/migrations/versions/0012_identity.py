"""What travels keeps its name: identities of rigs, sight models and instruments; numbers of printed tapes that stay
with their rig; photos that are known by their sum before they are here.
"""

from hashlib import sha256

import sqlalchemy as sa
from alembic import op

revision = "0012"
down_revision = "0011"

_FRESH = "lower(hex(randomblob(16)))"


def _guard(table: str, act: str, when: str = "") -> None:
    op.execute(
        f"CREATE TRIGGER {table}_no_{act.lower()} BEFORE {act} ON {table} {when} "
        f"BEGIN SELECT RAISE(ABORT, '{table} is a record: add, never change'); END"
    )


def _unguard(*tables: str) -> None:
    for table in tables:
        op.execute(f"DROP TRIGGER IF EXISTS {table}_no_update")


def upgrade() -> None:
    _unguard("printed_tapes", "photos", "sight_models", "instruments")
    for table in ("rigs", "sight_models", "instruments"):
        op.add_column(table, sa.Column("uid", sa.String(), nullable=False, server_default=""))
    op.execute(f"UPDATE rigs SET uid = {_FRESH}")
    op.add_column("rigs", sa.Column("origin", sa.String(), nullable=False, server_default=""))
    op.create_index("ix_rigs_uid", "rigs", ["uid"], unique=True)
    for table, group in (("sight_models", "model"), ("instruments", "instrument")):
        op.execute(f"UPDATE {table} SET uid = {_FRESH} WHERE number = 1")
        op.execute(
            f"UPDATE {table} SET uid = (SELECT first.uid FROM {table} AS first "
            f"WHERE first.{group} = {table}.{group} AND first.number = 1) WHERE number <> 1"
        )
    op.add_column("printed_tapes", sa.Column("number", sa.Integer(), nullable=False, server_default="0"))
    op.execute("UPDATE printed_tapes SET number = id")
    op.add_column("photos", sa.Column("sha256", sa.String(), nullable=False, server_default=""))
    connection = op.get_bind()
    for (number,) in connection.execute(sa.text("SELECT id FROM photos")).all():
        jpeg = connection.execute(sa.text("SELECT jpeg FROM photos WHERE id = :id"), {"id": number}).scalar_one()
        values = {"id": number, "sum": sha256(jpeg).hexdigest()}
        connection.execute(sa.text("UPDATE photos SET sha256 = :sum WHERE id = :id"), values)
    for table in ("printed_tapes", "sight_models", "instruments"):
        _guard(table, "UPDATE")
    _guard("instruments", "DELETE")
    # a photo that came without its picture may be given it, and none be taken
    _guard("photos", "UPDATE", "WHEN length(OLD.jpeg) > 0")
