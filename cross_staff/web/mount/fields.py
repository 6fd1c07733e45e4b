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


OUTLINES = {
    field.name: field
    for field in (
        NumberField("quiver_ahead", "Quiver bracket, ahead", "mark", LIMITS["mount.quiver.ahead_mm"],
                    "from and to, of the upper mount bolt; behind it is minus"),
        NumberField("quiver_above", "Quiver bracket, above", "mark", LIMITS["mount.quiver.above_mm"],
                    "from and to, of the upper mount bolt; below it is minus"),
        NumberField("wheel_ahead", "Wheel, ahead", "mark", LIMITS["mount.wheel.ahead_mm"], "from and to"),
        NumberField("wheel_above", "Wheel, above", "mark", LIMITS["mount.wheel.above_mm"], "from and to"),
    )
}  # fmt: skip
OUT = {
    field.name: field
    for field in (
        NumberField(
            "quiver_out", "Quiver bracket, out", "mark", LIMITS["mount.quiver.out_mm"], "its inner side from the riser"
        ),
        NumberField("wheel_out", "Wheel, out", "mark", LIMITS["mount.wheel.out_mm"], "its inner side from the riser"),
    )
}


def outline_lists(card: RigCard) -> dict[str, tuple[float, ...]]:
    """The spans of both outlines, by the names of their fields."""
    quiver, wheel = card.mount.quiver, card.mount.wheel
    return {
        "quiver_ahead": quiver.ahead_mm,
        "quiver_above": quiver.above_mm,
        "wheel_ahead": wheel.ahead_mm,
        "wheel_above": wheel.above_mm,
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
        "quiver_out": mount.quiver.out_mm,
        "wheel_out": mount.wheel.out_mm,
    }


def mount_texts(card: RigCard, units: Units) -> dict[str, str]:
    """The mount as text, field by field."""
    values = mount_values(card)
    texts = {name: units.plain(spec.quantity, values[name]) for name, spec in (FIELDS | OUT).items()}
    texts |= {name: units.listed("mark", span) for name, span in outline_lists(card).items()}
    return texts | {
        "torque": card.mount.torque,
        "now_hole": "" if card.hole is None else str(card.hole),
        "now_detent": "" if card.detent is None else str(card.detent),
    }
