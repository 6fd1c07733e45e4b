"""Where every pointer goes on the tape that is laid on for the dialled pin."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from cross_staff.core.ballistics.flight import RigFigures, Trajectories
from cross_staff.core.ballistics.sightline import far_distances, pin_heights


@dataclass(frozen=True)
class PointerLine:
    """Where a pin's pointer stands with the sight at home: the line under it [m from the sight plane], None above the
    turnover, and the sd of that [m]; how far beyond the dialled pin's on the tape [mm]; the round distance that is
    nearest [m from the sight plane], and how far the pin itself would go up for it, down negative [mm]."""

    pin: int
    line_m: float | None
    sd_m: float | None
    beyond_mm: float
    round_m: float | None = None
    pin_up_mm: float | None = None


def pointer_lines(
    figures: RigFigures,
    heights_m: Sequence[float],
    pointed: Sequence[int],
    dialled: int,
    ratio: float,
    unit_m: float,
    lead_m: float,
    sds_mm: Sequence[float | None],
) -> tuple[PointerLine, ...]:
    """A line for each pointer, the sight at home: the distance that its pin is right for there.

    Args:
        figures: speed [m/s], drag [1/m], eye to sight [m] and peep height [m] of the rig.
        heights_m: [m] of the pins above the arrow line at home, shape (n,).
        pointed: the pins that have a pointer, by their places.
        dialled: the one that the tape is laid on for.
        ratio: tape travel per housing travel [-].
        unit_m: metres in a unit of distance [m].
        lead_m: what the archer ranges more than the distance from the sight plane [m].
        sds_mm: how surely each pin stands where it stands [mm], None where that is not known, shape (n,).

    Returns:
        the lines, in the order of the pins.

    Source:
        derived in docs/method.md, section 15.
    """
    pins = [pin for pin in pointed if pin < len(heights_m)]
    if not pins:
        return ()
    distances = far_distances(figures, [heights_m[pin] for pin in pins])
    lines = []
    for pin, distance in zip(pins, distances):
        beyond = 1000.0 * ratio * (heights_m[dialled] - heights_m[pin])
        if distance is None:
            lines.append(PointerLine(pin, None, None, beyond))
            continue
        whole = max(round((distance + lead_m) / unit_m), 1) * unit_m - lead_m
        near, at, far = (pin_heights(Trajectories.of(figures, [d])) for d in (distance - 0.25, whole, distance + 0.25))
        slope = 2000.0 * float(near.height_m[0] - far.height_m[0])  # mm of the housing for a metre
        sd = sds_mm[pin] if pin < len(sds_mm) else None
        known = sd is not None and slope > 1e-6 and near.reached[0] and far.reached[0]
        up = 1000.0 * float(at.height_m[0] - heights_m[pin]) if at.reached[0] else None
        lines.append(PointerLine(pin, distance, sd / slope if known and sd is not None else None, beyond, whole, up))
    return tuple(lines)
