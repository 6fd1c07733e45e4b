import unittest
from dataclasses import replace
from datetime import date, timedelta

from cross_staff.core.errors import InvalidValue
from cross_staff.core.rig.card import LevelSetup, Vial
from cross_staff.core.rig.instrument import USUAL_DAYS, Instrument, check_instrument, fitted, outdated, overdue

DAY = date(2026, 3, 1)
VIAL = Vial(0.01, 4.0, 0.2, DAY, 3)
SILVER = Instrument("Silver", "reference", VIAL)
PROVED = replace(SILVER, clip_proved_on=DAY)


class Instruments(unittest.TestCase):
    def test_what_cannot_be_is_refused(self) -> None:
        for good in (SILVER, replace(SILVER, reverse_days=1), replace(SILVER, reverse_days=2000)):
            check_instrument(good)
        for field, wrong in (
            ("name", ""), ("name", "  "), ("kind", "moon"), ("reverse_days", 0), ("reverse_days", 2001),
        ):  # fmt: skip
            with self.assertRaisesRegex(InvalidValue, f"^{field}: "):
                check_instrument(replace(SILVER, **{field: wrong}))  # type: ignore[arg-type]

    def test_when_a_reversal_is_due_again(self) -> None:
        self.assertEqual(USUAL_DAYS, 180)
        for days, after, late in ((180, 180, None), (180, 181, 181), (10, 11, 11), (10, 10, None)):
            self.assertEqual(overdue(VIAL, DAY + timedelta(days=after), days), late)
        self.assertIsNone(overdue(VIAL, DAY + timedelta(days=180)))
        self.assertEqual(overdue(VIAL, DAY + timedelta(days=181)), 181)
        self.assertIsNone(overdue(Vial(), DAY))

    def test_chosen_it_brings_its_vial_and_leaves_the_others(self) -> None:
        setup = fitted(LevelSetup(string=VIAL, from_shop=(("string", 4),)), "reference", 2, SILVER)
        self.assertEqual(setup.from_shop, (("reference", 2), ("string", 4)))
        self.assertEqual((setup.reference, setup.rail, setup.clip_proved), (VIAL, Vial(), False))
        again = fitted(setup, "reference", 3, PROVED)
        self.assertEqual((again.from_shop, again.clip_proved), ((("reference", 3), ("string", 4)), True))
        own = fitted(again, "reference", None, None)
        self.assertEqual((own.from_shop, own.reference, own.clip_proved), ((("string", 4),), VIAL, False))
        half = fitted(again, "reference", None, SILVER)
        self.assertEqual(half.from_shop, (("string", 4),))

    def test_a_proved_clip_comes_with_the_reference_alone(self) -> None:
        self.assertFalse(fitted(LevelSetup(), "string", 1, replace(PROVED, kind="string")).clip_proved)
        kept = fitted(LevelSetup(clip_proved=True), "string", 1, replace(SILVER, kind="string"))
        self.assertTrue(kept.clip_proved)

    def test_a_rig_that_knows_less_than_the_shop(self) -> None:
        setup = fitted(LevelSetup(), "reference", 1, SILVER)
        self.assertFalse(outdated(setup, "reference", SILVER))
        self.assertTrue(outdated(setup, "reference", PROVED))
        self.assertTrue(outdated(setup, "reference", replace(SILVER, vial=Vial())))
        string = fitted(LevelSetup(), "string", 1, replace(SILVER, kind="string"))
        self.assertFalse(outdated(string, "string", replace(PROVED, kind="string")))
