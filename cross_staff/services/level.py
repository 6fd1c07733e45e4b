"""Level: readings as they are taken, taking one back, what such screws did on other bows."""

from __future__ import annotations

import math
from dataclasses import replace
from datetime import datetime

from sqlalchemy import Connection

from cross_staff.core.adjust import USUAL_PLAY_RAD, GainPrior
from cross_staff.core.errors import InvalidValue, NotFound
from cross_staff.core.level import AXES, LevelReading, check_reading, kept, level_state
from cross_staff.core.rig import RigCard
from cross_staff.storage import level_readings, rigs
from cross_staff.storage.database import Database


def read(database: Database, rig_id: int, reading: LevelReading) -> int:
    """Keep a reading at the revision that holds now; returns its id.

    Raises: NotFound; InvalidValue for a turn before the axis was read as found, or a reference off
        its middle while the vials are not calibrated.
    """
    with database.writing() as connection:
        log = kept(level_readings.log(connection, rig_id))
        if reading.turns and not any(r.axis == reading.axis and r.locked for r in log):
            raise InvalidValue("turned", "read this axis as found first: what it was is worth keeping")
        latest = rigs.latest(connection, rig_id)
        check_reading(latest.card.level, reading)
        return level_readings.add(connection, rig_id, replace(reading, revision=latest.number))


def take_back(database: Database, rig_id: int, reading_id: int, now: datetime) -> None:
    """Take a reading back; the log keeps both. Raises NotFound for one that does not stand."""
    with database.writing() as connection:
        log = level_readings.log(connection, rig_id)
        found = next((r for r in kept(log) if r.reading_id == reading_id), None)
        if found is None:
            raise NotFound("that reading does not stand any more")
        undoing = replace(found, undoes=reading_id, entered=now, turns=None)
        level_readings.add(connection, rig_id, undoing)


FLIPS = ("sight_sign", "reference_sign", "both_signs", "pitch_sign")


def flip(database: Database, rig_id: int, reading_id: int, slip: str, now: datetime) -> None:
    """Take a reading back and enter it again with the sign turned that was likely flipped; the log
    keeps all three. Raises NotFound for a reading that does not stand, or a slip that is none."""
    with database.writing() as connection:
        log = level_readings.log(connection, rig_id)
        found = next((r for r in kept(log) if r.reading_id == reading_id), None)
        if found is None or slip not in FLIPS:
            raise NotFound("that reading does not stand any more")
        level_readings.add(connection, rig_id, replace(found, undoes=reading_id, entered=now, turns=None))
        level_readings.add(connection, rig_id, _flipped(found, slip, now))


def _flipped(reading: LevelReading, slip: str, now: datetime) -> LevelReading:
    vial = -reading.vial_div if slip in ("sight_sign", "both_signs") else reading.vial_div
    reference = -reading.reference_div if slip in ("reference_sign", "both_signs") else reading.reference_div
    pitch = -reading.pitch_rad if slip == "pitch_sign" else reading.pitch_rad
    note = " ".join(filter(None, [reading.note, "sign turned"]))
    return replace(reading, vial_div=vial, reference_div=reference, pitch_rad=pitch, entered=now, note=note)


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
