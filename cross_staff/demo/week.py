"""What of the demo is not of one rig: the people of the shop, its hours and place, when archers are free, a session
that was moved, an archer's link."""

from __future__ import annotations

from datetime import datetime, time, timedelta

from cross_staff.core.plan.days import WEEKDAYS, RigDays, ShopHours
from cross_staff.core.plan.planner import Hours, Moved
from cross_staff.core.shop.people import Role
from cross_staff.services.plan import page as plan
from cross_staff.services.shop import links, people
from cross_staff.storage.database import Database

PIN = "4711"  # of everybody in the demo, who is nobody
PEOPLE = (("Ida Fell", Role.TECHNICIAN), ("Wim Garth", Role.TECHNICIAN), ("Nell Oxley", Role.VIEWER))
# a made-up quarry, somewhere in hills like these
QUARRY = ShopHours(
    tuple(Hours(day, 9 * 60, 18 * 60) for day in range(1, 6)),
    latitude_deg=54.4,
    longitude_deg=-2.9,
    zone="Europe/London",
)
FREE = {
    1: tuple(Hours(day, 9 * 60, 17 * 60) for day in (2, 5)),
    2: (Hours(5, 9 * 60, 17 * 60), Hours(6, 9 * 60, 12 * 60)),
    6: tuple(Hours(day, 15 * 60, 18 * 60) for day in range(1, 5)),
}
MOVED = (6, "mount")  # put to a Wednesday by hand
WITH_LINK = 9


def fill(database: Database, now: datetime) -> None:
    """Put it into a shop that has the demo rigs."""
    for name, role in PEOPLE:
        people.add(database, name, role, PIN, now)
    plan.open_hours(database, QUARRY, now)
    for rig_id, hours in FREE.items():
        plan.free(database, rig_id, RigDays(hours), now)
    rig_id, key = MOVED
    ahead = (WEEKDAYS.index("Wed") - now.weekday()) % 7 or 7
    plan.move(
        database, rig_id, key, Moved(datetime.combine(now.date() + timedelta(days=ahead), time(14)), "Wim Garth"), now
    )
    links.make(database, WITH_LINK, links.USUAL_DAYS, PEOPLE[0][0], now)
