"""A backup now, the backup of the night, and how the last one went."""

from __future__ import annotations

import threading
from dataclasses import dataclass, replace
from datetime import UTC, datetime, timedelta
from pathlib import Path

from pydantic import TypeAdapter, ValidationError

from cross_staff.core.errors import InvalidValue, NotKept
from cross_staff.services.keeping.nights import kept, last_night, name_of, night_of
from cross_staff.storage import backups
from cross_staff.storage.backups import Facts
from cross_staff.storage.files import put_file

STATE = "backups.json"
_ONE_AT_A_TIME = threading.Lock()  # the keeper's, and one that is asked for by hand
TRY_AGAIN = timedelta(hours=1)
LATE = timedelta(hours=49)  # two nights and an hour without one


@dataclass(frozen=True)
class BackupState:
    """How backups went: the last that was made, when and how large [bytes]; the last that could not be made, when and
    why, with what to do about it."""

    made: datetime | None = None
    file: str = ""
    size: int = 0
    failed: datetime | None = None
    reason: str = ""
    remedy: str = ""

    @property
    def failing(self) -> bool:
        """Whether the last try failed."""
        return self.failed is not None and (self.made is None or self.failed >= self.made)

    def late(self, now: datetime) -> bool:
        """Whether the last one is older than it should be."""
        return self.made is not None and now - self.made > LATE


_STATE = TypeAdapter(BackupState)
_UNWRITTEN: dict[Path, BackupState] = {}


@dataclass(frozen=True)
class Keeping:
    """Where the data is, and where the backups of the night go; `own`, whether that folder is the program's own, which
    it makes: another disk is not made where it is not plugged in."""

    database_file: Path
    folder: Path
    own: bool

    @classmethod
    def of(cls, database_file: Path, named: Path | None) -> Keeping:
        """By the settings: the folder beside the data, or the one that was named."""
        return cls(database_file, named or database_file.parent / backups.FOLDER, named is None)


def state_of(keeping: Keeping) -> BackupState:
    """How backups went; nothing where there was none, or where that cannot be read."""
    if keeping.database_file in _UNWRITTEN:
        return _UNWRITTEN[keeping.database_file]
    try:
        return _STATE.validate_json((keeping.database_file.parent / STATE).read_bytes())
    except (OSError, ValidationError):
        return BackupState()


def _note(keeping: Keeping, state: BackupState) -> None:
    """Write down how it went; where the disk is too full even for that it is remembered."""
    _UNWRITTEN.pop(keeping.database_file, None)
    try:
        put_file(keeping.database_file.parent / STATE, _STATE.dump_json(state))
    except NotKept:
        _UNWRITTEN[keeping.database_file] = state


def backup(database_file: Path, target: Path, over: bool = False) -> Facts:
    """Copy everything, while it is served, into one checked file; returns what it holds.

    Args: over, whether a file that is there may be replaced, which must be a backup itself.
    Raises: InvalidValue where a file is there; NotKept.
    """
    if not database_file.exists():
        raise NotKept(f"there is no data at {database_file}", "name its folder with --data")
    if target.exists() and not target.is_dir() and not target.samefile(database_file):
        if not over:
            raise InvalidValue("file", f"{target} is there already: name another, or say --over")
        backups.facts(target)
    return backups.copy(database_file, target)


def tonight(keeping: Keeping, now: datetime, again: bool = False) -> BackupState | None:
    """Make the backup of the last night where there is none yet, and let go of those that are older than are kept.

    Args: now, with its zone; the night is the shop's own. again, make it whether there is one or not.
    Returns: how it went; None where none was due.
    """
    with _ONE_AT_A_TIME:
        return _tonight(keeping, now, again)


def _tonight(keeping: Keeping, now: datetime, again: bool) -> BackupState | None:
    local, state = now.astimezone(), state_of(keeping)
    target = keeping.folder / name_of(last_night(local))
    if not again and not _due(state, target, now):
        return None
    try:
        if keeping.own:
            keeping.folder.mkdir(mode=0o700, parents=True, exist_ok=True)
        facts = backups.copy(keeping.database_file, target)
        _let_go(keeping.folder)
        state = BackupState(now, str(target), facts.size)
    except NotKept as error:
        state = replace(state, failed=now, reason=str(error), remedy=error.remedy)
    except OSError as error:
        state = replace(state, failed=now, reason=f"{target}: {error.strerror}", remedy="look at the disk")
    _note(keeping, state)
    return state


def _due(state: BackupState, target: Path, now: datetime) -> bool:
    if state.failing and state.failed is not None and timedelta() <= now - state.failed < TRY_AGAIN:
        return False
    return not (target.exists() and state.file == str(target) and not state.failing)


def _let_go(folder: Path) -> None:
    """Remove backups of nights that are not kept; no other file is touched."""
    nights = {night: path for path in folder.iterdir() if (night := night_of(path.name)) is not None}
    for night in set(nights) - kept(nights):
        nights[night].unlink(missing_ok=True)


def folder_of(keeping: Keeping) -> list[Path]:
    """Every copy that is kept, the newest first: of nights, and from before a migration or a restore."""
    folders = {keeping.folder, keeping.database_file.parent / backups.FOLDER}
    files = [file for folder in folders if folder.is_dir() for file in folder.glob("*.sqlite3") if file.is_file()]
    return sorted(files, key=lambda file: file.stat().st_mtime, reverse=True)


def size_of(database_file: Path) -> int:
    """How large the data is, with what stands in its log [bytes]."""
    own = database_file.stat().st_size if database_file.exists() else 0
    return own + backups.waits_in_log(database_file)


def idle_since(database_file: Path, now: datetime) -> timedelta | None:
    """How long nothing was written that is not in the file itself yet; None where all of it is."""
    log = database_file.with_name(f"{database_file.name}-wal")
    if not backups.waits_in_log(database_file):
        return None
    return now - datetime.fromtimestamp(log.stat().st_mtime, UTC)
