from __future__ import annotations

import unittest

from hypothesis import given
from hypothesis import strategies as st

from cross_staff.core.sight_in.log import End
from cross_staff.web.forms.numbers import NotANumber
from cross_staff.web.forms.units import Units
from cross_staff.web.shared.downloads import harmless, unharmed
from cross_staff.web.sight_in.shots_csv import read_shots
from tests.rigs import NOON

HEADS = "end,distance_m,pin,dial_mm,right_mm,up_mm,note\n"


class Lines(unittest.TestCase):
    def wrong(self, text: str, kept: tuple[End, ...] = ()) -> dict[int, str]:
        return {line.number: line.why for line in read_shots(text, Units(), kept).wrong}

    def test_a_stray_quote_stays_with_its_line(self) -> None:
        text = HEADS + 'a,17,1,,1,2,"a gust\na,17,1,,3,4,\nb,26,1,,5,6,x"y\nb,26,1,,7,8,"said ""ha"""\n'
        read = read_shots(text, Units())
        self.assertEqual({line.number for line in read.wrong}, {2})
        self.assertIn("a quote stands alone", read.wrong[0].why)
        self.assertEqual(read.wrong[0].text, 'a,17,1,,1,2,"a gust')
        self.assertEqual([len(end.shots) for end in read.ends], [1, 2])
        self.assertEqual(read.ends[1].note, 'x"y')

    def test_one_end_has_one_aim(self) -> None:
        for second, said in (
            ("a,26,1,20,3,4,", "end a was at 17 in a line above, here distance_m is 26"),
            ("a,17,2,20,3,4,", "end a was with pin 1 in a line above, here pin is 2"),
            ("a,17,1,21,3,4,", "end a was dialled at 20 in a line above, here dial_mm is 21"),
            ("a,,1,20,3,4,", "here distance_m is empty"),
        ):
            self.assertIn(said, self.wrong(f"{HEADS}a,17,1,20,1,2,\n{second}\n")[3])

    def test_an_end_that_is_here_already_is_of_the_same_aim(self) -> None:
        held = (End("a", 1, 1, NOON, 17.0, 0, 20.0),)
        self.assertEqual(self.wrong(HEADS + "a,17.0,1,20,1,2,\nb,26,1,20,1,2,", held), {})
        self.assertIn("end a is here already with another distance_m", self.wrong(HEADS + "a,26,1,20,1,2,", held)[2])
        self.assertIn("another pin", self.wrong(HEADS + "a,17,2,20,1,2,", held)[2])
        self.assertIn("another dial_mm", self.wrong(HEADS + "a,17,1,24,1,2,", held)[2])

    def test_without_names_an_end_begins_where_the_aim_changes(self) -> None:
        text = "distance,right,up\n17,1,2\n17,3,4\n26,5,6\n17,7,8\n"
        ends = read_shots(text, Units()).ends
        self.assertEqual([(end.ranged_m, len(end.shots)) for end in ends], [(17.0, 2), (26.0, 1), (17.0, 1)])
        self.assertEqual(len({end.key for end in ends}), 3)
        self.assertEqual(read_shots(text, Units()).ends, ends)

    def test_every_line_that_is_not_sound_is_named(self) -> None:
        lines = ("a,17,1,,1,2,", "", "a,17,1,,x,2,", "a,17,1,,1,,", "a,17,1,,1,2,3,4,5", "c,0,1,,1,2,", "c,17,b,,1,2,",
                 ",17,1,,1,2,", "=,17,1,,1,2,")  # fmt: skip
        text = HEADS + "\n".join(lines)
        wrong = self.wrong(text)
        self.assertEqual(list(wrong), [4, 5, 6, 7, 8, 10])
        self.assertIn("up_mm is empty", wrong[5])
        self.assertIn("has 9 cells, and the heads are 7", wrong[6])
        self.assertIn("is no name for an end", wrong[10])

    def test_a_shot_twice_and_a_group_among_arrows(self) -> None:
        heads = "end,shot,distance_m,right_mm,up_mm,arrows\n"
        self.assertIn("stands in a line above", self.wrong(heads + "a,1,17,1,2,1\na,1,17,1,2,1")[3])
        self.assertIn("is an end by itself", self.wrong(heads + "a,1,17,1,2,1\na,,17,1,2,4")[3])
        self.assertIn("an arrow is of another end", self.wrong(heads + "a,,17,1,2,4\na,1,17,1,2,1")[3])

    def test_what_is_no_shots_at_all(self) -> None:
        for text in ("", '"end,distance\n1,2', "a" * 3000):
            with self.assertRaises(NotANumber):
                read_shots(text, Units())


class Cells(unittest.TestCase):
    def test_words_like_a_formula_are_made_harmless_and_numbers_are_not(self) -> None:
        for cell in ("=1+1", "+cmd", "-2+3", "@SUM(A1)", "\t=1", "-", "+"):
            self.assertEqual(harmless(cell), f"'{cell}")
            self.assertEqual(unharmed(str(harmless(cell))), cell)
        for cell in (-3.5, 12, "-3.5", "+4", "-0,5", "Maren", "", "'quoted'", "3 low"):
            self.assertEqual(harmless(cell), cell)
        self.assertEqual(harmless("two\nlines\r\nand three"), "two lines and three")

    @given(st.text())
    def test_no_cell_begins_a_formula(self, words: str) -> None:
        cell = str(harmless(words))
        self.assertNotRegex(cell, r"^[=@\t\r]")
        self.assertNotIn("\n", cell)
        if cell[:1] in "+-" and cell:
            self.assertRegex(cell, r"^[+-]\d+([.,]\d+)?$")


if __name__ == "__main__":
    unittest.main()
