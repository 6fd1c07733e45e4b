import unittest

from cross_staff.web.forms.numbers import NotANumber, read, read_count, read_height, read_list
from cross_staff.web.forms.units import CHOICES, Units, fixed, trimmed

METRIC, YARDS = Units(), Units("yd", "in", "in", "fps", "gr")


class Reading(unittest.TestCase):
    def test_plain_numbers_in_the_chosen_unit(self) -> None:
        self.assertEqual(read("61", "distance", METRIC).value, 61.0)
        self.assertAlmostEqual(read("61", "distance", YARDS).value, 55.7784)
        self.assertAlmostEqual(read(" 271.5 ", "speed", METRIC).value, 82.7532)

    def test_a_decimal_comma_is_read_and_said(self) -> None:
        typed = read("21,7", "mark", METRIC)
        self.assertEqual((typed.value, typed.note), (21.7, "read as 21.7"))

    def test_a_unit_typed_behind_is_honoured(self) -> None:
        self.assertAlmostEqual(read("20 yd", "distance", METRIC).value, 18.288)
        self.assertAlmostEqual(read("82 m/s", "speed", YARDS).value, 82.0)
        with self.assertRaisesRegex(NotANumber, "does not belong here: this field is in mm"):
            read("20 kg", "mark", METRIC)
        with self.assertRaisesRegex(NotANumber, "this field is in inches"):
            read("20 kg", "length", YARDS)

    def test_words_are_not_numbers(self) -> None:
        for text in ("sixty", "1.2.3", "--3", "3 4", "1e5", "nan", "inf", "½"):
            with self.subTest(text), self.assertRaisesRegex(NotANumber, "not a number"):
                read(text, "distance", METRIC)

    def test_signs(self) -> None:
        self.assertEqual([read(t, "mark", METRIC).value for t in ("-3", "−3", "+3", "-.5")], [-3.0, -3.0, 3.0, -0.5])

    def test_lists_of_readings(self) -> None:
        for text in (
            "82.1 82.3 81.9",
            "82.1; 82.3;81.9",
            "82.1\n82.3\n81.9\n",
            "82,1 82,3 81,9",
            "82.1, 82.3, 81.9",
            "82.1,82.3,81.9",
            "82.1 m/s 82.3 m/s, 81.9m/s",
        ):
            with self.subTest(text):
                readings = [round(t.value, 3) for t in read_list(text, "speed", Units(speed="mps"))]
                self.assertEqual(readings, [82.1, 82.3, 81.9])
        self.assertEqual(read_list("  ", "speed", METRIC), [])
        with self.assertRaisesRegex(NotANumber, "“gone” is not a number"):
            read_list("gone 82.1 82.3", "speed", METRIC)

    def test_high_and_low(self) -> None:
        for text, value in (("3", 0.03), ("-4", -0.04), ("4 low", -0.04), ("2,5 high", 0.025), ("-4 low", -0.04)):
            self.assertAlmostEqual(read_height(text, METRIC).value, value)

    def test_counts(self) -> None:
        self.assertEqual(read_count(" 6 "), 6)
        for text in ("6.5", "six", "-1", ""):
            with self.assertRaisesRegex(NotANumber, "whole number"):
                read_count(text)


class Writing(unittest.TestCase):
    def test_there_and_back_in_every_unit(self) -> None:
        for quantity, choices in CHOICES.items():
            for unit in choices:
                units = Units(**{quantity: unit.key})
                self.assertAlmostEqual(units.from_si(quantity, units.to_si(quantity, 12.5)), 12.5)

    def test_digits(self) -> None:
        self.assertEqual((trimmed(20.0, 2), trimmed(-0.001, 2), trimmed(1.50, 2)), ("20", "0", "1.5"))
        self.assertEqual((fixed(-1.25, 1), fixed(-0.01, 1)), ("−1.2", "0.0"))
        self.assertEqual(METRIC.show("distance", None), "not known")

    def test_unknown_units_stay_at_their_default(self) -> None:
        self.assertEqual(Units.of({"distance": "furlong", "speed": "mps"}), Units(speed="mps"))
