"""Level: readings as they are taken, taking one back, the bow plumb, an axis accepted in writing."""

from __future__ import annotations

from dataclasses import replace
from datetime import datetime

from cross_staff.core.errors import InvalidValue, NotFound
from cross_staff.core.level.station import AXES, STATION, LevelReading, check_reading, kept
from cross_staff.core.rig.log import BenchEntry
from cross_staff.services import log as entries
from cross_staff.services.events import noted
from cross_staff.services.rig import open_rig
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
        check_reading(rigs.latest(connection, rig_id).card.level, reading)
        if reading.turns:
            noted(connection, rig_id, "axis_turned", reading.entered, f"{reading.axis} axis turned while levelling")
        latest = rigs.latest(connection, rig_id)
        return level_readings.add(connection, rig_id, replace(reading, revision=latest.number))


def plumb(database: Database, rig_id: int, side_div: float, fore_div: float, now: datetime) -> None:
    """Say that the bow is plumb, and what is left of it [divisions]. Raises NotFound; InvalidValue."""
    entries.enter(database, rig_id, BenchEntry(STATION, "plumb", 0, now, points=((side_div, fore_div),)))


def accept(database: Database, rig_id: int, axis: str, reason: str, now: datetime) -> None:
    """Accept an axis as it is, in writing. Raises NotFound; InvalidValue without a reason, or for an
    axis that was not read."""
    if axis not in AXES:
        raise NotFound("there is no such axis")
    if open_rig(database, rig_id).level.axes[axis].now is None:
        raise InvalidValue("reason", "read it first: what it is goes on the record too")
    entries.enter(database, rig_id, BenchEntry(STATION, f"accept_{axis}", 0, now, choice="accepted", note=reason))


def reopen(database: Database, rig_id: int, key: str, now: datetime) -> None:
    """Take the plumb entry, or an acceptance, back. Raises NotFound."""
    entries.take_back(database, rig_id, BenchEntry(STATION, key, 0, now))


def take_back(database: Database, rig_id: int, reading_id: int, now: datetime) -> None:
    """Take a reading back; the log keeps both. Raises NotFound for one that does not stand."""
    with database.writing() as connection:
        log = level_readings.log(connection, rig_id)
        reading = next((r for r in kept(log) if r.reading_id == reading_id), None)
        if reading is None:
            raise NotFound("that reading does not stand any more")
        undoing = replace(reading, undoes=reading_id, entered=now, turns=None)
        level_readings.add(connection, rig_id, undoing)


FLIPS = ("sight_sign", "reference_sign", "both_signs", "pitch_sign")


def flip(database: Database, rig_id: int, reading_id: int, slip: str, now: datetime) -> None:
    """Take a reading back and enter it again with the sign turned that was likely flipped; the log
    keeps all three. Raises NotFound for a reading that does not stand, or a slip that is none."""
    with database.writing() as connection:
        log = level_readings.log(connection, rig_id)
        reading = next((r for r in kept(log) if r.reading_id == reading_id), None)
        if reading is None or slip not in FLIPS:
            raise NotFound("that reading does not stand any more")
        level_readings.add(connection, rig_id, replace(reading, undoes=reading_id, entered=now, turns=None))
        level_readings.add(connection, rig_id, _flipped(reading, slip, now))


def _flipped(reading: LevelReading, slip: str, now: datetime) -> LevelReading:
    vial = -reading.vial_div if slip in ("sight_sign", "both_signs") else reading.vial_div
    reference = -reading.reference_div if slip in ("reference_sign", "both_signs") else reading.reference_div
    pitch = -reading.pitch_rad if slip == "pitch_sign" else reading.pitch_rad
    note = " ".join(filter(None, [reading.note, "sign turned"]))
    return replace(reading, vial_div=vial, reference_div=reference, pitch_rad=pitch, entered=now, note=note)
