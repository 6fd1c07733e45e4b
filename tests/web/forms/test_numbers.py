import re
import unittest

from cross_staff.core.ranges import Range
from cross_staff.web.forms.numbers import NotANumber, read, read_count, read_height, read_length_mm, read_list
from cross_staff.web.forms.units import CHOICES, EXAMPLES, Units, fixed, trimmed

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
        for quantity, example in (
            ("mark", "1 3/8 in"),
            ("length", "5 7/8 in"),
            ("turn", "1/8"),
            ("plain", "plain figures"),
        ):
            with self.subTest(quantity), self.assertRaisesRegex(NotANumber, f"does not belong here: .*{example}"):
                read("20 kg", quantity, METRIC)

    def test_any_unit_whatever_the_page_shows(self) -> None:
        for text, quantity, value in (
            ("5 7/8", "length", 0.149225),  # a fraction is of an inch where the field is in millimetres
            ("5-7/8 in", "length", 0.149225),
            ("26½", "length", 0.6731),
            ("3/16", "diameter", 0.0047625),
            (".031 in", "diameter", 0.0007874),
            ("1 3/4 in", "offset", 0.04445),
            ("5 ft", "length", 1.524),
            ("5'6\"", "distance", 1.6764),
            ("-5 ft 3 1/2 in", "offset", -1.6129),
            ("44 mm", "offset", 0.044),
            ("3 cm", "mark", 30.0),
            ('1 3/8"', "mark", 34.925),
            ("52 lb", "force", 231.3075),
            ("52#", "force", 231.3075),
            ("23 kg", "force", 225.55295),
            ("9.5 grains per inch", "density", 0.0242357),
            ("0.95 oz", "mass", 0.0269321),
            ("60 mph", "wind", 26.8224),
            ("100 km/h", "speed", 27.777778),
            ("68 °F", "temperature", 20.0),
            ("68f", "temperature", 20.0),
            ("1/8 turn", "turn", 0.125),
        ):
            for units in (METRIC, YARDS):
                with self.subTest(text, units=units):
                    self.assertAlmostEqual(read(text, quantity, units).value, value, places=4 if value > 99 else 6)
        self.assertEqual(read("5 7/8 in", "length", METRIC).note, "read as 149.22 mm")
        self.assertEqual(read("20½", "distance", YARDS).note, "read as 20.5")
        self.assertAlmostEqual(
            read("20½", "distance", YARDS).value, 18.7452
        )  # where the field is not in millimetres: its own

    def test_how_finely_a_fraction_was_read(self) -> None:
        for text, sd in (("34.6", None), ("1.36 in", None), ("1 3/8 in", 0.9207), ("1 6/16", 0.4604)):
            _, read_to = read_length_mm(text, METRIC)
            self.assertEqual(None if read_to is None else round(read_to, 4), sd)

    def test_a_doubt_behind_a_length(self) -> None:
        for text, length, sd in (
            ("14.3 ± 0.6", 14.3, 0.6 / 1.96),
            ("14,3 +- 0,6 mm", 14.3, 0.6 / 1.96),
            ("1 in ± .02 in", 25.4, 0.508 / 1.96),
        ):
            typed, doubt = read_length_mm(text, METRIC)
            self.assertAlmostEqual(typed.value, length, places=6)
            self.assertAlmostEqual(doubt or 0.0, sd, places=6)
        for text in ("14.3 ±", "14.3 ± 0", "± 3", "14.3 ± -1", "14.3 ± a lot"):
            with self.subTest(text), self.assertRaises(NotANumber):
                read_length_mm(text, METRIC)

    def test_every_example_is_read(self) -> None:
        for quantity, examples in EXAMPLES.items():
            for text in re.split(r", | or ", examples):
                with self.subTest(quantity, text=text):
                    read(text, quantity, METRIC)

    def test_words_are_not_numbers(self) -> None:
        for text in ("sixty", "1.2.3", "--3", "3 4", "1e5", "nan", "inf", "1/0", "1//2", "½½"):
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

    def test_one_comma_between_figures_is_one_number_or_two_and_asked_where_it_can_be_both(self) -> None:
        near, chronograph = Range(1.0, 200.0), Range(40.0, 140.0)
        for text, quantity, values in (
            ("20,40", "distance", [20.0, 40.0]),
            ("20,35", "distance", [20.0, 35.0]),
            ("20,40 60", "distance", [20.0, 40.0, 60.0]),
            ("20,40,60", "distance", [20.0, 40.0, 60.0]),
            ("20,5", "distance", [20.5]),
            ("20.5,40", "distance", [20.5, 40.0]),
            ("61,25", "distance", [61.25]),
            ("20 1/2 30", "distance", [20.5, 30.0]),
            ("20 yd 30 yd", "distance", [18.288, 27.432]),
            ("301,303", "speed", [91.7448, 92.3544]),
            ("303,301 302", "speed", [92.3544, 91.7448, 92.0496]),
            ("271,5", "speed", [82.7532]),
            ("271,5 272,1", "speed", [82.7532, 82.93608]),
        ):
            with self.subTest(text):
                span = chronograph if quantity == "speed" else near
                read_as = [round(each.value, 5) for each in read_list(text, quantity, METRIC, span)]
                self.assertEqual(read_as, values)
        for text, quantity, units in (
            ("18,28", "distance", METRIC),
            ("5,8", "distance", METRIC),
            ("91,92", "speed", Units(speed="mps")),
        ):
            span = chronograph if quantity == "speed" else near
            with self.subTest(text), self.assertRaisesRegex(NotANumber, "two ways: type .* for two"):
                read_list(text, quantity, units, span)

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
