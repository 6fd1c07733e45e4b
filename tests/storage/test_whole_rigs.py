"""A rig's file loses nothing: every table of a rig, and every column of it, is in a record."""

from __future__ import annotations

import unittest
from dataclasses import fields

from cross_staff.core.carry.records import LOGS, CarriedRig
from cross_staff.storage import tables
from cross_staff.storage.whole_rigs import LOGGED

# worked out again, or typed and not saved
NOT_CARRIED = {"rig_standings", "rig_drafts", "authors", "archer_links", "rig_days"}
OWN = {"id", "rig_id", "jpeg"}  # the picture lies beside the document
NAMED = {"photo": "photo_id"}


class EveryColumn(unittest.TestCase):
    def test_every_table_of_a_rig_is_a_log_of_its_file(self) -> None:
        of_rigs = {name for name, table in tables.metadata.tables.items() if "rig_id" in table.c}
        self.assertEqual({log.table.name for log in LOGGED.values()}, of_rigs - NOT_CARRIED)
        self.assertEqual(set(LOGGED), set(LOGS))
        self.assertLessEqual(set(LOGS), {each.name for each in fields(CarriedRig)})

    def test_every_column_is_in_its_record(self) -> None:
        for name, log in LOGGED.items():
            columns = {NAMED.get(each.name, each.name) for each in fields(log.record)}
            self.assertEqual(columns, set(log.table.c.keys()) - OWN, name)

    def test_the_rig_itself(self) -> None:
        carried = {each.name for each in fields(CarriedRig)}
        self.assertEqual(set(tables.rigs.c.keys()) - carried, {"id", "version"})


if __name__ == "__main__":
    unittest.main()
