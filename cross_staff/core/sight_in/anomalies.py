"""A sideways trend with distance, which no windage setting takes out."""

from __future__ import annotations

from dataclasses import dataclass

from cross_staff.core.estimation.groups import chance_limit
from cross_staff.core.sight_in.controls import SIDEWAYS
from cross_staff.core.sight_in.estimate import AimEstimate
from cross_staff.core.sight_in.log import End

LEAST_DISTANCES, FAR_APART = 3, 1.5


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
        seen, moved = estimate.seen_right(end), _moved_since(estimate, end)
        if seen is not None and moved is not None:
            rows.append((end.ranged_m, seen.value - moved, seen.sd))
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


def _moved_since(estimate: AimEstimate, end: End) -> float | None:
    """How far the windage was moved since an end [mm]; None where nobody counted."""
    moved = 0.0
    for move in estimate.log.moves:
        if move.order > end.order and move.moves in SIDEWAYS and move.unit != "mark":
            if not move.counted:
                return None
            drive = next((d for d in estimate.controls if d.name == move.drive), None)
            moved += move.amount * (estimate.travel_per_unit(drive)[0] if drive else 1.0)
    return moved
