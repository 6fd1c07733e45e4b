"""The practice bench through its pages: begun, worked on at the stations as they are, finished; what stays out."""

from __future__ import annotations

import json
import math
import unittest

from cross_staff.core.practice.exercise import exercise_of
from cross_staff.core.simulate.practice_bow import PracticeBow
from cross_staff.services.practice.catalogue import exercise, exercises
from cross_staff.services.practice.record import practice
from cross_staff.services.rig import open_rig
from tests.web.client import WithClient
from tests.web.practice.learner import Learner


class WithPractice(WithClient):
    def begun(self, key: str, learner: str = "Reed") -> Learner:
        """An exercise of the catalogue, begun."""
        answer = self.client.post("/practice/begin", data={"exercise": key, "learner": learner, "units": ""})
        self.assertEqual(answer.status_code, 303)
        rig_id = int(answer.headers["location"].split("/")[2])
        return Learner(self.client, self.database, rig_id)  # type: ignore[arg-type]

    def truth(self, learner: Learner) -> PracticeBow:
        told = practice(learner.rig)
        return PracticeBow(told.exercise).done(told.acts)

    def finish(self, learner: Learner) -> str:
        page = self.client.get(learner.does("practice", "finish")).text
        return str(page)


class History(WithPractice):
    def test_each_learner_has_a_history_of_his_own(self) -> None:
        for name, count in (("Reed", 5), ("Sela & Ida", 1), ("", 1)):
            for n in range(count):
                learner = self.begun("second-axis", name)
                if not n:
                    learner.levels("second")
                self.finish(learner)
        page = self.client.get("/practice").text
        self.assertIn('<a href="/practice?who=Sela%20%26%20Ida#done-title">Sela &amp; Ida</a>', page)
        self.assertIn(f"1 of {len(exercises())} solved, 5 finished; false beliefs and mistakes of order, each: ", page)
        own = self.client.get("/practice", params={"who": "Reed"}).text
        rows = own.split('id="done-title"')[1].split("<tbody>")[1]
        self.assertEqual((rows.count("<td>Reed</td>"), "Sela" in rows), (5, False))
        self.assertIn("How it went: Reed", own)
        nameless = self.client.get("/practice", params={"who": ""}).text.split("<tbody>")[1]
        self.assertEqual(nameless.count("<td>–</td>"), 1)
        self.assertEqual(self.client.get("/practice", params={"who": "nobody"}).status_code, 200)


class Worked(WithPractice):
    def test_an_axis_is_set_by_the_station_and_the_truth_stands_beside_it(self) -> None:
        learner = self.begun("second-axis")
        learner.levels("second")
        bow, state = self.truth(learner), learner.rig.level.axes["second"]
        self.assertEqual(state.standing, "good")
        self.assertLess(abs(bow.bow.axes["second"]), state.tolerance)
        page = self.finish(learner)
        self.assertIn("Solved.", page)
        self.assertIn(f"Second axis at {abs(math.degrees(bow.bow.axes['second'])):.2f}°", page)
        self.assertIn("called good", page)
        self.assertNotIn("false belief", page)
        self.assertIn("<b>Practice</b>", self.client.get(f"{learner.path}/level").text)

    def test_a_near_pin_is_brought_in_and_its_arrows_are_in_the_log(self) -> None:
        learner = self.begun("first-arrows")
        learner.sights_in()
        self.assertEqual(sum(len(end.shots) for end in learner.rig.every_end), practice(learner.rig).spent()["arrows"])
        page = self.finish(learner)
        self.assertIn("Home off by", page)
        self.assertIn("there", page)

    def test_what_is_called_good_and_is_not_is_a_false_belief(self) -> None:
        learner = self.begun("second-axis")
        learner.levels("second")
        learner.does("level", "turn", p_axis="second", p_turns="1", p_turn_way="clockwise")  # and nobody writes it down
        page = self.finish(learner)
        self.assertIn("Not there yet.", page)
        self.assertIn("<b>A false belief.</b> You called it good: Second axis at", page)
        self.assertIn("Turned and locked, and not read again (second axis)", page)
        self.assertIn("not reached", self.client.get("/practice").text)

    def test_every_station_offers_what_can_be_done_there(self) -> None:
        learner = self.begun("hillside")
        for at, words in (
            ("card", "Shoot through it"), ("prepare", "Shoot through paper"), ("mount", "Rule and scale"),
            ("level", "Read the vial"), ("sight_in", "Shoot an end"), ("tape", "Shoot an end"),
            ("prove", "Shoot an end"), ("events", "Practice"), ("keep", "Practice"),
        ):  # fmt: skip
            with self.subTest(at):
                page = self.client.get(f"{learner.path}/{at}")
                self.assertEqual(page.status_code, 200)
                self.assertIn(words, page.text.split('id="practice"')[1])
        for at, kind, how, words in (
            ("card", "speed", {"p_speeds": "3"}, "The chronograph, 1.5 m in front:"),
            ("prepare", "paper", {}, "Paper: the nock tore"),
            ("prepare", "tune", {"p_step": "rest_left"}, "Done: move the rest 0.5 mm to the left."),
            ("mount", "measure", {}, "At full draw: peep"),
            ("level", "gauge", {"p_gauge_axis": "first"}, "electronic level against the string:"),
            ("level", "look", {"p_way": "third:board_string", "p_pitch": "-35"}, "The bow is at full draw."),
            ("level", "let_down", {}, "Let down."),
            ("level", "look", {"p_way": "third:shooting", "p_pitch": "25"}, "six arrows at"),
            ("sight_in", "stop", {}, "the scale reads"),
            ("tape", "shoot", {"p_distance": "10", "p_arrows": "3"}, "3 arrows at 10"),
            ("prove", "day", {}, "Another day."),
        ):  # fmt: skip
            with self.subTest(kind):
                to = learner.does(at, kind, **how)
                self.assertTrue(to.startswith(f"{learner.path}/{at}"), to)
                self.assertIn(words, self.client.get(to).text)

    def test_what_is_wrong_stands_at_its_field_and_keeps_what_was_typed(self) -> None:
        learner = self.begun("second-axis")
        for kind, how, field in (
            ("turn", {"p_axis": "second", "p_turns": "much"}, "p_turns"),
            ("turn", {"p_axis": "second", "p_turns": "9"}, "p_turns"),
            ("look", {"p_way": "second:to_string", "p_pitch": "steep"}, "p_pitch"),
            ("look", {"p_way": "second"}, "p_way"),
            ("look", {"p_way": "fourth:to_string"}, "p_way"),
            ("shoot", {"p_distance": "far", "p_arrows": "3"}, "p_distance"),
            ("shoot", {"p_distance": "10", "p_arrows": "many"}, "p_arrows"),
        ):
            with self.subTest(kind, field=field):
                at = "level" if kind in ("turn", "look") else "sight_in"
                answer = self.client.post(f"{learner.path}/practice", data={"at": at, "kind": kind} | how)
                self.assertEqual(answer.status_code, 422)
                self.assertIn(f'id="{field}-error"', answer.text)
                if field != "p_way":  # a list offers what there is
                    self.assertIn(how[field], answer.text)
        self.assertEqual(practice(learner.rig).acts, ())

    def test_nothing_is_done_after_the_end_and_it_can_be_begun_anew(self) -> None:
        learner = self.begun("second-axis")
        self.finish(learner)
        answer = self.client.post(f"{learner.path}/practice", data={"at": "level", "kind": "day"})
        self.assertEqual(answer.status_code, 422)
        self.assertIn("the exercise is finished", answer.text)
        fresh = self.client.post(f"{learner.path}/practice/again")
        self.assertEqual(fresh.headers["location"], f"/rigs/{learner.rig_id + 1}/practice")

    def test_hints_come_one_after_the_other_and_cost(self) -> None:
        learner = self.begun("second-axis")
        for hint in exercise("second-axis").hints:
            self.assertIn(hint, self.client.get(learner.does("practice", "hint")).text)
        answer = self.client.post(f"{learner.path}/practice", data={"at": "practice", "kind": "hint"})
        self.assertIn("there is no further hint", answer.text)
        self.assertEqual(practice(learner.rig).spent()["minutes"], 20)


class Apart(WithPractice):
    def test_a_practice_rig_is_no_rig_of_the_shop(self) -> None:
        own = self.add_rig()
        learner = self.begun("hillside")
        bench = self.client.get("/").text
        self.assertNotIn("A hillside in a week", bench)
        self.assertIn(f"/rigs/{own}/", bench)
        self.assertIn("A hillside in a week", self.client.get("/practice").text)
        self.assertNotIn("A hillside in a week", self.client.get("/plan").text)
        self.assertEqual(self.client.get(f"/rigs/{own}/practice").status_code, 404)
        self.assertEqual(self.client.post(f"/rigs/{own}/practice", data={"kind": "day"}).status_code, 404)
        self.assertNotIn('id="practice"', self.client.get(f"/rigs/{own}/level").text)
        self.assertEqual(learner.rig.card.archer, "")

    def test_what_was_done_there_is_told_without_what_is_hidden(self) -> None:
        learner = self.begun("second-axis")
        learner.does("level", "look", p_way="second:to_string", p_pitch="0", p_seat="flat")
        page = self.client.get(f"/changes?rig={learner.rig_id}")
        self.assertEqual(page.status_code, 200)
        self.assertIn("an exercise begun", page.text)
        self.assertIn("practice: look", page.text)
        for path in (f"/changes?rig={learner.rig_id}", "/search?q=second", f"{learner.path}/practice"):
            self.assertNotIn("second_deg", self.client.get(path).text)
        self.assertEqual(self.client.post(f"{learner.path}/copy", data={}).status_code, 404)

    def test_its_file_stays_practice_wherever_it_goes(self) -> None:
        learner = self.begun("second-axis")
        learner.does("level", "look", p_way="second:to_string", p_pitch="0", p_seat="flat")
        file = self.client.get(f"{learner.path}/rig.json").content
        other = WithClient()
        other.setUp()
        self.addCleanup(other.doCleanups)
        sent = other.client.post("/carry", files={"file": ("rig.json", file, "application/json")})
        taken = other.client.post(sent.headers["location"])
        self.assertEqual(taken.status_code, 303, taken.text)
        self.assertNotIn("second axis", other.client.get("/").text.split('class="bench-side"')[0])
        self.assertIn("1 done", other.client.get("/practice").text)
        self.assertEqual(practice(open_rig(other.database, 1)), practice(learner.rig))
        self.assertIn('id="practice"', other.client.get("/rigs/1/level").text)

    def test_an_exercise_goes_out_as_a_file_and_comes_back(self) -> None:
        text = self.client.get("/practice/exercises/two-days.json").text
        self.assertEqual(exercise_of(text), exercise("two-days"))
        changed = json.loads(text) | {"key": "mine", "seed": 99}
        answer = self.client.post(
            "/practice/file", data={"learner": "Reed"}, files={"file": ("mine.json", json.dumps(changed))}
        )
        self.assertEqual(answer.status_code, 303)
        rig = open_rig(self.database, int(answer.headers["location"].split("/")[2]))
        self.assertEqual(practice(rig).exercise.seed, 99)
        self.assertEqual(exercise_of(self.client.get(f"/rigs/{rig.rig_id}/practice.json").text).key, "mine")

    def test_a_file_edited_wrongly_is_refused_in_words(self) -> None:
        row = json.loads(self.client.get("/practice/exercises/two-days.json").text)
        for content, words in (
            (json.dumps(row | {"budget": {}}), "budget.arrows: is missing"),
            (json.dumps(row | {"hidden": {"day_mrad": 77}}), "hidden.day_mrad: must lie between 0 and 2"),
            ("{", "file: is no exercise"),
            (b"\xff\xfe\x00", "is no text"),
            ("", "choose the file"),
        ):
            with self.subTest(words):
                answer = self.client.post("/practice/file", files={"file": ("x.json", content)})
                self.assertEqual(answer.status_code, 422)
                self.assertIn(words, answer.text)
        self.assertEqual(self.client.get("/practice/exercises/none.json").status_code, 404)
        self.assertEqual(self.client.post("/practice/begin", data={"exercise": "none"}).status_code, 404)

    def test_every_exercise_begins(self) -> None:
        for each in exercises():
            with self.subTest(each.key):
                learner = self.begun(each.key)
                self.assertEqual(self.client.get(f"{learner.path}/practice").status_code, 200)
                self.assertEqual(learner.rig.card.handed, "right")


if __name__ == "__main__":
    unittest.main()
