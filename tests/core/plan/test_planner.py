"""The days: nothing twice, nothing before what it needs, never at night; what is left out where there is no time."""

import unittest
from dataclasses import replace
from datetime import date, datetime, timedelta

from hypothesis import given, settings
from hypothesis import strategies as st

from cross_staff.core.errors import InvalidValue
from cross_staff.core.plan.planner import Calendar, Clash, Hours, Moved, Placed, RigPlan, Span, Wish, check_hours, plan
from cross_staff.core.plan.sessions import KINDS, At, Session, _in_turn, to_leave_out, without

NOW = datetime(2026, 11, 30, 7, 50)  # a Monday
ALL_DAY = tuple(Hours(day, 8 * 60, 18 * 60) for day in range(7))
LIGHT = (8 * 60, 16 * 60)
SHOP = Calendar(("Ida Fell",), ALL_DAY, lambda day: LIGHT)
WHOLE = ("tune", "mount", "level", "close", "aim 17.0", "aim 38.0", "aim 61.0", "tape day 1", "tape day 2", "print",
         "proof 1", "proof 2", "slope", "lock", "hand_over")  # fmt: skip


def wanted(*keys: str) -> tuple[Session, ...]:
    made = []
    for key in keys:
        word, _, number = key.rpartition(" ")
        kind = {"tape day": "tape_day"}.get(word, word) if number[:1].isdecimal() and word else key
        made.append(Session(key, kind, distance_m=float(number) if kind == "aim" else None))
    return _in_turn(made)


def wish(*keys: str, rig: int = 1, **said: object) -> Wish:
    return Wish(rig, wanted(*(keys or WHOLE)), **said)  # type: ignore[arg-type]


def planned(*wishes: Wish, shop: Calendar = SHOP, now: datetime = NOW) -> tuple[RigPlan, ...]:
    return plan(wishes, shop, now)


class Placing(unittest.TestCase):
    def test_everything_in_its_order_as_early_as_it_can_be(self) -> None:
        made = planned(wish())[0]
        self.assertEqual([each.session.key for each in made.placed if each.session.key != "slope"],
                         [key for key in WHOLE if key != "slope"])  # fmt: skip
        self.assertEqual(made.placed[0].start, datetime(2026, 11, 30, 8, 0))
        self.assertEqual((made.left_out, made.no_place, made.late), ((), (), False))

    def test_a_thread_dries_before_the_rig_goes(self) -> None:
        made = planned(wish("lock", "hand_over"))[0]
        self.assertGreaterEqual(made.placed[1].start - made.placed[0].span.end, timedelta(hours=24))

    def test_parts_that_are_waited_for(self) -> None:
        made = planned(wish("tune", not_before=date(2026, 12, 9)))[0]
        self.assertEqual(made.placed[0].start.date(), date(2026, 12, 9))

    def test_what_somebody_has_no_time_for(self) -> None:
        shop = replace(SHOP, busy={"Ida Fell": (Span(NOW, NOW + timedelta(days=2)),)})
        self.assertGreaterEqual(planned(wish("mount"), shop=shop)[0].placed[0].start, NOW + timedelta(days=2))
        two = replace(shop, people=("Ida Fell", "Ulf Moor"))
        self.assertEqual(planned(wish("mount"), shop=two)[0].placed[0].person, "Ulf Moor")

    def test_no_free_days_no_light_nobody(self) -> None:
        for made in (
            planned(wish("tune", free=()))[0],
            planned(wish("close"), shop=replace(SHOP, light=lambda day: None))[0],
            planned(wish("mount"), shop=replace(SHOP, people=()))[0],
        ):
            self.assertEqual((made.placed, len(made.no_place)), ((), 1))

    def test_what_needs_one_that_has_no_place_has_none(self) -> None:
        made = planned(wish("close", "lock"), shop=replace(SHOP, light=lambda day: None))[0]
        self.assertEqual([each.key for each in made.no_place], ["close", "lock"])


class TooLate(unittest.TestCase):
    def test_the_least_missed_goes_first(self) -> None:
        sessions, order = wanted(*WHOLE), []
        while (gone := to_leave_out(sessions)) is not None:
            order.append(gone.key)
            sessions = without(sessions, gone.key)
        self.assertEqual(
            order, ["slope", "proof 2", "proof 1", "tape day 2", "tape day 1", "aim 61.0", "aim 38.0", "aim 17.0"]
        )
        self.assertEqual(sessions[-1].key, "hand_over")
        keys = {each.key for each in sessions}
        for each in sessions:
            self.assertLessEqual(set(each.needs), keys)

    def test_it_is_ready_in_time_and_says_how_far_it_is_good(self) -> None:
        due = date(2026, 12, 2)
        made = planned(wish(due=due))[0]
        self.assertFalse(made.late)
        self.assertLessEqual(made.placed[-1].start.date(), due)
        self.assertIn("proof 1", [each.key for each in made.left_out])
        shot = [each.session.distance_m for each in made.placed if each.session.distance_m]
        self.assertEqual(made.usable_m, max(shot))

    def test_a_due_date_gone_by_is_late_and_all_of_it_is_planned(self) -> None:
        made = planned(wish(due=date(2026, 11, 20), usable_m=38.0))[0]
        self.assertTrue(made.late)
        self.assertEqual((made.left_out, len(made.placed)), ((), len(WHOLE)))
        self.assertEqual(made.usable_m, 38.0)


class ByHand(unittest.TestCase):
    def clashes(
        self, start: datetime, *keys: str, key: str = "close", shop: Calendar = SHOP, **said: object
    ) -> set[Clash]:
        made = planned(wish(*keys, moved={key: Moved(start)}, **said), shop=shop)[0]
        return set(next(each for each in made.placed if each.session.key == key).clashes)

    def test_it_stays_where_it_was_put_and_says_why_it_cannot_be_there(self) -> None:
        at = datetime(2026, 12, 1, 10, 0)
        self.assertEqual(self.clashes(at, "close"), set())
        for start, said in (
            (datetime(2026, 11, 29, 10, 0), Clash.PAST),
            (datetime(2026, 12, 1, 7, 0), Clash.CLOSED),
            (datetime(2026, 12, 1, 16, 0), Clash.NIGHT),
            (datetime(2026, 12, 1, 23, 50), Clash.NIGHT),
        ):
            self.assertIn(said, self.clashes(start, "close"), start)
        self.assertEqual(self.clashes(at, "close", free=(Hours(5, 480, 900),)), {Clash.ARCHER})
        self.assertEqual(self.clashes(at, "close", not_before=date(2026, 12, 3)), {Clash.WAITS})

    def test_before_its_turn_it_says_so_and_holds_nothing_up(self) -> None:
        made = planned(wish("level", "close", moved={"close": Moved(datetime(2026, 11, 30, 8, 0))}))[0]
        placed = {each.session.key: each for each in made.placed}
        self.assertEqual(placed["close"].clashes, (Clash.ORDER,))
        self.assertGreaterEqual(placed["level"].start, placed["close"].span.end)

    def test_two_people_want_one_slot(self) -> None:
        at = Moved(datetime(2026, 12, 1, 10, 0), "Ida Fell")
        one, other = (wish("mount", rig=rig, moved={"mount": at}) for rig in (1, 2))
        for made in planned(one, other):
            self.assertEqual(made.placed[0].clashes, (Clash.BUSY,))

    def test_others_go_out_of_its_way(self) -> None:
        put = wish("mount", rig=2, moved={"mount": Moved(datetime(2026, 11, 30, 8, 0))})
        first, second = planned(wish("mount", due=date(2026, 12, 1)), put)
        self.assertEqual(second.placed[0].clashes, ())
        self.assertGreaterEqual(first.placed[0].start, second.placed[0].span.end)


class Refused(unittest.TestCase):
    def test_hours_that_cannot_be(self) -> None:
        check_hours(ALL_DAY, "open")
        for odd in (Hours(7, 0, 60), Hours(0, 60, 60), Hours(0, -1, 60), Hours(0, 0, 24 * 60 + 1)):
            with self.assertRaises(InvalidValue):
                check_hours([odd], "open")


_hours = st.lists(
    st.tuples(st.integers(0, 6), st.integers(0, 95), st.integers(1, 60)).map(
        lambda t: Hours(t[0], 15 * t[1], min(15 * (t[1] + t[2]), 24 * 60))
    ),
    max_size=9,
).map(tuple)
_moments = st.integers(-200, 3000).map(lambda n: NOW + timedelta(minutes=15 * n))


@st.composite
def _wishes(draw: st.DrawFn) -> list[Wish]:
    made = []
    for rig in range(draw(st.integers(1, 4))):
        keys = [key for key in WHOLE[:-1] if draw(st.booleans())] + ["hand_over"]
        sessions = wanted(*keys)
        moved = {each.key: Moved(draw(_moments)) for each in sessions if draw(st.integers(0, 9)) == 0}
        due = draw(st.none() | st.integers(-3, 40).map(lambda n: NOW.date() + timedelta(days=n)))
        free = draw(st.none() | _hours)
        waits = draw(st.none() | st.integers(0, 10).map(lambda n: NOW.date() + timedelta(days=n)))
        made.append(Wish(rig, sessions, due, free, waits, moved))
    return made


@st.composite
def _shops(draw: st.DrawFn) -> Calendar:
    people = tuple(draw(st.lists(st.sampled_from(["Ida", "Ulf", "Bo"]), unique=True, min_size=1)))
    begin = draw(st.integers(24, 40))
    light = (15 * begin, 15 * draw(st.integers(begin + 8, 80)))
    busy = {
        each: tuple(Span(at, at + timedelta(hours=5)) for at in draw(st.lists(_moments, max_size=4))) for each in people
    }
    return Calendar(people, draw(_hours), lambda day: light, busy)


class Laws(unittest.TestCase):
    @settings(max_examples=60, deadline=None)
    @given(_wishes(), _shops())
    def test_whatever_is_wished(self, wishes: list[Wish], shop: Calendar) -> None:
        plans = plan(wishes, shop, NOW)
        every = [each for made in plans for each in made.placed]
        for made in plans:
            told = [e.session.key for e in made.placed] + [s.key for s in (*made.left_out, *made.no_place)]
            self.assertEqual(sorted(told), sorted(each.key for each in made.wish.sessions))  # nothing twice, or lost
        for each in every:
            if not each.by_hand:
                self.sound(each, [other for other in every if other is not each], plans, shop)

    def sound(self, each: Placed, others: list[Placed], plans: tuple[RigPlan, ...], shop: Calendar) -> None:
        """What was placed by the program lies where it can be."""
        made = next(p for p in plans if p.wish.rig_id == each.rig_id)
        begin = each.start.hour * 60 + each.start.minute
        end, day = begin + each.session.about.minutes, each.start.weekday()
        self.assertGreaterEqual(each.start, NOW)
        self.assertTrue(any(h.weekday == day and h.from_min <= begin and end <= h.to_min for h in shop.open))
        if each.session.about.at == At.RANGE:
            light = shop.light(each.start.date())
            assert light is not None
            self.assertTrue(light[0] <= begin and end <= light[1], "never at night")
        if each.session.about.archer and made.wish.free is not None:
            free = made.wish.free
            self.assertTrue(any(h.weekday == day and h.from_min <= begin and end <= h.to_min for h in free))
        self.assertFalse(any(each.span.meets(span) for span in shop.busy.get(each.person, ())))
        for other in others:
            if other.person == each.person or other.rig_id == each.rig_id:
                self.assertFalse(each.span.meets(other.span))
            if other.rig_id == each.rig_id and not other.by_hand and other.session.key in made_needs(made, each):
                dry = timedelta(hours=other.session.about.dries_h)
                self.assertGreaterEqual(each.start, other.span.end + dry, "nothing before what it needs")
            if other.rig_id == each.rig_id and each.session.about.own_day and other.session.about.own_day:
                self.assertNotEqual(each.start.date(), other.start.date())


def made_needs(made: RigPlan, each: Placed) -> tuple[str, ...]:
    """What it needs of the sessions as they were wished."""
    sessions = made.wish.sessions
    for gone in made.left_out:
        sessions = without(sessions, gone.key)
    return next(s.needs for s in sessions if s.key == each.session.key)


class Kinds(unittest.TestCase):
    def test_every_kind_takes_time_and_what_is_on_a_day_of_its_own_is_at_the_range(self) -> None:
        for key, kind in KINDS.items():
            self.assertGreater(kind.minutes, 0, key)
            self.assertFalse(kind.own_day and kind.at == At.BENCH, key)
