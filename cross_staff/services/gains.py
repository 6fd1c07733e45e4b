"""What the screws of a sight model did on other bows."""

from __future__ import annotations

import math
from collections.abc import Sequence
from functools import lru_cache

from sqlalchemy import Connection

from cross_staff.core.adjust import USUAL_PLAY_RAD, GainPrior
from cross_staff.core.level import AXES, LevelReading, level_state
from cross_staff.core.rig import RigCard
from cross_staff.storage import level_readings, rigs

MOST_BOWS = 20  # the newest ones of a model tell as much as all of them


def gain_priors(connection: Connection, rig_id: int, card: RigCard) -> dict[str, GainPrior]:
    """What the screws of this sight model did on other bows: the size of their gain, not its sign."""
    if not card.sight.name:
        return {}
    theirs = {
        each.rig_id: each.card
        for each in rigs.latest_with_sight(connection, card.sight.name, MOST_BOWS + 1)
        if each.rig_id != rig_id and each.card.sight.name == card.sight.name
    }
    sizes: dict[str, list[float]] = {axis: [] for axis in AXES}
    for other, log in level_readings.logs(connection, sorted(theirs)).items():
        for axis, size in _sizes(theirs[other], tuple(log)):
            sizes[axis].append(size)
    return {axis: _prior(known) for axis, known in sizes.items() if known}


@lru_cache(maxsize=512)
def _sizes(card: RigCard, log: tuple[LevelReading, ...]) -> tuple[tuple[str, float], ...]:
    """The sizes of the gains that one bow's turns show surely, by axis; none of one that cannot be reckoned."""
    try:
        states = level_state(card, log, []).axes.items()
    except (ArithmeticError, ValueError):
        return ()
    sure = ((axis, state) for axis, state in states if state.gain is not None and state.gain.sure)
    return tuple((axis, abs(state.gain.value)) for axis, state in sure if state.gain and state.unit.calibrated)


def _prior(sizes: Sequence[float]) -> GainPrior:
    logs = [math.log(size) for size in sizes]
    mean = sum(logs) / len(logs)
    spread = math.sqrt(sum((v - mean) ** 2 for v in logs) / (len(logs) - 1)) if len(logs) > 1 else 0.3
    return GainPrior(math.exp(mean), max(spread, 0.1), 0, USUAL_PLAY_RAD)
