"""What the days hang on beside the sessions: where the shop is and when it is open; when an archer is free."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from datetime import datetime

from cross_staff.core.errors import InvalidValue
from cross_staff.core.plan.planner import Hours, Moved, check_hours

WEEKDAYS = ("Mon", "Tue", "Wed", "Thu", "Fri", "Sat", "Sun")
USUAL_OPEN = tuple(Hours(day, 9 * 60, 18 * 60) for day in range(6))
MOST_MOVED = 60


@dataclass(frozen=True)
class ShopHours:
    """When the shop is open, where it is (north and east positive) [deg], and the name of its time zone."""

    open: tuple[Hours, ...] = USUAL_OPEN
    latitude_deg: float | None = None
    longitude_deg: float | None = None
    zone: str = ""

    @property
    def placed(self) -> bool:
        """Whether it is known where it is, so that its daylight can be worked out."""
        return self.latitude_deg is not None and self.longitude_deg is not None


@dataclass(frozen=True)
class RigDays:
    """When the archer of a rig is free (None: nobody said), and sessions that somebody put somewhere, by their keys."""

    free: tuple[Hours, ...] | None = None
    moved: Mapping[str, Moved] = field(default_factory=dict)


def check_shop(hours: ShopHours) -> None:
    """Refuse hours or a place that cannot be.

    Args:
        hours: of the shop.

    Raises:
        InvalidValue: with the field.

    Source:
        the globe.
    """
    check_hours(hours.open, "open")
    if (hours.latitude_deg is None) != (hours.longitude_deg is None):
        raise InvalidValue("latitude" if hours.latitude_deg is None else "longitude", "both, or neither")
    if hours.latitude_deg is not None and not -90.0 <= hours.latitude_deg <= 90.0:
        raise InvalidValue("latitude", "between -90 and 90 degrees, south negative")
    if hours.longitude_deg is not None and not -180.0 <= hours.longitude_deg <= 180.0:
        raise InvalidValue("longitude", "between -180 and 180 degrees, west negative")


def moved_by(days: RigDays, key: str, to: Moved | None, keys: Sequence[str]) -> RigDays:
    """The days of a rig with a session put somewhere, or left to the program again.

    Args:
        days: as they are.
        key: of the session.
        to: where it goes; None: wherever the program puts it.
        keys: of the sessions that there are; others are forgotten.

    Returns:
        the days of the rig.

    Raises:
        InvalidValue: a moment that no calendar has.

    Source:
        what was done or is not wanted any more needs no time.
    """
    if to is not None and not datetime(2000, 1, 1) <= to.start <= datetime(2200, 1, 1):
        raise InvalidValue("start", "choose a day and an hour")
    kept = {each: moved for each, moved in days.moved.items() if each in keys and each != key}
    return RigDays(days.free, kept if to is None else {**kept, key: to})
