"""What staff, bench and application know of the pages of this station."""

from __future__ import annotations

from cross_staff.web.level import cost, photo, record, routes, setup, words
from cross_staff.web.shared.room import StationRoom

_FIELDS = (
    "axis base cal_vial first_way fore left_end left_line lines loose method moved note photo pitch "
    "proved rail_line rail_lines rail_settle reason reference reference_line reference_lines "
    "reference_settle reversed right_end right_line seat seat_words shim side sight_line sight_lines "
    "sight_settle string_line string_lines string_settle sure tolerance turned turned_way vial which who "
    "yaw"
)

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
    tuple(_FIELDS.split()),
)
