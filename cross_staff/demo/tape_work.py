"""The tape's own work on the demo rigs: strips of a booklet measured, a tape printed and laid on."""

from __future__ import annotations

from datetime import datetime

from cross_staff.core.printing.sheet import SheetStyle
from cross_staff.core.rig.booklet import Booklet, Strip
from cross_staff.core.tape.layout import Wanted
from cross_staff.services.rig import open_rig
from cross_staff.services.tape import booklet
from cross_staff.services.tape import record as tape
from cross_staff.storage.database import Database

# three strips of a two-sided gauge, home line to the line for 95 m
STRIPS = (Strip("C", 3.0, 52.9, "front"), Strip("E", 5.0, 56.1, "front"), Strip("H", 8.0, 60.8, "front"))


def strips(database: Database, rig_id: int, when: datetime) -> None:
    """Strips of the sight's booklet, measured with a rule."""
    goals = open_rig(database, rig_id).card.goals
    booklet.keep(database, rig_id, Booklet(goals.home_m, goals.farthest_m, STRIPS), when)


def printed(database: Database, rig_id: int, when: datetime) -> None:
    """A tape that was printed and lies on the sight."""
    rig = open_rig(database, rig_id)
    goals, seat = rig.card.goals, rig.card.tape
    wanted = Wanted(goals.home_m or 0.0, goals.farthest_m or 0.0)
    style = SheetStyle(seat.width_mm, seat.ticks_at, seat.farther_runs)
    number, day = rig.revision.number, when.date().isoformat()
    marks = f"{len(rig.evaluation.used)} marks"
    heading = [rig.card.name, rig.card.archer, f"Yardage tape in m · revision {number} · {day} · {marks}"]
    waste = [rig.card.name, f"rev {number} · {day}", marks]
    words = tape.StripWords(tuple(heading), tuple(waste))
    tape.keep_printed(database, rig_id, tape.printed(rig, wanted, style, words), when)
