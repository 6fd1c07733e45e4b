"""What staff, bench and application know of the pages of this station."""

from __future__ import annotations

from cross_staff.web.card import arrows, revisions, routes, sight, sight_library, words
from cross_staff.web.shared.room import StationRoom

ROOM = StationRoom(
    "card",
    (
        routes.router,
        arrows.router,
        sight.router,
        revisions.router,
        sight_library.router,
    ),
    words.next_step,
    words.STANDING,
)
