"""What an archer's other bows tell of him: how wide he groups, and what his days do."""

from __future__ import annotations

from collections.abc import Callable

from sqlalchemy import Connection

from cross_staff.core.errors import CrossStaffError
from cross_staff.core.rig.card import RigCard
from cross_staff.core.rig.scatter import OtherBow
from cross_staff.core.tape.station import Evaluation
from cross_staff.services.memory import Memory
from cross_staff.storage import rigs

MOST_BOWS = 8  # the newest of an archer; as many are told by the storage that one of them changed
NOTHING = OtherBow(None, None)


def bows_of_archer(connection: Connection, rig_id: int, card: RigCard) -> list[tuple[int, int]]:
    """The other bows of a rig's archer, by his name, oldest first, each with the version of its records."""
    return rigs.versions_with_archer(connection, rig_id, card.archer, MOST_BOWS) if card.archer.strip() else []


def other_bows(
    connection: Connection, rig_id: int, card: RigCard, memory: Memory, reckon: Callable[[int], Evaluation]
) -> tuple[OtherBow, ...]:
    """What these tell. Args: reckon, the tape of a rig by itself; what each tells is kept in `memory` for each version
    of its records."""
    told = []
    for other, version in bows_of_archer(connection, rig_id, card):
        key = ("archer", other, version)
        told.append(memory.get(key, lambda other=other: _told(reckon, other)))  # type: ignore[misc]
    return tuple(each for each in told if each != NOTHING)


def _told(reckon: Callable[[int], Evaluation], rig_id: int) -> OtherBow:
    """What one bow tells; nothing where it cannot be worked out, or its marks disagree: a slip of the pen is no day."""
    try:
        evaluation = reckon(rig_id)
    except (CrossStaffError, ArithmeticError, ValueError):
        return NOTHING
    scatter = evaluation.scatter
    if scatter is None or evaluation.doubtful:
        return NOTHING
    return OtherBow(None if scatter.assumed else scatter.spread_mrad, scatter.day_told)
