"""A database in a folder of its own, with helpers to fill it."""

from __future__ import annotations

import tempfile
import unittest
from pathlib import Path

from cross_staff.core.rig.card import RigCard
from cross_staff.services import bench
from cross_staff.services.card import save as card
from cross_staff.storage.database import Database
from tests.rigs import NOON, full_card


class WithDatabase(unittest.TestCase):
    """Each test has a real file, migrated from empty."""

    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory(prefix="cross-staff-test-")
        self.addCleanup(folder.cleanup)
        self.file = Path(folder.name) / "data" / "cross-staff.sqlite3"
        self.database = Database(self.file)
        self.addCleanup(self.database.close)
        self.database.migrate()

    def add_rig(self, full: RigCard | None = None) -> int:
        """A rig whose card is complete, at revision 2."""
        rig_id = bench.add(self.database, "Test bow", "Maren Oake", {}, NOON)
        card.save(self.database, rig_id, 1, full or full_card(), {}, NOON, "measured")
        return rig_id
