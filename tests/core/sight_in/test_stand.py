"""What the sight stands at, how well that is known; readings as they are read; orders as they were shown."""

import unittest
from dataclasses import replace
from datetime import timedelta

import numpy as np

from cross_staff.core.errors import InvalidValue
from cross_staff.core.rig.sight import SightModel
from cross_staff.core.sight_in.acts import ASK, MOVE, SHOOT
from cross_staff.core.sight_in.controls import STEP, range_controls
from cross_staff.core.sight_in.log import HOME, ORDERED, RangeSession
from cross_staff.core.sight_in.orders import identity, order_of, read_order, written
from cross_staff.core.sight_in.readings import (
    READ_CLICK,
    READ_DIVISION,
    READ_MM,
    READ_STRIP,
    reading_mm,
    ways_to_read,
)
from cross_staff.core.sight_in.shafts import shafts, without_weeded
from cross_staff.core.sight_in.stand import ASSUMED, KNOWN, UNKNOWN, sight_stand
from tests.ends import believed, drawn, end, exact_card, hits, judged, moved, range_log, said
from tests.rigs import NOON

LATER = NOON + timedelta(days=1)


class Dial(unittest.TestCase):
    def stands(self, *ends, entries=(), session=1, sessions=(RangeSession(1, 1, NOON),)):  # type: ignore[no-untyped-def]
        log = replace(range_log(*ends, entries=entries), sessions=sessions)
        return sight_stand(believed(exact_card("single_pin_slider"), log), session)

    def test_what_was_read_is_known_and_what_was_ordered_is_assumed(self) -> None:
        read, ordered = end(1, 17.0, dial_mm=10.0), end(2, 47.0, dial_mm=26.1, dial_from=ORDERED)
        self.assertEqual((self.stands(read).dial.how, self.stands(read).at_home), (KNOWN, True))
        far = self.stands(read, ordered)
        self.assertEqual((far.dial.value_mm, far.dial.how, far.at_home), (26.1, ASSUMED, False))

    def test_another_day_it_is_not_known_any_more(self) -> None:
        days = (RangeSession(1, 1, NOON), RangeSession(2, 1, LATER))
        made = self.stands(end(1, 17.0, dial_mm=10.0), session=2, sessions=days)
        self.assertEqual((made.dial.how, made.dial.why, made.at_home), (UNKNOWN, "another_day", None))

    def test_what_is_said_since_holds(self) -> None:
        said_then = tuple(replace(e, entered=NOON + timedelta(hours=1)) for e in said("stand:dial", number=12.5))
        made = self.stands(end(1, 17.0, dial_mm=10.0), entries=said_then)
        self.assertEqual((made.dial.value_mm, made.dial.how), (12.5, KNOWN))
        nobody = tuple(replace(e, number=None) for e in said_then)
        self.assertEqual(self.stands(end(1, 17.0, dial_mm=10.0), entries=nobody).dial.how, UNKNOWN)

    def test_before_anything_nothing_is_known(self) -> None:
        self.assertEqual((self.stands().dial.how, self.stands().dial.value_mm), (UNKNOWN, None))

    def test_at_home_without_a_reading(self) -> None:
        made = self.stands(end(1, 17.0, dial_mm=10.0), end(2, 17.0, dial_from=HOME))
        self.assertTrue(made.at_home)


class Places(unittest.TestCase):
    def control(self, *moves, entries=()):  # type: ignore[no-untyped-def]
        stand = sight_stand(believed(exact_card(), range_log(end(1, 17.0), *moves, entries=entries)), 1)
        return next(place for place in stand.controls if place.what == "Windage micro")

    def test_what_was_counted_and_what_was_not(self) -> None:
        counted = moved(2, "Windage micro", "windage", 20.0, "click")
        self.assertAlmostEqual(self.control(counted).value_mm, 1.0, delta=0.1)
        blind = moved(3, "Windage micro", "windage", 0.0, "unknown")
        self.assertEqual(self.control(counted, blind).how, UNKNOWN)
        confirmed = tuple(replace(e, entered=LATER) for e in said("stand:Windage micro", number=0.0))
        self.assertEqual(self.control(counted, blind, entries=confirmed).how, KNOWN)

    def test_a_spacer_is_asked_where_it_stands_before_it_is_moved(self) -> None:
        card = exact_card("target_scope")
        off = end(1, 5.0, right_m=0.09, dial_mm=5.0)
        start = said("step:zero", "step:click", "step:face")
        act = judged(card, range_log(off, entries=start)).act
        self.assertEqual((act.kind, act.because, act.where and act.where.unit), (ASK, "where_stands", STEP))
        there = judged(card, range_log(off, entries=(*start, *said("stand:bracket or spacer", number=0.0)))).act
        self.assertEqual((there.kind, there.moves[0].drive.unit, there.moves[0].place_mm), (MOVE, STEP, 12.0))

    def test_a_kind_chosen_only_on_the_card_brings_its_controls(self) -> None:
        card = exact_card("single_pin_slider")
        bare = replace(card, sight=SightModel(kind="single_pin_slider"))
        drives = range_controls(bare.sight)
        self.assertTrue(drives and all(drive.assumed for drive in drives))
        log = range_log(end(1, 5.0, right_m=0.1, dial_mm=4.0), entries=said("step:face", "step:stop_up"))
        act = judged(bare, log).act
        self.assertEqual((act.kind, act.moves[0].trial), (MOVE, True))
        self.assertLessEqual(abs(act.moves[0].amount), 10.0)
        after = range_log(*log.ends, moved(2, "Windage micro", "windage", 10.0, "click"), entries=log.entries)
        self.assertEqual((judged(bare, after).act.kind, judged(bare, after).act.because), (SHOOT, "trial"))


class AsRead(unittest.TestCase):
    def test_millimetres_clicks_divisions_and_the_strip_s_own_number(self) -> None:
        card = exact_card("target_scope")
        card = replace(card, sight=replace(card.sight, scale_division_mm=2.0))
        estimate = believed(card, range_log(end(1, 17.0, dial_mm=10.0), end(2, 61.0, dial_mm=34.0)))
        self.assertEqual(ways_to_read(card, estimate), (READ_MM, READ_DIVISION, READ_CLICK, READ_STRIP))
        self.assertEqual(reading_mm(card, estimate, READ_MM, 12.5), 12.5)
        self.assertEqual(reading_mm(card, estimate, READ_DIVISION, 5.5), 11.0)
        self.assertAlmostEqual(reading_mm(card, estimate, READ_CLICK, 3.0, 4.0), 64 * 0.05)
        self.assertAlmostEqual(reading_mm(card, estimate, READ_STRIP, 61.0), 34.0, delta=0.4)
        with self.assertRaises(InvalidValue):
            reading_mm(card, estimate, READ_STRIP, 4000.0)
        with self.assertRaises(InvalidValue):
            reading_mm(exact_card("multi_pin_slider"), None, READ_STRIP, 61.0)


class Orders(unittest.TestCase):
    def test_an_order_is_carried_as_it_was_shown(self) -> None:
        log = range_log(end(1, 5.0, up_m=hits(9.0, 17.0, 5.0)), entries=said("step:face"))
        order = order_of(judged(exact_card(), log).act)
        self.assertEqual(read_order(written(order)), order)
        self.assertEqual((order[0].moves, order[0].unit), ("gang_elevation", "mm"))
        more = range_log(*log.ends, end(2, 5.0), entries=log.entries)
        self.assertNotEqual(identity(order, log), identity(order, more))

    def test_what_no_order_can_have_been_is_refused(self) -> None:
        good = '[{"drive":"Windage micro","moves":"windage","amount":3,"unit":"click"}]'
        self.assertEqual(read_order(good)[0].amount, 3)
        wrongs = ["", "[]", "{}", "[1]", good.replace("click", "furlong"), good.replace('windage"', 'moon"')]
        wrongs += [good.replace('"amount":3', f'"amount":{much}') for much in ("9e9", "0")]
        for wrong in wrongs:
            with self.assertRaises(InvalidValue):
                read_order(wrong)


class Shafts(unittest.TestCase):
    def ends(self, apart: str = "", off: float = 0.05):  # type: ignore[no-untyped-def]
        generator, made = np.random.default_rng(5), []
        for n in range(1, 6):
            shot = drawn(generator, 0.0, 0.0, 0.0136, 6)
            numbered = (replace(s, shaft=str(k + 1)) for k, s in enumerate(shot))
            placed = (replace(s, up_m=s.up_m + (off if s.shaft == apart else 0.0)) for s in numbered)
            made.append(end(n, 17.0, shots=tuple(placed)))
        return made

    def test_a_shaft_that_lands_apart_is_named(self) -> None:
        card = exact_card()
        told = shafts(card, self.ends("4"), {})
        self.assertEqual([s.number for s in told if s.apart], ["4"])
        self.assertGreater(next(s for s in told if s.number == "4").up_mrad, 2.0)

    def test_its_nock_turned_it_is_another_one_and_weeded_out_it_does_not_count(self) -> None:
        card, ends = exact_card(), self.ends("4")
        turned = {e.key: replace(e, choice="turned", entered=LATER) for e in said("shaft:4")}
        self.assertNotIn("4", [s.number for s in shafts(card, ends, turned)])
        weeded = {e.key: e for e in said("shaft:4", choice="weeded")}
        kept = without_weeded(ends, weeded)
        self.assertEqual([len(e.kept) for e in kept], [5] * 5)
        self.assertEqual([len(e.shots) for e in kept], [6] * 5)
        self.assertFalse(any(s.apart for s in shafts(card, kept, weeded)))

    def test_sound_ones_are_not(self) -> None:
        self.assertFalse(any(s.apart and s.number == "4" for s in shafts(exact_card(), self.ends("4", 0.0), {})))
