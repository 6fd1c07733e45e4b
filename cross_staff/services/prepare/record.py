"""Prepare: answers on the bench sheet (a tuning step among them makes old what was shot before it), the gate's
override."""

from __future__ import annotations

from dataclasses import replace

from cross_staff.core.prepare.station import OVERRIDE, STATION
from cross_staff.core.prepare.tuning import GRIP, STEPS
from cross_staff.core.rig.log import BenchEntry
from cross_staff.services.events import noted
from cross_staff.services.log import enter, keep_entry
from cross_staff.storage.database import Database


def answer(database: Database, rig_id: int, entry: BenchEntry) -> None:
    """Keep an answer, and what was done to rest or nocking point just before it. Raises NotFound; InvalidValue."""
    with database.writing() as connection:
        if entry.after in STEPS and entry.after != GRIP:
            step = STEPS[entry.after]
            noted(connection, rig_id, step.cause, entry.entered, step.words)
        keep_entry(connection, rig_id, entry)


def override_gate(database: Database, rig_id: int, entry: BenchEntry) -> None:
    """Open the gate with a written reason, which stays on the record. Raises InvalidValue without one."""
    enter(database, rig_id, replace(entry, station=STATION, key=OVERRIDE))
