"""What staff, bench and application know of the pages of this station."""

from __future__ import annotations

from cross_staff.web.level import cant, cost, instruments, photo, record, routes, scope, setup, ways, words
from cross_staff.web.level.takes import takes
from cross_staff.web.shared.room import StationRoom

_FIELDS = (
    "act arrows arrows_canted arrows_plumb axis base beside bubble by_eye cal_vial clip_proved corners distance "
    "doubt doubted first_way fore jig_line jig_lines jig_settle kind left_by left_end left_line line lines loose "
    "method moved moved_beside moved_string moved_vial name note off over photo pitch place proved rail_line "
    "rail_lines rail_settle reason reference reference_line reference_lines reference_settle reseated "
    "reverse_days reversed right right_canted right_end right_line right_plumb seat seat_words sent settle "
    "settled shim shop_jig shop_rail shop_reference shop_string side sight_line sight_lines sight_settle "
    "straightedge string_line string_lines string_settle sure tolerance travel turned turned_way up_canted "
    "up_plumb vial vial_end wander where which who yaw"
)

ROOM = StationRoom(
    "level",
    (
        routes.router,
        ways.router,
        cant.router,
        scope.router,
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
