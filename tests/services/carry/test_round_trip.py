"""Any rig that could have been written here is the same to the byte after a journey through a file and another shop."""

from __future__ import annotations

import tempfile
import unittest
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import replace
from pathlib import Path

from hypothesis import assume, given, settings

from cross_staff.core.carry.faults import rig_faults
from cross_staff.core.carry.records import CarriedRig
from cross_staff.services.carry.documents import RIG, archived, read, written
from cross_staff.services.carry.take_in import take_in
from cross_staff.services.carry.write import rig_file
from cross_staff.storage import whole_rigs
from cross_staff.storage.database import Database
from tests.carried import PICTURES, rigs
from tests.data import put_database
from tests.rigs import NOON


class RoundTrip(unittest.TestCase):
    @contextmanager
    def empty_shop(self) -> Iterator[Database]:
        with tempfile.TemporaryDirectory(prefix="cross-staff-test-") as folder:
            put_database(Path(folder) / "shop.sqlite3")
            database = Database(Path(folder) / "shop.sqlite3")
            yield database
            database.close()

    @settings(max_examples=20)
    @given(rigs())
    def test_to_the_byte(self, rig: CarriedRig) -> None:
        self.assertEqual(rig_faults(rig), ())
        pictures = {each.sha256: PICTURES[each.sha256] for each in rig.photos}
        content = archived(rig, pictures)
        document = read(content)
        self.assertEqual(document.content, rig)
        self.assertFalse(document.edited)
        with self.empty_shop() as database:
            rig_id = take_in(database, document, NOON).rig_id or 0
            self.assertEqual(rig_file(database, rig_id, "json").content.decode(), written(RIG, rig).decode())
            self.assertEqual(rig_file(database, rig_id, "zip").content, content)

    @settings(max_examples=5)
    @given(rigs(), rigs())
    def test_a_journey_in_steps_is_one_journey(self, rig: CarriedRig, other: CarriedRig) -> None:
        """A part of its logs first, all of them later, with another rig's records in between."""
        assume(
            not {rig.uid, *(each.uid for each in rig.instruments)} & {other.uid, *(o.uid for o in other.instruments)}
        )
        part = replace(rig, observations=rig.observations[:1], proof_lines=(), range_moves=rig.range_moves[:1])
        with self.empty_shop() as database:
            for each in (part, other, rig):
                rig_id = take_in(database, read(written(RIG, each)), NOON).rig_id or 0
            with database.reading() as connection:
                self.assertEqual(whole_rigs.whole(connection, rig_id), rig)


if __name__ == "__main__":
    unittest.main()
