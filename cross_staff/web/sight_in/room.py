"""What staff, bench and application know of the pages of this station."""

from __future__ import annotations

from cross_staff.web.shared.room import StationRoom
from cross_staff.web.sight_in import files, routes, words

ROOM = StationRoom(
    "sight_in",
    (
        routes.router,
        files.router,
    ),
    words.next_step,
    words.STANDING,
)
