"""What staff, bench and application know of the pages of this station."""

from __future__ import annotations

from cross_staff.web.prepare import routes, words
from cross_staff.web.shared.room import StationRoom

_FIELDS = "after choice distance done note number reason right up wb_#_distance wb_#_right"

ROOM = StationRoom("prepare", (routes.router,), words.next_step, words.STANDING, tuple(_FIELDS.split()))
