"""Every event on every page that it can come from; what it sets aside, takes back, takes up, and proves again."""

import re
import unittest
from dataclasses import replace

from cross_staff.core.rig.events import CAUSES, GROUPS, REPORTED
from cross_staff.core.rig.sight import Housing
from cross_staff.services.card import save as card_service
from tests.rigs import NOON, true_mark
from tests.shop import rig_card
from tests.web.client import WithClient, fields

CARD = replace(rig_card("single_pin_slider"), anchor="under the jaw", release="thumb")
CARD = replace(
    CARD,
    mount=replace(CARD.mount, detent=0),
    sight=replace(CARD.sight, extension_mm=(120.0, 150.0), holes_mm=(0.0, 12.0), heads=("scope", "ring"),
                  head_in_use="scope", housing=Housing(44.0, 52.0)),
    peep=replace(CARD.peep, aperture_m=0.005),
)  # fmt: skip
# what each cause sets aside of a rig that is done at every station, by the kind of record; what sets aside marks, or
# the strip itself, sets aside what was proven by it too
ASIDE = {
    "arrow": {"marks"},
    "rest": {"checks", "marks"},
    "nocking_point": {"checks", "marks"},
    "d_loop": {"checks", "marks"},
    "draw": {"checks", "looks", "marks", "speed"},
    "cables": {"checks", "looks", "marks", "speed"},
    "timing": {"checks", "looks", "marks", "speed"},
    "twist": {"checks", "marks"},
    "peep": {"marks"},
    "release": {"marks"},
    "aperture": set(),
    "stabiliser": set(),
    "quiver": set(),
    "dovetail": {"steps", "looks", "marks"},
    "hole": {"steps", "looks", "marks"},
    "head": {"steps", "looks", "marks"},
    "housing": {"steps", "looks", "marks"},
    "indicator": {"marks"},
    "strip": set(),
    "axis_screw": {"looks", "marks"},
    "axis_turned": {"marks"},
    "tuned": {"marks"},
    "tuned_cams": {"looks", "marks"},
    "tuned_cable": {"checks", "looks", "marks", "speed"},
    "sight_off": {"looks", "marks"},
    "knock": {"looks", "marks"},
    "strings": {"checks", "steps", "looks", "marks", "speed"},
}
# page, what is typed there: the cause that it is noticed as, where nothing else is said
NOTICED = (
    ("card", {"eye_to_sight": "760"}, "dovetail"),
    ("card", {"draw_weight": "75"}, "draw"),
    ("card", {"anchor": "web of the hand"}, "release"),
    ("card", {"release": "index finger"}, "release"),
    ("card", {"peep_along": "190"}, "peep"),
    ("card", {"part_mass_0": "14"}, "arrow"),
    ("card/arrows/0", {"shaft_length": "700"}, "arrow"),
    ("card/sight", {"head_in_use": "ring"}, "head"),
    ("card/sight", {"housing_inner": "35"}, "housing"),
    ("mount", {"now_detent": "1"}, "dovetail"),
    ("mount", {"now_hole": "1"}, "hole"),
)


# the fields of the forms as the card had them first
AS_IT_WAS = {
    "eye_to_sight": "820", "draw_weight": "60.7", "anchor": "under the jaw", "release": "thumb", "peep_along": "165",
    "part_mass_0": "9.8", "shaft_length": "720", "head_in_use": "scope", "housing_inner": "44", "now_detent": "0",
    "now_hole": "0",
}  # fmt: skip


class AtWork(WithClient):
    """A rig that is done at every station, from an empty shop."""

    def setUp(self) -> None:
        super().setUp()
        self.rig_id = self.shop.ready(CARD)
        self.shop.marks(self.rig_id, 17.0, 47.0, 78.0)
        self.here = f"/rigs/{self.rig_id}"

    @property
    def rig(self) -> object:
        return self.shop.open(self.rig_id)

    def kinds(self) -> set[str]:
        return {each.kind for each in self.rig.set_aside}

    def text(self, path: str) -> str:
        answer = self.client.get(f"{self.here}/{path}")
        self.assertEqual(answer.status_code, 200, path)
        return answer.text

    def say(self, *causes: str, **typed: str) -> None:
        answer = self.client.post(f"{self.here}/events", data={f"did_{cause}": "1" for cause in causes} | typed)
        self.assertEqual(answer.status_code, 303)

    def take_up(self, *results: str, why: str = "looked at it twice") -> int:
        sent = {f"result_{result}": "1" for result in results} | {"why": why}
        return self.client.post(f"{self.here}/events/take-up", data=sent).status_code

    def undo(self, number: int) -> None:
        self.assertEqual(self.client.post(f"{self.here}/events/{number}/undo").status_code, 303)


def aside(cause: str) -> set[str]:
    proven = {"proofs"} if "marks" in ASIDE[cause] or cause == "strip" else set()
    return ASIDE[cause] | proven


class EveryEvent(AtWork):
    def setUp(self) -> None:
        super().setUp()
        self.shop.printed(self.rig_id)
        self.shop.proof(self.rig_id, 1, 78.0)

    def test_the_table_names_every_cause(self) -> None:
        self.assertEqual(set(ASIDE), set(CAUSES))

    def test_each_that_can_be_said_sets_aside_what_it_says_and_is_taken_back(self) -> None:
        stands = [each.state for each in self.rig.standings]
        good = self.rig.evaluation.good_to_m
        for cause in REPORTED:
            with self.subTest(cause.key):
                ahead = self.client.post(f"{self.here}/events/ahead", data={f"did_{cause.key}": "1"},
                                         headers={"HX-Request": "true"}).text  # fmt: skip
                self.assertEqual("Sets aside" in ahead, bool(aside(cause.key)))
                for reason in cause.reasons.values():
                    self.assertIn(reason.replace("'", "&#39;"), ahead)
                self.assertEqual(self.kinds(), set())
                self.say(cause.key)
                self.assertEqual(self.kinds(), aside(cause.key))
                page = self.text("events")
                self.assertIn(cause.words, page)
                self.assertEqual("set aside</b> since" in page, bool(aside(cause.key)))
                if "marks" in ASIDE[cause.key]:
                    self.assertIsNone(self.rig.evaluation.good_to_m)
                    self.assertIn("stale", [each.state for each in self.rig.standings])
                    self.assertNotIn("Print the tape</span>", self.text("tape"))
                self.undo(self.rig.revision.number)
                self.assertEqual([each.state for each in self.rig.standings], stands)
                self.assertEqual(self.rig.evaluation.good_to_m, good)

    def test_each_that_the_card_shows_is_asked_about_wherever_it_is_typed(self) -> None:
        for path, typed, cause in NOTICED:
            with self.subTest(path, typed=typed):
                before = self.rig.revision.number
                sent = fields(self.text(path)) | typed
                answer = self.client.post(f"{self.here}/{path}", data=sent)
                self.assertEqual((answer.status_code, self.rig.revision.number), (422, before))
                self.assertIn("Was the bow changed, or only what is written of it?", answer.text)
                asked = fields(answer.text)
                self.assertIn(f"meant_{cause}", asked)
                self.assertEqual({name: asked[name] for name in typed}, typed)
                again = self.client.post(f"{self.here}/{path}", data=asked | {f"meant_{cause}": "mistyped"})
                self.assertEqual((again.status_code, self.kinds()), (303, set()))
                back = self.client.post(
                    f"{self.here}/{path}", data=fields(self.text(path)) | {name: AS_IT_WAS[name] for name in typed}
                )
                self.assertEqual(back.status_code, 422)
                changed = fields(back.text) | {f"meant_{cause}": "changed"}
                self.assertEqual(self.client.post(f"{self.here}/{path}", data=changed).status_code, 303)
                self.assertEqual(self.kinds(), aside(cause))
                self.undo(self.rig.revision.number)
                self.assertEqual(self.kinds(), set())

    def test_a_tenth_of_a_millimetre_is_not_asked_about(self) -> None:
        sent = fields(self.text("card")) | {"eye_to_sight": "820.1"}
        self.assertEqual(self.client.post(f"{self.here}/card", data=sent).status_code, 303)
        self.assertEqual(self.kinds(), set())

    def test_first_entries_and_a_new_rig_are_not_asked_about(self) -> None:
        rig_id = self.shop.new("Bare bow")
        path = f"/rigs/{rig_id}/card"
        sent = fields(self.client.get(path).text) | {"eye_to_sight": "800", "anchor": "jaw", "draw_weight": "60"}
        sent["sight_kind"] = "single_pin_slider"
        self.assertEqual(self.client.post(path, data=sent).status_code, 303)
        again = fields(self.client.get(path).text) | {"eye_to_sight": "700"}
        self.assertEqual(self.client.post(path, data=again).status_code, 303)
        self.assertEqual(self.shop.open(rig_id).set_aside, ())

    def test_the_first_answer_is_sensible(self) -> None:
        for typed, likely in (("823", "again"), ("280", ""), ("802", "mistyped"), ("743", "changed")):
            answer = self.client.post(f"{self.here}/card", data=fields(self.text("card")) | {"eye_to_sight": typed})
            self.assertEqual(fields(answer.text).get("meant_dovetail", ""), likely)

    def test_measured_again_the_fit_takes_the_new_value(self) -> None:
        sent = fields(self.text("card")) | {"eye_to_sight": "825", "meant_dovetail": "again"}
        self.client.post(f"{self.here}/card", data=sent)
        self.assertAlmostEqual(self.rig.evaluation.fit.priors.eye_to_sight_m.value, 0.825)
        self.assertEqual((self.kinds(), len(self.rig.evaluation.used)), (set(), 3))

    def test_a_slip_of_the_pen_and_its_mending_cost_nothing(self) -> None:
        stands = [(each.state, each.word, each.count) for each in self.rig.standings]
        for typed in ("802", "820"):
            answer = self.client.post(f"{self.here}/card", data=fields(self.text("card")) | {"eye_to_sight": typed})
            self.client.post(f"{self.here}/card", data=fields(answer.text))
        self.assertEqual([(each.state, each.word, each.count) for each in self.rig.standings], stands)

    def test_a_tuning_step_and_a_turned_screw_are_noticed_at_their_stations(self) -> None:
        tear = {"right": "1", "up": "6", "after": "nock_down"}
        self.assertEqual(self.client.post(f"{self.here}/prepare/paper_tear", data=tear).status_code, 303)
        self.assertEqual(self.kinds(), aside("tuned"))
        self.assertIn("lower the nocking point by 1 mm", self.text("card/revisions"))
        for step, cause in (("yoke_left", "tuned_cams"), ("cable_in", "tuned_cable")):
            self.undo(self.rig.revision.number)
            self.client.post(f"{self.here}/prepare/paper_tear", data=tear | {"after": step})
            self.assertEqual(self.kinds(), aside(cause))
        self.undo(self.rig.revision.number)
        number = self.rig.revision.number
        again = {"right": "1", "up": "3", "after": "grip"}
        self.client.post(f"{self.here}/prepare/paper_tear", data=again)
        self.assertEqual(self.rig.revision.number, number)

    def test_nothing_said_is_refused_and_what_was_typed_stays(self) -> None:
        answer = self.client.post(f"{self.here}/events", data={"why": "fell off the stand"})
        self.assertEqual(answer.status_code, 422)
        self.assertIn("say what was done", answer.text)
        self.assertIn("fell off the stand", answer.text)
        self.assertEqual(self.client.post(f"{self.here}/events", data={"did_axis_turned": "1"}).status_code, 422)

    def test_every_group_has_its_events(self) -> None:
        page = self.text("events?did=knock")
        for words in GROUPS.values():
            self.assertIn(f"<legend>{words}</legend>", page)
        self.assertRegex(page, r'name="did_knock" value="1" checked')


class SetAside(AtWork):
    def test_every_station_says_what_is_set_aside_why_and_when(self) -> None:
        self.say("strings", why="string broke a strand")
        for station, words in (
            ("prepare", "checks of the bench sheet set aside"),
            ("mount", "steps of mounting set aside"),
            ("level", "looks at the axes set aside"),
            ("tape", "3 marks set aside"),
            ("card", "1 chronographed speed set aside"),
        ):
            page = self.text(station)
            self.assertIn(words, page)
            self.assertRegex(page, r"since \d{4}-\d\d-\d\d \d\d:\d\d: new string or cables")
        self.assertNotIn("not read yet", self.text("level"))
        self.assertIn("counts as 3 % unsure", self.text("tape"))

    def test_each_result_is_taken_up_with_a_reason_and_alone(self) -> None:
        self.say("knock")
        self.assertEqual(self.take_up("level", why=""), 422)
        self.assertEqual(self.take_up(why="of nothing at all"), 422)
        self.assertEqual(self.take_up("level"), 303)
        self.assertEqual(self.kinds(), {"marks"})
        self.assertEqual(self.take_up("level"), 404)
        self.assertEqual(self.take_up("home"), 303)
        self.assertEqual(self.kinds(), set())
        self.assertIn("looked at it twice", self.text("card/revisions"))

    def test_undoing_twice_is_refused(self) -> None:
        self.say("knock")
        number = self.rig.revision.number
        self.undo(number)
        self.assertEqual(self.client.post(f"{self.here}/events/{number}/undo").status_code, 404)
        self.assertEqual(self.client.post(f"{self.here}/events/99/undo").status_code, 404)

    def test_a_restored_revision_gives_the_same_results_to_the_letter(self) -> None:
        number = self.rig.revision.number
        fit, pages = self.rig.evaluation, [self._plain(path) for path in ("tape/pins", "tape/fits", "level", "tape")]
        for typed, meaning in (("743", "changed"), ("612", "changed")):
            sent = fields(self.text("card")) | {"eye_to_sight": typed, "meant_dovetail": meaning}
            self.assertEqual(self.client.post(f"{self.here}/card", data=sent).status_code, 303)
        self.assertIn("marks", self.kinds())
        answer = self.client.post(f"{self.here}/events/restore", data={"number": str(number)})
        self.assertEqual((answer.status_code, self.kinds()), (303, set()))
        self.assertEqual(self.rig.evaluation.rows, fit.rows)
        self.assertEqual(self.rig.evaluation.fit.estimate.tobytes(), fit.fit.estimate.tobytes())
        self.assertEqual([self._plain(path) for path in ("tape/pins", "tape/fits", "level", "tape")], pages)

    def _plain(self, path: str) -> str:
        return re.sub(r"revision \d+|based_on\" value=\"\d+|place=\d+|[0-9a-f]{16}", "", self.text(path))

    def test_what_was_said_since_stays_true_over_a_restored_card(self) -> None:
        number = self.rig.revision.number
        self.say("knock")
        self.client.post(f"{self.here}/events/restore", data={"number": str(number)})
        self.assertEqual(self.kinds(), ASIDE["knock"])

    def test_a_bow_that_was_put_back_is_a_change(self) -> None:
        number = self.rig.revision.number
        sent = fields(self.text("card")) | {"eye_to_sight": "743", "meant_dovetail": "changed"}
        self.client.post(f"{self.here}/card", data=sent)
        self.client.post(f"{self.here}/events/restore", data={"number": str(number), "moved_back": "1"})
        self.assertEqual(self.kinds(), ASIDE["dovetail"])

    def test_a_head_and_an_arrow_have_their_results_again_when_they_come_back(self) -> None:
        ring = replace(CARD, sight=replace(CARD.sight, head_in_use="ring", housing=Housing(35.0, 42.0)))
        heavy = CARD.with_build(replace(CARD.build, shaft_kg_per_m=0.02))
        for other in (ring, heavy):
            with self.subTest(other.sight.head_in_use):
                for card, aside in ((other, True), (CARD, False)):
                    card_service.save(self.database, self.rig_id, self.rig.revision.number, card, {}, NOON)
                    self.assertEqual(bool(self.kinds()), aside)

    def test_a_place_that_is_taken_out_before_it_does_not_move_the_sight(self) -> None:
        card_service.save(self.database, self.rig_id, self.rig.revision.number,
                          replace(CARD, mount=replace(CARD.mount, detent=1)), {}, NOON)  # fmt: skip
        fewer = replace(self.rig.card, sight=replace(CARD.sight, extension_mm=(150.0, 170.0, 190.0)))
        card_service.save(self.database, self.rig_id, self.rig.revision.number, fewer, {}, NOON)
        self.assertEqual((self.rig.card.mount.detent, self.rig.card.sight.extension_mm[0]), (0, 150.0))


class Reproved(AtWork):
    def row(self, distance: float, up: float, arrows: int) -> None:
        mark = true_mark(self.rig.card.distance_from_sight(distance))
        sent = {"row-9-distance": f"{distance:g}", "row-9-mark": f"{mark:.2f}", "row-9-up": f"{100 * up:.1f}",
                "row-9-arrows": str(arrows), "row-9-key": f"{distance:g}{up:g}".ljust(16, "0")[:16]}  # fmt: skip
        kept = {n: t for n, t in fields(self.text("tape")).items() if n.startswith("row-") and "-9-" not in n}
        self.assertEqual(self.client.post(f"{self.here}/tape", data=kept | sent).status_code, 303)

    def test_one_end_within_the_band_and_everything_holds_again_in_one_act(self) -> None:
        good = self.rig.evaluation.good_to_m
        self.say("d_loop")
        self.take_up("tune", why="paper torn again, clean")
        proof = self.rig.state.reproof
        (end,) = proof.ends
        page = self.text("tape")
        self.assertRegex(page, rf"Prove it: {end.arrows} arrows at {end.ranged_m:g}.m\.")
        self.assertEqual(self.client.post(f"{self.here}/events/proved").status_code, 422)
        self.row(end.ranged_m, 0.4 * end.band_m, end.arrows)
        self.assertTrue(self.rig.state.reproof.passed)
        self.assertIn("It is proved again.", self.text("tape"))
        self.assertEqual(self.client.post(f"{self.here}/events/proved").status_code, 303)
        self.assertEqual(self.kinds(), set())
        self.assertIn("windage", self.rig.measured.timeline.events[-1].results)  # nobody noted left or right
        self.assertGreaterEqual(self.rig.evaluation.good_to_m, good)
        self.assertIn("proved by", self.text("card/revisions"))

    def test_outside_the_band_the_spans_are_kept_and_only_the_zero_is_anew(self) -> None:
        self.say("twist")
        (end,) = self.rig.state.reproof.ends
        self.row(end.ranged_m, 6.0 * end.band_m, end.arrows)
        self.assertTrue(self.rig.state.reproof.failed)
        self.assertIn("these arrows are the new zero", self.text("tape"))
        self.assertEqual(self.client.post(f"{self.here}/events/proved").status_code, 422)
        used = self.rig.evaluation.used
        self.assertEqual(sum(row.has("span") for row in used), 3)
        self.assertIn("only its distance from the others of its day counts", self.text("tape"))
        self.assertGreater(self.rig.evaluation.good_to_m, 60.0)

    def test_more_power_asks_for_home_and_far(self) -> None:
        self.say("cables")
        self.assertEqual([end.ranged_m for end in self.rig.state.reproof.ends], [17.0, 78.0])

    def test_another_arrow_is_shot_anew(self) -> None:
        sent = fields(self.text("card")) | {"part_mass_0": "14", "meant_arrow": "changed"}
        self.client.post(f"{self.here}/card", data=sent)
        self.assertIsNone(self.rig.state.reproof)


class AtTheRange(WithClient):
    """The same with arrows that were tapped: the range page orders the proof, and everything is taken up there."""

    def test_the_end_that_is_ordered_is_shot_and_everything_is_taken_up(self) -> None:
        rig_id = self.shop.ready(rig_card("single_pin_slider"))
        here = f"/rigs/{rig_id}"
        for number, distance in enumerate((17.0, 47.0, 78.0)):
            self.shop.end(rig_id, f"end-{number}", distance, dial_mm=round(true_mark(distance - 0.82), 1))
        good = self.shop.open(rig_id).evaluation.good_to_m
        self.client.post(f"{here}/events", data={"did_stabiliser": "1", "did_knock": "1"})
        self.client.post(f"{here}/events/take-up", data={"result_level": "1", "why": "bubbles stand as they did"})
        page = self.client.get(f"{here}/sight_in").text
        (end,) = self.shop.open(rig_id).state.reproof.ends
        self.assertRegex(page, rf"Prove it: {end.arrows} arrows at {end.ranged_m:g}.m\.")
        self.assertIn("where the old marks have it", page)
        sent = fields(page)
        self.assertEqual(float(sent["distance"]), end.ranged_m)
        self.assertAlmostEqual(float(sent["dial"]), end.mark_mm, delta=0.06)
        shots = "\n".join(f"{2 * (-1) ** n} {3 * (-1) ** n}" for n in range(end.arrows + end.arrows % 2))
        head = {name: sent[name] for name in ("key", "seen", "distance", "pin", "dial", "note")}
        answer = self.client.post(f"{here}/sight_in/end", data=head | {"shots": shots})
        self.assertEqual(answer.status_code, 303)
        page = self.client.get(f"{here}/sight_in").text
        self.assertIn("It is proved: take it up again.", page)
        self.client.post(f"{here}/events/proved")
        rig = self.shop.open(rig_id)
        self.assertEqual((rig.set_aside, rig.state.reproof), ((), None))
        self.assertGreaterEqual(rig.evaluation.good_to_m, good)

    def test_what_asks_for_windage_alone_is_proved_by_tapped_arrows_and_by_no_mark(self) -> None:
        marked = self.shop.ready(rig_card("single_pin_slider"))
        self.shop.marks(marked, 17.0, 47.0, 78.0)
        self.client.post(f"/rigs/{marked}/events", data={"did_stabiliser": "1"})
        self.assertEqual((self.shop.open(marked).set_aside, self.shop.open(marked).state.reproof), ((), None))
        tapped = self.shop.ready(rig_card("single_pin_slider"))
        for number, distance in enumerate((17.0, 47.0)):
            self.shop.end(tapped, f"end-{number}", distance, dial_mm=round(true_mark(distance - 0.82), 1))
        self.client.post(f"/rigs/{tapped}/events", data={"did_stabiliser": "1"})
        proof = self.shop.open(tapped).state.reproof
        self.assertTrue(proof.sideways)
        (end,) = proof.ends
        self.shop.marks(tapped, end.ranged_m, end.ranged_m)
        self.assertFalse(self.shop.open(tapped).state.reproof.passed)
        self.assertEqual(self.client.post(f"/rigs/{tapped}/events/proved").status_code, 422)
        self.shop.end(tapped, "again", end.ranged_m, dial_mm=round(end.mark_mm, 1))
        self.assertTrue(self.shop.open(tapped).state.reproof.passed)
        self.assertEqual(self.client.post(f"/rigs/{tapped}/events/proved").status_code, 303)
        self.assertEqual((self.shop.open(tapped).set_aside, self.shop.open(tapped).state.reproof), ((), None))


class Waiting(AtWork):
    def wait(self, **typed: str) -> int:
        return self.client.post(f"{self.here}/events/waiting", data=typed).status_code

    def test_what_it_waits_for_stands_on_the_bench_until_it_came(self) -> None:
        self.assertEqual(self.wait(waits_for="cables, 38 in", until="2020-12-03"), 303)
        self.assertIn("waits for cables, 38 in, expected", self.text("level"))
        self.assertRegex(self.client.get("/").text, r"Waits for cables, 38 in, \d+ days late")
        self.assertEqual(self.wait(waits_for="cables, 38 in", until="2020-12-03", came="1"), 303)
        self.assertNotIn("aits for cables", self.client.get("/").text + self.text("level"))

    def test_what_cannot_be_waited_for(self) -> None:
        for typed in ({"waits_for": ""}, {"waits_for": "a peep", "until": "soon"}):
            self.assertEqual(self.wait(**typed), 422)
        self.assertEqual(self.wait(came="1"), 404)


if __name__ == "__main__":
    unittest.main()
