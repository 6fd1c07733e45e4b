"""What other rigs tell of one: what the screws of its sight model did, and how its archer groups."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from weakref import WeakKeyDictionary

from sqlalchemy import Connection, Engine

from cross_staff.core.level.screws import AnglePerTurnPrior
from cross_staff.core.rig.scatter import OtherBow
from cross_staff.core.tape.station import Evaluation
from cross_staff.services.archer import bows_of_archer, other_bows
from cross_staff.services.level.screw_history import angle_per_turn_priors, bows_with_sight
from cross_staff.services.memory import Memory
from cross_staff.storage import rigs

MOST_LEARNED = 2000  # small: what the screws of a bow showed, how its archer groups
_LEARNED: WeakKeyDictionary[Engine, Memory] = WeakKeyDictionary()


@dataclass(frozen=True)
class Told:
    """What others tell of a rig: its screws' prior by axis, in the order of the axes' names, and the archer's bows."""

    angles_per_turn: tuple[tuple[str, AnglePerTurnPrior], ...] = ()
    bows: tuple[OtherBow, ...] = ()


def tellers(connection: Connection, rig_id: int) -> tuple[tuple[int, int], ...]:
    """The rigs that tell something of one, each with its version: while these stay, so does what they tell. Nothing is
    worked out. Raises NotFound."""
    card = rigs.latest(connection, rig_id).card
    return (*bows_with_sight(connection, rig_id, card), *bows_of_archer(connection, rig_id, card))


def told(connection: Connection, rig_id: int, reckon: Callable[[int], Evaluation]) -> Told:
    """What they tell. Args: reckon, the tape of another rig by itself. Raises NotFound."""
    card, learned = rigs.latest(connection, rig_id).card, _LEARNED.setdefault(connection.engine, Memory(MOST_LEARNED))
    priors = angle_per_turn_priors(connection, rig_id, card, learned)
    return Told(tuple(sorted(priors.items())), other_bows(connection, rig_id, card, learned, reckon))
