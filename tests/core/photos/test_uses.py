"""The uses of a photo: what their taps come to, what is refused, what is kept."""

import math
import unittest
from datetime import UTC, datetime

from cross_staff.core.errors import InvalidValue
from cross_staff.core.photos.log import PhotoReading, check_entry, entry_of, reading_of
from cross_staff.core.photos.plane import Figure, Line, Photo
from cross_staff.core.photos.uses import USES, measure, pins_against, scale_of
from cross_staff.core.simulate.pictures import Camera

PHOTO = Photo(1600, 1200)
NOW = datetime(2026, 5, 4, 10, 0, tzinfo=UTC)


def side(pitch_rad: float = 0.3) -> tuple[Line, dict[str, list[tuple[float, float]]]]:
    """A bow at full draw from the side: arrow of 720 mm, peep 150 mm along the string at 38 degrees, pin and eye."""
    angle = math.radians(38.0)
    there = {
        "nock": (0.0, 0.0), "point": (0.72, 0.0), "peep": (0.150 * math.cos(angle), 0.150 * math.sin(angle)),
        "pin": (0.150 * math.cos(angle) + 0.85, 0.07), "eye": (0.150 * math.cos(angle) - 0.07, 0.094),
    }  # fmt: skip
    turned = {
        name: (
            x * math.cos(pitch_rad) - y * math.sin(pitch_rad) - 0.4,
            x * math.sin(pitch_rad) + y * math.cos(pitch_rad) - 0.1,
        )
        for name, (x, y) in there.items()
    }
    seen = Camera(1600, 1200, 1.4)
    taps = {name: [tuple(seen.on_photo([place])[0])] for name, place in turned.items()}
    return Line((taps["nock"][0], taps["point"][0]), 0.72), taps  # type: ignore[arg-type, return-value]


class Uses(unittest.TestCase):
    def test_the_peep_square_to_the_arrow_whatever_way_it_points(self) -> None:
        for pitch in (0.0, 0.3, -0.4):
            scale, taps = side(pitch)
            told = measure("peep", PHOTO, scale, taps)
            self.assertAlmostEqual(told["peep_height"].value, 0.150 * math.sin(math.radians(38.0)), places=6)
            self.assertAlmostEqual(told["string_angle"].value, math.radians(38.0), places=6)
            self.assertAlmostEqual(told["eye_to_sight"].value, 0.85, places=6)
            self.assertAlmostEqual(told["eye_to_peep"].value, 0.07, places=6)
            self.assertTrue(all(0.0 < figure.sd < 0.05 for figure in told.values()))

    def test_pins_and_eye_may_be_left_out(self) -> None:
        scale, taps = side()
        told = measure("peep", PHOTO, scale, {name: taps[name] for name in ("nock", "point", "peep")})
        self.assertEqual(set(told), {"peep_height", "peep_ahead", "string_angle"})

    def test_pencil_lines_tear_pins_and_mark(self) -> None:
        seen = Camera(1600, 1200, 0.2)

        def at(*there: tuple[float, float]) -> list[tuple[float, float]]:
            return [tuple(p) for p in seen.on_photo(there)]  # type: ignore[misc]

        rule = scale_of("line", at((-0.05, 0.02), (0.05, 0.02)), (0.1,))
        lines = measure("pencil", PHOTO, rule, {"line": at((-0.03, 0.0), (-0.03, -0.012), (-0.03, -0.031))})
        self.assertAlmostEqual(lines["line_2"].value, 0.012, places=6)
        self.assertAlmostEqual(lines["line_3"].value, 0.031, places=6)
        sheet = scale_of("sheet", at((-0.07, 0.05), (0.07, 0.05), (0.07, -0.05), (-0.07, -0.05)), (0.14, 0.1))
        tear = measure("tear", PHOTO, sheet, {"point": at((0.01, 0.0)), "nock": at((-0.004, 0.022))})
        self.assertAlmostEqual(tear["right"].value, -0.014, places=6)
        self.assertAlmostEqual(tear["up"].value, 0.022, places=6)
        disc = scale_of("disc", at((0, 0.02), (0.02, 0), (0, -0.02), (-0.02, 0)), (0.04,))
        pins = measure("pins", PHOTO, disc, {"pin": at((0.001, 0.01), (0.0, -0.004))})
        self.assertAlmostEqual(pins["up_1"].value, 0.01, places=6)
        self.assertAlmostEqual(pins["up_2"].value, -0.004, places=6)
        self.assertAlmostEqual(pins["below_2"].value, 0.014, places=6)
        self.assertLess(pins["below_2"].sd, math.hypot(pins["up_1"].sd, pins["up_2"].sd))  # one scale for both
        mark = measure("mark", PHOTO, rule, {"mark": at((0.0, 0.0)), "other": at((0.0004, 0.0003))})
        self.assertAlmostEqual(mark["apart"].value, 0.0005, places=6)

    def test_what_is_missing_or_doubled_is_said_at_its_place(self) -> None:
        scale, taps = side()
        for changed, field in (
            ({"peep": []}, "peep"), ({"peep": taps["nock"]}, "peep"), ({"peep": [(1700.0, 20.0)]}, "peep"),
            ({"nock": [*taps["nock"], (3.0, 3.0)]}, "nock"), ({"pin": [(math.nan, 2.0)]}, "pin"),
        ):  # fmt: skip
            with self.assertRaises(InvalidValue) as refused:
                measure("peep", PHOTO, scale, taps | changed)
            self.assertEqual(refused.exception.field, field)
        with self.assertRaisesRegex(InvalidValue, "two lines"):
            measure("pencil", PHOTO, scale, {"line": taps["nock"]})

    def test_a_scale_of_other_taps_or_lengths(self) -> None:
        for kind, taps, lengths, field in (
            ("line", [(1.0, 1.0)], (0.1,), "scale"), ("sheet", [(1.0, 1.0)] * 3, (0.1, 0.1), "scale"),
            ("sheet", [(1.0, 1.0)] * 4, (0.1, 0.0), "length_2"), ("disc", [(1.0, 1.0)] * 4, (9.0,), "length_1"),
            ("rope", [], (), "scale"),
        ):  # fmt: skip
            with self.assertRaises(InvalidValue) as refused:
                scale_of(kind, taps, lengths)
            self.assertEqual(refused.exception.field, field)


class Pins(unittest.TestCase):
    def test_a_difference_is_told_where_photo_and_tape_leave_it_no_doubt(self) -> None:
        seen = {"below_2": Figure(0.0052, 0.0002), "below_3": Figure(0.0101, 0.0002), "below_4": Figure(0.016, 0.0002)}
        told = pins_against(seen, [(0.0, 0.0), (0.0044, 0.0001), (0.0095, 0.0004), (None, None)])
        self.assertEqual([pin.number for pin in told], [2, 3])
        self.assertEqual([pin.told for pin in told], [True, False])
        self.assertAlmostEqual(told[0].up.value, 0.0008)
        self.assertAlmostEqual(told[1].up.sd, math.hypot(0.0002, 0.0004))
        self.assertEqual(pins_against({}, [(0.0, 0.0), (0.004, None)]), [])


class Kept(unittest.TestCase):
    def test_a_reading_goes_into_the_log_and_comes_back(self) -> None:
        scale, taps = side()
        for left_out in ((), ("pin",), ("pin", "eye")):
            given = {name: tuple(each) for name, each in taps.items() if name not in left_out}
            given |= dict.fromkeys(left_out, ())
            reading = PhotoReading("peep", "a" * 20, PHOTO, "line", (0.72, 0.0), scale.taps, given)
            entry = entry_of(reading, 2, NOW)
            self.assertEqual(reading_of(entry), reading)
            check_entry(entry)

    def test_an_entry_that_is_none_is_refused(self) -> None:
        scale, taps = side()
        entry = entry_of(PhotoReading("peep", "b" * 20, PHOTO, "line", (0.72, 0.0), scale.taps, {**taps}), 1, NOW)
        from dataclasses import replace

        for wrong in (
            replace(entry, key="ruler:x"), replace(entry, key="peep"), replace(entry, points=entry.points[:3]),
            replace(entry, choice="disc"), replace(entry, points=(*entry.points, (1.0, 1.0))),
            replace(entry, points=((0.0, 0.0), *entry.points[1:])),
        ):  # fmt: skip
            with self.assertRaises(InvalidValue):
                check_entry(wrong)
        check_entry(replace(entry, key="ruler:x", removed=True))

    def test_every_use_says_what_it_is(self) -> None:
        for use in USES.values():
            self.assertTrue(use.say.endswith("."))
            self.assertTrue(use.taps and use.scales)
