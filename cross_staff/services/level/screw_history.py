"""What the screws of a described sight did on other bows.

A gain belongs to a screw that somebody described: it is shared between bows whose sights have the same name, one
that the shop gave, and whose maps say the same of that screw; the name of a generic model is shared by nobody."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

from sqlalchemy import Connection

from cross_staff.core.level.log import AXES
from cross_staff.core.level.screws import USUAL_PLAY_RAD, AnglePerTurnPrior
from cross_staff.core.level.station import STATION, level_state
from cross_staff.core.rig.card import RigCard
from cross_staff.core.rig.sight import SightModel
from cross_staff.core.rig.sight_kinds import KINDS
from cross_staff.services.memory import Memory
from cross_staff.storage import bench_entries, level_readings, rigs

MOST_BOWS = 20  # the newest ones of a model tell as much as all of them


@dataclass(frozen=True)
class Learned:
    """What one bow's turns show surely: its sight, and the sizes of its gains by axis [rad a turn]."""

    sight: SightModel
    sizes: tuple[tuple[str, float], ...]


_GENERIC = frozenset(kind.template.name for kind in KINDS.values())


def bows_with_sight(connection: Connection, rig_id: int, card: RigCard) -> list[tuple[int, int]]:
    """The newest other bows with a sight of this name, one that the shop gave, each with the version of its records."""
    if not card.sight.name or card.sight.name in _GENERIC:
        return []
    return rigs.versions_with_sight(connection, rig_id, card.sight.name, MOST_BOWS + 1)


def angle_per_turn_priors(
    connection: Connection, rig_id: int, card: RigCard, memory: Memory
) -> dict[str, AnglePerTurnPrior]:
    """What the screws of this sight did on other bows: the size of their gain, not its sign, in radians a turn, so of
    calibrated vials alone. What each bow showed is kept in `memory` for each version of its records."""
    sizes: dict[str, list[float]] = {axis: [] for axis in AXES}
    for other, version in bows_with_sight(connection, rig_id, card):
        learned = memory.get(("gains", other, version), lambda other=other: _learned(connection, other))  # type: ignore[misc]
        for axis, size in learned.sizes:
            if _same_screw(card.sight, learned.sight, axis):
                sizes[axis].append(size)
    return {axis: _prior(known) for axis, known in sizes.items() if known}


def _same_screw(one: SightModel, other: SightModel, axis: str) -> bool:
    """Whether two sights are described as the same, and this axis's screw with them."""
    if (one.name, one.kind) != (other.name, other.kind):
        return False
    screws = [[s for s in sight.screws if s.movement == f"{axis}_axis"] for sight in (one, other)]
    return bool(screws[0]) and screws[0] == screws[1]


def _learned(connection: Connection, rig_id: int) -> Learned:
    """What one bow's turns show; nothing of one that cannot be worked out."""
    try:
        card = rigs.latest(connection, rig_id).card
        entries = bench_entries.log(connection, rig_id, STATION)
        states = level_state(card, level_readings.log(connection, rig_id), entries).axes.items()
    except (ArithmeticError, ValueError):
        return Learned(SightModel(), ())
    sure = ((axis, state) for axis, state in states if state.angle_per_turn is not None and state.angle_per_turn.sure)
    sizes = (
        (axis, abs(state.angle_per_turn.value))
        for axis, state in sure
        if state.angle_per_turn and state.unit.calibrated
    )
    return Learned(card.sight, tuple(sizes))


def _prior(sizes: Sequence[float]) -> AnglePerTurnPrior:
    logs = [math.log(size) for size in sizes]
    mean = sum(logs) / len(logs)
    spread = math.sqrt(sum((v - mean) ** 2 for v in logs) / (len(logs) - 1)) if len(logs) > 1 else 0.3
    return AnglePerTurnPrior(math.exp(mean), max(spread, 0.1), 0, USUAL_PLAY_RAD)
