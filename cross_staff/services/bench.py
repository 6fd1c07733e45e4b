"""The bench: the rigs being worked on, a line each, and new ones."""

from __future__ import annotations

from dataclasses import dataclass, replace
from datetime import datetime

from sqlalchemy import Connection

from cross_staff.core.card.faults import check_card
from cross_staff.core.errors import Busy, CrossStaffError, NotFound, Unreckonable
from cross_staff.core.rig.card import LevelSetup, Mount, RigCard
from cross_staff.core.rig.sight import SightModel, TapeSeat
from cross_staff.core.stations import STATES, Summary, in_trouble, summary
from cross_staff.services.card.sight_library import without_bow
from cross_staff.services.rig import open_rig
from cross_staff.storage import practice, rigs, standings
from cross_staff.storage.database import Database
from cross_staff.storage.standings import ORDERS, BenchLine, Filter

PAGE = 50
AT_ONCE = 3  # rigs that a page of the bench waits for, where others are worked out beside it
MOST_ARCHERS = 50


@dataclass(frozen=True)
class Asked:
    """Which rigs are shown, and in which order: archived ones or those on the bench, an archer's, by
    a station that is due, stale, blocked or done; sorted by a key of ORDERS; which page of them."""

    archived: bool = False
    archer: str = ""
    state: str = ""
    sort: str = "due"
    page: int = 1

    @property
    def filter(self) -> Filter:
        return Filter(self.archived, self.archer, STATES.index(self.state) if self.state in STATES else None)


SORTS = tuple(ORDERS)


@dataclass(frozen=True)
class Bench:
    """A page of the bench: its lines; how many there are of what was asked, on the bench and archived; the
    archers to choose from; how many rigs are still to be worked out, of these or others; the one that was just
    archived."""

    lines: tuple[BenchLine, ...]
    count: int
    on_bench: int
    archived: int
    archers: tuple[str, ...]
    waiting: int
    gone: BenchLine | None = None

    @property
    def pages(self) -> int:
        return max(-(-self.count // PAGE), 1)


def bench(database: Database, asked: Asked, gone: int | None = None, beside: bool = False) -> Bench:
    """A page of the bench, every line as its rig stands now, or said to be old.

    Args: gone, a rig that was just archived; beside, whether rigs are worked out beside the pages: where many have
        changed, as when a whole range is shooting, no page waits for them.
    """
    waiting = _few(database) if beside else bring_up(database)
    with database.reading() as connection:
        return Bench(
            tuple(standings.lines(connection, asked.filter, asked.sort, PAGE, PAGE * (asked.page - 1))),
            standings.count(connection, asked.filter),
            standings.count(connection, Filter()),
            standings.count(connection, Filter(archived=True)),
            tuple(standings.archers(connection, asked.archived, MOST_ARCHERS)),
            waiting,
            standings.line(connection, gone) if gone is not None else None,
        )


def _few(database: Database) -> int:
    """Work out those that have changed where they are few, else a few of those that are new; returns how many are
    left."""
    with database.reading() as connection:
        old, count = standings.outdated(connection, AT_ONCE)
        if count > AT_ONCE:
            old = standings.never_worked_out(connection, AT_ONCE)
    return count - _worked_out(database, old)


def bring_up(database: Database, most: int = PAGE) -> int:
    """Work out anew how rigs stand whose records have changed, `most` at the most; returns how many are left.

    While another program holds the data they are left for the next time.
    """
    with database.reading() as connection:
        old, count = standings.outdated(connection, most)
    return count - _worked_out(database, old)


def next_old(database: Database, after: int | None) -> int | None:
    """The next rig after this one whose records have changed since it was worked out, each in its turn however often
    it changes; None where there is none."""
    with database.reading() as connection:
        old = standings.outdated(connection, 1, after)[0] or standings.outdated(connection, 1)[0]
    return old[0] if old else None


def work_out(database: Database, rig_id: int) -> None:
    """Work one rig out, where it has changed since; while another program holds the data it is left as it is."""
    with database.reading() as connection:
        line = standings.line(connection, rig_id)
    if line is not None and not line.fresh:
        _worked_out(database, [rig_id])


def _worked_out(database: Database, old: list[int]) -> int:
    """Work these out and keep how they stand; returns how many were kept."""
    if not old:
        return 0
    fresh = [(rig_id, *_summary(database, rig_id)) for rig_id in old]
    try:
        with database.writing(wait=False) as connection:
            for rig_id, version, line in fresh:
                standings.keep(connection, rig_id, version, line)
    except Busy:
        return 0
    return len(old)


def _summary(database: Database, rig_id: int) -> tuple[int, Summary]:
    """A rig's line, and the version of its records that it was made of."""
    try:
        rig = open_rig(database, rig_id)
        return rig.version, summary(rig.state)
    except Unreckonable as error:
        with database.reading() as connection:
            return rigs.row(connection, rig_id).version, in_trouble(_card(connection, rig_id), error.reason)


def _card(connection: Connection, rig_id: int) -> RigCard:
    """The card of a rig in trouble, or its number where not even the card can be read."""
    try:
        return rigs.latest(connection, rig_id).card
    except (CrossStaffError, ValueError):
        return RigCard(f"Rig {rig_id}")


def begin(database: Database) -> None:
    """What is done when the program starts: standings of older rules are worked out anew when they are asked for."""
    with database.writing() as connection:
        standings.outdate_older_rules(connection)


def add(database: Database, name: str, archer: str, units: dict[str, str], now: datetime) -> int:
    """A new rig with nothing known but its name; returns its id. Raises InvalidValue without one."""
    card = RigCard(name, archer)
    check_card(card)
    with database.writing() as connection:
        return rigs.add_rig(connection, card, units, now, "new on the bench")


def copy(database: Database, rig_id: int, now: datetime, same_bow: bool = False) -> int:
    """A new rig with this one's card, without what was measured on it; returns its id. Raises NotFound, also for a
    practice rig: its bow is nobody's, and its exercise is begun anew instead.

    What belongs to one bow (positions of controls, which way they go, the place of the sight, the chronograph's
    readings) is not copied; of the same bow with another sight nothing but what belongs to the sight is left out.
    """
    with database.writing() as connection:
        card, units = rigs.latest(connection, rig_id).card, rigs.row(connection, rig_id).units
        if practice.is_practised(connection, rig_id):
            raise NotFound("a practice rig is not copied into the shop: begin its exercise anew")
        fresh = _second_sight(card) if same_bow else _another_bow(card)
        return rigs.add_rig(connection, fresh, units, now, f"copied from {card.name}")


def _another_bow(card: RigCard) -> RigCard:
    builds = tuple(replace(build, sessions=()) for build in card.builds)
    name, sight = f"{card.name}, copy", without_bow(card.sight)
    return replace(card, name=name, due=None, occasion="", sight=sight, mount=Mount(), builds=builds)


def _second_sight(card: RigCard) -> RigCard:
    """The card of the same bow with a sight of which nothing is known but the unit of its tape."""
    return replace(
        card,
        name=f"{card.name}, second sight",
        due=None,
        occasion="",
        sight=SightModel(tape=TapeSeat(unit_m=card.tape.unit_m)),
        mount=Mount(),
        level=LevelSetup(),
        eye_to_sight_m=None,
        eye_to_sight_estimated=False,
        goals=replace(card.goals, pin_distances_m=()),
    )


def archive(database: Database, rig_id: int, off_the_bench: bool = True) -> None:
    """Take a rig off the bench, or put it back; nothing of it is lost. Raises NotFound."""
    with database.writing() as connection:
        rigs.set_archived(connection, rig_id, off_the_bench)


def every_line(database: Database) -> tuple[BenchLine, ...]:
    """The line of every rig as it stands now, archived ones too, by their numbers."""
    left = bring_up(database)
    while left and (now := bring_up(database)) < left:
        left = now
    with database.reading() as connection:
        lines = (standings.line(connection, rig_id) for rig_id in rigs.rig_ids(connection))
        return tuple(line for line in lines if line is not None)


def readable(database: Database) -> None:
    """Whether the data can be read. Raises NotKept."""
    with database.reading() as connection:
        standings.count(connection, Filter())


def every(database: Database) -> list[int]:
    """The ids of all rigs, archived ones too, oldest first."""
    with database.reading() as connection:
        return rigs.rig_ids(connection)
