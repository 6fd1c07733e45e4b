"""A database in a folder of its own, empty or filled; what fills it is run once, then copied."""

from __future__ import annotations

import os
import sqlite3
import tempfile
import unittest
from collections.abc import Callable
from contextlib import closing
from pathlib import Path

from cross_staff.core.rig.card import RigCard
from cross_staff.storage.database import Database
from tests.rigs import full_card
from tests.shop import Shop

Fill = Callable[[Database], None]
FOLDER = "TEST_DATA"  # where all processes of one run keep what was filled
_MADE: dict[object, bytes] = {}


def put_database(file: Path, fill_with: Fill | None = None) -> None:
    """Write a database of the newest layout, filled by `fill_with`, to a file that may be there already."""
    if fill_with not in _MADE:
        _MADE[fill_with] = _made(fill_with)
    file.parent.mkdir(parents=True, exist_ok=True)
    file.write_bytes(_MADE[fill_with])


def _made(fill_with: Fill | None) -> bytes:
    name = "empty" if fill_with is None else f"{fill_with.__module__}.{fill_with.__qualname__}"
    shared = Path(os.environ[FOLDER], name) if FOLDER in os.environ else None
    if shared and shared.exists():
        return shared.read_bytes()
    with tempfile.TemporaryDirectory(prefix="cross-staff-test-") as folder:
        file = Path(folder) / "made.sqlite3"
        database = Database(file)
        database.migrate()
        if fill_with:
            fill_with(database)
        database.close()
        with closing(sqlite3.connect(file)) as copied:
            copied.execute("PRAGMA wal_checkpoint(TRUNCATE)")
        made = file.read_bytes()
    if shared:
        begun = shared.with_suffix(f".{os.getpid()}")
        begun.write_bytes(made)
        begun.replace(shared)
    return made


class WithDatabase(unittest.TestCase):
    """Each test has a real file of its own."""

    fill_with: Fill | None = None

    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory(prefix="cross-staff-test-")
        self.addCleanup(folder.cleanup)
        self.file = Path(folder.name) / "data" / "cross-staff.sqlite3"
        put_database(self.file, type(self).fill_with)
        self.database = Database(self.file)
        self.addCleanup(self.database.close)

    @property
    def shop(self) -> Shop:
        """Puts rigs on the bench, and takes them as far as a test needs."""
        return Shop(self.database, {})

    def add_rig(self, full: RigCard | None = None) -> int:
        """A rig whose card is complete, at revision 2."""
        return self.shop.rig(full or full_card())
