"""The light of a day at the shop, and its clock."""

from __future__ import annotations

from collections.abc import Callable
from datetime import UTC, date, datetime, tzinfo
from functools import lru_cache, partial
from zoneinfo import ZoneInfo, ZoneInfoNotFoundError, available_timezones

from cross_staff.core.errors import InvalidValue
from cross_staff.core.plan.days import ShopHours

USUAL_LIGHT = (9 * 60, 16 * 60)  # where nobody said where the shop is
Light = Callable[[date], tuple[int, int] | None]


def zone_of(hours: ShopHours) -> tzinfo:
    """The clock on the shop's wall: the zone it says, else that of this machine. Raises InvalidValue."""
    if not hours.zone:
        return datetime.now().astimezone().tzinfo or UTC
    if hours.zone not in _zones():
        raise InvalidValue("zone", "as Area/City, such as Europe/London, or empty for the clock of this machine")
    try:
        return ZoneInfo(hours.zone)
    except (ZoneInfoNotFoundError, ValueError) as error:
        raise InvalidValue("zone", "is not known here") from error


def light_of(hours: ShopHours) -> Light:
    """The light of each day, from sunrise to sunset on the shop's clock, as minutes after midnight; None where the sun
    does not rise. Where nobody said where the shop is, a short day."""
    if not hours.placed:
        return _usual
    return partial(_light, hours.latitude_deg or 0.0, hours.longitude_deg or 0.0, zone_of(hours))


def _usual(_day: date) -> tuple[int, int]:
    return USUAL_LIGHT


@lru_cache(1)  # they are read from the disk
def _zones() -> frozenset[str]:
    return frozenset(available_timezones())


@lru_cache(2048)
def _light(latitude_deg: float, longitude_deg: float, zone: tzinfo, day: date) -> tuple[int, int] | None:
    from astral import Observer
    from astral.sun import elevation, noon, sunrise, sunset

    observer = Observer(latitude_deg, longitude_deg)
    try:
        rise, down = sunrise(observer, day, tzinfo=zone), sunset(observer, day, tzinfo=zone)
    except ValueError:  # the sun stays up, or down
        return (0, 24 * 60) if elevation(observer, noon(observer, day, tzinfo=UTC)) > 0.0 else None
    begin, end = rise.hour * 60 + rise.minute + 1, down.hour * 60 + down.minute
    if rise.date() != day or down.date() != day or end <= begin:  # it sets after midnight
        return (begin if rise.date() == day else 0, 24 * 60)
    return begin, end
