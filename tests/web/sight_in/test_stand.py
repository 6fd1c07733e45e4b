"""What the sight stands at, on the page: presets, readings as they are read, one tap to confirm or correct."""

from dataclasses import replace
from datetime import timedelta

from cross_staff.core.ballistics.sightline import pin_height
from cross_staff.core.rig.card import RigCard
from cross_staff.core.rig.sight import DisplayLength
from cross_staff.core.sight_in.acts import DONE
from cross_staff.core.sight_in.log import HOME, ORDERED, GroupLine
from cross_staff.services.sight_in import record
from cross_staff.services.sight_in.ends import EndDraft, save_end
from tests.ends import GOALS, exact_card, hits, shots
from tests.rigs import NOON, RIG_A
from tests.web.client import fields
from tests.web.sight_in.posted import Posted

START = ("zero", "click", "face", "stop_up", "stop_room", "stack")


class OnThePage(Posted):
    def take(self, card: RigCard) -> None:
        """Another rig, its first steps said."""
        self.rig_id = self.add_rig(card)
        self.here = f"/rigs/{self.rig_id}/sight_in"
        for step in card.sight_kind.procedure:
            if step.key in START:
                record.say_step(self.database, self.rig_id, step.key, DONE, "", NOON)

    def shot(self, key: str, ranged_m: float, dial_mm: float | None, up_m: float = 0.0) -> None:
        many = tuple(replace(s, key=f"{key}{n}") for n, s in enumerate(shots(0.0, up_m, 8e-4 * ranged_m)))
        save_end(self.database, self.rig_id, EndDraft(key, ranged_m, 0, dial_mm, many), NOON)

    def page(self) -> str:
        return self.client.get(self.here).text.replace("\u00a0", " ")

    def test_a_reading_is_never_carried_over_to_another_end(self) -> None:
        """26.1 from 70 m once stood in the field of an end at 5 m; the next order was 64 cm high."""
        self.take(exact_card("single_pin_slider"))
        self.assertEqual(fields(self.page())["dial"], "")
        self.shot("a", 5.0, 10.0, hits(0.0, 17.0, 5.0))
        far = round(10.0 + 1000.0 * (pin_height(RIG_A, 17.0) - pin_height(RIG_A, 70.0)), 1)
        self.shot("b", 70.0, far)
        page = fields(self.page())
        self.assertEqual(page["distance"], "17")
        self.assertNotEqual(page["dial"], f"{far:g}")
        self.assertEqual(page["dial"], page["dial_ordered"])  # what is ordered, and marked so
        self.assertIn("as ordered: change it if it reads otherwise", self.page())
        self.assertIn("not at home", self.page())

    def test_as_ordered_as_read_at_home_or_not_read(self) -> None:
        self.take(exact_card("multi_pin_slider"))
        kept = []
        for key, typed in (("a", {"dial": "12", "dial_ordered": "12"}), ("b", {"dial": "12.5", "dial_ordered": "12"}),
                           ("c", {"stands": "home"}), ("d", {})):  # fmt: skip
            self.assertEqual(self.end(key=key, **typed)[0], 303)
            end = self.rig().range_log.ends[-1]
            kept.append((end.dial_mm, end.dial_from))
        self.assertEqual(kept, [(12.0, ORDERED), (12.5, ""), (None, HOME), (None, "")])
        for words in ("12.0 as ordered", ">home<", "not read"):
            self.assertIn(words, self.page())

    def test_a_reading_that_nobody_wrote_is_asked_for(self) -> None:
        """A wheel's arrows without a reading say nothing of the height: once it was “shoot two arrows” for ever."""
        for answer, kept in (('{"kind":"dial"}', (10.5, "")), ('{"kind":"home"}', (None, HOME))):
            self.take(exact_card("single_pin_slider"))
            self.assertIn("Read the dial before the first arrow", self.page())
            self.shot("a", 5.0, None, hits(0.0, 17.0, 5.0))
            self.assertIn("What did the dial read at the last end?", self.page())
            reads = {"reads": "10.5"} if "dial" in answer else {}
            self.assertEqual(self.post("/answer", ends="a", answer=answer, **reads)[0], 303)
            end = self.rig().range_log.ends[-1]
            self.assertEqual((end.dial_mm, end.dial_from), kept)
            self.assertNotIn("What did the dial read", self.page())
        self.shot("b", 5.0, None)
        self.assertEqual(self.post("/answer", ends="b", answer='{"kind":"count"}')[0], 303)
        self.assertIn("Shoot", self.page())

    def test_turns_and_clicks_and_the_strip_s_own_number(self) -> None:
        self.take(exact_card("target_scope"))
        self.assertEqual(self.end(key="a", dial="3+4", dial_as="click")[0], 303)
        self.assertAlmostEqual(self.rig().range_log.ends[-1].dial_mm or 0.0, 3.2)
        self.assertIn("3+4 clicks", self.page())
        self.shot("b", 61.0, 27.0)
        self.assertEqual(self.end(key="c", dial="61", dial_as="strip", distance="61")[0], 303)
        self.assertAlmostEqual(self.rig().range_log.ends[-1].dial_mm or 0.0, 27.0, delta=1.5)
        self.assertEqual(fields(self.client.get(f"{self.here}?end=c").text)["dial"], "61")
        for wrong in ({"dial": "a bit", "dial_as": "click"}, {"dial": "3", "dial_as": "division"}):
            status, page = self.end(key="d", **wrong)
            self.assertEqual(status, 422)
            self.assertIn('id="dial-error"', page)

    def test_one_tap_confirms_corrects_or_says_that_nobody_knows(self) -> None:
        self.take(exact_card("single_pin_slider"))
        self.shot("a", 17.0, 10.0)
        self.assertEqual(self.post("/stand", what="dial", reads="11.5")[0], 303)
        self.assertIn("mark 11.5", self.page())
        self.assertEqual(self.post("/stand", what="dial", unknown="yes")[0], 303)
        self.assertIn("nobody knows", self.page().lower())
        self.assertEqual(self.post("/stand", what="Windage micro", reads="0")[0], 303)
        for wrong in ({"reads": ""}, {"reads": "up a bit"}):
            status, page = self.post("/stand", what="dial", **wrong)
            self.assertEqual(status, 422)
            self.assertIn("reads-dial", page)

    def test_a_step_that_reads_a_mark_has_the_field_for_it(self) -> None:
        self.rig_id = self.add_rig(exact_card("multi_pin_slider"))
        self.here = f"/rigs/{self.rig_id}/sight_in"
        self.assertIn('name="mark"', self.page())
        self.assertEqual(self.post("/step/stop_up", state="done", mark="6.2")[0], 303)
        self.assertEqual(self.rig().range.estimate.home_dial_mm, 6.2)  # type: ignore[union-attr]
        self.assertIn("mark 6.2", self.page())
        status, page = self.post("/step/stop_up", state="done", mark="9000")
        self.assertEqual(status, 422)
        self.assertIn("mark-error", page)

    def test_a_group_as_one_line_in_the_card_s_units(self) -> None:
        self.take(exact_card("pin_display"))
        typed = {"line_arrows": "3", "line_up": "15", "line_up_way": "low", "shots": ""}
        self.assertEqual(self.end(key="l", **typed)[0], 303)
        self.assertEqual(self.rig().range_log.ends[-1].line, GroupLine(3, None, -0.15))
        self.assertIn("15 cm low", self.page())
        self.assertEqual(fields(self.client.get(f"{self.here}?end=l").text)["line_up_way"], "low")
        status, page = self.end(key="m", line_up="15", line_arrows="", shots="")
        self.assertEqual(status, 422)
        self.assertIn("how many arrows was that?", page)

    def test_numbered_arrows_and_the_visits(self) -> None:
        self.assertEqual(self.end(key="n", shots="1 1 #4\n2 0 #5 x\n-1 3\n0 2")[0], 303)
        self.assertEqual([s.shaft for s in self.rig().range_log.ends[-1].shots], ["4", "5", "", ""])
        self.assertIn("Numbered arrows", self.page())
        self.assertIn("The visits", self.page())
        self.assertEqual(self.post("/shaft/4/weeded")[0], 303)
        self.assertIn("weeded out", self.page())

    def test_home_farther_out_once_there_are_marks(self) -> None:
        self.take(exact_card("single_pin_slider"))
        self.assertIn("shoot home and one dialled mark first", self.post("/home", new_home="26")[1])
        for n in range(2):
            self.shot(f"h{n}", 17.0, 10.0)
            self.shot(f"f{n}", 61.0, 34.3)
        status, page = self.post("/home", new_home="12")
        self.assertEqual(status, 422)
        self.assertIn("farther than home is now", page)
        self.assertEqual(self.post("/home", new_home="26")[0], 303)
        self.assertIn("Roll to home.", self.page())
        self.assertEqual(self.post("/step/rehome_roll", state="done", mark="10")[0], 303)
        self.assertIn("Lay 26 m under the pointer.", self.page())
        self.assertEqual(self.post("/step/rehome_number", state="done")[0], 303)
        act = self.rig().range.act
        self.assertEqual((act.kind, act.because, act.moves[0].way), ("move", "rehome", "down"))
        self.assertAlmostEqual(act.moves[0].amount, -3.9, delta=0.6)
        typed = fields(self.page())
        self.assertEqual(self.post("/moved", act_key=typed["act_key"], order=typed["order"])[0], 303)
        act = self.rig().range.act
        self.assertEqual((act.kind, act.aim and act.aim.ranged_m), ("shoot", 26.0))

    def test_a_visit_that_does_not_count_is_asked_nothing(self) -> None:
        self.take(exact_card("single_pin_slider"))
        self.post("/session", place="ledge", counts="none", session_key="s")
        self.assertIn("Change nothing today.", self.page())
        self.assertIn("Begin another session", self.page())

    def test_what_a_display_asks_for_by_its_own_names(self) -> None:
        card = exact_card("pin_display", goals=GOALS)
        lengths = (
            DisplayLength("Eye bar", "eye_to_display"),
            DisplayLength("Drop", "peep_above_dot"),
            DisplayLength("X", ""),
        )
        card = replace(card, sight=replace(card.sight, display_lengths=lengths))
        self.rig_id = self.add_rig(card)
        self.here = f"/rigs/{self.rig_id}/sight_in"
        page = self.client.get(f"{self.here}?step=figures").text.replace("\u00a0", " ")
        self.assertRegex(page, r"<dt>Eye bar</dt><dd>820(\.0)? mm</dd>")
        self.assertRegex(page, r"<dt>Drop</dt><dd>1[0-9]\.[0-9] mm</dd>")
        self.assertIn("not on the card yet", page)

    def test_the_same_pins_on_every_page_whatever_is_chosen(self) -> None:
        card = exact_card("vertical_pin_slider", goals=replace(GOALS, pin_distances_m=(17.0, 30.0)))
        self.rig_id = self.add_rig(card)
        for school in (None, "gap", "wanted"):
            if school is not None:
                record.choose(self.database, self.rig_id, "second", school, NOON + timedelta(minutes=1))
            rig = self.rig()
            self.assertEqual(rig.range.estimate.distances, rig.evaluation.pins.at_m, school)  # type: ignore[union-attr]
            self.assertEqual(rig.evaluation.pins.at_m[1] == 30.0, school != "gap")
