"""Putting a backup back: checked first, brought up beside the data, then put in its place; what was there is kept."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from pathlib import Path

from cross_staff.core.errors import NotKept
from cross_staff.storage import backups
from cross_staff.storage.backups import Facts
from cross_staff.storage.database import Database
from cross_staff.storage.serving import only_server


@dataclass(frozen=True)
class Restored:
    """What was put back, and where what was there before is now; None where there was nothing."""

    facts: Facts
    kept: Path | None


def check(backup: Path) -> Facts:
    """What a backup holds, checked from end to end. Raises NotKept."""
    return backups.facts(backup)


def restore(database_file: Path, backup: Path, now: datetime) -> Restored:
    """Put a backup in the place of the data. While a server works on it nothing is done.

    Raises: NotKept, and leaves what was there, for a backup that is damaged, foreign or newer, or is the data itself.
    """
    if database_file.exists() and backup.exists() and backup.samefile(database_file):
        raise NotKept(f"{backup} is the data itself", "name a backup")
    found = backups.facts(backup)
    with only_server(database_file.parent):
        fresh = database_file.with_name(f".{database_file.name}.restored")
        backups.remove(fresh)
        try:
            backups.copy(backup, fresh)
            brought_up = Database(fresh)
            try:
                brought_up.migrate()
            finally:
                brought_up.close()
            there = database_file.exists() and database_file.stat().st_size > 0
            kept = backups.keep(database_file, now) if there else None
            backups.put_in_place(database_file, fresh)
        finally:
            backups.remove(fresh)
    return Restored(found, kept)
