"""Opening the database: pragmas, explicit BEGIN, migrations."""

from __future__ import annotations

import sqlite3
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Any

from alembic import command
from alembic.config import Config
from sqlalchemy import Connection, Engine, create_engine, event
from sqlalchemy.exc import DBAPIError

from cross_staff.core.errors import Busy, NotKept

BUSY_TIMEOUT_MS = 5000
_PRAGMAS = ("PRAGMA journal_mode=WAL", "PRAGMA synchronous=FULL", "PRAGMA foreign_keys=ON")
_LOOK = "look at the disk that holds the data folder, then try again"
_FAILURES = {
    sqlite3.SQLITE_FULL: NotKept("the disk is full", "make room on it, then try again"),
    sqlite3.SQLITE_READONLY: NotKept("the data may be read but not written", "let this program write to its folder"),
    sqlite3.SQLITE_CANTOPEN: NotKept("the data file cannot be opened", _LOOK),
    sqlite3.SQLITE_IOERR: NotKept("the disk did not answer as it should", _LOOK),
    sqlite3.SQLITE_CORRUPT: NotKept("the data file is damaged", "stop, keep a copy of it, and restore a backup"),
    sqlite3.SQLITE_NOTADB: NotKept("the data file is no database", "stop, keep a copy of it, and restore a backup"),
}


@contextmanager
def _failures_said() -> Iterator[None]:
    """What the database could not do, as an error of this program. Raises: Busy, NotKept."""
    try:
        yield
    except DBAPIError as error:
        code = getattr(error.orig, "sqlite_errorcode", 0) & 0xFF
        if code in (sqlite3.SQLITE_BUSY, sqlite3.SQLITE_LOCKED):
            raise Busy("another program holds the data just now", "it is tried again, or try again yourself") from error
        if code in _FAILURES:
            known = _FAILURES[code]
            raise NotKept(str(known), known.remedy) from error
        raise


class Database:
    """Two engines on one file: writers take the lock at BEGIN, readers never wait for it."""

    def __init__(self, file: Path, busy_timeout_ms: int = BUSY_TIMEOUT_MS) -> None:
        file.parent.mkdir(parents=True, exist_ok=True)
        self.file = file
        self._writer = _engine(file, "BEGIN IMMEDIATE", busy_timeout_ms)
        self._reader = _engine(file, "BEGIN", busy_timeout_ms)

    @contextmanager
    def writing(self) -> Iterator[Connection]:
        """One transaction that may write: all of it is kept, or nothing. Raises: Busy, NotKept."""
        with _failures_said(), self._writer.begin() as connection:
            yield connection

    @contextmanager
    def reading(self) -> Iterator[Connection]:
        """One consistent view of the data. Raises: NotKept."""
        with _failures_said(), self._reader.begin() as connection:
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


def _engine(file: Path, begin: str, busy_timeout_ms: int) -> Engine:
    # sixteen at once, as many as wait for the lock; what is asked beyond them waits for its turn
    engine = create_engine(f"sqlite:///{file}", pool_size=16, max_overflow=48)

    @event.listens_for(engine, "connect")
    def prepare(dbapi_connection: Any, _record: Any) -> None:
        dbapi_connection.isolation_level = None  # the driver must not begin on its own
        cursor = dbapi_connection.cursor()
        for pragma in (f"PRAGMA busy_timeout={busy_timeout_ms}", *_PRAGMAS):
            cursor.execute(pragma)
        cursor.close()

    @event.listens_for(engine, "begin")
    def start(connection: Connection) -> None:
        connection.exec_driver_sql(begin)

    return engine
