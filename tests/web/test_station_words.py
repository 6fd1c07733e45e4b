import unittest
from dataclasses import replace

from cross_staff.core.mount.planner import HOMES, Place, Remedy, plan, plan_all
from cross_staff.core.mount.station import STEPS
from cross_staff.core.prepare.checklist import CHECKS
from cross_staff.core.prepare.tuning import STEPS as TUNING
from cross_staff.core.prepare.tuning import Advice, Reading, WalkBack, walk_back
from cross_staff.core.rig.log import BenchEntry
from cross_staff.core.stations import NextStep
from cross_staff.web import mount_words, prepare_words, sentences
from cross_staff.web.bench_log import log_rows
from cross_staff.web.mount_drawing import HEIGHT, WIDTH, side_view
from cross_staff.web.prepare_drawing import SIDE, place_drawing, walk_drawing
from cross_staff.web.units import Units
from tests.core.mount.test_planner import card
from tests.rigs import NOON, RIG_A

METRIC, INCHES = Units(), Units("yd", "in", "in", "fps", "gr")


class Sentences(unittest.TestCase):
    def test_every_line_and_step_has_its_now(self) -> None:
        for key in CHECKS:
            said = sentences.prepare_now(NextStep("prepare", key, {"left": 1.0}))
            self.assertTrue(said.say.endswith(".") and said.caution, key)
            self.assertIn("the last line", said.why)
        for step in STEPS:
            said = sentences.mount_now(NextStep("mount", step.key, {"left": 3.0}))
            self.assertIn("3 steps are left", said.why)
            self.assertLess(len(said.say), 50, step.key)

    def test_every_advice_has_its_words(self) -> None:
        for why in prepare_words._WHY:
            words, because = prepare_words.advice(Advice(False, "rest_left", why, 2.4))
            self.assertTrue(words.startswith("Move the rest") and because)
        self.assertIn("About 2 such steps", prepare_words.advice(Advice(False, "rest_left", "keep", 2.4))[1])
        self.assertIn("Leave it", prepare_words.advice(Advice(True))[0])
        self.assertEqual(set(prepare_words.TRIED) - {""}, set(TUNING))

    def test_walk_backs(self) -> None:
        for shape, words in ((None, "Three distances"), ("plumb", "Plumb"), ("curve", "bends"), ("slant", "slants")):
            self.assertIn(words, prepare_words.walk_back(WalkBack(shape, -0.01))[0])
        self.assertIn("to the left", prepare_words.walk_back(WalkBack("slant", -0.01))[0])

    def test_what_a_measured_line_passes_with(self) -> None:
        for key, words in (
            ("rest_centred", "good within 0.5\u00a0mm, noted up to 1.5\u00a0mm; either side"),
            ("string_shots", "150 shots or more are good"),
            ("limb_bolts", "good within 0.062 turn, noted up to 0.125 turn; either side"),
            ("d_loop", ""),
        ):
            self.assertEqual(prepare_words.limits(CHECKS[key], METRIC), words)

    def test_offsets_say_which_way(self) -> None:
        self.assertEqual(prepare_words.offset((-0.012, 0.003), "length", METRIC), "12\u00a0mm left, 3\u00a0mm high")
        self.assertEqual(prepare_words.offset((0.0, -0.0508), "offset", INCHES), "2\u00a0in low")
        self.assertEqual(prepare_words.offset((0.0, 0.0), "offset", METRIC), "in the middle")

    def test_the_log_says_what_was_found_and_what_can_be_taken_back(self) -> None:
        log = [
            BenchEntry("prepare", "d_loop", 1, NOON, choice="loose", entry_id=1),
            BenchEntry("prepare", "d_loop", 1, NOON, choice="good", entry_id=2),
            BenchEntry("prepare", "paper_tear", 1, NOON, points=((0.01, 0.0),), after="grip", entry_id=3),
            BenchEntry("prepare", "gate_override", 1, NOON, note="agreed with him", entry_id=4),
            BenchEntry("mount", "play", 1, NOON, choice="skipped", entry_id=5),
            BenchEntry("mount", "play", 1, NOON, removed=True, entry_id=6),
        ]
        rows = log_rows(log, METRIC)
        self.assertEqual([row["undo"] for row in rows], [False, False, True, True, True, False])
        self.assertEqual((rows[0]["value"], rows[1]["value"]), ("taken back", "skipped"))
        self.assertEqual(
            (rows[3]["after"], rows[4]["value"]), ("grip settled", "ends on opposite sides, pulled down hard")
        )


class MountWords(unittest.TestCase):
    def test_places_limits_and_remedies(self) -> None:
        rig = card()
        self.assertEqual(
            mount_words.place(rig, Place(1, 2, "centred")),
            "highest hole, extension 24\u00a0mm, farthest out, home centred on the rail",
        )
        self.assertEqual(mount_words.reach(None, METRIC), "beyond 200\u00a0m")
        self.assertEqual((mount_words.reach(0.0, METRIC), mount_words.reach(80.4, INCHES)), ("nowhere", "87\u00a0yd"))
        for code in ("lower_on_post", "faster_arrow", "higher_peep", "nearer_riser", "far_pin"):
            self.assertRegex(mount_words.remedy(Remedy(code, 88.0), METRIC), r": 88\u00a0m$")
        choice = plan_all(rig, RIG_A)
        self.assertIn("so it reads finest", mount_words.best(choice, rig))
        self.assertIn("the least of all places", mount_words.torque_beside(choice.plans[0], choice.plans, METRIC))
        self.assertIn("more than nearest", mount_words.torque_beside(choice.plans[-1], choice.plans, METRIC))
        self.assertEqual({home.key for home in HOMES.values()}, set(HOMES))

    def test_a_stack_too_tall_for_its_housing_is_said(self) -> None:
        rig = card()
        self.assertEqual(mount_words.pins_beyond(rig, plan(rig, RIG_A, Place(0, 1, "top"))), "")
        small = card(sight=replace(rig.sight, housing=replace(rig.sight.housing, pin_room_mm=12.0)))
        said = mount_words.pins_beyond(small, plan(small, RIG_A, Place(0, 1, "top")))
        self.assertIn("span 17.3\u00a0mm, and the housing has room for 12\u00a0mm", said)

    def test_what_the_present_place_lacks(self) -> None:
        rig = card()
        top = plan(rig, RIG_A, Place(0, 1, "top"))
        self.assertIn("needs a reserve above home", mount_words.short(rig, top, METRIC))
        far = plan(rig, RIG_A, Place(0, 1, "centred"))
        self.assertIn("and 78\u00a0m is wanted", mount_words.short(rig, far, METRIC))
        self.assertEqual(mount_words.short(rig, plan(rig, RIG_A, Place(0, 1, "reserve")), METRIC), "")


class Drawings(unittest.TestCase):
    def test_the_side_view_is_to_scale_and_inside_its_frame(self) -> None:
        rig = card()
        found = side_view(rig, plan(rig, RIG_A, Place(0, 1, "top")), "78 m")
        self.assertAlmostEqual(found.home.x - found.peep[0], 820.0 * found.scale, delta=0.2)
        self.assertAlmostEqual(found.base - found.peep[1], 104.0 * found.scale, delta=0.2)
        self.assertAlmostEqual(found.home.bottom - found.home.top, 52.0 * found.scale, delta=0.3)
        self.assertGreater(found.far.pin, found.home.pin)
        for x in (found.nock, found.eye[0], found.home.x, found.end, *(x for x, _ in found.detents)):
            self.assertTrue(0.0 <= x <= WIDTH)
        self.assertTrue(0.0 <= found.home.top < found.far.bottom <= HEIGHT)
        self.assertEqual([here for _, here in found.detents], [False, True, False])
        fixed = card(sight=replace(rig.sight, kind="fixed_pins"))
        still = side_view(fixed, plan(fixed, RIG_A, Place(0, 1, "top")), "78 m")
        self.assertIsNone(still.far)
        self.assertEqual(still.far_pin, found.far.pin)
        self.assertRegex(found.clear_words, r"^\d+ mm over the vanes$")

    def test_a_tear_stands_where_the_nock_tore(self) -> None:
        readings = [Reading((0.01, 0.0)), Reading((0.005, 0.005), "grip")]
        found = place_drawing("paper_tear", readings, (-0.01, 0.02), 0.0, METRIC)
        self.assertLess(found.x, found.middle)
        self.assertLess(found.y, found.middle)
        self.assertAlmostEqual(found.middle - found.x, 10.0 * found.per_unit, delta=0.1)
        self.assertEqual([spot.number for spot in found.spots], [1, 2])
        far = place_drawing("paper_tear", [], (0.9, 0.9), 0.0, INCHES)
        self.assertTrue(0.0 < far.y < far.x < SIDE)
        self.assertEqual([words for _, words in far.rings], ["0.5", "1", "1.5"])

    def test_a_walk_back_has_its_fitted_line(self) -> None:
        impacts = [(10.0, 0.05), (20.0, 0.10), (30.0, 0.15), (None, 0.0)]
        found = walk_drawing(impacts, walk_back(impacts[:3]), METRIC)
        self.assertEqual(len(found.line.split()), 3)
        self.assertIsNone(found.rows[3].fitted_x)
        self.assertAlmostEqual(found.rows[0].x - found.middle, 5.0 * found.per_unit, delta=0.1)
        self.assertEqual(walk_drawing(impacts, None, METRIC).line, "")
