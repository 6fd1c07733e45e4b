"""What staff, bench and application know of the pages of this station."""

from __future__ import annotations

from cross_staff.web.level import cost, photo, record, routes, setup, words
from cross_staff.web.shared.room import StationRoom

ROOM = StationRoom(
    "level",
    (
        routes.router,
        setup.router,
        record.router,
        photo.router,
        cost.router,
    ),
    words.next_step,
    words.STANDING,
)
