"""A form with a field that its station does not have is refused whole: nothing of it is kept in silence."""

from __future__ import annotations

import unittest

from cross_staff.services.rig import open_rig
from tests.web.client import WithClient


class UnknownFields(WithClient):
    def setUp(self) -> None:
        super().setUp()
        self.rig_id = self.add_rig()

    def refused(self, path: str, typed: dict[str, str], name: str, **more: object) -> None:
        before = open_rig(self.database, self.rig_id)
        answer = self.client.post(f"/rigs/{self.rig_id}{path}", data=typed | {name: "7"}, **more)
        self.assertEqual(answer.status_code, 422, path)
        self.assertIn(f"The field “{name}”: no form here has it", answer.text)
        after = open_rig(self.database, self.rig_id)
        self.assertEqual((before.log, before.card, before.revision), (after.log, after.card, after.revision))

    def test_at_every_station(self) -> None:
        self.refused("/card", self.form(f"/rigs/{self.rig_id}/card"), "eye_to_sihgt")
        self.refused("/card/sight", self.form(f"/rigs/{self.rig_id}/card/sight"), "control_1_per_klick_mm")
        self.refused("/prepare/timing", {"choice": "together"}, "tilt")
        self.refused("/mount/place", {"hole": "1"}, "dail")
        self.refused("/level/plumb", {"side": "0", "fore": "0"}, "farther")
        self.refused("/sight_in/end", {"key": "a" * 16, "distance": "18", "shots": "1 2"}, "pins")
        self.refused("/tape", {"row-0-distance": "18", "row-0-mark": "20", "row-0-key": "a" * 16}, "row-0-marks")

    def test_beside_a_photo(self) -> None:
        self.refused("/mount/marks", {"joint": "dovetail"}, "places", files={"photo": ("", b"")})

    def test_what_two_windows_are_asked_is_known(self) -> None:
        typed = {"row-0-distance": "18", "row-0-mark": "20", "row-0-key": "a" * 16, "choose-row-0": "mine"}
        answer = self.client.post(f"/rigs/{self.rig_id}/tape", data=typed)
        self.assertEqual(answer.status_code, 303)

    def test_at_the_bench(self) -> None:
        answer = self.client.post("/rigs", data={"name": "Grey bow", "archr": "Maren Oake"})
        self.assertEqual(answer.status_code, 422)
        self.assertNotIn("Grey bow", self.client.get("/").text)


if __name__ == "__main__":
    unittest.main()
