"""Pin heights, marks, turnover and equivalent level distance: the sight's half of the flight."""

from __future__ import annotations

from dataclasses import dataclass, fields
from functools import lru_cache

import numpy as np
from numpy.typing import ArrayLike, NDArray

from cross_staff.core.ballistics.flight import GRAVITY, Array, Arrival, RigFigures, Trajectories, arrive, elevation
from cross_staff.core.errors import OutOfReach

MISS_M = 5e-5  # a pin height is accepted when the arrow passes this close to where it should
_QUICK_STEPS = (4, 20)  # the quick search is proved in twice as many
_SCAN_STEPS = 64
_PROOF_STEPS = (96, 192)
_SEARCH_ROUNDS = 7
_SCAN_ANGLES = 72
_DRIFT_M = 3e-4  # doubling the steps may move a path by this much: the finer is 15 times better


@dataclass(frozen=True)
class PinHeights:
    """Solved pin heights; arrays (n,).

    height_m above the arrow line at the sight plane [m]; arrival of that flight;
    `reached` is False where the arrow cannot get there, and that row's numbers mean nothing.
    """

    height_m: Array
    arrival: Arrival
    reached: NDArray[np.bool_]


@dataclass(frozen=True)
class Mark:
    """One row of a tape: mark [mm], pin height [m], time [s], speed on arrival [m/s]."""

    distance_m: float
    mark_mm: float
    pin_height_m: float
    time_s: float
    speed_mps: float


def flat_fire_height(shots: Trajectories) -> Array:
    """Pin height from the flat-fire drop: a starting value, not an answer.

    drop = g cos p / v0^2 (e^{2kd} - 1 - 2kd) / (4 k^2), h = (d Hp - L (drop + up)) / (L + d), with
    k + g sin p / v0^2 for k, which lets the slope slow or hurry the arrow as drag does.

    Args:
        shots: the flights, shape (n,): figures, distance [m], slope [rad] and height asked for [m] of each.

    Returns:
        h [m], shape (n,).

    Source:
        docs/method.md, section 3.
    """
    square = shots.speed_mps**2
    x = 2.0 * (shots.drag_per_m + GRAVITY * np.sin(shots.slope_rad) / square) * shots.distance_m
    x = np.clip(x, -1.5, 1.5)
    near = np.abs(x) < 1e-3
    safe = np.where(near, 1.0, x)
    factor = np.where(near, 0.5 + x / 6.0, (np.exp(safe) - 1.0 - safe) / safe**2)
    drop = GRAVITY * np.cos(shots.slope_rad) * shots.distance_m**2 * factor / square
    d, lever = shots.distance_m, shots.eye_to_sight_m
    return (d * shots.peep_height_m - lever * (drop + shots.up_m)) / (lever + d)


def pin_heights(shots: Trajectories) -> PinHeights:
    """Pin height at which each arrow crosses its distance at `up_m`, on the low path.

    Secant corrections from the flat-fire height in coarse steps, one correction and the proof of
    the miss in fine ones; rows that fail are searched for by a scan over the launch angle, whose
    first crossing is the low path, with ever finer steps until the miss stands still.

    Args: shots (n,). Returns: PinHeights with arrays (n,); `reached` False beyond reach.
    Source: derived in docs/method.md, section 3.
    """
    merged = _secant(shots, _QUICK_STEPS[0])
    for search in (lambda rest: _secant(rest, _QUICK_STEPS[1]), _scan):
        missing = ~merged.reached
        if missing.any():
            merged = _merged(merged, missing, search(shots.at(missing)))
    return merged


def _merged(heights: PinHeights, rows: NDArray[np.bool_], better: PinHeights) -> PinHeights:
    def put(old: NDArray, new: NDArray) -> NDArray:
        result = old.copy()
        result[rows] = new
        return result

    arrival = Arrival(
        *(put(getattr(heights.arrival, field.name), getattr(better.arrival, field.name)) for field in fields(Arrival))
    )
    return PinHeights(put(heights.height_m, better.height_m), arrival, put(heights.reached, better.reached))


def _secant(shots: Trajectories, steps: int) -> PinHeights:
    """The quick search; rows that do not settle on the low path come back unreached."""
    height = flat_fire_height(shots)
    slope = -(shots.eye_to_sight_m + shots.distance_m) / shots.eye_to_sight_m
    with np.errstate(all="ignore"):
        miss = arrive(shots, height, steps).height_m - shots.up_m
        for _ in range(_SEARCH_ROUNDS):
            if not (np.abs(miss) > MISS_M).any():
                break
            height, slope, miss = _corrected(shots, height, slope, miss, steps)
        settled = np.abs(miss) <= MISS_M
        arrival = arrive(shots, height, 2 * steps)
        miss = arrival.height_m - shots.up_m
        settled &= (np.abs(miss) < _DRIFT_M) & arrival.sound & (slope < 0.0)
        # what the finer steps still see is taken out too, so that no row depends on its neighbours
        height = height - miss / slope
    return PinHeights(height, arrival, settled)


def _corrected(shots: Trajectories, height: Array, slope: Array, miss: Array, steps: int) -> tuple[Array, Array, Array]:
    """One secant correction: the new height, the slope dw/dh it went by, the new miss."""
    change = -miss / slope
    new_miss = arrive(shots, height + change, steps).height_m - shots.up_m
    moved = np.abs(change) > 1e-9
    slope = np.where(moved, (new_miss - miss) / np.where(moved, change, 1.0), slope)
    return height + change, slope, new_miss


def _scan(shots: Trajectories) -> PinHeights:
    """The thorough search over the launch angle, for rows near the arrow's reach."""
    low, high = _bracket(shots)
    for _ in range(12):
        middle = 0.5 * (low + high)
        above = _miss_at_angle(shots, middle, _SCAN_STEPS) >= 0.0
        low, high = np.where(above, low, middle), np.where(above, middle, high)
    heights = [_height_at_angle(shots, angle) for angle in (low, high)]
    for steps in _PROOF_STEPS:
        closed_in = _closed_in(shots, heights[0], heights[1], steps)
        if closed_in.reached[np.isfinite(low)].all():
            break
    return closed_in


def _closed_in(shots: Trajectories, one: Array, other: Array, steps: int) -> PinHeights:
    """Secants between two heights close to the crossing, then the proof in twice the steps."""
    with np.errstate(all="ignore"):
        miss = arrive(shots, one, steps).height_m - shots.up_m
        slope = (arrive(shots, other, steps).height_m - shots.up_m - miss) / (other - one)
        height = one
        for _ in range(_SEARCH_ROUNDS):
            height, slope, miss = _corrected(shots, height, slope, miss, steps)
            if not (np.abs(miss) > MISS_M).any():
                break
        arrival = arrive(shots, height, 2 * steps)
        settled = (np.abs(miss) < MISS_M) & (np.abs(arrival.height_m - shots.up_m) < _DRIFT_M)
    return PinHeights(height, arrival, settled & arrival.sound & (slope < 0.0))


def _height_at_angle(shots: Trajectories, angle: Array) -> Array:
    return shots.peep_height_m - shots.eye_to_sight_m * np.tan(angle)


def _miss_at_angle(shots: Trajectories, angle: Array, steps: int) -> Array:
    """Height of the miss [m] for an arrow line `angle` above the line of sight; short is -inf."""
    arrival = arrive(shots, _height_at_angle(shots, angle), steps)
    return np.where(arrival.sound, arrival.height_m - shots.up_m, -np.inf)


def _bracket(shots: Trajectories) -> tuple[Array, Array]:
    """Launch angles below and above the low-path crossing [rad]; nan where there is none."""
    count = len(shots)
    top = np.minimum(np.radians(85.0), (np.pi / 2.0 - shots.slope_rad) / 2.0 + np.radians(8.0))
    bottom = np.full(count, -0.35)
    low, high = np.full(count, np.nan), np.full(count, np.nan)
    for _ in range(3):
        grid = bottom[:, None] + (top - bottom)[:, None] * np.linspace(0.0, 1.0, _SCAN_ANGLES)
        repeated = shots.repeated(_SCAN_ANGLES)
        miss = _miss_at_angle(repeated, grid.ravel(), _SCAN_STEPS).reshape(grid.shape)
        above = miss >= 0.0
        first = np.argmax(above, axis=1)
        rows = np.arange(count)
        hit = above.any(axis=1) & (first > 0) & np.isnan(low)
        low[hit], high[hit] = grid[rows, first - 1][hit], grid[rows, first][hit]
        if not np.isnan(low).any():
            break
        peak = np.clip(np.argmax(miss, axis=1), 1, _SCAN_ANGLES - 2)
        bottom, top = grid[rows, peak - 1], grid[rows, peak + 1]
    return low, high


@lru_cache(maxsize=512)
def pin_height(figures: RigFigures, distance_m: float, slope_rad: float = 0.0) -> float:
    """Pin height h [m] for one distance [m] and slope [rad].

    Args:
        figures: speed [m/s], drag [1/m], eye to sight [m] and peep height [m] of the rig.
        distance_m: [m] along the line of sight, from the sight plane, 0.5 to 400.
        slope_rad: [rad] of the line of sight, up positive, within 80 degrees.

    Returns:
        h [m] above the arrow line.

    Raises:
        OutOfReach: when the arrow does not get there.

    Source:
        as `pin_heights`.
    """
    solved = pin_heights(Trajectories.of(figures, distance_m, slope_rad))
    if not solved.reached[0]:
        raise OutOfReach(f"this arrow does not reach {distance_m:g} m at this slope")
    return float(solved.height_m[0])


def marks(
    figures: RigFigures,
    reference_distance_m: float,
    distances_m: ArrayLike,
    slope_rad: ArrayLike = 0.0,
    tape_ratio: float = 1.0,
) -> list[Mark | None]:
    """Mark for each distance, counted from the level reference distance; None is out of reach.

    m = ratio (h_ref - h), growing as the sight goes down.

    Args:
        figures: speed [m/s], drag [1/m], eye to sight [m] and peep height [m] of the rig.
        reference_distance_m: home distance [m], level, from the sight plane.
        distances_m: [m] from the sight plane, shape (n,), 0.5 to 400.
        slope_rad: [rad] of the distances, one or many.
        tape_ratio: tape travel per housing travel [mm/mm].

    Returns:
        n marks [mm] in the order asked, each with height [m], time [s] and speed [m/s]; None out of reach.

    Raises:
        OutOfReach: for the reference distance itself.

    Source:
        docs/method.md, section 3.
    """
    reference = pin_height(figures, reference_distance_m)
    shots = Trajectories.of(figures, distances_m, slope_rad)
    solved = pin_heights(shots)
    mark_mm = 1000.0 * tape_ratio * (reference - solved.height_m)
    speed = solved.arrival.speed_mps
    rows = zip(shots.distance_m, mark_mm, solved.height_m, solved.arrival.time_s, speed)
    return [Mark(*map(float, row)) if ok else None for row, ok in zip(rows, solved.reached)]


@lru_cache(maxsize=256)  # a page asks for the same one many times
def turnover_distance(figures: RigFigures) -> float:
    """Distance of the highest pin: nearer than this the mark comes back down.

    There the path touches the line of sight, so the upward speed on arrival is nought; found by
    secants from the drag-free flat-fire value sqrt(L^2 + 2 v0^2 Hp / g) - L.

    Args:
        figures: speed [m/s], drag [1/m], eye to sight [m] and peep height [m] of the rig.

    Returns:
        level distance [m].

    Source:
        derived in docs/method.md, section 3.
    """
    lever, square = figures.eye_to_sight_m, figures.speed_mps**2
    start = np.sqrt(lever**2 + 2.0 * square * figures.peep_height_m / GRAVITY) - lever
    old, new = float(start), float(0.97 * start)
    rise_old = _rise(figures, old)
    for _ in range(40):
        rise = _rise(figures, new)
        if abs(new - old) < 1e-7 or rise == rise_old:
            break
        step = float(np.clip(rise * (new - old) / (rise - rise_old), -0.3 * new, 0.3 * new))
        old, new, rise_old = new, new - step, rise
    return new


def _rise(figures: RigFigures, distance_m: float) -> float:
    """Tangent of the climb against the line of sight at `distance_m`, with the pin set for it."""
    return float(pin_heights(Trajectories.of(figures, distance_m)).arrival.steepness[0])


def equivalent_distances(figures: RigFigures, shots: Trajectories) -> list[float | None]:
    """Level distance whose pin height is that of each sloping shot, on the far branch.

    A level shot with the pin left where it is crosses the line of sight a second time at x: found
    by Newton steps on its path, which is hollow from below, so that steps from beyond cannot miss.

    Args:
        figures: speed [m/s], drag [1/m], eye to sight [m] and peep height [m] of the rig.
        shots: the flights, shape (n,): figures, distance [m], slope [rad] and height asked for [m] of each.

    Returns:
        n level distances [m]; None where the shot is out of reach, or its pin height lies above the level maximum
            (short and steep), so that no level distance has it.

    Source:
        derived in docs/method.md, section 3.
    """
    solved = pin_heights(shots)
    start = shots.distance_m * np.cos(shots.slope_rad)
    distances = far_distances(figures, solved.height_m, start)
    return [x if ok else None for x, ok in zip(distances, solved.reached)]


def far_distances(figures: RigFigures, pin_height_m: ArrayLike, start_m: ArrayLike | None = None) -> list[float | None]:
    """Level distance, beyond the turnover, for which each pin height is right.

    Args:
        figures: speed [m/s], drag [1/m], eye to sight [m] and peep height [m] of the rig.
        pin_height_m: h [m] above the arrow line, shape (n,).
        start_m: where to begin looking [m], shape (n,); None: off a coarse table.

    Returns:
        n level distances [m]; None for a height above the level maximum, or one that no flight has.

    Source:
        derived in docs/method.md, section 3.
    """
    height = np.atleast_1d(np.asarray(pin_height_m, float))
    turnover = turnover_distance(figures)
    below = np.flatnonzero(height <= pin_height(figures, turnover))
    distances: list[float | None] = [None] * len(height)
    if not len(below):
        return distances
    wanted = height[below]
    start = _coarse_distances(figures, wanted) if start_m is None else np.broadcast_to(start_m, height.shape)[below]
    x = np.maximum(start, 1.02 * turnover)
    x, settled = _second_crossing(Trajectories.of(figures, x), wanted, x, turnover)
    for row, value, sound in zip(below, x, settled & (x >= turnover - 1e-6)):
        if sound:
            distances[row] = float(value)
    return distances


def _coarse_distances(figures: RigFigures, height: Array) -> Array:
    """Distances read off a table of pin heights beyond the turnover."""
    distances, heights = _coarse_table(figures)
    return np.interp(-height, -heights, distances)


@lru_cache(maxsize=64)
def _coarse_table(figures: RigFigures) -> tuple[Array, Array]:
    distances = np.geomspace(1.02 * turnover_distance(figures), 220.0, 40)
    solved = pin_heights(Trajectories.of(figures, distances))
    return distances[solved.reached], solved.height_m[solved.reached]


# steps of a flight, how near its Newton steps come, and how many there may be: roughly first, then finely
_CROSSING = ((8, 1e-2, 60), (32, 1e-7, 60))


def _second_crossing(level: Trajectories, height: Array, x: Array, turnover: float) -> tuple[Array, NDArray[np.bool_]]:
    """Where each path comes down to the line of sight, by Newton steps; rows that stand still are left alone."""
    x, miss, sound = x.copy(), np.full_like(x, np.inf), np.zeros(len(x), bool)
    with np.errstate(all="ignore"):
        for steps, near, rounds in _CROSSING:
            open_rows = np.arange(len(x))
            for _ in range(rounds):
                here = x[open_rows]
                arrival = arrive(level.at(open_rows).with_distance(here), height[open_rows], steps)
                miss[open_rows], sound[open_rows] = arrival.height_m, arrival.sound
                fall = np.minimum(arrival.steepness, -1e-7)
                change = np.where(arrival.sound, -arrival.height_m / fall, -0.5 * (here - turnover))
                x[open_rows] = np.maximum(here + np.clip(change, -0.5 * here, 0.5 * here), turnover)
                open_rows = open_rows[np.abs(x[open_rows] - here) > near]
                if not len(open_rows):
                    break
    return x, sound & (np.abs(miss) < 4.0 * MISS_M)


def near_partner(figures: RigFigures, distance_m: float) -> float:
    """Nearer distance that shares its mark with `distance_m`: where the path first meets the aim.

    Newton steps from the sight plane on the rising path, which is hollow from below, so that they
    come up to the crossing and never pass it.

    Args:
        figures: speed [m/s], drag [1/m], eye to sight [m] and peep height [m] of the rig.
        distance_m: [m] along the line of sight, from the sight plane, 0.5 to 400.

    Returns:
        level distance [m], at most the turnover for a distance beyond it.

    Raises:
        OutOfReach: for the distance itself.

    Source:
        derived in docs/method.md, section 3.
    """
    shots = Trajectories.of(figures, 0.3)
    height = np.array([pin_height(figures, distance_m)])
    for _ in range(60):
        arrival = arrive(shots, height, 32)
        change = float(-arrival.height_m[0] / max(arrival.steepness[0], 1e-9))
        shots = shots.with_distance(min(float(shots.distance_m[0]) + change, distance_m))
        if abs(change) < 1e-6:
            break
    return float(shots.distance_m[0])


def impact_heights(figures: RigFigures, pin_height_m: float, distances_m: ArrayLike) -> Array:
    """Height of impact against the aim [m] at level distances, sight left at `pin_height_m`.

    Args:
        figures: speed [m/s], drag [1/m], eye to sight [m] and peep height [m] of the rig.
        pin_height_m: h [m] at which the sight is left.
        distances_m: [m] from the sight plane, shape (n,), 0.5 to 400.

    Returns:
        up [m], shape (n,).

    Raises:
        OutOfReach: where the arrow stops short.

    Source:
        derived in docs/method.md, section 3.
    """
    shots = Trajectories.of(figures, distances_m)
    arrival = arrive(shots, np.full(len(shots), pin_height_m), 64)
    if not arrival.sound.all():
        raise OutOfReach("this arrow does not come that far")
    return arrival.height_m


def sight_shift_at_target(eye_to_sight_m: float, distance_m: ArrayLike) -> Array:
    """Metres on the target per metre of the aiming point at the sight plane, (L + d) / L [-].

    Args:
        eye_to_sight_m: L [m] along the arrow line, 0.3 to 1.5.
        distance_m: d [m] from the sight plane, one or many.

    Returns:
        (L + d) / L [-], of the shape of the distances.

    Source:
        similar triangles; docs/method.md, section 3.
    """
    return (eye_to_sight_m + np.asarray(distance_m, float)) / eye_to_sight_m


def elevation_at(figures: RigFigures, pin_height_m: float) -> float:
    """Angle of the arrow line above the line of sight with the pin at a height [rad].

    Args:
        figures: speed [m/s], drag [1/m], eye to sight [m] and peep height [m] of the rig.
        pin_height_m: h [m] above the arrow line.

    Returns:
        delta [rad].

    Source:
        derived in docs/method.md, section 1.
    """
    return float(elevation(Trajectories.of(figures, 1.0), np.array([pin_height_m]))[0])
