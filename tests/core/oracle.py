"""An independent flight: a high-accuracy general integrator in time, with an event at the target."""

from __future__ import annotations

import math

from scipy.integrate import solve_ivp

from cross_staff.core.ballistics.flight import GRAVITY, RigFigures


def height_at(figures: RigFigures, pin_height_m: float, distance_m: float, slope_rad: float) -> float | None:
    """Height against the aim where the arrow crosses u = distance [m]; None when it never does."""
    delta = math.atan((figures.peep_height_m - pin_height_m) / figures.eye_to_sight_m)
    along, across = GRAVITY * math.sin(slope_rad), GRAVITY * math.cos(slope_rad)

    def motion(_t: float, y: list[float]) -> list[float]:
        drag = figures.drag_per_m * math.hypot(y[2], y[3])
        return [y[2], y[3], -drag * y[2] - along, -drag * y[3] - across]

    def crossing(_t: float, y: list[float]) -> float:
        return y[0] - distance_m

    crossing.terminal = True  # type: ignore[attr-defined]
    start = [
        pin_height_m * math.sin(delta),
        -pin_height_m * math.cos(delta),
        figures.speed_mps * math.cos(delta),
        figures.speed_mps * math.sin(delta),
    ]
    made = solve_ivp(motion, (0.0, 60.0), start, "DOP853", rtol=1e-11, atol=1e-12, events=crossing)
    return float(made.y_events[0][0][1]) if len(made.y_events[0]) else None


def reaches(figures: RigFigures, distance_m: float, slope_rad: float) -> bool:
    """Whether some launch angle carries the arrow over the target at that distance."""
    for degrees in range(1, min(85, int(89 - math.degrees(slope_rad))), 2):
        pin = figures.peep_height_m - figures.eye_to_sight_m * math.tan(math.radians(degrees))
        height = height_at(figures, pin, distance_m, slope_rad)
        if height is not None and height > 0.0:
            return True
    return False
