"""What the arrows make one doubt: another pin than noted, a knob that went the other way, a sideways
trend, an end that nobody would expect of this archer."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace

from cross_staff.core.estimation.groups import chance_limit
from cross_staff.core.sight_in.controls import SIDEWAYS
from cross_staff.core.sight_in.estimate import AimEstimate
from cross_staff.core.sight_in.log import End

NOT_THIS_PIN_SDS, THIS_PIN_SDS = 4.0, 2.5
KNOWN_MM = 4.0  # a pin whose place is known no better says nothing of which pin was used
SURPRISE_SDS = 3.5
LEAST_DISTANCES, FAR_APART = 3, 1.5


@dataclass(frozen=True)
class OtherPin:
    """An end that looks as if another pin was used: which one it looks like, and how far the end is off
    for the pin that was noted [mm at the sight plane]."""

    end: End
    pin: int
    off_mm: float


def other_pin(estimate: AimEstimate) -> OtherPin | None:
    """The newest end whose offset equals a gap between pins, unless that was asked already."""
    if len(estimate.distances) < 2:
        return None
    for end in reversed(estimate.counted):
        if not end.asked and (looks_like := _looks_like(before(estimate, end), end)) is not None:
            return looks_like
    return None


def before(estimate: AimEstimate, end: End) -> AimEstimate:
    """What was believed before an end was shot."""
    log = estimate.log
    earlier = replace(
        log,
        ends=tuple(e for e in log.ends if e.order < end.order),
        moves=tuple(m for m in log.moves if m.order < end.order),
    )
    return AimEstimate(estimate.card, earlier, estimate.fit, estimate.holds, estimate.spans)


def _looks_like(earlier: AimEstimate, end: End) -> OtherPin | None:
    alone = replace(earlier.log, ends=(*earlier.log.ends, end))
    seen_by = AimEstimate(earlier.card, alone, earlier.fit, earlier.holds, earlier.spans)
    sds = {pin: _apart(earlier, seen_by, end, pin) for pin in range(len(earlier.distances))}
    noted = sds.get(end.pin)
    if noted is None or abs(noted[0]) < NOT_THIS_PIN_SDS:
        return None
    others = {pin: z for pin, z in sds.items() if z is not None and pin != end.pin and abs(z[0]) < THIS_PIN_SDS}
    if not others:
        return None
    pin = min(others, key=lambda p: abs((others[p] or (0.0, 0.0))[0]))
    return OtherPin(end, pin, noted[1])


def _apart(earlier: AimEstimate, seen_by: AimEstimate, end: End, pin: int) -> tuple[float, float] | None:
    """How far an end is from what a pin should have done, in sds and [mm]; None where nothing is known."""
    if earlier.up is None:
        return None
    value, sd = earlier.up.of(earlier.weights(pin))
    seen = seen_by.to_go_mm(end, pin)
    if seen is None or sd > KNOWN_MM:
        return None
    off = seen[0] - value
    return off / math.hypot(sd, seen[1]), off


@dataclass(frozen=True)
class Surprise:
    """The first end after a movement, not where it should be: expected and seen, right and up [mm at the
    sight plane, still to go], and whether it looks as if the movement went the other way."""

    end: End
    drive: str
    expected: tuple[float, float]
    seen: tuple[float, float]
    other_way: bool


def surprise(estimate: AimEstimate) -> Surprise | None:
    """What the newest end says of the last movement before it, where that is not what was expected."""
    counted = estimate.counted
    if not counted or not estimate.log.moves:
        return None
    end = counted[-1]
    last = [m for m in estimate.log.moves if m.order < end.order and not m.placed]
    shot_before = [e for e in counted[:-1] if last and e.order > last[-1].order]
    if not last or shot_before:
        return None
    earlier, move = before(estimate, end), last[-1]
    sideways = move.moves in SIDEWAYS
    if sideways:
        expected, sd = earlier.right.of({"right": 1.0})
        what = estimate.seen_right(end)
        seen, error = what.value, what.sd
    else:
        to_go_mm = estimate.to_go_mm(end, end.pin)
        if earlier.up is None or to_go_mm is None:
            return None
        expected, sd = earlier.up.of(earlier.weights(end.pin))
        seen, error = to_go_mm
    if sd > KNOWN_MM or abs(seen - expected) < SURPRISE_SDS * math.hypot(sd, error):
        return None
    drive = next((d for d in estimate.controls if d.name == move.drive), None)
    size = drive.travel_per_unit().size * move.amount if drive else move.amount
    # had it gone the other way, what is still to go would be twice the movement more
    other = abs(seen - (expected + 2.0 * size)) < SURPRISE_SDS * math.hypot(sd, error, 0.1 * size)
    pair = (expected, 0.0) if sideways else (0.0, expected)
    saw = (seen, 0.0) if sideways else (0.0, seen)
    return Surprise(end, move.drive, pair, saw, other)


@dataclass(frozen=True)
class Trend:
    """A sideways trend: what the arrows go off to the right from the nearest to the farthest distance, as
    an angle [mrad], its sd, and between which distances [m as ranged]."""

    mrad: float
    sd_mrad: float
    near_m: float
    far_m: float


def sideways_trend(estimate: AimEstimate) -> Trend | None:
    """Whether the windage differs with distance beyond chance: then it is no windage setting.

    A straight line through the ends' windage, movements taken out, weighted by their sds.
    """
    rows = []
    for end in estimate.counted:
        if end.ranged_m is None or not estimate.holds_for("windage", end.revision):
            continue
        seen = estimate.seen_right(end)
        rows.append((end.ranged_m, seen.value - _moved_since(estimate, end), seen.sd))
    distances = sorted({round(row[0], 1) for row in rows})
    if len(distances) < LEAST_DISTANCES or distances[-1] < FAR_APART * distances[0]:
        return None
    weight = [row[2] ** -2.0 for row in rows]
    total = sum(weight)
    middle = sum(w * row[0] for w, row in zip(weight, rows)) / total
    level = sum(w * row[1] for w, row in zip(weight, rows)) / total
    spread = sum(w * (row[0] - middle) ** 2 for w, row in zip(weight, rows))
    slope = sum(w * (row[0] - middle) * (row[1] - level) for w, row in zip(weight, rows)) / spread
    sd = spread**-0.5
    if abs(slope) < chance_limit(estimate.spread.freedom, 0.99) * sd:
        return None
    span = (distances[-1] - distances[0]) / estimate.lever
    return Trend(slope * span, sd * span, distances[0], distances[-1])


def _moved_since(estimate: AimEstimate, end: End) -> float:
    """How far the windage was moved since an end [mm]."""
    moved = 0.0
    for move in estimate.log.moves:
        if move.order > end.order and move.moves in SIDEWAYS and move.unit != "mark":
            drive = next((d for d in estimate.controls if d.name == move.drive), None)
            moved += move.amount * (estimate.travel_per_unit(drive)[0] if drive else 1.0)
    return moved
