"""The target's pure parts, in the browser that runs them."""

from __future__ import annotations

import json
from typing import Any

from tests.browser import InBrowser


class Shots(InBrowser):
    def setUp(self) -> None:
        super().setUp()
        self.page = self.open("/sights")

    def asked(self, script: str, value: object = None) -> Any:
        """What a script makes of the module `s` and a value `v`."""
        return self.page.evaluate(
            f"async (v) => {{ const s = await import('/static/js/sight_in/shots.js'); return {script}; }}", value
        )

    def test_a_point_of_the_picture_and_back(self) -> None:
        self.assertEqual(self.asked("s.toMm(280, 280, 150)"), {"right": 0, "up": 0})
        self.assertEqual(self.asked("s.toMm(560, 0, 150)"), {"right": 150, "up": 150})
        self.assertEqual(self.asked("s.toMm(140, 420, 150)"), {"right": -75, "up": -75})
        for right, up in ((0, 0), (-75, 40), (120, -130)):
            there = self.asked("s.toPicture(v, 150)", {"right": right, "up": up})
            back = self.asked("s.toMm(v.x, v.y, 150)", there)
            self.assertAlmostEqual(back["right"], right)
            self.assertAlmostEqual(back["up"], up)

    def test_a_shot_off_the_picture_stands_at_its_edge(self) -> None:
        far = {"right": 900, "up": -10}
        self.assertEqual(self.asked("[s.offPicture(v, 150), s.toPicture(v, 150).x]", far), [True, 552])
        self.assertFalse(self.asked("s.offPicture(v, 150)", {"right": 150, "up": -150}))

    def test_numbers_as_they_are_typed(self) -> None:
        for text, value in (("21", 21), ("-34,5", -34.5), (" −3 ", -3), ("0", 0)):
            self.assertEqual(self.asked("s.typedMm(v)", text), value)
        for text in ("", "wide", "1.2.3"):
            self.assertTrue(self.asked("Number.isNaN(s.typedMm(v))", text), text)
        self.assertEqual(self.asked("[s.onButt(1, 2), s.onButt(2001, 0), s.onButt(NaN, 0)]"), [True, False, False])

    def test_two_windows_are_one_end(self) -> None:
        end = {"key": "e", "shots": [{"key": "a", "right": 1}, {"key": "b", "right": 2}], "back": ["x"]}
        placed = [{"key": "b", "right": 9}, {"key": "c", "right": 3}, {"key": "x", "right": 4}]
        values = {"placed": json.dumps(placed), "taken_back": "a"}
        both = self.asked("s.joined(v.end, v.values)", {"end": end, "values": values})
        self.assertEqual([(shot["key"], shot["right"]) for shot in both["shots"]], [("b", 9), ("c", 3)])
        self.assertEqual((sorted(both["back"]), both["key"]), (["a", "x"], "e"))
        self.assertEqual(self.asked("s.joined(v, {})", end)["shots"], end["shots"])

    def test_what_waits_is_counted_in_arrows(self) -> None:
        def one(placed: str, **more: bool) -> dict[str, object]:
            return {"values": {"placed": placed}, **more}

        ends = {"a": one("[1, 2]"), "b": one("[3]", sent=True), "c": one("[4]", asked=True), "d": one("")}
        self.assertEqual(self.asked("[s.unsent(v).length, s.away(v)]", {"ends": ends}), [2, 2])
