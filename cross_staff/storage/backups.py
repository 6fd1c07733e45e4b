"""Copies of the whole database while it is served, each checked; and putting one back in its place."""

from __future__ import annotations

import os
import sqlite3
from collections.abc import Iterator
from contextlib import closing, contextmanager
from dataclasses import dataclass
from datetime import UTC, datetime
from pathlib import Path

from cross_staff.core.errors import NotKept
from cross_staff.storage.files import whole_or_nothing
from cross_staff.storage.layout import is_known, newest

FOLDER = "backups"
_BESIDE = ("-wal", "-shm", "-journal")
_MINE = "rig_revisions"  # a table that every layout has
_ENOUGH = 1.2  # room that a copy should find, in sizes of the file


@dataclass(frozen=True)
class Facts:
    """What a checked copy holds: layout, rigs, records of all their logs, when the newest revision was saved, its size
    [bytes]."""

    layout: str
    rigs: int
    records: int
    newest: datetime | None
    size: int


def _opened(file: Path) -> closing[sqlite3.Connection]:
    """A connection that only reads. Where nobody has the file open it leaves nothing beside it, and asks for no more
    than to read; else what stands in its log is read too."""
    if file.with_name(f"{file.name}-wal").exists():
        return closing(sqlite3.connect(file, timeout=30.0))
    return closing(sqlite3.connect(f"{file.resolve().as_uri()}?mode=ro&immutable=1", uri=True))


@contextmanager
def _read_only(file: Path) -> Iterator[sqlite3.Connection]:
    """A connection that only reads. Raises NotKept for what is no sound database."""
    if not file.is_file():
        raise NotKept(f"{file} is not there", "name the backup's own path")
    try:
        with _opened(file) as connection:
            yield connection
    except sqlite3.Error as error:
        code = getattr(error, "sqlite_errorcode", 0) & 0xFF
        if code == sqlite3.SQLITE_NOTADB:
            raise NotKept(f"{file} is no backup of this program: it is no database", "name another file") from error
        raise NotKept(f"{file} cannot be read: {error}", "it may be damaged: name another backup") from error


def facts(file: Path) -> Facts:
    """What a backup holds, after it was checked from end to end.

    Raises: NotKept for a file that is damaged, foreign, or of a newer version of the program.
    """
    with _read_only(file) as connection:
        tables = _tables(connection)
        if not {_MINE, "alembic_version"} <= set(tables):
            raise NotKept(f"{file} is no backup of this program: it is another's database", "name another file")
        damage = [row[0] for row in connection.execute("PRAGMA integrity_check(3)") if row[0] != "ok"]
        damage += [f"a row of {row[0]} points at nothing" for row in connection.execute("PRAGMA foreign_key_check")]
        if damage:
            raise NotKept(f"{file} is damaged ({damage[0]})", "name another backup")
        layout = connection.execute("SELECT version_num FROM alembic_version").fetchone()
        if layout is None or not is_known(layout[0]):
            name = layout[0] if layout else "none"
            newer = f"{file} was written by a newer version of this program (layout {name}; this one knows {newest()})"
            raise NotKept(newer, "bring the program up to that version first")
        counts = {name: connection.execute(f'SELECT count(*) FROM "{name}"').fetchone()[0] for name in tables}
        saved = connection.execute(f"SELECT max(saved_utc) FROM {_MINE}").fetchone()[0]
    records = sum(counts[name] for name in tables if name not in ("alembic_version", "rigs", "rig_standings"))
    moment = datetime.fromisoformat(saved).replace(tzinfo=UTC) if saved else None
    return Facts(layout[0], counts["rigs"], records, moment, file.stat().st_size)


def copy(source: Path, target: Path) -> Facts:
    """Copy a database, while others write to it, into one file that is checked; it takes the place of an older one only
    when it is whole. Returns what it holds. Raises NotKept."""
    _refuse_own(source, target)
    with whole_or_nothing(target) as draft:
        _room(source, target)
        draft.unlink(missing_ok=True)
        os.close(os.open(draft, os.O_WRONLY | os.O_CREAT | os.O_EXCL, 0o600))
        try:
            with _opened(source) as here, closing(sqlite3.connect(draft)) as there:
                here.execute("BEGIN")  # one view of the data, for the copy and for what it is held against
                counts = [here.execute(f'SELECT count(*) FROM "{table}"').fetchone() for table in _tables(here)]
                here.backup(there)
                there.execute("PRAGMA journal_mode=DELETE")  # one file, that may be read where nothing may be written
                copied = [there.execute(f'SELECT count(*) FROM "{table}"').fetchone() for table in _tables(there)]
        except sqlite3.Error as error:
            raise _not_copied(target, error) from error
        if counts != copied:
            raise NotKept(f"the copy {target} is not whole", "look at the disk, then try again")
        return facts(draft)


def _not_copied(target: Path, error: sqlite3.Error) -> NotKept:
    code = getattr(error, "sqlite_errorcode", 0) & 0xFF
    if code == sqlite3.SQLITE_FULL:
        return NotKept(f"{target} cannot be written: the disk is full", "make room, or name another place")
    if code in (sqlite3.SQLITE_CORRUPT, sqlite3.SQLITE_NOTADB):
        return NotKept(f"the data is damaged, and cannot be copied ({error})", "restore the last good backup")
    return NotKept(f"{target} cannot be written: {error}", "look at the disk, or name another place")


def _refuse_own(source: Path, target: Path) -> None:
    """A copy onto the data itself, by any name, would destroy both. Raises NotKept."""
    own = (source, *(source.with_name(f"{source.name}{end}") for end in _BESIDE))
    same = any(each.exists() and target.exists() and each.samefile(target) for each in own)
    if same or target.resolve() in {each.resolve() for each in own}:
        raise NotKept(f"{target} is the data itself", "name a file of its own for the backup")
    if target.is_dir():
        raise NotKept(f"{target} is a folder", "name a file in it")
    if not target.parent.is_dir():
        raise NotKept(f"the folder {target.parent} is not there", "make it, or plug its disk in")


def _room(source: Path, target: Path) -> None:
    """Say that a disk is full before it is."""
    needed = sum(each.stat().st_size for each in (source, source.with_name(f"{source.name}-wal")) if each.exists())
    about = os.statvfs(target.parent)
    if about.f_bavail * about.f_frsize < _ENOUGH * needed:
        short = f"{target} cannot be written: the disk is full ({needed // 1024 + 1} KB are needed)"
        raise NotKept(short, "make room, or name another place")


def _tables(connection: sqlite3.Connection) -> list[str]:
    return [name for (name,) in connection.execute("SELECT name FROM sqlite_master WHERE type = 'table' ORDER BY name")]


def free(folder: Path, stem: str, ending: str = ".sqlite3") -> Path:
    """A path in a folder, made where it is not there, that nothing has yet. Raises NotKept."""
    try:
        folder.mkdir(mode=0o700, parents=True, exist_ok=True)
    except OSError as error:
        raise NotKept(f"the folder {folder} cannot be made: {error.strerror}", "make room, or name another") from error
    names = (f"{stem}{ending}", *(f"{stem}-{count}{ending}" for count in range(2, 1000)))
    return next(folder / name for name in names if not (folder / name).exists())


def put_in_place(file: Path, fresh: Path) -> None:
    """Put a database where the data is. Nobody may have either open. Raises NotKept."""
    checkpoint(file)
    try:
        for end in _BESIDE:  # of a log that is not of this file
            file.with_name(f"{file.name}{end}").unlink(missing_ok=True)
        fresh.replace(file)
    except OSError as error:
        raise NotKept(f"{file} cannot be written: {error.strerror}", "look at the disk, then try again") from error


def remove(file: Path) -> None:
    """Take a database away, with what stands beside it."""
    for end in ("", *_BESIDE):
        file.with_name(f"{file.name}{end}").unlink(missing_ok=True)


def keep(file: Path, moment: datetime) -> Path:
    """Keep the data as it is: a checked copy; of data too damaged for one, every byte of its files. Raises NotKept."""
    stem = f"before-restore-{moment:%Y-%m-%d-%H%M%S}"
    target = free(file.parent / FOLDER, stem)
    try:
        copy(file, target)
    except NotKept:
        if _sound(file):
            raise
        for end in ("", *_BESIDE):
            beside = file.with_name(f"{file.name}{end}")
            if beside.exists():
                with whole_or_nothing(target.with_name(f"{target.name}{end}")) as draft:
                    draft.write_bytes(beside.read_bytes())
    return target


def _sound(file: Path) -> bool:
    try:
        facts(file)
    except NotKept:
        return False
    return True


def checkpoint(file: Path) -> bool:
    """Bring what stands in the write-ahead log into the file itself, where nobody works on it just now; whether all
    of it is there."""
    try:
        with closing(sqlite3.connect(file, timeout=0.0)) as connection:
            busy, _log, _done = connection.execute("PRAGMA wal_checkpoint(TRUNCATE)").fetchone()
            return busy == 0
    except sqlite3.Error:
        return False


def waits_in_log(file: Path) -> int:
    """How many bytes stand in the write-ahead log, and not in the file yet."""
    log = file.with_name(f"{file.name}-wal")
    return log.stat().st_size if log.exists() else 0
