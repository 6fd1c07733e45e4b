"""Amounts of a turn as they are said."""

import unittest

from cross_staff.web.level.words import turn


class Turns(unittest.TestCase):
    def test_in_eighths_or_in_flats_of_the_key_never_in_degrees(self) -> None:
        for steps, words in (
            (1, "1/4 flat of the key"), (3, "1/8 turn"), (4, "1 flat of the key"), (10, "2 1/2 flats of the key"),
            (15, "5/8 turn"), (24, "1 turn"), (27, "1 1/8 turns"), (52, "2 turns and 1 flat of the key"),
            (0, "nothing"),
        ):  # fmt: skip
            self.assertEqual((turn(steps / 24.0), turn(-steps / 24.0)), (words, words), steps)
        self.assertFalse([n for n in range(1, 49) if "°" in turn(n / 24.0)])


if __name__ == "__main__":
    unittest.main()
