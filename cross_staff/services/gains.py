"""What the screws of a sight model did on other bows."""

from __future__ import annotations

import math

from sqlalchemy import Connection

from cross_staff.core.adjust import USUAL_PLAY_RAD, GainPrior
from cross_staff.core.level import AXES, level_state
from cross_staff.core.rig import RigCard
from cross_staff.storage import level_readings, rigs


def gain_priors(connection: Connection, rig_id: int, card: RigCard) -> dict[str, GainPrior]:
    """What the screws of this sight model did on other bows: the size of their gain, not its sign."""
    if not card.sight.name:
        return {}
    sizes: dict[str, list[float]] = {axis: [] for axis in AXES}
    for other in rigs.rig_ids(connection):
        if other == rig_id:
            continue
        theirs = rigs.latest(connection, other).card
        log = level_readings.log(connection, other) if theirs.sight.name == card.sight.name else []
        if log:
            state = level_state(theirs, log, [])
            for axis, found in state.axes.items():
                if found.gain is not None and found.gain.sure and found.unit.calibrated:
                    sizes[axis].append(abs(found.gain.value))
    return {axis: _prior(found) for axis, found in sizes.items() if found}


def _prior(sizes: list[float]) -> GainPrior:
    logs = [math.log(size) for size in sizes]
    mean = sum(logs) / len(logs)
    spread = math.sqrt(sum((v - mean) ** 2 for v in logs) / (len(logs) - 1)) if len(logs) > 1 else 0.3
    return GainPrior(math.exp(mean), max(spread, 0.1), 0, USUAL_PLAY_RAD)
