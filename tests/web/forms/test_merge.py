"""Two who change one thing."""

from __future__ import annotations

import unittest

from hypothesis import given, settings
from hypothesis import strategies as st

from cross_staff.web.forms.merge import SeenFields, merged, seen_by, seen_text

NOW = {"home": "17", "far": "95", "label_0": "4", "span_0": "40", "label_1": "5", "span_1": "44"}
TEXT = st.sampled_from(["", "1", "2", "3"])
FORM = st.fixed_dictionaries(dict.fromkeys(("a", "b", "row_0_x", "row_0_y", "row_1_x", "tick"), TEXT))


class Merging(unittest.TestCase):
    def join(self, was: dict[str, str], typed: dict[str, str], now: dict[str, str], **changes: str):  # type: ignore[no-untyped-def]
        return merged(typed | {"seen": seen_text(was)} | changes, now)

    def test_each_field_comes_from_who_changed_it(self) -> None:
        joined = self.join(NOW, NOW | {"home": "18"}, NOW | {"far": "78"})
        self.assertEqual((joined.typed["home"], joined.typed["far"], joined.conflicts), ("18", "78", ()))

    def test_both_to_the_same_is_no_question(self) -> None:
        self.assertEqual(self.join(NOW, NOW | {"home": "18"}, NOW | {"home": "18"}).conflicts, ())

    def test_both_to_different_things_is_asked(self) -> None:
        joined = self.join(NOW, NOW | {"home": "18"}, NOW | {"home": "19"})
        (conflict,) = joined.conflicts
        self.assertEqual((conflict.name, conflict.mine, conflict.theirs), ("home", "18", "19"))
        self.assertEqual(seen_by({"seen": joined.seen}).asked, {"home": "19"})  # type: ignore[union-attr]

    def test_rows_that_moved_are_not_mixed(self) -> None:
        moved = NOW | {"label_0": "5", "span_0": "44", "label_1": "", "span_1": ""}
        joined = self.join(NOW, NOW | {"span_1": "44.5"}, moved)
        self.assertEqual([each.name for each in joined.conflicts], ["span_1"])
        same_cell = self.join(NOW, NOW | {"span_0": "40.5"}, NOW | {"label_0": "5"})
        self.assertEqual([each.name for each in same_cell.conflicts], ["span_0"])

    def test_a_box_that_is_not_sent_was_emptied(self) -> None:
        now = {"tick": "on", "name": "x"}
        typed = {"name": "x", "seen": seen_text(now)}
        self.assertNotIn("tick", merged(typed, now, ticks=lambda name: name == "tick").typed)
        self.assertEqual(merged({"name": "x"}, now, ticks=lambda name: name == "tick").typed["tick"], "on")

    def test_a_form_of_an_older_revision_that_says_nothing_is_asked(self) -> None:
        self.assertEqual(len(merged({"home": "18"}, NOW, outdated=True).conflicts), 1)
        self.assertEqual(merged({"home": "18"}, NOW).typed["home"], "18")

    def test_what_is_no_record_of_what_was_seen_is_passed_over(self) -> None:
        for text in ("", "{", "[]", "null", '{"f": 3}', "[" * 5000, "x" * 300_000):
            with self.subTest(text[:12]):
                self.assertIsNone(seen_by({"seen": text}))

    @given(FORM, FORM, FORM)
    @settings(max_examples=300)
    def test_nothing_of_either_is_lost_in_silence(self, was, typed, now) -> None:  # type: ignore[no-untyped-def]
        joined = merged(typed | {"seen": SeenFields(was).text()}, now)
        asked = {each.name for each in joined.conflicts}
        for name in now:
            result = joined.typed.get(name, "")
            if name in asked:
                self.assertNotEqual(typed[name], now[name])
                self.assertEqual(result, typed[name])
            elif typed[name] == was[name]:
                self.assertEqual(result, now[name])
            else:
                self.assertEqual(result, typed[name])
                self.assertTrue(now[name] in (was[name], typed[name]))


if __name__ == "__main__":
    unittest.main()
