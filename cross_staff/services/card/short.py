"""The short sheet: what a tape needs of the card, what an estimate in its place costs, what is usual in this shop."""

from __future__ import annotations

from dataclasses import dataclass

from cross_staff.core.card.estimates import ESTIMATES, SPEED, Cost, cost, lacking
from cross_staff.core.rig.card import RigCard
from cross_staff.core.rig.sight import SightModel
from cross_staff.storage import rigs
from cross_staff.storage.database import Database
from cross_staff.storage.rigs import Revision


@dataclass(frozen=True)
class Needed:
    """A figure that can be estimated: whether it is lacking, whether it is estimated, and what that costs."""

    lacks: bool
    estimated: bool
    cost: Cost | None


def needed(card: RigCard) -> dict[str, Needed]:
    """What can be estimated of a card, by its name in the core."""
    told = {}
    for key in (*ESTIMATES, SPEED):
        lacks = lacking(card, key)
        estimated = key in card.estimated or (key == SPEED and card.expected_speed() is not None)
        told[key] = Needed(lacks, estimated, cost(card, key) if lacks or estimated else None)
    return told


def sight_unsaid(revision: Revision) -> bool:
    """Whether nobody said yet what kind of sight it is: nothing was saved since the rig was put on the bench."""
    return revision.number == 1 and revision.card.sight == SightModel(tape=revision.card.sight.tape)


@dataclass(frozen=True)
class Usual:
    """What the shop chose last, on which rig: its card, and its units."""

    card: RigCard
    units: dict[str, str]


def usual(database: Database, besides: int | None = None) -> Usual | None:
    """The rig that was saved last, besides one; None in an empty shop."""
    with database.reading() as connection:
        newest = rigs.saved_last(connection, besides)
        return None if newest is None else Usual(newest.card, rigs.row(connection, newest.rig_id).units)
