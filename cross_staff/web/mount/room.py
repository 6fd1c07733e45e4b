"""What staff, bench and application know of the pages of this station."""

from __future__ import annotations

from cross_staff.web.mount import routes, witness_marks, words
from cross_staff.web.shared.room import StationRoom

ROOM = StationRoom(
    "mount",
    (
        routes.router,
        witness_marks.router,
    ),
    words.next_step,
    words.STANDING,
)
