"""What staff, bench and application know of the pages of this station."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from cross_staff.core.prepare.checklist import NUMBERS
from cross_staff.web.prepare import routes, words
from cross_staff.web.shared.room import StationRoom
from cross_staff.web.shared.takes import Takes

_FIELDS = "after choice distance done note number reason right up wb_#_distance wb_#_right"


def _takes(context: Mapping[str, Any]) -> dict[str, Takes]:
    length = getattr(context.get("check"), "quantity", "") == "length"
    return {"number": Takes("length", "length", NUMBERS["length"])} if length else {}


ROOM = StationRoom("prepare", (routes.router,), words.next_step, words.STANDING, tuple(_FIELDS.split()), _takes)
