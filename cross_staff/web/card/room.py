"""What staff, bench and application know of the pages of this station."""

from __future__ import annotations

from cross_staff.web.card import arrows, fields, revisions, routes, sheet, sight, sight_fields, sight_library, words
from cross_staff.web.forms.units import CHOICES as UNIT_CHOICES
from cross_staff.web.shared.room import StationRoom
from cross_staff.web.shared.takes import Takes

_NAMES = (
    "copy due estimate into_library left_out_# part_centre_# part_mass_# part_name_# peep_way readings save "
    "shown_build sight_kind sight_name"
)
_FIELDS = (
    *_NAMES.split(),
    *(f"estimated_{key}" for key in fields.ESTIMATED),
    *(fields.NUMBERS | fields.LISTS | fields.TEXTS | fields.CHOICES),
    *(sight_fields.NUMBERS | sight_fields.LISTS | sight_fields.TEXTS | sight_fields.choices()),
    *(f"{table.prefix}_#_{column.name}" for table in sight_fields.TABLES for column in table.columns),
    *(f"{prefix}{quantity}" for prefix in ("unit_", "typed_unit_") for quantity in UNIT_CHOICES),
)

_TAKES = {
    "arrow_mass": Takes("mass", "mass", fields.NUMBERS["arrow_mass"].span),
    "part_mass_#": Takes("mass", "mass", fields.PART_MASS.span),
    "shaft_diameter": Takes("length", "diameter", fields.NUMBERS["shaft_diameter"].span),
    "readings": Takes("speed", "speed", fields.READING_SPAN, many=True),
}

ROOM = StationRoom(
    "card",
    (
        routes.router,
        arrows.router,
        sight.router,
        revisions.router,
        sight_library.router,
        sheet.router,
    ),
    words.next_step,
    words.STANDING,
    _FIELDS,
    lambda context: _TAKES,
)
