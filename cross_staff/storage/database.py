"""Opening the database: pragmas, explicit BEGIN, migrations."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Any

from alembic import command
from alembic.config import Config
from sqlalchemy import Connection, Engine, create_engine, event

BUSY_TIMEOUT_MS = 5000
_PRAGMAS = (
    "PRAGMA journal_mode=WAL",
    "PRAGMA synchronous=FULL",
    "PRAGMA foreign_keys=ON",
    f"PRAGMA busy_timeout={BUSY_TIMEOUT_MS}",
)


class Database:
    """Two engines on one file: writers take the lock at BEGIN, readers never wait for it."""

    def __init__(self, file: Path) -> None:
        file.parent.mkdir(parents=True, exist_ok=True)
        self.file = file
        self._writer = _engine(file, "BEGIN IMMEDIATE")
        self._reader = _engine(file, "BEGIN")

    @contextmanager
    def writing(self) -> Iterator[Connection]:
        """One transaction that may write: all of it is kept, or nothing."""
        with self._writer.begin() as connection:
            yield connection

    @contextmanager
    def reading(self) -> Iterator[Connection]:
        """One consistent view of the data."""
        with self._reader.begin() as connection:
            yield connection

    def migrate(self) -> None:
        """Bring the file, empty or old, to the newest layout."""
        config = Config()
        config.set_main_option("script_location", "cross_staff.storage:migrations")
        with self._writer.connect() as connection:
            config.attributes["connection"] = connection
            command.upgrade(config, "head")

    def close(self) -> None:
        self._writer.dispose()
        self._reader.dispose()


def _engine(file: Path, begin: str) -> Engine:
    engine = create_engine(f"sqlite:///{file}")

    @event.listens_for(engine, "connect")
    def prepare(dbapi_connection: Any, _record: Any) -> None:
        dbapi_connection.isolation_level = None  # the driver must not begin on its own
        cursor = dbapi_connection.cursor()
        for pragma in _PRAGMAS:
            cursor.execute(pragma)
        cursor.close()

    @event.listens_for(engine, "begin")
    def start(connection: Connection) -> None:
        connection.exec_driver_sql(begin)

    return engine
