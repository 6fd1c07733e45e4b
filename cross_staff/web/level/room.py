"""What staff, bench and application know of the pages of this station."""

from __future__ import annotations

from cross_staff.web.level import cost, instruments, photo, record, routes, setup, words
from cross_staff.web.level.takes import takes
from cross_staff.web.shared.room import StationRoom

_FIELDS = (
    "act arrows axis base beside by_eye cal_vial clip_proved corners distance doubt doubted first_way fore "
    "jig_line jig_lines jig_settle kind left_by left_end left_line line lines loose method moved name note photo pitch "
    "proved rail_line rail_lines rail_settle reason reference reference_line reference_lines "
    "reference_settle reseated reverse_days reversed right right_end right_line seat seat_words sent "
    "settle shim shop_jig shop_rail shop_reference shop_string side sight_line sight_lines sight_settle "
    "string_line string_lines string_settle sure tolerance turned turned_way vial vial_end which who yaw"
)

ROOM = StationRoom(
    "level",
    (
        routes.router,
        setup.router,
        record.router,
        photo.router,
        cost.router,
        instruments.router,
    ),
    words.next_step,
    words.STANDING,
    tuple(_FIELDS.split()),
    takes,
)
