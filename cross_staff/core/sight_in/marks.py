"""Ends of arrows as marks of the tape, brought to where the sight stands now."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace

from cross_staff.core.rig.card import RigCard
from cross_staff.core.sight_in.controls import ControlUnit, RangeControl, range_controls
from cross_staff.core.sight_in.dispersion import pooled_dispersion
from cross_staff.core.sight_in.log import HOME, End, Move, RangeLog
from cross_staff.core.tape.fit import Fit
from cross_staff.core.tape.rows import READING_SD_MM, RowEvaluation, TapeMark, day_of


def end_entries(card: RigCard, log: RangeLog) -> tuple[TapeMark, ...]:
    """Ends of arrows as observations of the tape: every one feeds the fit at once, centred or not.

    Only ends whose pin's height is known by a mark: any pin at a reading of the dial, as pins at different heights
    share one flight; and the top pin, or the reference dot, of a sight without a dial, whose mark is nought. Where
    the dots of a display stand nobody reads: they are no marks. An end before the whole housing or its own pin was
    moved is brought to where it stands now; one before a movement that nobody counted says nothing any more.
    Lines are negative: they do not belong to the marks table.
    """
    spread = pooled_dispersion(card, [e for e in log.ends if not e.left_out])
    kind, days = card.sight_kind, _days(log)
    entries = []
    for number, end in enumerate(log.ends, start=1):
        weight = log.weight(end)
        up = end.middle[1]
        if up is None or end.ranged_m is None or weight == 0.0 or end.removed:
            continue
        read = _reading(log, end) if kind.has_dial else 0.0
        if read is None or (end.pin and not kind.has_dial):
            continue
        if any(m.placed and m.pin == end.pin and m.order > end.order for m in log.moves):
            continue
        raised = _raised_since(card, log.moves, end)
        if raised is None:
            continue
        moved, noise = raised
        mark = read + card.tape.direction * (card.tape.ratio or 1.0) * moved
        arrows = end.arrows
        error = 1e-3 * spread.mrad * (arrows * weight) ** -0.5 * card.distance_from_sight(end.ranged_m)
        entry = TapeMark(-number, -number, end.revision, end.entered, end.ranged_m, mark, up, arrows, end.left_out)
        sd = math.hypot(READING_SD_MM, noise)
        entries.append(replace(entry, up_se_m=error, reading_sd_mm=sd, pin=end.pin, session=days[end.session]))
    return tuple(entries)


def _days(log: RangeLog) -> dict[int, str]:
    """The day of each session, by its first end; a second session of a day is another one."""
    days: dict[int, str] = {}
    for end in sorted(log.ends, key=lambda each: (each.session, each.order)):
        day = day_of(end.entered)
        days.setdefault(end.session, f"{day}, {end.session}" if day in days.values() else day)
    return days


@dataclass(frozen=True)
class MarkSoFar:
    """What was shot at one distance [m as ranged] with one pin is worth, each end centred by the flight: the mark
    [mm], its sd, and of how many arrows."""

    ranged_m: float
    pin: int
    mark_mm: float
    sd_mm: float
    arrows: int


def marks_so_far(card: RigCard, fit: Fit, rows: Sequence[RowEvaluation]) -> tuple[MarkSoFar, ...]:
    """The marks that were shot so far, one for each distance and pin, nearest first.

    m = mark - ratio * up L / (L + d), the mean of them weighted by their sds.

    Args:
        card: the rig's card.
        fit: for lever and tape ratio.
        rows: rows of the tape that are used.

    Returns:
        the marks [mm] with their sds; empty on a sight without a dial.

    Source:
        PHYSICS of groups: docs/method.md, section 13.
    """
    if not card.sight_kind.dialled:
        return ()
    found: dict[tuple[float, int], list[tuple[float, float, int]]] = {}
    lever = fit.figures.eye_to_sight_m
    for row in rows:
        entry = row.entry
        if row.ruler or row.origin:
            continue  # no reading of the scale
        if entry.ranged_m < 0.9 * (card.goals.home_m or 0.0):
            continue  # close in, where a mark says little
        part = 1000.0 * fit.tape_ratio * lever / (lever + card.distance_from_sight(entry.ranged_m))
        mark = card.tape.direction * (row.at_mm - part * (entry.up_m or 0.0))
        reading = row.reading_sd_mm or entry.reading_sd_mm or READING_SD_MM
        sd = math.hypot(part * (entry.up_se_m or 0.0), reading)
        key = next((k for k in found if k[1] == entry.pin and abs(k[0] - entry.ranged_m) < 0.25), None)
        found.setdefault(key or (entry.ranged_m, entry.pin), []).append((mark, sd**-2.0, entry.arrows or 0))
    told = []
    for (ranged_m, pin), seen in sorted(found.items()):
        weight = sum(w for _, w, _ in seen)
        mean = sum(m * w for m, w, _ in seen) / weight
        told.append(MarkSoFar(ranged_m, pin, mean, weight**-0.5, sum(n for *_, n in seen)))
    return tuple(told)


def _reading(log: RangeLog, end: End) -> float | None:
    """What the scale read at an end [mm]; at home, what was read at the stop. None where nobody knows."""
    if end.dial_mm is not None or end.dial_from != HOME:
        return end.dial_mm
    return next((entry.number for entry in log.stops), None)


def _raised_since(card: RigCard, moves: Sequence[Move], end: End) -> tuple[float, float] | None:
    """How far the pin of an end went up since, with the housing or by itself [mm], and the sd of it; None where
    nobody counted."""
    by_name = {drive.name: drive for drive in range_controls(card.sight)}
    raised = noise = 0.0
    for move in moves:
        with_it = move.moves == "gang_elevation" or (move.moves == "pin" and move.pin == end.pin)
        if not with_it or move.order < end.order or move.unit == "mark":
            continue
        if not move.counted:
            return None
        drive = by_name.get(move.drive) or RangeControl(move.drive, move.moves, ControlUnit(move.unit), 1.0)
        travel_per_unit = drive.travel_per_unit()
        made = travel_per_unit.size * move.amount
        raised += made
        noise = math.hypot(noise, drive.noise_mm(made), travel_per_unit.sd * move.amount)
    return raised, noise
