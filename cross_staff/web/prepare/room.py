"""What staff, bench and application know of the pages of this station."""

from __future__ import annotations

from cross_staff.web.prepare import routes, words
from cross_staff.web.shared.room import StationRoom

ROOM = StationRoom("prepare", (routes.router,), words.next_step, words.STANDING)
