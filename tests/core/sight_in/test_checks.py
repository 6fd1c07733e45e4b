import unittest
from dataclasses import replace

from cross_staff.core.errors import InvalidValue, NotFound
from cross_staff.core.rig.log import BenchEntry, check_pin
from cross_staff.core.sight_in.checks import check_end, check_entry, check_move, check_session
from cross_staff.core.sight_in.log import STATION, RangeSession
from tests.ends import end, moved, ranged_card
from tests.rigs import NOON

SESSION = RangeSession(1, 1, NOON)


def entry(key: str, choice: str = "", number: float | None = None, note: str = "") -> BenchEntry:
    return BenchEntry(STATION, key, 1, NOON, number, choice, note=note)


class Checks(unittest.TestCase):
    def field(self, check, *arguments: object) -> str:  # type: ignore[no-untyped-def]
        """The field that is refused; empty where it is taken."""
        try:
            check(*arguments)
        except InvalidValue as refused:
            return refused.field
        return ""

    def test_an_end(self) -> None:
        for changes, field in (
            ({"dial_mm": -200.0}, ""),
            ({"dial_mm": -200.5}, "dial"),
            ({"dial_mm": 400.0}, ""),
            ({"dial_mm": 400.5}, "dial"),
            ({"ranged_m": 0.4}, "distance"),
            ({"ranged_m": None}, ""),
            ({"pin": 2}, ""),
            ({"pin": 3}, "pin"),
        ):
            with self.subTest(changes):
                self.assertEqual(self.field(check_end, replace(end(1, 20.0), **changes), 3), field)
        many = end(1, 20.0).shots * 167
        self.assertEqual(self.field(check_end, replace(end(1, 20.0), shots=many[:1000]), 3), "")
        self.assertEqual(self.field(check_end, replace(end(1, 20.0), shots=many[:1001]), 3), "shots")

    def test_a_pin_is_one_of_the_sights_or_the_one_it_was_shot_with(self) -> None:
        for pin, pins, before, words in (
            (0, 3, None, ""),
            (2, 3, None, ""),
            (3, 3, None, "has 3 pins"),
            (-1, 3, None, "has 3 pins"),
            (3, 3, 3, ""),
            (2, 2, 3, "has 2 pins"),
            (1, 1, None, "one pin"),
            (0, 0, None, ""),
            (1, 0, 0, "one pin"),
        ):
            with self.subTest(pin=pin, pins=pins, before=before):
                if not words:
                    check_pin(pin, pins, before)
                    continue
                with self.assertRaisesRegex(InvalidValue, words):
                    check_pin(pin, pins, before)

    def test_a_session(self) -> None:
        for changes, field in (
            ({"crosswind_mps": -20.0}, ""),
            ({"crosswind_mps": -20.5}, "crosswind"),
            ({"crosswind_mps": 20.0}, ""),
            ({"crosswind_mps": 20.5}, "crosswind"),
            ({"temperature_c": -40.0}, ""),
            ({"temperature_c": 60.0}, ""),
            ({"temperature_c": 60.5}, "temperature"),
            ({"temperature_c": -40.5}, "temperature"),
            ({"counts": "no"}, "counts"),
        ):
            with self.subTest(changes):
                self.assertEqual(self.field(check_session, replace(SESSION, **changes)), field)

    def test_a_movement(self) -> None:
        for amount, field in (
            (-400.0, ""),
            (400.0, ""),
            (-400.5, "amount"),
            (400.5, "amount"),
            (0.0, "amount"),
            (0.5, ""),
        ):
            self.assertEqual(self.field(check_move, moved(1, "knob", "windage", amount)), field, amount)

    def test_what_is_said(self) -> None:
        card = ranged_card("fixed_pins")
        for said, field in (
            (entry("circle", number=0.01), ""),
            (entry("circle", number=1.0), ""),
            (entry("circle", number=1.1), "circle"),
            (entry("circle"), "circle"),
            (entry("face", "dot"), ""),
            (entry("face", "ring", 0.01), ""),
            (entry("face", "ring", 1.5), ""),
            (entry("face", "ring", 1.6), "face_size"),
            (entry("face", "square"), "face"),
            (entry("step:home", "done"), ""),
            (entry("step:each_2", "done"), ""),
            (entry("step:home", "maybe"), "state"),
            (entry("step:home", "skipped"), "confirmed_by"),
            (entry("step:home", "skipped", note="Sela Brandt"), ""),
            (entry("choose:stop", "fixed"), ""),
            (entry("import"), ""),
        ):
            with self.subTest(said.key, choice=said.choice, number=said.number):
                self.assertEqual(self.field(check_entry, card, said), field)

    def test_what_this_sight_does_not_have(self) -> None:
        for said in (
            entry("step:fly", "done"),
            entry("choose:stop", "soft"),
            entry("choose:moon", "full"),
            entry("weather"),
        ):
            with self.subTest(said.key), self.assertRaises(NotFound):
                check_entry(ranged_card("fixed_pins"), said)
