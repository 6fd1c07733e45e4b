"""What staff, bench and application know of the pages of this station."""

from __future__ import annotations

from cross_staff.web.shared.room import StationRoom
from cross_staff.web.tape import booklet, carry_over, fits, holds, pins, print, range_sheet, routes, slopes, words

ROOM = StationRoom(
    "tape",
    (
        routes.router,
        print.router,
        pins.router,
        holds.router,
        slopes.router,
        fits.router,
        booklet.router,
        carry_over.router,
        range_sheet.router,
    ),
    words.next_step,
    words.STANDING,
)
