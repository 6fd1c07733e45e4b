"""What the planner says."""

import unittest
from dataclasses import replace

from cross_staff.core.mount.planner import HOMES, Remedy
from cross_staff.core.mount.station import STEPS
from cross_staff.core.rig.log import BenchEntry
from cross_staff.core.rig.reach import Place, SightReach
from cross_staff.core.stations import NextStep
from cross_staff.web.forms.units import Units
from cross_staff.web.mount import words as mount_words
from cross_staff.web.shared import reach_words
from cross_staff.web.shared.log import log_rows
from tests.core.mount.test_planner import card, plan, plan_all
from tests.rigs import NOON, RIG_A

METRIC, INCHES = Units(), Units("yd", "in", "in", "fps", "gr")


class MountWords(unittest.TestCase):
    def test_places_limits_and_remedies(self) -> None:
        rig = card()
        self.assertEqual(
            mount_words.place(rig, Place(1, 2, "centred")),
            "highest hole, extension 24\u00a0mm, farthest out, home centred on the rail",
        )
        for far, units, said in (
            (None, METRIC, "beyond 200\u00a0m"),
            (0.0, METRIC, "nowhere"),
            (80.4, INCHES, "87\u00a0yd"),
        ):
            limits = {} if far is None else {"slider_travel": far}
            self.assertEqual(reach_words.reach(SightReach(far, None, limits), units), said)
        for code in ("lower_on_post", "faster_arrow", "higher_peep", "nearer_riser", "far_pin"):
            self.assertRegex(mount_words.remedy(Remedy(code, 88.0), METRIC), r": 88\u00a0m$")
        choice = plan_all(rig, RIG_A)
        self.assertIn("so it reads finest", mount_words.best(choice, rig))
        self.assertIn("the least of all places", mount_words.torque_beside(choice.plans[0], choice.plans, METRIC))
        self.assertIn("more than nearest", mount_words.torque_beside(choice.plans[-1], choice.plans, METRIC))
        alone = plan_all(card(sight=replace(rig.sight, extension_mm=())), RIG_A)
        self.assertRegex(mount_words.torque_beside(alone.plans[0], alone.plans, METRIC), r"^[\d.]+\u00a0cm$")
        self.assertEqual({home.key for home in HOMES.values()}, set(HOMES))

    def test_what_is_not_known_of_a_reach_is_said_with_what_tells_it(self) -> None:
        self.assertEqual((reach_words.reach(None, METRIC), reach_words.not_known(None)), ("not known", ""))
        nothing = SightReach(160.0, "arrow", {"arrow": 160.0}, unknown=("slider_travel", "vanes"), arrow_m=160.0)
        self.assertEqual(reach_words.reach(nothing, METRIC), "not known")
        self.assertIn("Measure it from its top stop", reach_words.not_known(nothing))
        self.assertIn("Nor how high the vanes stand", reach_words.not_known(nothing))
        self.assertEqual(reach_words.arrow_flies(nothing, METRIC), "The arrow itself flies 160\u00a0m on the level.")
        some = SightReach(95.0, "slider_travel", {"slider_travel": 95.0}, unknown=("vanes",))
        self.assertEqual(reach_words.reach(some, METRIC), "95\u00a0m at most")

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

    def test_every_step_has_its_now(self) -> None:
        for step in STEPS:
            said = mount_words.next_step(NextStep("mount", step.key, {"left": 3.0}), METRIC)
            self.assertIn("3 steps are left", said.why)
            self.assertLess(len(said.say), 50, step.key)

    def test_the_log_says_what_was_done(self) -> None:
        log = [
            BenchEntry("mount", "play", 1, NOON, choice="skipped", entry_id=1),
            BenchEntry("mount", "play", 1, NOON, removed=True, entry_id=2),
        ]
        rows = log_rows(log, mount_words.logged, {})
        self.assertEqual([row["undo"] for row in rows], [False, False])
        self.assertEqual([row["value"] for row in rows], ["taken back", "skipped"])
        self.assertEqual(rows[0]["name"], mount_words.logged(log[0]).name)


if __name__ == "__main__":
    unittest.main()
