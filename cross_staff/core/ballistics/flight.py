"""The flight of an arrow with quadratic drag, in the frame of the line of sight.

u runs along the line of sight from the sight plane, w perpendicular to it and up
(docs/method.md, section 3). All functions work on whole arrays of shots at once.
"""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import ArrayLike, NDArray

from cross_staff.core import ranges

GRAVITY = 9.80665  # m/s2

Array = NDArray[np.float64]


@dataclass(frozen=True)
class RigFigures:
    """The four figures that decide where an arrow goes: one rig with one arrow build.

    speed_mps at the sight plane [m/s]; drag_per_m k of a = -k v |v| [1/m];
    eye_to_sight_m L along the arrow line [m]; peep_height_m Hp square to the arrow line [m].
    """

    speed_mps: float
    drag_per_m: float
    eye_to_sight_m: float
    peep_height_m: float

    def checked(self) -> RigFigures:
        """Return itself; raise InvalidValue where a figure lies outside what the model is for."""
        ranges.SPEED_MPS.check("speed_mps", self.speed_mps, "m/s")
        ranges.DRAG_PER_M.check("drag_per_m", self.drag_per_m, "1/m")
        ranges.EYE_TO_SIGHT_M.check("eye_to_sight_m", self.eye_to_sight_m, "m")
        ranges.PEEP_HEIGHT_M.check("peep_height_m", self.peep_height_m, "m")
        return self


@dataclass(frozen=True)
class Trajectories:
    """Shots as arrays of one shape (n,): figures of the rig, distance [m], slope [rad].

    `up_m` is the height at which the arrow is to cross u = distance; 0 is the aim itself.
    """

    speed_mps: Array
    drag_per_m: Array
    eye_to_sight_m: Array
    peep_height_m: Array
    distance_m: Array
    slope_rad: Array
    up_m: Array

    @classmethod
    def of(
        cls,
        figures: RigFigures,
        distance_m: ArrayLike,
        slope_rad: ArrayLike = 0.0,
        up_m: ArrayLike = 0.0,
    ) -> Trajectories:
        """Shots of one rig; scalars are spread over the longest of the arrays."""
        return cls.spread(
            figures.speed_mps,
            figures.drag_per_m,
            figures.eye_to_sight_m,
            figures.peep_height_m,
            distance_m,
            slope_rad,
            up_m,
        )

    @classmethod
    def spread(cls, *columns: ArrayLike) -> Trajectories:
        """Shots from seven columns in the order of the fields, spread to one shape (n,)."""
        arrays = np.broadcast_arrays(*(np.atleast_1d(np.asarray(c, float)) for c in columns))
        return cls(*arrays)

    def __len__(self) -> int:
        return len(self.distance_m)

    def at(self, rows: NDArray[np.bool_] | NDArray[np.intp] | slice) -> Trajectories:
        """The chosen rows."""
        return Trajectories(*(getattr(self, name)[rows] for name in self.__dataclass_fields__))

    def repeated(self, times: int) -> Trajectories:
        """Each row `times` times in a run."""
        return Trajectories(*(np.repeat(getattr(self, name), times) for name in self.__dataclass_fields__))

    def with_distance(self, distance_m: ArrayLike) -> Trajectories:
        """The same shots at other distances."""
        return replace(self, distance_m=np.broadcast_to(distance_m, self.distance_m.shape))


@dataclass(frozen=True)
class Arrival:
    """What the arrow does where it crosses u = distance; arrays (n,).

    height_m above the aim, square to the line of sight [m]; forward_mps and upward_mps the
    velocity along and across it [m/s]; time_s from the sight plane [s]; `sound` is False where
    the arrow does not come that far, and the numbers of that row mean nothing.
    """

    height_m: Array
    forward_mps: Array
    upward_mps: Array
    time_s: Array
    sound: NDArray[np.bool_]

    @property
    def speed_mps(self) -> Array:
        """Speed on arrival [m/s]."""
        return np.hypot(self.forward_mps, self.upward_mps)

    @property
    def steepness(self) -> Array:
        """dw/du on arrival, the tangent of the angle to the line of sight [-]."""
        return self.upward_mps / self.forward_mps


def elevation(shots: Trajectories, pin_height_m: Array) -> Array:
    """Angle of the arrow line above the line of sight, delta = atan((Hp - h) / L) [rad].

    Args:
        shots: the flights, shape (n,).
        pin_height_m: h [m] above the arrow line, shape (n,).

    Returns:
        delta [rad], shape (n,).

    Source:
        derived in docs/method.md, section 1.
    """
    return np.arctan((shots.peep_height_m - pin_height_m) / shots.eye_to_sight_m)


def arrive(shots: Trajectories, pin_height_m: Array, steps: int = 16) -> Arrival:
    """Fly each shot with its pin at `pin_height_m` and return what happens at its distance.

    dw/du = b/a, da/du = -k v - g sin p / a, db/du = -(k v b + g cos p)/a, dt/du = 1/a, with (a, b)
    the velocity and p the slope, from (h sin delta, -h cos delta) with v0 (cos delta, sin delta);
    classical Runge-Kutta of fourth order in `steps` equal steps of u, so no event search is needed.

    Args:
        shots: the flights, shape (n,): figures, distance [m], slope [rad] and height asked for [m] of each.
        pin_height_m: h [m] above the arrow line, shape (n,).
        steps: Runge-Kutta steps of one flight, 1 and up; 8 is good to 0.2 mm for nearly all.

    Returns:
        height against the aim [m], time [s], speed [m/s] and what came of each flight, arrays of shape (n,).

    Source:
        derived in docs/method.md, section 3.
    """
    delta = elevation(shots, pin_height_m)
    sine, cosine = np.sin(delta), np.cos(delta)
    step = (shots.distance_m - pin_height_m * sine) / steps
    half, sixth, a_third = 0.5 * step, step / 6.0, step / 3.0
    speed = shots.speed_mps
    state = np.array([-pin_height_m * cosine, speed * cosine, speed * sine, np.zeros_like(step)])
    rates = _Rates(shots)
    slowest = state[1]
    with np.errstate(all="ignore"):
        for _ in range(steps):
            first = rates.at(state)
            second = rates.at(state + half * first)
            third = rates.at(state + half * second)
            fourth = rates.at(state + step * third)
            state = state + (sixth * (first + fourth) + a_third * (second + third))
            slowest = np.minimum(slowest, state[1])
        height, forward, upward, time = state
        sound = (slowest > 0.0) & (time > 0.0) & np.isfinite(height + time)
    return Arrival(height, forward, upward, time, sound)


def path_heights(
    shots: Trajectories, pin_height_m: Array, to_m: float, distances_m: ArrayLike, steps: int
) -> tuple[Array, NDArray[np.bool_]]:
    """Each shot's height against the aim at many distances of its one path, whatever its own distance.

    The path of `arrive` in equal steps, between them the cubic with its heights and slopes (Hermite).

    Args:
        shots: the flights, shape (n,): figures, distance [m], slope [rad] and height asked for [m] of each.
        pin_height_m: h [m] above the arrow line, shape (n,).
        to_m: how far the path is flown [m], no nearer than any of the distances.
        distances_m: [m] from the sight plane on, shape (k,).
        steps: Runge-Kutta steps of the whole path.

    Returns:
        w [m], shape (n, k), and where the arrow comes that far, shape (n, k).

    Source:
        derived in docs/method.md, section 3.
    """
    nodes = steps + 1
    delta = elevation(shots, pin_height_m)
    start = pin_height_m * np.sin(delta)
    step = (to_m - start) / steps
    state = np.array([-pin_height_m * np.cos(delta), shots.speed_mps * np.cos(delta), shots.speed_mps * np.sin(delta),
                      np.zeros_like(step)])  # fmt: skip
    rates = _Rates(shots)
    path = np.empty((nodes, 3, len(step)))
    path[0] = state[:3]
    with np.errstate(all="ignore"):
        for node in range(1, nodes):
            first = rates.at(state)
            second = rates.at(state + 0.5 * step * first)
            third = rates.at(state + 0.5 * step * second)
            fourth = rates.at(state + step * third)
            state = state + step / 6.0 * (first + 2.0 * second + 2.0 * third + fourth)
            path[node] = state[:3]
        flies = np.logical_and.accumulate((path[:, 1] > 0.0) & np.isfinite(path[:, 0]), axis=0)
        place = (np.asarray(distances_m, float)[:, None] - start) / step  # (k, n), in steps
        node = np.clip(place.astype(int), 0, steps - 1)
        part, rows = place - node, np.arange(len(step))
        height, slope = path[:, 0], step * path[:, 2] / path[:, 1]
        before, after = height[node, rows], height[node + 1, rows]
        rise, fall = slope[node, rows], slope[node + 1, rows]
        other = 1.0 - part
        w = other**2 * ((1.0 + 2.0 * part) * before + part * rise) + part**2 * (
            (3.0 - 2.0 * part) * after - other * fall
        )
    return w.T, flies[node + 1, rows].T


class _Rates:
    """The right-hand side of `arrive`: d(w, a, b, t)/du for states of shape (4, n)."""

    def __init__(self, shots: Trajectories) -> None:
        self.drag = -shots.drag_per_m
        self.gravity = -GRAVITY * np.array([np.sin(shots.slope_rad), np.cos(shots.slope_rad)])

    def at(self, state: Array) -> Array:
        velocity = state[1:3]
        inverse = 1.0 / state[1]
        speed = np.sqrt(np.add.reduce(velocity * velocity))
        result = np.empty_like(state)
        result[0] = velocity[1] * inverse
        result[1:3] = (self.gravity + (self.drag * speed) * velocity) * inverse
        result[3] = inverse
        return result


def path_integral(shots: Trajectories, pin_height_m: Array, steps: int = 64) -> Array:
    """Integral of exp(-k s) dt along each flight up to its distance, s the path length [s].

    The states of `arrive` with ds/du = v/a and dI/du = exp(-k s)/a beside them, by the same
    Runge-Kutta steps.

    Args:
        shots: the flights, shape (n,): figures, distance [m], slope [rad] and height asked for [m] of each.
        pin_height_m: h [m] above the arrow line, shape (n,).
        steps: Runge-Kutta steps of one flight, 1 and up; 8 is good to 0.2 mm for nearly all.

    Returns:
        I [s], shape (n,); only rows that arrive mean anything.

    Source:
        derived in docs/method.md, section 11.
    """
    delta = elevation(shots, pin_height_m)
    step = (shots.distance_m - pin_height_m * np.sin(delta)) / steps
    speed, nothing = shots.speed_mps, np.zeros_like(step)
    state = np.array(
        [-pin_height_m * np.cos(delta), speed * np.cos(delta), speed * np.sin(delta), nothing, nothing, nothing]
    )
    rates = _Rates(shots)

    def at(y: Array) -> Array:
        flight = rates.at(y[:4])
        slowed = np.exp(rates.drag * y[4])
        return np.vstack([flight, [np.hypot(y[1], y[2]) / y[1], slowed / y[1]]])

    with np.errstate(all="ignore"):
        for _ in range(steps):
            first = at(state)
            second = at(state + 0.5 * step * first)
            third = at(state + 0.5 * step * second)
            fourth = at(state + step * third)
            state = state + step / 6.0 * (first + 2.0 * second + 2.0 * third + fourth)
    return state[5]
