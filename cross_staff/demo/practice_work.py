"""Two exercises of the practice bench: one that is finished, and one in the middle, as somebody left it."""

from __future__ import annotations

from datetime import datetime, timedelta

from cross_staff.core.practice import log as acts
from cross_staff.core.practice.log import Value
from cross_staff.services.practice import record
from cross_staff.services.practice.catalogue import exercise
from cross_staff.storage.database import Database

LOOK: dict[str, Value] = {"axis": "second", "method": "to_string", "seat": "flat", "middle": 0.0}
FINISHED: tuple[tuple[str, dict[str, Value]], ...] = (
    (acts.REVERSE, {"which": "reference"}),
    (acts.MATCH, {"seat": "flat"}),
    (acts.LOOK, LOOK),
    (acts.TURN, {"axis": "second", "turns": 0.25}),
    (acts.LOOK, LOOK),
    (acts.TURN, {"axis": "second", "turns": -0.5}),
    (acts.FINISH, {}),
)
LEFT: tuple[tuple[str, dict[str, Value]], ...] = (
    (acts.STOP, {}),
    (acts.SHOOT, {"distance": 5.0, "arrows": 2, "pin": 0}),
    (acts.SHOOT, {"distance": 10.0, "arrows": 3, "pin": 0}),
)


def practised(database: Database, now: datetime) -> tuple[int, int]:
    """Both exercises; their rigs."""
    told = []
    for key, done in (("second-axis", FINISHED), ("first-arrows", LEFT)):
        rig_id = record.begin(database, exercise(key), "Ida Fell", {}, now)
        for n, (kind, how) in enumerate(done, start=1):
            record.do(database, rig_id, kind, how, now + timedelta(minutes=3 * n))
        told.append(rig_id)
    return told[0], told[1]
