"""A virtual technician at the level: he does what the program says, through its own services."""

from __future__ import annotations

from collections.abc import Callable
from datetime import datetime

from cross_staff.core.level.station import LevelState
from cross_staff.core.level.vials import reversal
from cross_staff.core.simulate.technician import Act, Technician
from cross_staff.services.level import instruments
from cross_staff.services.level import record as level
from cross_staff.services.rig import open_rig
from cross_staff.storage.database import Database

MOST_ACTS = 400
Until = Callable[[LevelState], bool]


def carry_out(database: Database, rig_id: int, act: Act, now: datetime) -> None:
    """Do one act through the services. Raises NotFound; InvalidValue where the program refuses it."""
    if act.kind == "reverse":
        instruments.reverse(database, rig_id, act.which, reversal(*act.points), now)
    elif act.kind in ("plumb", "match"):
        seen = level.PlumbSeen(*act.points, act.reference_div, act.seat, act.reseated, now.isoformat())
        (level.plumb if act.kind == "plumb" else level.match)(database, rig_id, seen, now)
    elif act.kind == "calibrate" and act.canted is not None:
        instruments.calibrate(database, rig_id, act.which, act.method, act.canted, now)
    elif act.kind == "undo":
        level.take_back(database, rig_id, int(act.which), now)
    elif act.kind == "where":
        level.put(database, rig_id, act.which, now)
    elif act.kind == "leave":
        level.leave(database, rig_id, "the technician", now)
    elif act.kind == "accept":
        level.accept(database, rig_id, act.which, "left so, after all that could be read", now)
    elif act.entry is not None and act.entry.turn:
        level.turn(database, rig_id, act.entry)
    elif act.entry is not None:
        level.read(database, rig_id, act.entry)


def walk(
    database: Database, rig_id: int, technician: Technician, stop_at: str = "", until: Until | None = None
) -> LevelState:
    """Level a rig to its end, or until an axis was turned once, or what is wanted is there; returns how it then stands.

    Args: stop_at, that axis; none where it is empty; until, tells whether what is wanted is there.
    Raises: InvalidValue where an order could not be obeyed.
    """
    for _ in range(MOST_ACTS):
        rig = open_rig(database, rig_id)
        state = rig.level
        if stop_at and state.current == stop_at and state.axes[stop_at].turns:
            break
        if until is not None and until(state):
            break
        acts = technician.act(rig.card, state)
        if not acts:
            break
        for act in acts:
            carry_out(database, rig_id, act, act.entry.entered if act.entry else technician.moment())
    return open_rig(database, rig_id).level
