"""What the screws of a sight model did on other bows."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

from sqlalchemy import Connection

from cross_staff.core.level.screws import USUAL_PLAY_RAD, AnglePerTurnPrior
from cross_staff.core.level.station import AXES, level_state
from cross_staff.core.rig.card import RigCard
from cross_staff.services.memory import Memory
from cross_staff.storage import level_readings, rigs

MOST_BOWS = 20  # the newest ones of a model tell as much as all of them


@dataclass(frozen=True)
class Learned:
    """What one bow's turns show surely: the name of its sight, and the sizes of its gains by axis [rad a turn]."""

    sight: str
    sizes: tuple[tuple[str, float], ...]


def angle_per_turn_priors(
    connection: Connection, rig_id: int, card: RigCard, memory: Memory
) -> dict[str, AnglePerTurnPrior]:
    """What the screws of this sight model did on other bows: the size of their gain, not its sign. What each bow
    showed is kept in `memory` for each version of its records."""
    if not card.sight.name:
        return {}
    sizes: dict[str, list[float]] = {axis: [] for axis in AXES}
    for other, version in rigs.versions_with_sight(connection, card.sight.name, MOST_BOWS + 1):
        if other == rig_id:
            continue
        learned = memory.get(("gains", other, version), lambda other=other: _learned(connection, other))  # type: ignore[misc]
        if learned.sight == card.sight.name:
            for axis, size in learned.sizes:
                sizes[axis].append(size)
    return {axis: _prior(known) for axis, known in sizes.items() if known}


def _learned(connection: Connection, rig_id: int) -> Learned:
    """What one bow's turns show; nothing of one that cannot be reckoned."""
    try:
        card = rigs.latest(connection, rig_id).card
        states = level_state(card, level_readings.log(connection, rig_id), []).axes.items()
    except (ArithmeticError, ValueError):
        return Learned("", ())
    sure = ((axis, state) for axis, state in states if state.angle_per_turn is not None and state.angle_per_turn.sure)
    sizes = (
        (axis, abs(state.angle_per_turn.value))
        for axis, state in sure
        if state.angle_per_turn and state.unit.calibrated
    )
    return Learned(card.sight.name, tuple(sizes))


def _prior(sizes: Sequence[float]) -> AnglePerTurnPrior:
    logs = [math.log(size) for size in sizes]
    mean = sum(logs) / len(logs)
    spread = math.sqrt(sum((v - mean) ** 2 for v in logs) / (len(logs) - 1)) if len(logs) > 1 else 0.3
    return AnglePerTurnPrior(math.exp(mean), max(spread, 0.1), 0, USUAL_PLAY_RAD)
