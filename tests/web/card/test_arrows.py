from cross_staff.services.rig import open_rig
from tests.services.tape.test_record import true_mark
from tests.web.client import WithClient, fields


class Arrows(WithClient):
    def setUp(self) -> None:
        super().setUp()
        self.rig_id = self.add_rig()
        self.path = f"/rigs/{self.rig_id}/card/arrows"

    @property
    def rig(self):  # type: ignore[no-untyped-def]
        return open_rig(self.database, self.rig_id)

    def act(self, index: int, act: str):  # type: ignore[no-untyped-def]
        return self.client.post(f"{self.path}/{index}/{act}", data={"based_on": str(self.rig.revision.number)})

    def heavier(self) -> None:
        answer = self.act(0, "copy")
        form = fields(self.client.get(answer.headers["location"]).text)
        self.client.post(f"{self.path}/1", data=form | {"arrow_name": "heavy", "part_mass_0": "13"})

    def test_a_second_build_has_its_speed_predicted(self) -> None:
        self.heavier()
        self.assertEqual([b.name for b in self.rig.card.builds], ["slim", "heavy"])
        page = self.client.get(self.path).text
        self.assertRegex(page, r"7\d\.\d\u00a0m/s ± \d(\.\d)?, predicted")
        self.assertIn("Judged 5 % too far at 95\u00a0m", page)
        self.assertEqual(self.rig.card.in_use, 0)

    def test_each_build_has_its_own_marks(self) -> None:
        self.heavier()
        tape = f"/rigs/{self.rig_id}/tape"
        row = {"row-0-distance": "17", "row-0-mark": f"{true_mark(17):.1f}", "row-0-arrows": "6"}
        self.client.post(tape, data=fields(self.client.get(tape).text) | row)
        self.assertEqual(len(self.rig.evaluation.used), 1)
        self.act(1, "use")
        evaluation = self.rig.evaluation
        self.assertEqual((len(evaluation.own), evaluation.set_aside, evaluation.good_to_m), (0, 1, None))
        self.act(0, "use")
        self.assertEqual(len(self.rig.evaluation.used), 1)

    def test_taking_out_and_putting_back(self) -> None:
        self.heavier()
        self.assertEqual(self.act(0, "out").status_code, 404)
        self.act(1, "out")
        self.assertEqual(len(self.rig.card.builds), 1)
        page = self.client.get(self.path).text
        self.assertIn("Put back heavy", page)
        number = self.rig.revision.number
        self.client.post(f"{self.path}-back/{number - 1}/1", data={"based_on": str(number)})
        self.assertEqual(self.rig.card.builds[1].name, "heavy")

    def test_a_new_session_is_added_behind_the_others(self) -> None:
        form = fields(self.client.get(f"{self.path}/0").text)
        again = self.client.post(f"{self.path}/0", data=form | {"session": "new"})
        self.assertEqual(again.status_code, 422)
        self.assertIn("type the readings of the new one", again.text)
        self.client.post(f"{self.path}/0", data=form | {"session": "new", "readings": "80.6 80.9 81.1"})
        sessions = self.rig.card.build.sessions
        self.assertEqual([len(s.readings_mps) for s in sessions], [4, 3])
        self.assertIsNotNone(sessions[1].day)
        self.assertIn("mean of 4", self.client.get(f"{self.path}/0").text)

    def test_bad_input_and_stale_windows_keep_what_was_typed(self) -> None:
        form = fields(self.client.get(f"{self.path}/0").text)
        bad = self.client.post(f"{self.path}/0", data=form | {"shaft_diameter": "62", "spine": "as typed"})
        self.assertEqual((bad.status_code, fields(bad.text)["spine"]), (422, "as typed"))
        self.client.post(f"{self.path}/0", data=form | {"spine": "350"})
        late = self.client.post(f"{self.path}/0", data=form | {"spine": "300"})
        self.assertEqual((late.status_code, fields(late.text)["spine"]), (409, "300"))
        stale = self.client.post(f"{self.path}/0/copy", data={"based_on": "1"})
        self.assertIn("said=stale", stale.headers["location"])
        for path in ("9", "0/burn", "0/use"):
            self.assertEqual(self.client.post(f"{self.path}/{path}", data=form).status_code, 404)

    def test_components_that_weigh_less_than_nothing(self) -> None:
        form = fields(self.client.get(f"{self.path}/0").text) | {"part_mass_0": "-9"}
        answer = self.client.post(f"{self.path}/0", data=form)
        self.assertEqual(answer.status_code, 422)
        self.assertIn("too little", answer.text)

    def test_warnings_follow_what_is_typed(self) -> None:
        card = f"/rigs/{self.rig_id}/card"
        form = fields(self.client.get(card).text)
        self.client.post(
            card, data=form | {"spine": "350", "draw_weight": "60", "least_mass": "6", "nock_to_rest": "715"}
        )
        form = fields(self.client.get(f"{self.path}/0").text) | {"part_mass_0": "12"}
        said = self.client.post(f"{self.path}/0/reckoning", data=form, headers={"HX-Request": "true"}).text
        self.assertIn("asks for a stiffer, heavier shaft", said)
        self.assertIn("stands only 5\u00a0mm in front of the rest", said)
        light = self.client.post(f"{self.path}/0/reckoning", data=form | {"arrow_mass": "20"}).text
        self.assertIn("do not shoot it from this bow", light)
