"""When each session can be: in the hours of the shop, by daylight, when the archer is free, one at a time.

Times are those of the clock on the shop's wall, without a zone.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass, field, replace
from datetime import date, datetime, time, timedelta
from enum import StrEnum
from functools import cached_property

from cross_staff.core.errors import InvalidValue
from cross_staff.core.plan.sessions import At, Session, to_leave_out, without

STEP_MIN = 15  # sessions begin on the quarter
HORIZON_DAYS = 90
DAY_MIN = 24 * 60


class Clash(StrEnum):
    """Why a session cannot be where it was put."""

    PAST = "past"
    CLOSED = "closed"
    NIGHT = "night"
    ARCHER = "archer"
    BUSY = "busy"
    RIG = "rig"
    ORDER = "order"
    SAME_DAY = "same_day"
    WAITS = "waits"
    NOBODY = "nobody"


@dataclass(frozen=True)
class Hours:
    """Part of a weekday: Monday is 0; from and to in minutes after midnight."""

    weekday: int
    from_min: int
    to_min: int


def check_hours(hours: Sequence[Hours], field_name: str) -> None:
    """Refuse hours that cannot be.

    Args:
        hours: as typed.
        field_name: the field to name.

    Raises:
        InvalidValue: no such day, or an end that is not after its beginning.

    Source:
        a day has 24 hours.
    """
    for each in hours:
        if not 0 <= each.weekday <= 6 or not 0 <= each.from_min < each.to_min <= DAY_MIN:
            raise InvalidValue(field_name, "from an hour to a later one of the same day")


@dataclass(frozen=True)
class Span:
    """From a moment to a later one."""

    start: datetime
    end: datetime

    def meets(self, other: Span) -> bool:
        return self.start < other.end and other.start < self.end


@dataclass(frozen=True)
class Calendar:
    """What holds for the whole shop: who works, the hours it is open, the light of a day as minutes after midnight
    (None: no light), what each has no time for."""

    people: tuple[str, ...]
    open: tuple[Hours, ...]
    light: Callable[[date], tuple[int, int] | None]
    busy: Mapping[str, tuple[Span, ...]] = field(default_factory=dict)


@dataclass(frozen=True)
class Moved:
    """A session that somebody put somewhere: when, and who."""

    start: datetime
    person: str = ""


@dataclass(frozen=True)
class Wish:
    """What is wanted of a rig: its sessions in order; the day that it is due; when its archer is free (None: nobody
    said); the day before which nothing can be, for parts that are waited for; sessions that somebody put somewhere; how
    far it is usable as it is [m as ranged]."""

    rig_id: int
    sessions: tuple[Session, ...]
    due: date | None = None
    free: tuple[Hours, ...] | None = None
    not_before: date | None = None
    moved: Mapping[str, Moved] = field(default_factory=dict)
    usable_m: float | None = None


@dataclass(frozen=True)
class Placed:
    """A session with its time, who does it, whether somebody put it there, and why it cannot be there."""

    rig_id: int
    session: Session
    start: datetime
    person: str
    by_hand: bool = False
    clashes: tuple[Clash, ...] = ()

    @cached_property
    def span(self) -> Span:
        return Span(self.start, self.start + timedelta(minutes=self.session.about.minutes))


@dataclass(frozen=True)
class RigPlan:
    """A rig's sessions by time; those that were left out so that it is ready in time; those for which there is no
    place; whether it is late all the same; how far it is usable by then [m as ranged], None where nobody knows."""

    wish: Wish
    placed: tuple[Placed, ...]
    left_out: tuple[Session, ...] = ()
    no_place: tuple[Session, ...] = ()
    late: bool = False
    usable_m: float | None = None


def plan(wishes: Sequence[Wish], calendar: Calendar, now: datetime) -> tuple[RigPlan, ...]:
    """Place every session of every rig, the rig that is due first before the others.

    A session that somebody put somewhere stays there, and says why it cannot be where that is so. The others come as
    early as they can. Where a rig is not ready when it is due, what is missed least is left out, one after the other.

    Args:
        wishes: shape (n,).
        calendar: of the shop.
        now: nothing is before it.

    Returns:
        a plan for each wish, in their order.

    Source:
        docs/method.md, section 22.
    """
    taken = [each for wish in wishes for each in _by_hand(wish, calendar)]
    plans: dict[int, RigPlan] = {}
    for wish in sorted(wishes, key=lambda each: (each.due or date.max, each.rig_id)):
        plans[wish.rig_id] = made = _in_time(wish, calendar, now, taken)
        taken += [each for each in made.placed if not each.by_hand]
    return tuple(plans[wish.rig_id] for wish in wishes)


def _by_hand(wish: Wish, calendar: Calendar) -> list[Placed]:
    """Sessions that somebody put somewhere; who does it is the first of the shop where nobody said."""
    first = next(iter(calendar.people), "")
    return [
        Placed(wish.rig_id, session, put.start, put.person or first, True)
        for session in wish.sessions
        if (put := wish.moved.get(session.key)) is not None
    ]


def _in_time(wish: Wish, calendar: Calendar, now: datetime, taken: Sequence[Placed]) -> RigPlan:
    whole = _placed(wish, wish.sessions, calendar, now, taken)
    made, left_out, sessions = whole, [], wish.sessions
    while made.late and (gone := to_leave_out(sessions)) is not None and gone.key not in wish.moved:
        left_out.append(gone)
        sessions = without(sessions, gone.key)
        made = _placed(wish, sessions, calendar, now, taken)
    if made.late:  # leaving out did not help: all of it, late
        made, left_out, sessions = whole, [], wish.sessions
    return RigPlan(wish, made.placed, tuple(left_out), made.no_place, made.late, _usable(wish, made))


def _usable(wish: Wish, made: RigPlan) -> float | None:
    """How far it is usable when it is due: the farthest aim that is shot by then, or what it is by now."""
    shot = [each.session.distance_m for each in made.placed if each.session.distance_m is not None and _by(wish, each)]
    return max([*(d for d in shot if d is not None), *([wish.usable_m] if wish.usable_m else [])], default=None)


def _by(wish: Wish, placed: Placed) -> bool:
    return wish.due is None or placed.start.date() <= wish.due


def _placed(
    wish: Wish, sessions: Sequence[Session], calendar: Calendar, now: datetime, taken: Sequence[Placed]
) -> RigPlan:
    wanted = {each.key for each in sessions}
    put = [each for each in taken if each.by_hand and each.rig_id == wish.rig_id and each.session.key in wanted]
    taken = [each for each in taken if each.rig_id != wish.rig_id]
    own: list[Placed] = []
    no_place: list[Session] = []
    for session in sessions:
        if session.key in {each.session.key for each in put}:
            continue
        if any(each.key in session.needs for each in no_place):
            no_place.append(session)
            continue
        # what was put somewhere by hand before its turn is said there, and holds nothing up
        loose = [replace(each, session=replace(each.session, needs=())) for each in put]
        tried = (put, loose) if put else (put,)
        places = (next(_free(wish, session, calendar, now, [*taken, *own, *known]), None) for known in tried)
        place = next((each for each in places if each is not None), None)
        if place is None:
            no_place.append(session)
        else:
            own.append(place)
    every = [*taken, *own, *put]
    own += [replace(e, clashes=clashes_of(wish, e.session, e.span, e.person, calendar, now, every)) for e in put]
    late = bool(no_place) or any(not _by(wish, each) for each in own)
    own.sort(key=lambda each: each.start)
    return RigPlan(wish, tuple(own), (), tuple(no_place), late and wish.due is not None)


def _end(session: Session, start: datetime) -> datetime:
    return start + timedelta(minutes=session.about.minutes)


def _free(wish: Wish, session: Session, calendar: Calendar, now: datetime, taken: Sequence[Placed]) -> Iterator[Placed]:
    """Places for a session, the earliest first."""
    first = max([now, *_after(wish, session, taken)])
    if wish.not_before is not None:
        first = max(first, datetime.combine(wish.not_before, time()))
    own = _own(wish, taken)
    for day in (first.date() + timedelta(days=n) for n in range(HORIZON_DAYS)):
        others = [each for each in taken if abs(each.start.date() - day) <= timedelta(days=1)]
        for begin, end in windows(wish, session, calendar, day):
            minute = -(-begin // STEP_MIN) * STEP_MIN
            while minute + session.about.minutes <= end:
                start = datetime.combine(day, time()) + timedelta(minutes=minute)
                span = Span(start, _end(session, start))
                if start >= first:
                    for person in calendar.people:
                        if not clashes_of(wish, session, span, person, calendar, now, [*others, *own]):
                            yield Placed(wish.rig_id, session, start, person)
                            break
                minute += STEP_MIN


def _own(wish: Wish, taken: Sequence[Placed]) -> list[Placed]:
    return [each for each in taken if each.rig_id == wish.rig_id]


def _after(wish: Wish, session: Session, taken: Sequence[Placed]) -> list[datetime]:
    """When what it needs is done, and dry."""
    return [
        each.span.end + timedelta(hours=each.session.about.dries_h)
        for each in _own(wish, taken)
        if each.session.key in session.needs
    ]


def windows(wish: Wish, session: Session, calendar: Calendar, day: date) -> list[tuple[int, int]]:
    """When a session can be on a day: the shop is open, there is light where it is at the range, the archer is free
    where he is needed.

    Args:
        wish: of its rig.
        session: to be placed.
        calendar: of the shop.
        day: which.

    Returns:
        minutes after midnight, from and to.

    Source:
        the parts that all of them have in common.
    """
    found = [(each.from_min, each.to_min) for each in calendar.open if each.weekday == day.weekday()]
    if session.about.at == At.RANGE:
        light = calendar.light(day)
        found = _common(found, [light] if light is not None else [])
    if session.about.archer and wish.free is not None:
        found = _common(found, [(each.from_min, each.to_min) for each in wish.free if each.weekday == day.weekday()])
    return sorted(found)


def _common(one: Sequence[tuple[int, int]], other: Sequence[tuple[int, int]]) -> list[tuple[int, int]]:
    both = [(max(a, c), min(b, d)) for a, b in one for c, d in other]
    return [(a, b) for a, b in both if a < b]


def clashes_of(
    wish: Wish, session: Session, span: Span, person: str, calendar: Calendar, now: datetime, taken: Sequence[Placed]
) -> tuple[Clash, ...]:
    """Why a session cannot be at a time.

    Args:
        wish: of its rig.
        session: to be placed.
        span: from when to when.
        person: who does it.
        calendar: of the shop.
        now: nothing is before it.
        taken: what is placed already.

    Returns:
        every reason; none where it can.

    Source:
        docs/method.md, section 22.
    """
    others = [each for each in taken if (each.rig_id, each.session.key) != (wish.rig_id, session.key)]
    own = [each for each in others if each.rig_id == wish.rig_id]
    waits = wish.not_before is not None and span.start.date() < wish.not_before
    told = (
        (Clash.PAST, span.start < now),
        (Clash.WAITS, waits),
        (Clash.NOBODY, person not in calendar.people),
        *_closed(wish, session, span, calendar),
        (Clash.BUSY, any(span.meets(each) for each in calendar.busy.get(person, ()))),
        (Clash.BUSY, any(each.person == person and span.meets(each.span) for each in others)),
        (Clash.RIG, any(span.meets(each.span) for each in own)),
        (Clash.ORDER, any(span.start < done for done in _after(wish, session, others))),
        (Clash.ORDER, any(session.key in each.session.needs and each.start < _dry(session, span) for each in own)),
        (Clash.SAME_DAY, session.about.own_day and any(_same_day(span, each) for each in own)),
    )
    return tuple(dict.fromkeys(clash for clash, is_so in told if is_so))


def _closed(wish: Wish, session: Session, span: Span, calendar: Calendar) -> list[tuple[Clash, bool]]:
    """Which of shop, light and archer is not there."""
    day = span.start.date()
    begin = int((span.start - datetime.combine(day, time())).total_seconds() // 60)
    end = begin + session.about.minutes
    hours = [(each.from_min, each.to_min) for each in calendar.open if each.weekday == day.weekday()]
    light = calendar.light(day) if session.about.at == At.RANGE else (0, DAY_MIN)
    free = None if wish.free is None or not session.about.archer else wish.free
    his = [(0, DAY_MIN)] if free is None else [(e.from_min, e.to_min) for e in free if e.weekday == day.weekday()]

    def within(parts: Sequence[tuple[int, int]]) -> bool:
        return any(a <= begin and end <= b for a, b in parts)

    return [
        (Clash.CLOSED, not within(hours)),
        (Clash.NIGHT, light is None or not within([light])),
        (Clash.ARCHER, not within(his)),
    ]


def _dry(session: Session, span: Span) -> datetime:
    return span.end + timedelta(hours=session.about.dries_h)


def _same_day(span: Span, other: Placed) -> bool:
    return other.session.about.own_day and other.start.date() == span.start.date()
