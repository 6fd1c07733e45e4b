import dataclasses
import unittest
from dataclasses import replace
from typing import Any

from cross_staff.core.rig.arrow_build import Margins, SpineDoubt
from cross_staff.core.rig.card import RigCard
from cross_staff.core.rig.chronograph import ChronographSession
from cross_staff.core.rig.correction import changes
from cross_staff.core.rig.events import RESULTS
from cross_staff.core.rig.sight import Control
from cross_staff.web.card import words as card_words
from cross_staff.web.forms.units import Units
from tests.rigs import full_card

METRIC = Units(speed="mps", mass="g")


def paths(value: Any, prefix: str = "") -> list[str]:
    """Dotted paths of every field below a dataclass."""
    made = []
    for part in dataclasses.fields(value):
        path = f"{prefix}.{part.name}" if prefix else part.name
        inner = getattr(value, part.name)
        made += paths(inner, path) if dataclasses.is_dataclass(inner) else [path]
    return made


class Names(unittest.TestCase):
    def test_changes_are_named_each_once(self) -> None:
        old = full_card()
        new = replace(old, archer="x", eye_to_sight_m=0.8, goals=replace(old.goals, farthest_m=78.0))
        self.assertEqual(card_words.changed_fields(changes(old, new)), "archer, eye to sight, farthest distance")
        wheel = Control("Wheel")
        one = replace(old, sight=replace(old.sight, controls=(wheel,)))
        other = replace(old, sight=replace(old.sight, controls=(Control("Knob", "windage"),)))
        self.assertEqual(card_words.changed_fields(changes(one, other)), "controls")

    def test_every_field_has_a_name_without_code_in_it(self) -> None:
        for path in paths(RigCard("bare")):
            self.assertNotRegex(card_words.path_name(path), r"[._]", path)

    def test_every_result_has_a_name(self) -> None:
        self.assertEqual(set(card_words.RESULTS), set(RESULTS))


class Warnings(unittest.TestCase):
    def test_they_say_the_number_and_what_follows(self) -> None:
        spine = card_words.spine_doubt("350", SpineDoubt("draw_weight", 270.0, 285.0, 1), METRIC)
        self.assertIn("60.7\u00a0lb, now 64.1\u00a0lb: that asks for a stiffer", spine)
        self.assertIn("weaker", card_words.spine_doubt("350", SpineDoubt("front", 0.0097, 0.0085, -1), METRIC))
        self.assertIn("do not shoot it", card_words.too_light(6e-5, 7e-5, METRIC))
        self.assertIn("1.3\u00a0g more", card_words.weighs_apart(0.0013, METRIC))
        self.assertIn("8\u00a0mm in front", card_words.short_margin("shaft", Margins(0.008, None), METRIC))
        self.assertIn("never draw", card_words.short_margin("collar", Margins(0.02, -0.004), METRIC))

    def test_sessions(self) -> None:
        self.assertIn("undated: 80.5\u00a0m/s ± ", card_words.session(ChronographSession((80.0, 81.0)), METRIC))
        self.assertIn("left out", card_words.session(ChronographSession((80.0,), frozenset({0})), METRIC))
