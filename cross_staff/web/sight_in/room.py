"""What staff, bench and application know of the pages of this station."""

from __future__ import annotations

from cross_staff.web.shared.room import StationRoom
from cross_staff.web.shared.takes import DISTANCE
from cross_staff.web.sight_in import files, next_words, photo, routes

_FIELDS = (
    "act act_key amount answer before circle circle_is confirmed_by counts crosswind csv dial dial_as dial_ordered "
    "distance drive ends face face_size fresh hundred_clicks key length_# light line_arrows line_right line_right_way "
    "line_up line_up_way mark move_key moved_pin new_home note order other_way pin place placed reads reads_as "
    "scale scale_taps shaft_across tap_aim tap_holes "
    "session session_key session_note session_number shots stands state taken_back temperature unknown what who"
)

ROOM = StationRoom(
    "sight_in",
    (
        routes.router,
        files.router,
        photo.router,
    ),
    next_words.next_step,
    next_words.STANDING,
    tuple(_FIELDS.split()),
    lambda context: {"distance": DISTANCE},
)
