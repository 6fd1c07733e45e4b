"""Where what is read beside a vial stands when it is level, and when a reading has to be taken there."""

from __future__ import annotations

from cross_staff.core.errors import InvalidValue
from cross_staff.core.level.log import History, LevelReading
from cross_staff.core.level.units import kind_beside, unit_for
from cross_staff.core.rig.card import LevelSetup

CENTRED_DIV = 0.5  # how near its middle the reference must stand while vials are not calibrated
FAR_DIV = 2.0  # farther off, lines that are only guessed mislead: they are calibrated first


def middle_of(setup: LevelSetup, log: History) -> float:
    """Where the reference stands on its seat when the bow is plumb, by its match, else by its reversal [divisions].

    Args:
        setup: the vials.
        log: with the seatings of the reference.

    Returns:
        [divisions], right positive.

    Source:
        docs/method.md, section 12.
    """
    if not (log.seatings and log.seatings[-1].matches):
        return setup.reference.roll_error_div or 0.0
    match, _ = log.seatings[-1].matches[-1]
    per_string, per_reference = setup.string.per_division_rad, setup.reference.per_division_rad
    scale = per_string / per_reference if per_string and per_reference else 1.0
    return match.reference_div - scale * (match.string_div - (setup.string.roll_error_div or 0.0))


def wants_centred(setup: LevelSetup, reading: LevelReading) -> bool:
    """Whether lines of reference and vial cannot be set against each other: then the reference has to stand as it does
    when the bow is plumb."""
    beside_it = kind_beside(reading.axis, reading.method)
    return beside_it != "" and not unit_for(setup, reading.axis, reading.method).calibrated


def rests_at(setup: LevelSetup, log: History, axis: str, method: str) -> float:
    """Where what is read beside the vial stands when it is level: a reference as it was matched on its seat, the rail's
    and the jig's level by their reversal.

    Args:
        setup: the vials.
        log: with the seatings of the reference.
        axis: first, second or third.
        method: how it is read.

    Returns:
        [divisions], right positive; nought where nothing is read beside it.

    Source:
        docs/method.md, section 12.
    """
    kind = kind_beside(axis, method)
    if kind == "reference":
        return middle_of(setup, log)
    return (getattr(setup, kind).roll_error_div or 0.0) if kind else 0.0


def check_centred(reading: LevelReading, middle_div: float) -> None:
    """Refuse a reference off where it stands when the bow is plumb.

    Args:
        reading: with the reference's bubble [divisions].
        middle_div: where it should stand [divisions].

    Raises:
        InvalidValue: for more than half a division either way.

    Source:
        docs/method.md, section 12.
    """
    if abs(reading.reference_div - middle_div) > CENTRED_DIV:
        said = "these vials are not calibrated: bring the reference to"
        raise InvalidValue("reference", f"{said} {_stands(middle_div)} first, by the bow, or calibrate both")


def _stands(middle_div: float) -> str:
    shown = f"{abs(middle_div):.1f}"
    return "0" if shown == "0.0" else f"{shown} {'right' if middle_div > 0.0 else 'left'}, where it stands when plumb,"
