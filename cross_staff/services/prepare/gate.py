"""Prepare: entries on the bench sheet, taking the last one back, the gate's override."""

from __future__ import annotations

from dataclasses import replace

from cross_staff.core.prepare.station import OVERRIDE, STATION
from cross_staff.core.rig.log import BenchEntry
from cross_staff.services.log import enter
from cross_staff.storage.database import Database


def override_gate(database: Database, rig_id: int, entry: BenchEntry) -> None:
    """Open the gate with a written reason, which stays on the record. Raises InvalidValue without one."""
    enter(database, rig_id, replace(entry, station=STATION, key=OVERRIDE))
