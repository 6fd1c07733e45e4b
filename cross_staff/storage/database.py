"""Opening the database: pragmas, explicit BEGIN, migrations."""

from __future__ import annotations

import os
import sqlite3
import threading
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Any

from alembic import command
from alembic.runtime.migration import MigrationContext
from sqlalchemy import Connection, Engine, create_engine, event
from sqlalchemy.exc import DBAPIError

from cross_staff.core.errors import Busy, NotKept
from cross_staff.storage import authors, backups, layout

BUSY_TIMEOUT_MS = 5000
_PRAGMAS = ("PRAGMA journal_mode=WAL", "PRAGMA synchronous=FULL", "PRAGMA foreign_keys=ON")
_OWN_FOLDER, _OWN_FILE = 0o700, 0o600
_ELSEWHERE = "name another folder with --data"
_RESTORE = "stop, keep a copy of it, and restore a backup"
_LOOK = "look at the disk that holds the data folder, then try again"
_FAILURES = {
    sqlite3.SQLITE_FULL: NotKept("the disk is full", "make room on it, then try again"),
    sqlite3.SQLITE_READONLY: NotKept("the data may be read but not written", "let this program write to its folder"),
    sqlite3.SQLITE_CANTOPEN: NotKept("the data file cannot be opened", _LOOK),
    sqlite3.SQLITE_IOERR: NotKept("the disk did not answer as it should", _LOOK),
    sqlite3.SQLITE_CORRUPT: NotKept("the data file is damaged", _RESTORE),
    sqlite3.SQLITE_NOTADB: NotKept("the data file is no database", f"move that file away, or {_ELSEWHERE}"),
}


@contextmanager
def _failures_said() -> Iterator[None]:
    """What the database could not do, as an error of this program. Raises: Busy, NotKept."""
    try:
        yield
    except (DBAPIError, sqlite3.Error) as error:
        code = getattr(getattr(error, "orig", error), "sqlite_errorcode", 0) & 0xFF
        if code in (sqlite3.SQLITE_BUSY, sqlite3.SQLITE_LOCKED):
            raise Busy("another program holds the data just now", "try again in a moment") from error
        if code in _FAILURES:
            known = _FAILURES[code]
            raise NotKept(str(known), known.remedy) from error
        raise


class Database:
    """Two engines on one file: writers take the lock at BEGIN, readers never wait for it.

    Raises: NotKept where folder or file cannot be used.
    """

    def __init__(self, file: Path, busy_timeout_ms: int = BUSY_TIMEOUT_MS) -> None:
        _made(file)
        self.file = file
        self._turn, self._turn_s = threading.Lock(), busy_timeout_ms / 1000.0
        self._writer = _engine(file, "BEGIN IMMEDIATE", busy_timeout_ms)
        self._reader = _engine(file, "BEGIN", busy_timeout_ms)
        self._hasty = _engine(file, "BEGIN IMMEDIATE", 0)
        for engine in (self._writer, self._hasty):
            authors.watch(engine)

    @contextmanager
    def writing(self, wait: bool = True) -> Iterator[Connection]:
        """One transaction that may write: all of it is kept, or nothing. While another program holds the data it
        waits a while, or not at all. Raises: Busy, NotKept."""
        with (
            self._own_turn(wait),
            _failures_said(),
            (self._writer if wait else self._hasty).begin() as connection,
        ):
            yield connection
            authors.sign(connection)

    @contextmanager
    def _own_turn(self, wait: bool) -> Iterator[None]:
        """One writer of this program after the other: they would sleep and ask again, each longer than the one before,
        while nobody holds the data. Raises Busy."""
        if not self._turn.acquire(timeout=self._turn_s if wait else 0.0):
            raise Busy("another program holds the data just now", "try again in a moment")
        try:
            yield
        finally:
            self._turn.release()

    @contextmanager
    def reading(self) -> Iterator[Connection]:
        """One consistent view of the data. Raises: NotKept."""
        with _failures_said(), self._reader.begin() as connection:
            yield connection

    def migrate(self) -> None:
        """Bring the file, empty or old, to the newest layout; an old one is copied, and the copy checked, first.

        Raises: Busy; NotKept for a damaged file, or one that a newer program wrote.
        """
        with _failures_said(), self._writer.connect() as connection:
            revision = self._sound(connection)
            if revision is None:
                return
            connection.rollback()
            config = layout.migrations()
            config.attributes["connection"] = connection
            command.upgrade(config, "head")

    def _sound(self, connection: Connection) -> str | None:
        """The layout that the file has, where it is sound and older than the newest; None where it is new."""
        damage = connection.exec_driver_sql("PRAGMA quick_check(1)").scalar()
        if damage != "ok":
            raise NotKept(f"{self.file} is damaged ({damage})", _RESTORE)
        now = MigrationContext.configure(connection).get_current_revision()
        if now == layout.newest():
            return None
        if now is not None and not layout.is_known(now):
            newer = f"{self.file} was written by a newer version of this program (layout {now})"
            raise NotKept(newer, f"start that version, or {_ELSEWHERE}")
        if now is not None:
            connection.rollback()
            folder = self.file.parent / backups.FOLDER
            backups.copy(self.file, backups.free(folder, f"{self.file.stem}-before-{layout.newest()}"))
        return now or ""

    def close(self) -> None:
        for engine in (self._writer, self._reader, self._hasty):
            engine.dispose()


def _made(file: Path) -> None:
    """The folder and the file, for this user alone. Raises NotKept."""
    try:
        if not file.parent.exists():
            file.parent.mkdir(parents=True, mode=_OWN_FOLDER)
        os.close(os.open(file, os.O_RDWR | os.O_CREAT, _OWN_FILE))
        if file.stat().st_uid == os.geteuid():
            file.chmod(_OWN_FILE)
    except PermissionError as error:
        raise NotKept(f"{file} may not be written", f"let this user write there, or {_ELSEWHERE}") from error
    except OSError as error:
        reason = (error.strerror or str(error)).lower()
        raise NotKept(f"{file} cannot be made: {reason}", _ELSEWHERE) from error


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
