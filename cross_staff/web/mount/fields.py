"""What is measured on the mount, as fields of a form."""

from __future__ import annotations

from cross_staff.core.rig.card import RigCard
from cross_staff.core.rig.limits import LIMITS
from cross_staff.web.card.fields import NumberField
from cross_staff.web.forms.units import Units

FIELDS = {
    field.name: field
    for field in (
        NumberField(
            "pin_at_top",
            "Pin at the top stop",
            "mark",
            LIMITS["mount.pin_at_top_mm"],
            "height over the arrow, slider up",
        ),
        NumberField(
            "reserve", "Reserve above home", "mark", LIMITS["mount.reserve_mm"], "empty: what the nearest distance asks"
        ),
        NumberField(
            "ahead_of_grip",
            "Pin ahead of the grip",
            "length",
            LIMITS["mount.ahead_of_grip_m"],
            "for what hand torque shows",
        ),
        NumberField("vanes", "Vane height", "mark", LIMITS["mount.vanes_mm"], "over the arrow line"),
        NumberField(
            "clearance", "Clearance wanted", "mark", LIMITS["mount.clearance_mm"], "over the vanes; 3 mm unless said"
        ),
    )
}


def mount_values(card: RigCard) -> dict[str, float | None]:
    """What was measured on the mount, by the names of its fields."""
    mount = card.mount
    return {
        "pin_at_top": mount.pin_at_top_mm,
        "reserve": mount.reserve_mm,
        "ahead_of_grip": mount.ahead_of_grip_m,
        "vanes": mount.vanes_mm,
        "clearance": mount.clearance_mm,
    }


def mount_texts(card: RigCard, units: Units) -> dict[str, str]:
    """The mount as text, field by field."""
    values = mount_values(card)
    texts = {name: units.plain(spec.quantity, values[name]) for name, spec in FIELDS.items()}
    return texts | {
        "torque": card.mount.torque,
        "now_hole": "" if card.hole is None else str(card.hole),
        "now_detent": "" if card.detent is None else str(card.detent),
    }
