"""Locking: what is locked on a rig, one thing on a thread, what came loose since, what has to be read again."""

import unittest
from dataclasses import replace
from datetime import timedelta

from cross_staff.core.errors import InvalidValue, NotFound
from cross_staff.core.mount.station import WitnessMark
from cross_staff.core.prove.handover import (
    CardContent,
    Difference,
    HandoverCard,
    Section,
    check_handover,
    differences,
)  # fmt: skip
from cross_staff.core.prove.locking import (
    LOCK,
    SPARE,
    After,
    Locked,
    LockState,
    Thread,
    check_lock,
    check_thread,
    compound_on,
    joints,
    lock_state,
)  # fmt: skip
from cross_staff.core.rig.generic_sights import SINGLE_PIN_SLIDER
from cross_staff.core.rig.log import BenchEntry
from tests.rigs import NOON, full_card

CARD = replace(full_card(), sight=SINGLE_PIN_SLIDER)
NOTHING = After({}, {}, {}, {})
SECOND = "Second-axis pair"


def entry(name: str, way: str = Thread.DRY, minute: int = 0, revision: int = 1, removed: bool = False) -> BenchEntry:
    at = NOON + timedelta(minutes=minute)
    return BenchEntry("prove", f"{LOCK}{name}", revision, at, choice=way, note="Ida Fell", removed=removed)


def state(*entries: BenchEntry, after: After = NOTHING, marks: tuple[WitnessMark, ...] = ()) -> LockState:
    return lock_state(CARD, entries, marks, after)


def stands(name: str, *entries: BenchEntry, after: After = NOTHING) -> Locked:
    return next(line.state for line in state(*entries, after=after).lines if line.joint.name == name)


class Joints(unittest.TestCase):
    def test_from_the_riser_outwards_and_never_an_end_stop(self) -> None:
        names = [joint.name for joint in joints(CARD)]
        self.assertEqual(names[0], "Mount bolts, two")
        self.assertEqual(names[-3:], ["Pointer", "Rest", "Nock set"])
        self.assertNotIn("End-stop screw of the rail", names)
        self.assertLess(names.index("Second-axis pair"), names.index("Third-axis pair"))

    def test_a_sight_without_a_screw_map_is_held_by_its_bolts_all_the_same(self) -> None:
        bare = replace(CARD, sight=replace(CARD.sight, screws=()))
        self.assertEqual([j.name for j in joints(bare)], ["Mount bolts", "Pointer", "Rest", "Nock set"])


class Locking(unittest.TestCase):
    def test_one_after_the_other(self) -> None:
        every = [joint.name for joint in joints(CARD)]
        done: list[BenchEntry] = []
        read = {axis: NOON + timedelta(days=1) for axis in ("first", "second", "third")}
        for name in every:
            now = state(*done, after=replace(NOTHING, read=read)).current
            assert now is not None
            self.assertEqual(now.joint.name, name)
            done.append(entry(name))
        left = state(*done, after=replace(NOTHING, read=read))
        self.assertEqual((left.left, left.done), (0, False))  # the spare strip
        spare = replace(entry("x"), key=SPARE, choice=Thread.SPARE)
        self.assertTrue(state(*done, spare, after=replace(NOTHING, read=read)).done)

    def test_an_axis_is_read_again_after_it_was_tightened(self) -> None:
        locked = entry(SECOND, minute=10)
        for minute, expected in ((5, Locked.READ_AGAIN), (15, Locked.DONE)):
            after = replace(NOTHING, read={"second": NOON + timedelta(minutes=minute)})
            self.assertEqual(stands(SECOND, locked, after=after), expected)
        self.assertEqual(stands(SECOND, locked), Locked.READ_AGAIN)

    def test_but_not_one_that_this_archer_does_not_need(self) -> None:
        third = entry("Third-axis pair")
        self.assertEqual(stands("Third-axis pair", third), Locked.READ_AGAIN)
        level_ground = replace(NOTHING, asked=("first", "second"))
        self.assertEqual(stands("Third-axis pair", third, after=level_ground), Locked.DONE)

    def test_what_was_turned_or_moved_since_is_no_longer_locked(self) -> None:
        later = NOON + timedelta(minutes=30)
        read = {"second": later}
        for name, after in (
            (SECOND, After({}, read, {"second": later}, {})),
            ("Mount bolts, two", After({"clearance": frozenset({2})}, {}, {}, {})),
            ("Slide lock", After({"home": frozenset({2})}, {}, {}, {})),
        ):
            self.assertEqual(stands(name, entry(name), after=after), Locked.OLD, name)
            self.assertNotEqual(stands(name, entry(name, minute=60, revision=2), after=after), Locked.OLD, name)

    def test_taken_back_cleaned_or_left_movable(self) -> None:
        name = "Slide lock"
        self.assertEqual(stands(name, entry(name), entry(name, removed=True)), Locked.OPEN)
        self.assertEqual(stands(name, entry(name), entry(name, Thread.CLEANED)), Locked.OPEN)
        self.assertEqual(stands(name, entry(name, Thread.MOVABLE)), Locked.MOVABLE)

    def test_marks_that_lack_are_named(self) -> None:
        mark = WitnessMark(1, 1, "mount on the riser", "a line")
        self.assertNotIn("mount on the riser", [joint.mark for joint in state(marks=(mark,)).unmarked])
        self.assertIn("pointer", [joint.mark for joint in state(marks=(mark,)).unmarked])


class Refused(unittest.TestCase):
    def test_never_both_on_one_thread(self) -> None:
        for first, other in ((Thread.LOCKER, Thread.SEIZE), (Thread.SEIZE, Thread.LOCKER)):
            with self.assertRaisesRegex(InvalidValue, "never both"):
                check_thread([entry("x", first)], entry("x", other))
            with self.assertRaisesRegex(InvalidValue, "never both"):
                check_thread([entry("x", first), entry("x", Thread.DRY)], entry("x", other))
            check_thread([entry("x", first), entry("x", Thread.CLEANED)], entry("x", other))
            check_thread([entry("x", first)], entry("x", first))
        self.assertIsNone(compound_on([]))

    def test_without_a_name_or_a_way(self) -> None:
        with self.assertRaises(InvalidValue) as caught:
            check_lock(CARD, replace(entry(SECOND), note=" "))
        self.assertEqual(caught.exception.field, "by")
        for odd in ("", "glue", Thread.SPARE):
            with self.assertRaises(InvalidValue) as caught:
                check_lock(CARD, entry(SECOND, odd))
            self.assertEqual(caught.exception.field, "way")
        with self.assertRaises(InvalidValue):
            check_lock(CARD, replace(entry(SECOND), key=SPARE))
        with self.assertRaises(NotFound):
            check_lock(CARD, entry(""))


def content(**lines: str) -> CardContent:
    return CardContent((Section("tape", "Tape", tuple(lines.items())),))


class Card(unittest.TestCase):
    def test_what_became_otherwise(self) -> None:
        was, now = content(home="12.3 mm", strip="no. 7"), content(home="12.6 mm", pins="17, 26")
        self.assertEqual(
            differences(was, now),
            (
                Difference("Tape", "home", "12.3 mm", "12.6 mm"),
                Difference("Tape", "pins", "", "17, 26"),
                Difference("Tape", "strip", "no. 7", ""),
            ),
        )
        self.assertEqual(differences(was, was), ())

    def test_a_card_is_signed(self) -> None:
        card = HandoverCard(1, 1, NOON, "Ida Fell", content(home="12.3 mm"))
        check_handover(card)
        for change, field in (
            ({"signed_by": "  "}, "signed_by"),
            ({"signed_by": "x" * 61}, "signed_by"),
            ({"note": "x" * 401}, "note"),
            ({"content": CardContent(())}, "content"),
            ({"content": content(home="x" * 401)}, "content"),
        ):
            with self.assertRaises(InvalidValue) as caught:
                check_handover(replace(card, **change))  # type: ignore[arg-type]
            self.assertEqual(caught.exception.field, field)
