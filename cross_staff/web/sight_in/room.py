"""What staff, bench and application know of the pages of this station."""

from __future__ import annotations

from cross_staff.web.shared.room import StationRoom
from cross_staff.web.sight_in import files, routes, words

_FIELDS = (
    "act_key amount circle confirmed_by counts crosswind csv dial distance drive face face_size fresh "
    "hundred_clicks key light move_key moved_pin note other_way pin place placed session session_key "
    "session_note session_number shots state taken_back temperature who"
)

ROOM = StationRoom(
    "sight_in",
    (
        routes.router,
        files.router,
    ),
    words.next_step,
    words.STANDING,
    tuple(_FIELDS.split()),
)
