"""What staff, bench and application know of the pages of this station."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from cross_staff.core.tape.rulers import SPAN_MM
from cross_staff.web.shared.room import StationRoom
from cross_staff.web.shared.takes import DISTANCE, Takes, millimetres
from cross_staff.web.tape import (
    booklet,
    carry_over,
    dialled,
    fits,
    holds,
    pins,
    print,
    range_sheet,
    routes,
    slopes,
    words,
)

_FIELDS = (
    "distance from label_# labels offset order_# pasted pasted_key reason remove row-#-arrows "
    "read row-#-asked row-#-base row-#-choose row-#-distance row-#-from row-#-key row-#-left_out row-#-line "
    "row-#-mark row-#-read "
    "row-#-pin row-#-reason row-#-up side_# span_# to use used"
)


def _takes(context: Mapping[str, Any]) -> dict[str, Takes]:
    marks = {"row-#-mark": millimetres(SPAN_MM)} if context.get("rulers") else {}  # a scale's number is no length
    return {"row-#-distance": DISTANCE, "span_#": millimetres(SPAN_MM)} | marks


ROOM = StationRoom(
    "tape",
    (
        routes.router,
        print.router,
        pins.router,
        dialled.router,
        holds.router,
        slopes.router,
        fits.router,
        booklet.router,
        carry_over.router,
        range_sheet.router,
    ),
    words.next_step,
    words.STANDING,
    tuple(_FIELDS.split()),
    _takes,
)
