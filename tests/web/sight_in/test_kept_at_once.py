"""A shot is kept before anything is worked out, and also of a rig that cannot be worked out."""

import json
import logging
import re
import unittest
from unittest import mock

from cross_staff.core.level.log import LevelReading
from cross_staff.storage import level_readings, range_log
from tests.rigs import NOON
from tests.shop import rig_card
from tests.web.client import WithClient, fields


class KeptAtOnce(WithClient):
    def setUp(self) -> None:
        super().setUp()
        self.rig_id = self.add_rig(rig_card())
        page = self.client.get(f"/rigs/{self.rig_id}/sight_in").text
        form = re.search(r'<form[^>]*id="end".*?</form>', page, re.S)
        assert form is not None
        self.end = fields(form.group(0)) | {"key": "first-end"}

    def shoot(self, count: int) -> dict[str, object]:
        """What the page is told of an end with so many arrows."""
        shots = [{"key": f"s{n}", "right": 3.0 * n, "up": -2.0, "bad": False} for n in range(count)]
        data = self.end | {"placed": json.dumps(shots)}
        answer = self.client.post(f"/rigs/{self.rig_id}/sight_in/end", data=data, headers={"HX-Request": "true"})
        self.assertEqual(answer.status_code, 200)
        return dict(answer.json())

    def kept(self) -> int:
        with self.database.reading() as connection:
            return sum(len(end.shots) for end in range_log.ends(connection, self.rig_id))

    def test_an_arrow_waits_for_no_reckoning(self) -> None:
        with mock.patch("cross_staff.services.rig.evaluated", side_effect=AssertionError("worked out")):
            for count in (1, 2, 3):
                told = self.shoot(count)
                self.end["seen"] = str(told["seen"])
                self.assertEqual(told["kept"], count)
        self.assertEqual(self.kept(), 3)

    def test_a_rig_in_trouble_keeps_its_arrows(self) -> None:
        """What was really done can always be recorded."""
        with self.database.writing() as connection:
            for far in (1.0, 1e160, -1e160):
                look = LevelReading("first", "rail_vial", 0.0, far, -far, 2, NOON, 1e160)
                level_readings.add(connection, self.rig_id, look)
        with self.assertLogs("cross_staff", logging.ERROR):
            self.assertEqual(self.client.get(f"/rigs/{self.rig_id}/sight_in").status_code, 500)
        self.assertEqual(self.shoot(2)["kept"], 2)
        self.assertEqual(self.kept(), 2)


if __name__ == "__main__":
    unittest.main()
