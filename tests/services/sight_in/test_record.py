"""The range's records: nothing counts twice, nothing is lost, a late instruction is not obeyed."""

from dataclasses import replace
from datetime import timedelta
from unittest import mock

from cross_staff.core.errors import InvalidValue, NotFound
from cross_staff.core.estimation.groups import Shot
from cross_staff.core.rig.events import ALL_MARKS
from cross_staff.core.sight_in.log import Move, RangeSession
from cross_staff.core.sight_in.station import MOVE, SKIPPED
from cross_staff.services import events
from cross_staff.services.card import save as card
from cross_staff.services.rig import Rig, open_rig
from cross_staff.services.sight_in import record as sight_in
from cross_staff.services.sight_in.ends import EndDraft, save_end
from cross_staff.storage.database import Database
from tests.data import WithDatabase
from tests.ends import exact_card, hits, shots
from tests.rigs import NOON, TEMPLATES

WRITING = Database.writing


def draft(key: str = "a", **changes: object) -> EndDraft:
    fields: dict[str, object] = {"shots": tuple(replace(s, key=f"{key}{n}") for n, s in enumerate(shots(0.0, 0.0)))}
    return EndDraft(**({"key": key, "ranged_m": 17.0} | fields | changes))  # type: ignore[arg-type]


class AtTheRange(WithDatabase):
    def setUp(self) -> None:
        super().setUp()
        self.rig_id = self.add_rig(exact_card())

    def rig(self) -> Rig:
        return open_rig(self.database, self.rig_id)

    def save(self, end: EndDraft, minutes: float = 0.0) -> None:
        save_end(self.database, self.rig_id, end, NOON + timedelta(minutes=minutes))

    def test_what_belongs_together_is_one_transaction(self) -> None:
        """The click and its step, an end's reason and that it is left out: all of it is kept, or nothing."""
        self.save(draft())
        scope = replace(self.rig().card, sight=TEMPLATES["target_scope"])
        card.save(self.database, self.rig_id, self.rig().revision.number, scope, {}, NOON)
        acts = {
            "calibrate_click": lambda: sight_in.calibrate_click(self.database, self.rig_id, 0.05, NOON),
            "leave_out": lambda: sight_in.leave_out(self.database, self.rig_id, "a", "gusts from the left", NOON),
        }
        for name, act in acts.items():
            with self.subTest(name), mock.patch.object(Database, "writing", autospec=True) as writing:
                writing.side_effect = RuntimeError("opened")
                with self.assertRaisesRegex(RuntimeError, "opened"):
                    act()
            with (
                self.subTest(name),
                mock.patch.object(Database, "writing", autospec=True, side_effect=WRITING) as writing,
            ):
                act()
                self.assertEqual(writing.call_count, 1)
        self.assertEqual(self.rig().range_log.said["step:click"].choice, "done")

    def wild_sight(self) -> None:
        """The first end, nine millimetres too high at the sight."""
        sight_in.say_step(self.database, self.rig_id, "face", False, "", NOON)
        up = hits(9.0, 17.0, 5.0)
        self.save(EndDraft("a", 5.0, shots=tuple(replace(s, key=f"a{n}") for n, s in enumerate(shots(0.0, up, 0.004)))))


class Ends(AtTheRange):
    def test_sent_twice_it_is_one_end_and_every_shot_one_shot(self) -> None:
        for _ in range(3):
            self.save(draft())
        (end,) = self.rig().range_log.ends
        self.assertEqual(len(end.shots), 6)

    def test_two_windows_join_their_shots(self) -> None:
        one, other = draft().shots[:3], draft().shots[2:]
        self.save(draft(shots=one))
        self.save(draft(shots=other))
        self.assertEqual(len(self.rig().range_log.ends[0].shots), 6)

    def test_one_that_was_taken_back_stays_so_however_late_the_other_window_is(self) -> None:
        self.save(draft())
        self.save(draft(shots=draft().shots[:5], taken_back=("a5",)))
        self.save(draft())
        self.assertEqual([s.key for s in self.rig().range_log.ends[0].shots], ["a0", "a1", "a2", "a3", "a4"])

    def test_a_shot_that_is_nudged_is_the_same_shot(self) -> None:
        self.save(draft())
        moved = (replace(draft().shots[0], right_m=0.2, called_bad=True), *draft().shots[1:])
        self.save(draft(shots=moved))
        first = self.rig().range_log.ends[0].shots[0]
        self.assertEqual((first.right_m, first.called_bad), (0.2, True))

    def test_an_end_keeps_its_place_when_it_is_corrected_later(self) -> None:
        self.save(draft("a"))
        self.save(draft("b"))
        self.save(draft("a", ranged_m=None, note="never ranged"))
        first, second = self.rig().range_log.ends
        self.assertEqual((first.key, first.ranged_m, first.note, second.key), ("a", None, "never ranged", "b"))

    def test_five_hundred_shots_in_one_end(self) -> None:
        many = tuple(Shot(0.001 * (n % 37), 0.001 * (n % 29), False, f"m{n}") for n in range(500))
        self.save(draft(shots=many))
        self.assertEqual(len(self.rig().range_log.ends[0].shots), 500)

    def test_what_cannot_be_is_refused_whole(self) -> None:
        for wrong, field in (
            (draft(ranged_m=900.0), "distance"),
            (draft(pin=9), "pin"),
            (draft(shots=(Shot(3, 0),)), "shots"),
        ):
            with self.assertRaises(InvalidValue) as caught:
                self.save(wrong)
            self.assertEqual(caught.exception.field, field)
        self.assertEqual(self.rig().range_log.ends, ())

    def test_leaving_out_taking_out_and_back(self) -> None:
        self.save(draft())
        for change, left_out, there in (
            ({"left_out": True}, True, 1),
            ({"removed": True}, True, 0),
            ({"removed": False}, True, 1),
        ):
            sight_in.change_end(self.database, self.rig_id, "a", NOON, **change)
            back = self.rig()
            self.assertEqual((back.every_end[0].left_out, len(back.range_log.ends)), (left_out, there))
        self.assertEqual(len(self.rig().every_end[0].shots), 6)
        with self.assertRaises(NotFound):
            sight_in.change_end(self.database, self.rig_id, "zz", NOON)

    def test_a_wild_one_is_called_bad_afterwards(self) -> None:
        self.save(draft())
        sight_in.mark_shot(self.database, self.rig_id, "a", "a2", True, NOON)
        self.assertEqual(len(self.rig().range_log.ends[0].kept), 5)
        with self.assertRaises(NotFound):
            sight_in.mark_shot(self.database, self.rig_id, "a", "zz", True, NOON)


class Sessions(AtTheRange):
    def test_the_first_arrow_begins_one_and_later_arrows_go_to_it(self) -> None:
        self.save(draft("a"))
        self.save(draft("b"), minutes=30)
        self.assertEqual([e.session for e in self.rig().range_log.ends], [1, 1])
        self.assertEqual(self.rig().session.build, "slim")  # type: ignore[union-attr]

    def test_arrows_of_the_evening_are_another_visit(self) -> None:
        self.save(draft("a"))
        self.save(draft("b"), minutes=9 * 60)
        self.assertEqual([e.session for e in self.rig().range_log.ends], [1, 2])

    def test_it_is_corrected_by_a_newer_entry_and_begun_once(self) -> None:
        session = RangeSession(0, 0, NOON, place="upper ledge", key="k")
        for _ in range(2):
            number = sight_in.save_session(self.database, self.rig_id, session, NOON)
        self.assertEqual(number, 1)
        changed = replace(session, number=1, crosswind_mps=2.0)
        sight_in.save_session(self.database, self.rig_id, changed, NOON)
        (kept,) = self.rig().range_log.sessions
        self.assertEqual((kept.place, kept.crosswind_mps), ("upper ledge", 2.0))
        with self.assertRaises(InvalidValue):
            sight_in.save_session(self.database, self.rig_id, replace(session, counts="twice"), NOON)


class Moves(AtTheRange):
    def test_what_was_asked_is_noted_once(self) -> None:
        self.wild_sight()
        once = self.rig()
        self.assertEqual(once.range.act.kind, MOVE)
        key = sight_in.act_key_of(once)
        for _ in range(2):
            sight_in.made_moves(self.database, self.rig_id, key, NOON)
        moves = self.rig().range_log.moves
        self.assertEqual([m.drive for m in moves], ["Housing, up and down"])
        self.assertLess(moves[0].amount, -8.0)

    def test_an_instruction_that_changed_meanwhile_is_refused(self) -> None:
        self.wild_sight()
        key = sight_in.act_key_of(self.rig())
        self.save(draft("late"))
        with self.assertRaisesRegex(InvalidValue, "changed meanwhile"):
            sight_in.made_moves(self.database, self.rig_id, key, NOON)

    def test_the_other_way_is_noted_as_it_went(self) -> None:
        self.wild_sight()
        key = sight_in.act_key_of(self.rig())
        sight_in.made_moves(self.database, self.rig_id, key, NOON, ("Housing, up and down",))
        self.assertGreater(self.rig().range_log.moves[0].amount, 8.0)

    def test_one_s_own_movement_is_taken_into_the_sum(self) -> None:
        self.save(draft())
        own = Move("k", 0, NOON, "Windage micro", "", 20.0, "")
        for _ in range(2):
            sight_in.own_move(self.database, self.rig_id, own, NOON)
        estimate = self.rig().range.estimate
        assert estimate
        self.assertAlmostEqual(estimate.right.of({"right": 1.0})[0], -0.8, delta=0.3)
        self.assertEqual(len(self.rig().range_log.moves), 1)
        for wrong in (replace(own, key="w", drive="No such"), replace(own, key="v", amount=0.0)):
            with self.assertRaises(InvalidValue):
                sight_in.own_move(self.database, self.rig_id, wrong, NOON)

    def test_not_moved_after_all(self) -> None:
        sight_in.own_move(self.database, self.rig_id, Move("k", 0, NOON, "Windage micro", "", 20.0, ""), NOON)
        sight_in.take_move_back(self.database, self.rig_id, "k", NOON)
        self.assertEqual((self.rig().range_log.moves, len(self.rig().every_move)), ((), 1))
        with self.assertRaises(NotFound):
            sight_in.take_move_back(self.database, self.rig_id, "k", NOON)


class Steps(AtTheRange):
    def test_skipped_is_logged_as_confirmed_by_whom(self) -> None:
        with self.assertRaisesRegex(InvalidValue, "who confirms"):
            sight_in.say_step(self.database, self.rig_id, "face", True, " ", NOON)
        sight_in.say_step(self.database, self.rig_id, "face", True, "Maren Oake", NOON)
        state = self.rig().range.steps[0]
        self.assertEqual((state.state, state.who), (SKIPPED, "Maren Oake"))
        sight_in.reopen_step(self.database, self.rig_id, "face", NOON)
        self.assertEqual(self.rig().range.steps[0].state, "")

    def test_schools_and_circle(self) -> None:
        rig_id = self.add_rig(exact_card("multi_pin_slider"))
        sight_in.choose(self.database, rig_id, "dialled", "near", NOON)
        self.assertEqual(open_rig(self.database, rig_id).range.estimate.chosen["dialled"], "near")  # type: ignore[union-attr]
        for question, school in (("dialled", "middle"), ("colour", "red")):
            with self.assertRaises(NotFound):
                sight_in.choose(self.database, rig_id, question, school, NOON)
        sight_in.set_circle(self.database, rig_id, 0.08, NOON)
        self.assertEqual(open_rig(self.database, rig_id).range_log.said["circle"].number, 0.08)


class Stale(AtTheRange):
    def test_a_moved_sight_makes_the_ends_old_and_saying_so_brings_marks_back(self) -> None:
        self.save(draft(dial_mm=None))
        back = self.rig()
        moved = replace(back.card, eye_to_sight_m=0.80)
        card.save(self.database, self.rig_id, back.revision.number, moved, back.units, NOON, "another detent")
        back = self.rig()
        self.assertEqual((back.range.old_ends, back.range.shot_now), (1, False))
        self.assertEqual([r.entry.from_range for r in back.evaluation.old], [True])
        self.assertEqual(events.take_up(self.database, self.rig_id, ALL_MARKS, "the bar was never loose", NOON), 4)
        self.assertEqual(self.rig().evaluation.old, ())
        self.assertEqual((self.rig().range.old_ends, self.rig().range.shot_now), (0, True))
        self.assertEqual(len(self.rig().log), 0)  # the marks table stays as it was
