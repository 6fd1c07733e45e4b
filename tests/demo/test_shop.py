"""The demo shop that ships is the scenario's, to the record."""

from __future__ import annotations

import json
import unittest
import zipfile
from datetime import date, timedelta
from importlib.resources import files
from typing import Any

from cross_staff.core.carry.relation import Lies
from cross_staff.demo.made_on import MADE_ON
from cross_staff.demo.shop import ARCHIVE, fill, moved, named
from cross_staff.services import bench
from cross_staff.services.carry.documents import RIG, read, written
from cross_staff.services.carry.take_in import preview
from cross_staff.services.carry.write import rig_file
from cross_staff.services.rig import open_rig
from cross_staff.storage import whole_rigs
from tests.data import WithDatabase
from tools.demo_shop import made

SHIPPED = zipfile.ZipFile(str(files("cross_staff.demo") / ARCHIVE))


class Made(WithDatabase):
    fill_with = staticmethod(made)

    def alike(self, one: Any, other: Any, where: str) -> None:
        """The same, but for the last figures that another machine's arithmetic may give."""
        self.assertIs(type(one), type(other), where)
        if isinstance(one, dict):
            self.assertEqual(one.keys(), other.keys(), where)
            for name in one:
                self.alike(one[name], other[name], f"{where}, {name}")
        elif isinstance(one, list):
            self.assertEqual(len(one), len(other), where)
            for place, pair in enumerate(zip(one, other), start=1):
                self.alike(*pair, f"{where} {place}")
        elif isinstance(one, float):
            self.assertAlmostEqual(one, other, 5, where)
        else:
            self.assertEqual(one, other, where)

    def test_what_ships_is_what_the_scenario_makes(self) -> None:
        shipped = sorted(name for name in SHIPPED.namelist() if name.startswith("rigs/"))
        self.assertEqual(len(shipped), len(bench.every(self.database)))
        for rig_id, name in enumerate(shipped, start=1):
            with self.database.reading() as connection:
                made = json.loads(written(RIG, named(whole_rigs.whole(connection, rig_id))))["rig"]
            self.alike(made, json.loads(SHIPPED.read(name))["rig"], f"make demo-shop: {name}")


class Filled(WithDatabase):
    fill_with = staticmethod(fill)

    def test_its_days_are_as_far_from_today_as_they_were_from_the_day_it_was_made_for(self) -> None:
        shipped = read(SHIPPED.read("rigs/01.json")).content
        rig = open_rig(self.database, 1)
        later = date.today() - MADE_ON
        self.assertAlmostEqual(
            (rig.history[0].saved.date() - shipped.revisions[0].saved_utc.date()).days, later.days, delta=1
        )
        self.assertAlmostEqual((rig.card.due - shipped.card.due).days, later.days, delta=1)  # type: ignore[operator]
        self.assertEqual(
            moved(b'"2026-11-24T01:02:03Z", "2026-02-28"', timedelta(2)), b'"2026-11-26T01:02:03Z", "2026-03-02"'
        )

    def test_a_rig_of_the_demo_that_was_kept_is_known_again(self) -> None:
        kept = read(rig_file(self.database, 3, "zip").content)
        self.assertEqual(preview(self.database, kept).parts[0].relation.lies, Lies.SAME)


if __name__ == "__main__":
    unittest.main()
