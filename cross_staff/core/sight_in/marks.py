"""Ends of arrows as marks of the tape, brought to where the sight stands now; and what each pin is for."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import replace

from cross_staff.core.rig.card import RigCard
from cross_staff.core.rig.schools import DIALLED
from cross_staff.core.sight_in.controls import ControlUnit, RangeControl, range_controls
from cross_staff.core.sight_in.dispersion import pooled_dispersion
from cross_staff.core.sight_in.log import End, Move, RangeLog
from cross_staff.core.sight_in.procedures import answers, pin_distances
from cross_staff.core.tape.rows import READING_SD_MM, TapeMark
from cross_staff.core.tape.station import Pins


def dialled_pin(card: RigCard, chosen: Mapping[str, str]) -> int:
    """The pin that goes with the wheel."""
    if not card.sight_kind.asks(DIALLED) or answers(card, chosen)[DIALLED.key] == "near":
        return 0
    return max(len(pin_distances(card, chosen)) - 1, 0)


def pins_of(card: RigCard, chosen: Mapping[str, str]) -> Pins:
    """What each pin is set for, and which one goes with the wheel."""
    return Pins(pin_distances(card, chosen), dialled_pin(card, chosen))


def end_entries(card: RigCard, log: RangeLog) -> tuple[TapeMark, ...]:
    """Ends of arrows as observations of the tape: every one feeds the fit at once, centred or not.

    Only ends whose pin's height is known by a mark: any pin at a dial reading, as pins at different heights
    share one flight; dots of a display, which stand where they are computed; and the top pin of a sight
    without a dial, whose mark is nought. An end before the whole housing or its own pin was moved is brought
    to where it stands now. Lines are negative: they do not belong to the marks table.
    """
    spread = pooled_dispersion(card, [e for e in log.ends if not e.left_out])
    kind = card.sight_kind
    entries = []
    for number, end in enumerate(log.ends, start=1):
        weight = log.weight(end)
        if not end.kept or end.ranged_m is None or weight == 0.0 or end.removed:
            continue
        if end.pin and not kind.has_dial:
            continue
        if kind.has_dial and end.dial_mm is None:
            continue
        if any(m.placed and m.pin == end.pin and m.order > end.order for m in log.moves):
            continue
        moved, noise = _raised_since(card, log.moves, end)
        mark = (end.dial_mm or 0.0) + card.tape.direction * (card.tape.ratio or 1.0) * moved
        arrows = len(end.kept)
        error = spread.mrad * 1e-3 * card.distance_from_sight(end.ranged_m) / math.sqrt(arrows * weight)
        up = sum(s.up_m for s in end.kept) / arrows
        entry = TapeMark(-number, -number, end.revision, end.entered, end.ranged_m, mark, up, arrows, end.left_out)
        pin = 0 if kind.computes_dots else end.pin
        entries.append(replace(entry, up_se_m=error, reading_sd_mm=math.hypot(READING_SD_MM, noise), pin=pin))
    return tuple(entries)


def _raised_since(card: RigCard, moves: Sequence[Move], end: End) -> tuple[float, float]:
    """How far the pin of an end went up since, with the housing or by itself [mm], and the sd of it."""
    by_name = {drive.name: drive for drive in range_controls(card.sight)}
    raised = noise = 0.0
    for move in moves:
        with_it = move.moves == "gang_elevation" or (move.moves == "pin" and move.pin == end.pin)
        if not with_it or move.order < end.order or move.unit == "mark":
            continue
        drive = by_name.get(move.drive) or RangeControl(move.drive, move.moves, ControlUnit(move.unit), 1.0)
        travel_per_unit = drive.travel_per_unit()
        made = travel_per_unit.size * move.amount
        raised += made
        noise = math.hypot(noise, drive.noise_mm(made), travel_per_unit.sd * move.amount)
    return raised, noise
