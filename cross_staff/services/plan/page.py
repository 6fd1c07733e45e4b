"""The plan of the shop: every rig that is due first, what it still needs, and when."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta, tzinfo
from weakref import WeakKeyDictionary

from cross_staff.core.errors import CrossStaffError
from cross_staff.core.plan.days import RigDays, ShopHours, check_shop, moved_by
from cross_staff.core.plan.planner import Calendar, Moved, Placed, RigPlan, Span, Wish, check_hours, plan
from cross_staff.core.plan.sessions import sessions
from cross_staff.services.memory import Memory
from cross_staff.services.plan.daylight import Light, light_of, zone_of
from cross_staff.services.rig import Rig, open_rig
from cross_staff.services.shop import people
from cross_staff.storage import days, rigs, standings, whole_rigs
from cross_staff.storage.database import Database
from cross_staff.storage.standings import Filter

MOST_RIGS = 40  # that are planned, those that are due first
MOST_PLANS = 4  # that are kept
THE_SHOP = "the shop"  # who works, where nobody was entered
_PLANS: WeakKeyDictionary[Database, Memory] = WeakKeyDictionary()
_NEWEST: WeakKeyDictionary[Database, ShopPlan] = WeakKeyDictionary()


@dataclass(frozen=True)
class ShopPlan:
    """The whole plan: hours and place of the shop, who works, the moment it is of by the shop's clock, plans by rig,
    names of the rigs, days of each rig, busy times by person and calendar by the shop's clock, rigs that cannot be
    worked out, and how many are not planned for there being too many."""

    hours: ShopHours
    people: tuple[str, ...]
    now: datetime
    plans: Mapping[int, RigPlan]
    names: Mapping[int, str]
    days: Mapping[int, RigDays]
    busy: Mapping[tuple[str, str], tuple[Span, ...]]
    light: Light
    trouble: tuple[str, ...]
    beyond: int

    @property
    def placed(self) -> tuple[Placed, ...]:
        """Every session by time."""
        every = [each for made in self.plans.values() for each in made.placed]
        return tuple(sorted(every, key=lambda each: (each.start, each.rig_id)))


def shop_plan(database: Database, moment: datetime) -> ShopPlan:
    """The plan as it is at a moment, worked out once for what is known and a quarter of an hour."""
    return known_plan(database, moment)[1]


def known_plan(database: Database, moment: datetime) -> tuple[Known, ShopPlan]:
    """The plan as it is at a moment, and all that it hangs on."""
    known = _known(database, moment)
    made = _PLANS.setdefault(database, Memory(MOST_PLANS)).get(known, lambda: _made(database, known))
    _NEWEST[database] = made
    return known, made


def take_plan(database: Database, known: Known, made: ShopPlan) -> None:
    """Keep a plan that another process worked out."""
    _NEWEST[database] = _PLANS.setdefault(database, Memory(MOST_PLANS)).get(known, lambda: made)


def newest_plan(database: Database, moment: datetime) -> tuple[ShopPlan | None, bool]:
    """The plan that was worked out last, None before the first, and whether it is still as it would be now."""
    memory = _PLANS.setdefault(database, Memory(MOST_PLANS))
    return _NEWEST.get(database), _known(database, moment) in memory


@dataclass(frozen=True)
class Known:
    """All that a plan hangs on: the versions of the rigs that are due first, what is known of the shop's days, who
    works, the quarter of an hour; and how many rigs there are beyond those."""

    versions: tuple[tuple[int, int], ...]
    days: tuple[int, ...]
    people: tuple[str, ...]
    quarter: datetime
    beyond: int


def _known(database: Database, moment: datetime) -> Known:
    with database.reading() as connection:
        lines = standings.lines(connection, Filter(False, "", None), "due", MOST_RIGS)
        by_number = rigs.versions_of(connection, [line.rig_id for line in lines])
        count = standings.count(connection, Filter(False, "", None))
        kept = days.version(connection)
    who = tuple(each.name for each in people.every(database) if each.writes) or (THE_SHOP,)
    begun = moment.astimezone(UTC).replace(minute=moment.minute // 15 * 15, second=0, microsecond=0)
    quarter = begun if begun == moment else begun + timedelta(minutes=15)  # nothing begins before now
    versions = tuple((line.rig_id, by_number[line.rig_id]) for line in lines)
    return Known(versions, kept, who, quarter, max(count - MOST_RIGS, 0))


def _made(database: Database, known: Known) -> ShopPlan:
    rig_ids, who = [rig_id for rig_id, _ in known.versions], known.people
    with database.reading() as connection:
        hours = days.hours(connection)
        own = {rig_id: days.of_rig(connection, rig_id) for rig_id in rig_ids}
        told = days.busy(connection)
    zone = zone_of(hours)
    now = known.quarter.astimezone(zone).replace(tzinfo=None)
    busy = {key: tuple(_local(span, zone) for span in spans) for key, spans in told.items()}
    by_person: dict[str, tuple[Span, ...]] = {}
    for (person, _), spans in busy.items():
        for each in who if not person else (person,):
            by_person[each] = (*by_person.get(each, ()), *spans)
    calendar = Calendar(who, hours.open, light_of(hours), by_person)
    wishes, names, trouble = [], {}, []
    for rig_id in rig_ids:
        try:
            rig = open_rig(database, rig_id)
        except CrossStaffError as error:
            trouble.append(f"rig {rig_id}: {error}")
            continue
        names[rig_id] = rig.card.name
        wishes.append(wish_of(rig, own[rig_id]))
    plans = {made.wish.rig_id: made for made in plan(wishes, calendar, now)}
    return ShopPlan(hours, who, now, plans, names, own, busy, calendar.light, tuple(trouble), known.beyond)


def units(database: Database, made: ShopPlan) -> dict[int, dict[str, str]]:
    """The units that the rigs of a plan are shown in."""
    with database.reading() as connection:
        return rigs.units_of(connection, made.plans)


def wish_of(rig: Rig, own: RigDays) -> Wish:
    """What is wanted of a rig."""
    waits = rig.state.waiting
    not_before = waits.until if waits is not None else None
    return Wish(rig.rig_id, sessions(rig.state), rig.card.due, own.free, not_before, own.moved, _usable_m(rig))


def _usable_m(rig: Rig) -> float | None:
    """How far it is usable as it is [m as ranged]: by its tape, where nothing speaks against it, or by pins that were
    shot; None where nobody knows."""
    doubted = rig.evaluation.doubtful or rig.range.question is not None or not rig.evaluation.own
    by_tape = None if doubted else rig.card.trusted_m(rig.evaluation.good_to_m)
    return max((each for each in (by_tape, rig.range.usable_to_m()) if each is not None), default=None)


def _local(span: Span, zone: tzinfo) -> Span:
    start, end = (each.replace(tzinfo=UTC).astimezone(zone).replace(tzinfo=None) for each in (span.start, span.end))
    return Span(start, end)


def identity(database: Database, rig_id: int) -> str:
    """By which a rig is known in every shop. Raises NotFound."""
    with database.reading() as connection:
        return whole_rigs.uid_of(connection, rig_id)


def move(database: Database, rig_id: int, key: str, to: Moved | None, now: datetime) -> None:
    """Put a session somewhere, or leave it to the program again. Raises: NotFound; InvalidValue."""
    wanted = [each.key for each in sessions(open_rig(database, rig_id).state)]
    with database.writing() as connection:
        days.put_rig(connection, rig_id, moved_by(days.of_rig(connection, rig_id), key, to, wanted), now)


def free(database: Database, rig_id: int, kept: RigDays, now: datetime) -> None:
    """When the archer of a rig is free. Raises: NotFound; InvalidValue."""
    check_hours(kept.free or (), "free")
    with database.writing() as connection:
        rigs.latest(connection, rig_id)
        was = days.of_rig(connection, rig_id)
        days.put_rig(connection, rig_id, RigDays(kept.free, was.moved), now)


def open_hours(database: Database, kept: ShopHours, now: datetime) -> None:
    """When the shop is open, and where it is. Raises InvalidValue."""
    check_shop(kept)
    zone_of(kept)
    with database.writing() as connection:
        days.put_hours(connection, kept, now)


def busy(database: Database, person: str, calendar: str, spans: list[Span], now: datetime) -> None:
    """What somebody has no time for, by a calendar, in place of the one of that name [UTC]."""
    with database.writing() as connection:
        days.put_busy(connection, person, calendar, spans, now)
