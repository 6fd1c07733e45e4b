import unittest
from dataclasses import replace

from cross_staff.core.errors import InvalidValue
from cross_staff.core.mount.station import GROUPS, JOINTS, STEPS, WitnessMark, in_order, step_states, steps_for
from cross_staff.core.prepare.checklist import ABSENT, BY_EYE, CHECKS, FAIL, NOT_KNOWN, NOTE, OLD, PASS, UNKNOWN
from cross_staff.core.prepare.station import OVERRIDE, STRING, check_entry, checklist_of
from cross_staff.core.prepare.tuning import WAYS
from cross_staff.core.rig.card import CAMS_BY, Bow, PeepEntry
from cross_staff.core.rig.events import CAUSES, RESULTS
from cross_staff.core.rig.log import BenchEntry, newest
from tests.rigs import NOON, TEMPLATES, full_card
from tests.shop import passing

POUND_N = 4.4482216152605
SLANT = tuple((float(d), 0.03 * d) for d in (10, 20, 30))


def said(key: str, **what: object) -> BenchEntry:
    fields: dict[str, object] = {"revision": 2, "entered": NOON} | what
    return BenchEntry("prepare", key, **fields)  # type: ignore[arg-type]


class Table(unittest.TestCase):
    def test_every_line_says_why_and_every_fault_what_to_try(self) -> None:
        for check in CHECKS.values():
            self.assertTrue(check.why.endswith("."), check.key)
            self.assertIn(check.hangs_on, RESULTS)
            for option in check.options:
                self.assertEqual(bool(option.remedy), option.verdict != PASS, (check.key, option.key))
            if check.kind == "number":
                self.assertTrue(check.remedy)

    def test_every_answer_has_its_verdict(self) -> None:
        for check in CHECKS.values():
            for option in check.options:
                line = checklist_of(full_card(), [said(check.key, choice=option.key)]).line(check.key)
                self.assertEqual((line.verdict, line.remedy), (option.verdict, option.remedy))

    def test_numbers_pass_near_nought_and_shots_from_enough(self) -> None:
        for key, value, verdict in (
            ("rest_centred", -0.0004, PASS),
            ("rest_centred", 0.0012, NOTE),
            ("rest_centred", -0.004, FAIL),
            ("limb_bolts", 0.1, NOTE),
            ("string_shots", 40.0, FAIL),
            ("string_shots", 150.0, PASS),
        ):
            self.assertEqual(
                checklist_of(full_card(), [said(key, number=value)]).line(key).verdict, verdict, (key, value)
            )


class Answers(unittest.TestCase):
    def test_the_steps_know_every_way_of_setting_cams_that_a_card_can_name(self) -> None:
        self.assertEqual(set(WAYS), set(CAMS_BY))

    def refused(self, key: str, **answer: object) -> str:
        try:
            check_entry(full_card(), said(key, **answer))
        except InvalidValue as wrong:
            return wrong.field
        return ""

    def test_a_bare_shaft_says_at_which_distance_and_a_tear_need_not(self) -> None:
        bare = next(check.key for check in CHECKS.values() if check.kind == "bare_shaft")
        self.assertEqual(self.refused(bare, points=((0.0, 0.0),)), "distance")
        self.assertEqual(self.refused(bare, points=((0.0, 0.0),), number=20.0), "")
        self.assertEqual(self.refused("paper_tear", points=((0.0, 0.0),)), "")
        self.assertEqual(self.refused("paper_tear", points=((0.0, 0.3),)), "up")
        self.assertEqual(self.refused("paper_tear"), "right")


class Gate(unittest.TestCase):
    def test_an_empty_sheet_is_shut_and_a_good_one_open(self) -> None:
        self.assertFalse(checklist_of(full_card(), []).gate_open)
        made = checklist_of(full_card(), passing())
        self.assertEqual([line.check.key for line in made.lines if line.verdict != PASS], [])
        self.assertTrue(made.gate_open)

    def test_each_required_line_can_shut_it(self) -> None:
        for check in CHECKS.values():
            if check.kind == "card":
                continue
            without = [entry for entry in passing() if entry.key != check.key]
            self.assertEqual(checklist_of(full_card(), without).gate_open, not check.required, check.key)

    def test_notes_leave_it_open(self) -> None:
        noted = [*passing(), said("servings", choice="passed"), said("paper_tear", points=((0.008, 0.0),))]
        made = checklist_of(full_card(), noted)
        self.assertEqual((made.line("servings").verdict, made.line("paper_tear").verdict), (NOTE, NOTE))
        self.assertTrue(made.gate_open)

    def test_a_worn_string_stops_the_drawing_whatever_the_gate_says(self) -> None:
        override = said(OVERRIDE, note="rough sight-in before tuning, agreed with the archer")
        for choice in ("worn", "cut"):
            made = checklist_of(full_card(), [*passing(), override, said("servings", choice=choice)])
            self.assertEqual((made.stopping.check.key, made.good), ("servings", False))
        looked = [*passing(), said("servings", choice="worn"), said("servings", choice="passed")]
        self.assertIsNone(checklist_of(full_card(), looked).stopping)
        self.assertTrue(checklist_of(full_card(), looked).gate_open)

    def test_nothing_said_by_anybody_else_ends_it(self) -> None:
        for afterwards in ("sound", BY_EYE, NOT_KNOWN):
            made = checklist_of(full_card(), [*passing(), *(said("servings", choice=c) for c in ("worn", afterwards))])
            self.assertEqual((made.stopping.check.key, made.good), ("servings", False), afterwards)
        cut = [said("servings", choice=choice) for choice in ("cut", "worn", "passed")]
        self.assertIn("New string", checklist_of(full_card(), [*passing(), *cut]).stopping.remedy)
        taken_back = [said("servings", choice="worn"), said("servings", removed=True)]
        self.assertIsNone(checklist_of(full_card(), [*passing(), *taken_back]).stopping)
        with self.assertRaisesRegex(InvalidValue, "who looked"):
            check_entry(full_card(), said("servings", choice="passed"))

    def test_no_peep_against_a_card_that_has_one_is_no_pass(self) -> None:
        line = checklist_of(full_card(), [said("peep_rotation", choice=ABSENT)]).line("peep_rotation")
        self.assertEqual(line.verdict, NOTE)
        self.assertIn("The card has a peep", line.remedy)

    def test_only_another_string_ends_it(self) -> None:
        self.assertEqual([key for key, cause in CAUSES.items() if STRING in cause.makes_stale], ["strings"])
        worn = [*passing(), said("servings", choice="worn")]
        retuned = {result: frozenset({1, 2, 3}) for result in RESULTS} | {"tune": frozenset({3})}
        made = checklist_of(full_card(), worn, retuned)
        self.assertEqual((made.line("servings").verdict, made.stopping.check.key), (FAIL, "servings"))
        self.assertIn("Do not draw it", made.stopping.remedy)
        replaced = {result: frozenset({3}) for result in RESULTS}
        self.assertIsNone(checklist_of(full_card(), worn, replaced).stopping)

    def test_by_eye_not_here_and_not_known_on_every_line(self) -> None:
        for check in (each for each in CHECKS.values() if each.kind != "card"):
            seen = checklist_of(full_card(), [said(check.key, choice=BY_EYE)]).line(check.key)
            self.assertEqual(seen.verdict, NOTE, check.key)
            open_ = checklist_of(full_card(), [said(check.key, choice=NOT_KNOWN)]).line(check.key)
            self.assertEqual((open_.verdict, open_.shuts), (UNKNOWN, check.required), check.key)
            if check.leaves_mrad:
                self.assertAlmostEqual(open_.leaves_m, 1e-3 * check.leaves_mrad * full_card().goals.farthest_m)
                self.assertAlmostEqual(seen.leaves_m, open_.leaves_m / 3.0)
            absent = said(check.key, choice=ABSENT)
            if check.absent:
                check_entry(full_card(), absent)
                bare = replace(full_card(), peep=PeepEntry("eye", 0.11))
                self.assertEqual(checklist_of(bare, [absent]).line(check.key).verdict, PASS)
            else:
                with self.assertRaisesRegex(InvalidValue, "every bow has this"):
                    check_entry(full_card(), absent)

    def test_the_gate_follows_what_this_archer_would_feel(self) -> None:
        near = replace(full_card(), goals=replace(full_card().goals, farthest_m=25.0, target_size_m=0.3))
        self.assertEqual(
            {line.check.key for line in checklist_of(near, []).open_lines},
            {"nock_fit", "d_loop", "servings", "looseness", "shafts"},
        )
        bad = [*passing(), said("cam_timing", number=0.004)]
        self.assertFalse(checklist_of(near, bad).gate_open)  # what was found bad is bad for anybody
        unsaid = replace(near, goals=replace(near.goals, target_size_m=None))
        self.assertEqual(len(checklist_of(unsaid, []).open_lines), len(checklist_of(full_card(), []).open_lines))

    def test_a_written_reason_opens_it_until_the_tune_changes(self) -> None:
        override = said(OVERRIDE, note="rough sight-in before tuning, agreed with the archer")
        self.assertTrue(checklist_of(full_card(), [override]).gate_open)
        self.assertFalse(checklist_of(full_card(), [override]).good)
        holds = {result: frozenset({3}) for result in RESULTS}
        self.assertFalse(checklist_of(full_card(), [override], holds).gate_open)

    def test_a_change_of_the_bow_makes_its_lines_old(self) -> None:
        holds = {result: frozenset({1, 2, 3}) for result in RESULTS} | {"timing": frozenset({3})}
        old = checklist_of(full_card(), passing(), holds)
        self.assertEqual([line.check.key for line in old.lines if line.verdict == OLD], ["cam_timing"])
        self.assertEqual(old.open_lines[0].check.key, "cam_timing")

    def test_the_card_answers_for_weight_and_margins(self) -> None:
        card = replace(full_card(), bow=Bow("", 60.0 * POUND_N, 0.700, 5.0 * 64.79891e-6 / POUND_N))
        self.assertEqual(checklist_of(card, []).line("spine").verdict, PASS)
        heavy_bow = replace(card, bow=replace(card.bow, draw_weight_n=80.0 * POUND_N))
        self.assertEqual(checklist_of(heavy_bow, []).line("spine").verdict, FAIL)
        behind = replace(card, bow=replace(card.bow, nock_to_rest_m=0.73))
        self.assertEqual(checklist_of(behind, []).line("spine").verdict, FAIL)


class Tears(unittest.TestCase):
    def test_advice_follows_what_was_tried(self) -> None:
        log = [said("paper_tear", points=((0.02, 0.0),))]
        self.assertEqual(checklist_of(full_card(), log).line("paper_tear").advice.step, "grip")
        log += [said("paper_tear", points=((0.02, 0.0),), after="grip")]
        log += [said("paper_tear", points=((0.028, 0.0),), after="rest_right")]
        line = checklist_of(full_card(), log).line("paper_tear")
        self.assertEqual((line.verdict, line.advice.step, line.advice.why), (FAIL, "rest_left", "reverse"))

    def test_a_walk_back_that_slants_fails(self) -> None:
        self.assertEqual(checklist_of(full_card(), [said("walk_back", points=SLANT)]).line("walk_back").verdict, FAIL)
        few = checklist_of(full_card(), [said("walk_back", points=SLANT[:2])]).line("walk_back")
        self.assertEqual(few.verdict, UNKNOWN)


class Log(unittest.TestCase):
    def test_taking_back_uncovers_what_stood_before(self) -> None:
        log = [said("d_loop", choice="loose"), said("d_loop", choice="good"), said("d_loop", removed=True)]
        self.assertEqual(newest(log)["d_loop"].choice, "loose")
        self.assertEqual(newest([*log, said("d_loop", removed=True), said("d_loop", removed=True)]), {})


class Mounting(unittest.TestCase):
    def test_every_step_belongs_to_a_group_and_to_the_sights_that_have_it(self) -> None:
        self.assertEqual({step.group for step in STEPS}, set(GROUPS))
        fixed = {s.key for s in steps_for(full_card(sight=TEMPLATES["fixed_pins"]))}
        slider = {s.key for s in steps_for(full_card(sight=TEMPLATES["single_pin_slider"]))}
        self.assertEqual(slider - fixed, {"detent", "slide_free", "home", "clear_bottom"})
        keys = [s.key for s in STEPS]
        self.assertLess(keys.index("micro_middle"), keys.index("coarse"))

    def test_steps_stand_as_they_were_entered(self) -> None:
        card = full_card(sight=TEMPLATES["fixed_pins"])
        log = [BenchEntry("mount", "play", 2, NOON, choice="done"), BenchEntry("mount", "lock", 1, NOON, choice="done")]
        entereds = {s.step.key: s.state for s in step_states(card, log, frozenset({2}))}
        self.assertEqual((entereds["play"], entereds["lock"], entereds["coarse"]), ("done", "old", ""))

    def test_a_knocked_rig_is_put_back_from_the_riser_outwards(self) -> None:
        marks = [WitnessMark(n, 1, joint, "") for n, joint in enumerate(("rest", "something else", "rail block"), 1)]
        self.assertEqual([m.joint for m in in_order(marks)], ["rail block", "rest", "something else"])
        self.assertEqual(len(set(JOINTS)), len(JOINTS))
