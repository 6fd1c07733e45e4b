"""What staff, bench and application know of the pages of this station."""

from __future__ import annotations

from cross_staff.web.mount import fields, routes, witness_marks, words
from cross_staff.web.shared.room import StationRoom
from cross_staff.web.shared.takes import millimetres

_FIELDS = (
    "ahead_of_grip clearance detent hole home joint line note now_detent now_hole other pin_at_top place "
    "reserve state there_c there_m torque turned turned_way vanes wanted "
    "quiver_ahead quiver_above quiver_out wheel_ahead wheel_above wheel_out joint_# place_# shows_#"
)

ROOM = StationRoom(
    "mount",
    (
        routes.router,
        witness_marks.router,
    ),
    words.next_step,
    words.STANDING,
    tuple(_FIELDS.split()),
    lambda context: {name: millimetres(fields.FIELDS[name].span) for name in ("pin_at_top", "vanes")},
)
