"""The range's records: nothing counts twice, nothing is lost, a late instruction is not obeyed."""

from dataclasses import replace
from datetime import timedelta
from unittest import mock

from cross_staff.core.errors import InvalidValue, NotFound
from cross_staff.core.estimation.groups import Shot
from cross_staff.core.rig.events import ALL_MARKS
from cross_staff.core.sight_in.acts import DONE, ENOUGH, MOVE, SKIPPED
from cross_staff.core.sight_in.log import HOME, ORDERED, UNKNOWN, GroupLine, Move, RangeSession
from cross_staff.core.sight_in.orders import Ordered, order_of
from cross_staff.services import events
from cross_staff.services.card import save as card
from cross_staff.services.rig import Rig, open_rig
from cross_staff.services.sight_in import answers, moves
from cross_staff.services.sight_in import record as sight_in
from cross_staff.services.sight_in.answers import Answered
from cross_staff.services.sight_in.ends import EndDraft, save_end
from cross_staff.services.sight_in.page import range_page
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
        sight_in.say_step(self.database, self.rig_id, "face", DONE, "", NOON)
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
    def order(self) -> tuple[str, tuple[Ordered, ...]]:
        """The order that stands, with its name."""
        rig = self.rig()
        self.assertEqual(rig.range.act.kind, MOVE)
        return sight_in.act_key_of(rig), order_of(rig.range.act)

    def test_what_was_asked_is_noted_once(self) -> None:
        self.wild_sight()
        key, order = self.order()
        for _ in range(2):
            moves.made_moves(self.database, self.rig_id, key, order, NOON)
        made = self.rig().range_log.moves
        self.assertEqual([m.drive for m in made], ["Housing, up and down"])
        self.assertLess(made[0].amount, -8.0)

    def test_what_was_done_is_noted_whatever_changed_meanwhile(self) -> None:
        """An order looked at, the pin moved, an end shot in another window: the movement is on the log, once."""
        self.wild_sight()
        key, order = self.order()
        self.save(draft("late"))
        for _ in range(2):
            moves.made_moves(self.database, self.rig_id, key, order, NOON)
        self.assertEqual([m.amount for m in self.rig().range_log.moves], [order[0].amount])

    def test_seen_to_go_the_other_way_it_goes_so_from_then_on(self) -> None:
        self.wild_sight()
        key, order = self.order()
        moves.made_moves(self.database, self.rig_id, key, order, NOON, ("Housing, up and down",))
        rig = self.rig()
        estimate = rig.range.estimate
        assert estimate
        self.assertEqual(
            (rig.range_log.moves[0].amount, estimate.ways), (order[0].amount, {"Housing, up and down": -1})
        )
        drive = estimate.drive("gang_elevation")
        assert drive
        self.assertLess(estimate.travel_per_unit(drive)[0], 0.0)
        self.assertAlmostEqual(estimate.up.of({"pin0": 1.0})[0], 2.0 * order[0].amount, delta=2.0)  # type: ignore[union-attr]

    def test_one_s_own_movement_is_taken_into_the_sum(self) -> None:
        self.save(draft())
        own = Move("k", 0, NOON, "Windage micro", "", 20.0, "")
        for _ in range(2):
            moves.own_move(self.database, self.rig_id, own, NOON)
        estimate = self.rig().range.estimate
        assert estimate
        self.assertAlmostEqual(estimate.right.of({"right": 1.0})[0], -0.8, delta=0.3)
        self.assertEqual(len(self.rig().range_log.moves), 1)
        for wrong in (replace(own, key="w", drive="No such"), replace(own, key="v", amount=0.0),
                      replace(own, key="u", before="no-such-end")):  # fmt: skip
            with self.assertRaises(InvalidValue):
                moves.own_move(self.database, self.rig_id, wrong, NOON)

    def test_not_moved_after_all(self) -> None:
        moves.own_move(self.database, self.rig_id, Move("k", 0, NOON, "Windage micro", "", 20.0, ""), NOON)
        moves.take_move_back(self.database, self.rig_id, "k", NOON)
        self.assertEqual((self.rig().range_log.moves, len(self.rig().every_move)), ((), 1))
        with self.assertRaises(NotFound):
            moves.take_move_back(self.database, self.rig_id, "k", NOON)

    def test_a_movement_is_mended_and_put_before_an_end(self) -> None:
        for key in ("e1", "e2"):
            self.save(draft(key))
        own = Move("k", 0, NOON, "Windage micro", "", 20.0, "")
        moves.own_move(self.database, self.rig_id, own, NOON)
        moves.own_move(self.database, self.rig_id, replace(own, amount=12.0, before="e2"), NOON)
        (made,), ends = self.rig().range_log.moves, self.rig().range_log.ends
        self.assertEqual((made.amount, made.before, ends[0].order < made.order < ends[1].order), (12.0, "e2", True))

    def test_moved_by_eye_nobody_counted(self) -> None:
        self.save(draft())
        moves.own_move(self.database, self.rig_id, Move("k", 0, NOON, "Windage micro", "", 0.0, UNKNOWN), NOON)
        rig = self.rig()
        self.assertFalse(rig.range_log.moves[0].counted)
        self.assertGreater(rig.range.estimate.right.of({"right": 1.0})[1], 20.0)  # type: ignore[union-attr]


class Answers(AtTheRange):
    """Each answer is written down as it was meant, once, and the question is gone."""

    def asked(self) -> tuple[str, ...]:
        for n in range(6):
            self.save(draft(f"e{n}"))
        far = tuple(replace(shot, up_m=shot.up_m + 0.2, key=f"o{shot.key}") for shot in draft("x").shots)
        self.save(replace(draft("odd"), shots=far))
        question = self.rig().range.question
        assert question
        self.assertEqual(question.keys, ("odd",))
        return question.keys

    def test_moved_before_it(self) -> None:
        keys = self.asked()
        said = Answered("moved", "Housing, up and down", "gang_elevation")
        for _ in range(2):
            answers.answer(self.database, self.rig_id, keys, said, NOON)
        rig = self.rig()
        self.assertIsNone(rig.range.question)
        self.assertEqual([(m.counted, m.before) for m in rig.range_log.moves], [(False, "odd")])

    def test_a_bad_end_or_counted_all_the_same(self) -> None:
        keys = self.asked()
        answers.answer(self.database, self.rig_id, keys, Answered("bad"), NOON)
        self.assertTrue(self.rig().range_log.ends[-1].left_out)
        sight_in.change_end(self.database, self.rig_id, "odd", NOON, left_out=False)
        self.assertIsNotNone(self.rig().range.question)
        answers.answer(self.database, self.rig_id, keys, Answered("count"), NOON)
        self.assertIsNone(self.rig().range.question)
        self.assertTrue(self.rig().range_log.ends[-1].asked)

    def test_pin_distance_dial_and_way(self) -> None:
        keys = self.asked()
        changes = [("pin", 1, Answered("pin", pin=1)), ("ranged_m", 26.0, Answered("distance", ranged_m=26.0))]
        changes += [("dial_mm", 4.5, Answered("dial", dial_mm=4.5)), ("dial_mm", None, Answered("dial"))]
        for name, value, said in changes:
            answers.answer(self.database, self.rig_id, keys, said, NOON)
            self.assertEqual(getattr(self.rig().range_log.ends[-1], name), value)
        answers.answer(self.database, self.rig_id, keys, Answered("other_way", "Windage micro"), NOON)
        self.assertEqual(self.rig().range.estimate.ways, {"Windage micro": -1})  # type: ignore[union-attr]

    def test_of_an_end_before_them(self) -> None:
        keys = self.asked()
        answers.answer(self.database, self.rig_id, keys, Answered("pin", pin=1, ends=("e5",)), NOON)
        self.assertEqual([end.pin for end in self.rig().range_log.ends], [0] * 5 + [1, 0])
        answers.answer(self.database, self.rig_id, keys, Answered("bad", ends=["e4"]), NOON)
        self.assertEqual([end.key for end in self.rig().range_log.ends if end.left_out], ["e4"])
        with self.assertRaises(NotFound):
            answers.answer(self.database, self.rig_id, keys, Answered("bad", ends=("none",)), NOON)

    def test_what_is_no_answer(self) -> None:
        keys = self.asked()
        with self.assertRaises(InvalidValue):
            answers.answer(self.database, self.rig_id, keys, Answered("pin"), NOON)
        with self.assertRaises(NotFound):
            answers.answer(self.database, self.rig_id, ("none",), Answered("count"), NOON)
        with self.assertRaises(NotFound):
            answers.answer(self.database, self.rig_id, keys, Answered("not_made", move="none"), NOON)


class Said(AtTheRange):
    def test_where_something_stands_may_be_said_again(self) -> None:
        for minute in (0, 0, 9):
            sight_in.say_stand(self.database, self.rig_id, "dial", 12.5, NOON + timedelta(minutes=minute))
        entries = [e for e in self.rig().log_of("sight_in") if e.key == "stand:dial"]
        self.assertEqual([e.number for e in entries], [12.5, 12.5])  # a double tap is one

    def test_the_archer_s_own_spread_is_taken_over_once(self) -> None:
        wide = [tuple(replace(s, key=f"{n}{s.key}") for s in shots(0.0, 0.0, 0.034)) for n in range(4)]
        for n, each in enumerate(wide):
            self.save(replace(draft(f"w{n}"), shots=each))
        before = self.rig().card.goals.spread_mrad or 0.0
        page = range_page(self.rig())
        assert page.doubts.wider
        sight_in.take_spread(self.database, self.rig_id, True, NOON)
        self.assertAlmostEqual(self.rig().card.goals.spread_mrad or 0.0, page.doubts.wider.own_mrad, delta=0.1)
        self.assertGreater(self.rig().card.goals.spread_mrad or 0.0, 1.3 * before)
        self.assertIsNone(range_page(self.rig()).doubts.wider)
        self.assertEqual(self.rig().range.old_ends, 0)  # nothing that was shot is old by it

    def test_a_group_as_a_line_counts_with_its_arrows(self) -> None:
        line = replace(draft("l"), shots=(), line=GroupLine(3, None, -0.15))
        self.save(line)
        end = self.rig().range_log.ends[-1]
        self.assertEqual((end.arrows, end.middle, end.line), (3, (None, -0.15), GroupLine(3, None, -0.15)))
        with self.assertRaises(InvalidValue):
            self.save(replace(draft("m"), line=GroupLine(3, None, -0.15)))
        with self.assertRaises(InvalidValue):
            self.save(replace(line, key="n", line=GroupLine(3)))

    def test_what_the_dial_read_is_kept_with_where_it_came_from(self) -> None:
        for key, dial, source in (("a", 26.1, ORDERED), ("b", None, HOME), ("c", 12.0, "click:3+0"), ("d", None, "")):
            self.save(replace(draft(key), dial_mm=dial, dial_from=source))
            end = self.rig().range_log.ends[-1]
            self.assertEqual((end.dial_mm, end.dial_from), (dial, source))

    def test_numbered_arrows_and_a_shaft_that_is_weeded_out(self) -> None:
        numbered = tuple(replace(s, shaft=str(n)) for n, s in enumerate(draft("x").shots))
        self.save(replace(draft("x"), shots=numbered))
        self.assertEqual([s.shaft for s in self.rig().range_log.ends[-1].shots], [s.shaft for s in numbered])
        sight_in.say_shaft(self.database, self.rig_id, "1", "weeded", NOON)
        self.assertEqual(self.rig().range_log.ends[-1].arrows, len(numbered) - 1)
        sight_in.say_shaft(self.database, self.rig_id, "1", "kept", NOON)
        self.assertEqual(self.rig().range_log.ends[-1].arrows, len(numbered))
        with self.assertRaises(InvalidValue):
            sight_in.say_shaft(self.database, self.rig_id, "1", "burnt", NOON)


class Steps(AtTheRange):
    def test_good_enough_needs_no_name(self) -> None:
        sight_in.say_step(self.database, self.rig_id, "home", ENOUGH, "", NOON)
        state = next(s for s in self.rig().range.steps if s.step.key == "home")
        self.assertEqual((state.state, state.by_arrows), (ENOUGH, False))
        self.assertIsNone(self.rig().range.usable_to_m())  # only what was shot counts for that

    def test_a_stop_that_is_not_met_again_is_fitted_again(self) -> None:
        rig_id = self.add_rig(exact_card("vertical_pin_slider"))
        for key, mark in (("stop_fit", 12.4), ("stop_back", 13.1)):
            sight_in.say_step(self.database, rig_id, key, DONE, "", NOON, mark)
        states = {s.step.key: s.state for s in open_rig(self.database, rig_id).range.steps}
        self.assertEqual((states["stop_fit"], states["stop_back"]), (DONE, ""))
        sight_in.say_step(self.database, rig_id, "stop_back", DONE, "", NOON + timedelta(minutes=5), 12.5)
        states = {s.step.key: s.state for s in open_rig(self.database, rig_id).range.steps}
        self.assertEqual(states["stop_back"], DONE)

    def test_what_was_locked_is_open_again_once_something_moves(self) -> None:
        sight_in.say_step(self.database, self.rig_id, "lock", DONE, "", NOON)
        state = {s.step.key: s.state for s in self.rig().range.steps}
        self.assertEqual(state["lock"], DONE)
        own = Move("k", 0, NOON, "Housing, up and down", "", 2.0, "")
        moves.own_move(self.database, self.rig_id, own, NOON + timedelta(minutes=1))
        self.assertEqual({s.step.key: s.state for s in self.rig().range.steps}["lock"], "")

    def test_skipped_is_logged_as_confirmed_by_whom(self) -> None:
        with self.assertRaisesRegex(InvalidValue, "who confirms"):
            sight_in.say_step(self.database, self.rig_id, "face", SKIPPED, " ", NOON)
        sight_in.say_step(self.database, self.rig_id, "face", SKIPPED, "Maren Oake", NOON)
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
