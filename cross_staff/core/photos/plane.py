"""A flat scene on a photo: taps on it as places in its own plane, with what taps, lens and camera leave open.

Points of a photo count from its upper left corner, right and down [points]; places in the plane right and up [m].
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from cross_staff.core.errors import InvalidValue

Array = NDArray[np.float64]
Point = tuple[float, float]

TAP_PART = 1.0 / 800.0  # of the longer side: how well a finger with a magnifier, or a mouse, finds a place
LENS_SD = 0.02  # a phone's lens moves the corners of the picture by about this part of their distance from its middle
TILT_SD_RAD = 0.10  # a camera that is held square by eye, with nothing but a line to tell
DEPTH = 1.1  # a phone's camera stands off by about this many longer sides of what it shows
SIDES_SD = 0.005  # a sheet, or a rule: of its length
LEAST_PART = 0.02  # of the picture's longer side: a shorter scale says nothing
LEAST_SPAN = 0.05  # of the sheet's own size on the photo: its corners may not lie nearly in one line
STEEPEST = 0.5  # cos of 60 degrees: a plane that is seen flatter than that is not measured


@dataclass(frozen=True)
class Photo:
    """A photo's size [points], and how well a tap finds its place [points]."""

    width: int
    height: int
    tap_sd: float = 0.0

    @property
    def longer(self) -> float:
        return float(max(self.width, self.height))

    @property
    def sd(self) -> float:
        """Of one tap, along either way [points]."""
        return self.tap_sd or TAP_PART * self.longer


@dataclass(frozen=True)
class FourTaps:
    """A scale of four points of the plane, clockwise [points]."""

    corners: tuple[Point, Point, Point, Point]

    @property
    def taps(self) -> tuple[Point, ...]:
        return self.corners


@dataclass(frozen=True)
class Sheet(FourTaps):
    """Four corners of a flat rectangle, clockwise from its upper left [points]; its sides [m], and their sd as a part
    of them."""

    width_m: float
    height_m: float
    sd: float = SIDES_SD

    @property
    def places(self) -> Array:
        """Its corners in the plane [m], the middle at nought."""
        half = np.array([self.width_m, self.height_m]) / 2.0
        return np.array([(-1.0, 1.0), (1.0, 1.0), (1.0, -1.0), (-1.0, -1.0)]) * half


@dataclass(frozen=True)
class Disc(FourTaps):
    """Four points of a round face, at twelve, three, six and nine o'clock [points]; its diameter [m]."""

    diameter_m: float
    sd: float = SIDES_SD

    @property
    def places(self) -> Array:
        return np.array([(0.0, 1.0), (1.0, 0.0), (0.0, -1.0), (-1.0, 0.0)]) * self.diameter_m / 2.0


@dataclass(frozen=True)
class Line:
    """Two ends of something of known length in the plane [points], its length [m]."""

    ends: tuple[Point, Point]
    length_m: float
    sd: float = SIDES_SD

    @property
    def taps(self) -> tuple[Point, ...]:
        return self.ends


Scale = Sheet | Disc | Line


@dataclass(frozen=True)
class Figure:
    """A measured figure and its sd, in the unit of what was asked."""

    value: float
    sd: float


def check_scale(photo: Photo, scale: Scale) -> None:
    """Refuse a scale that says too little. Raises InvalidValue at `scale`."""
    taps = np.array(scale.taps, dtype=float)
    if not np.isfinite(taps).all() or (taps < 0).any() or (taps > (photo.width, photo.height)).any():
        raise InvalidValue("scale", "a tap lies off the picture")
    apart = np.linalg.norm(taps[:, None] - taps[None, :], axis=2)[np.triu_indices(len(taps), 1)]
    if apart.min() < 3.0 * photo.sd:
        raise InvalidValue("scale", "two of its taps lie on one point: tap each where it is")
    if isinstance(scale, Line):
        if apart[0] < LEAST_PART * photo.longer:
            said = f"is shorter than {100 * LEAST_PART:.0f} % of the picture: take something longer, or step nearer"
            raise InvalidValue("scale", said)
        return
    turns = _turns(taps)
    if not ((turns > 0).all() or (turns < 0).all()):
        raise InvalidValue("scale", "the four taps make no four-sided figure: go round it, one corner after the other")
    if (turns < 0).all():
        raise InvalidValue("scale", "the four taps go round the wrong way: clockwise, from the upper left")
    diagonals = np.linalg.norm(taps[0] - taps[2]), np.linalg.norm(taps[1] - taps[3])
    if np.sqrt(np.abs(_area(taps))) < LEAST_SPAN * photo.longer or min(diagonals) < LEAST_PART * photo.longer:
        raise InvalidValue("scale", "is too small on the picture to measure by: step nearer")
    if flatness(photo, scale) < STEEPEST:
        raise InvalidValue("scale", "is seen from too far aside, flatter than 60 degrees: stand squarer to it")


def flatness(photo: Photo, scale: Sheet | Disc) -> float:
    """How squarely the plane is seen: the least stretch of it on the photo over the greatest, at its middle.

    Args:
        photo: its size.
        scale: four taps of known places.

    Returns:
        [1]: 1 seen square on, 0.5 at 60 degrees.

    Source:
        singular values of the map's derivative at the middle.
    """
    back = projective(scale.places, np.array(scale.taps, dtype=float) / photo.longer)
    unit = 1e-3 * float(np.ptp(scale.places, axis=0).max())
    at = mapped(back, np.array([(0.0, 0.0), (unit, 0.0), (0.0, unit)]))
    singular = np.linalg.svd((at[1:] - at[0]) / unit, compute_uv=False)
    return float(singular[1] / singular[0])


def places(photo: Photo, scale: Scale, taps: Sequence[Point]) -> Array:
    """Taps as places in the plane.

    Args:
        photo: its size.
        scale: what tells the plane, and its unit.
        taps: (n, 2) [points].

    Returns:
        n places of shape (n, 2), right and up [m].

    Raises:
        InvalidValue: at `scale`, for one that says too little.

    Source:
        docs/method.md, section 23.
    """
    check_scale(photo, scale)
    return _placed(
        photo, scale, np.array(scale.taps, dtype=float), np.array(taps, dtype=float).reshape(-1, 2), np.zeros(4)
    )


def measured(
    photo: Photo, scale: Scale, taps: Sequence[Point], ask: Callable[[Array], Array | float]
) -> tuple[Figure, ...]:
    """What is asked of the taps' places, each with its sd: of the taps, the scale's length, the lens; and of a line,
    of a camera that was not held square.

    Args:
        photo: its size, and how well a tap finds its place.
        scale: what tells the plane, and its unit.
        taps: (n, 2) [points].
        ask: makes figures (m,) of places (n, 2) [m].

    Returns:
        m figures, in the unit of what is asked.

    Raises:
        InvalidValue: at `scale`, for one that says too little.

    Source:
        docs/method.md, section 23: first and second differences by every input.
    """
    check_scale(photo, scale)
    own, others = np.array(scale.taps, dtype=float), np.array(taps, dtype=float).reshape(-1, 2)
    shape, count = own.shape, own.size
    bends = (LENS_SD, TILT_SD_RAD, TILT_SD_RAD) if isinstance(scale, Line) else (LENS_SD, 0.0, 0.0)
    sds = np.array([photo.sd] * (own.size + others.size) + [*bends, scale.sd])

    def of(inputs: Array) -> Array:
        moved = inputs[: own.size + others.size]
        seen = _placed(
            photo, scale, own + moved[:count].reshape(shape), others + moved[count:].reshape(others.shape), inputs[-4:]
        )
        return np.atleast_1d(np.asarray(ask(seen), dtype=float))

    nought = np.zeros(sds.size)
    middle = of(nought)
    variance = np.zeros(middle.size)
    for index in np.flatnonzero(sds):
        step = nought.copy()
        step[index] = sds[index]
        more, less = of(step), of(-step)
        # a linear part and a bent one: of a z + b z^2 with z of sd 1 the mean square is a^2 + 3 b^2
        variance += ((more - less) / 2.0) ** 2 + 3.0 * ((more + less) / 2.0 - middle) ** 2
    return tuple(Figure(float(value), float(sd)) for value, sd in zip(middle, np.sqrt(variance), strict=True))


def straightened(scale: Sheet | Disc, photo: Photo, width: int, height: int, margin: float = 0.0) -> Array:
    """Where on the photo the points of a straightened picture lie.

    Args:
        scale: four taps of known places.
        photo: its size.
        width: of the straightened picture [points]; it shows the rectangle round the scale's places.
        height: of the straightened picture [points].
        margin: of it beyond the scale on every side, as a part of its size [1].

    Returns:
        of shape (2, height, width): rows and columns of the photo [points]; n places in all.

    Source:
        docs/method.md, section 23.
    """
    half = np.abs(scale.places).max(axis=0) * (1.0 + 2.0 * margin)
    right, up = np.meshgrid(np.linspace(-half[0], half[0], width), np.linspace(half[1], -half[1], height))
    back = projective(scale.places, np.array(scale.taps, dtype=float) / photo.longer)
    on_photo = mapped(back, np.stack([right.ravel(), up.ravel()], axis=1)) * photo.longer
    return np.stack([on_photo[:, 1].reshape(right.shape), on_photo[:, 0].reshape(right.shape)])


def _turns(taps: Array) -> Array:
    """The turn at each corner, positive clockwise on the photo."""
    sides = np.roll(taps, -1, axis=0) - taps
    after = np.roll(sides, -1, axis=0)
    return sides[:, 0] * after[:, 1] - sides[:, 1] * after[:, 0]


def _area(taps: Array) -> float:
    after = np.roll(taps, -1, axis=0)
    return float(np.sum(taps[:, 0] * after[:, 1] - taps[:, 1] * after[:, 0]) / 2.0)


def _placed(photo: Photo, scale: Scale, own: Array, others: Array, bent: Array) -> Array:
    """Places (n, 2) [m] of taps, with a lens that bends by bent[0], a camera tilted by bent[1:3], a scale off by
    bent[3] as a part of it."""
    own, others = _unbent(photo, own, bent[0]), _unbent(photo, others, bent[0])
    if isinstance(scale, Line):
        own, others = _faced(own, bent[1:3]), _faced(others, bent[1:3])
        unit = scale.length_m * (1.0 + bent[3]) / float(np.linalg.norm(own[1] - own[0]))
        return (others - own[0]) * unit * (1.0, -1.0)
    return mapped(projective(own, scale.places * (1.0 + bent[3])), others)


def _unbent(photo: Photo, taps: Array, lens: float) -> Array:
    """Taps from the picture's middle, in longer sides, with the bend of the lens taken out."""
    middle = np.array([photo.width, photo.height]) / 2.0
    away = (taps - middle) / photo.longer
    corner = float(middle @ middle) / photo.longer**2
    return away / (1.0 + lens * np.sum(away**2, axis=1, keepdims=True) / corner)


def _faced(away: Array, tilt: Array) -> Array:
    """What a camera that is turned by two small angles shows, as one held square would: the plane seen aslant."""
    rays = np.column_stack([away, np.full(len(away), DEPTH)])
    (cx, sx), (cy, sy) = ((np.cos(angle), np.sin(angle)) for angle in tilt)
    normal = np.array([sy * cx, -sx, cx * cy])
    across = np.array([cy, 0.0, -sy])
    down = np.cross(normal, across)
    on = rays * (DEPTH / (rays @ normal))[:, None]
    return np.column_stack([on @ across, on @ down])


def projective(seen: Array, there: Array) -> Array:
    """The projective map that takes four points to four others.

    Args:
        seen: of shape (4, 2), in any unit.
        there: of shape (4, 2), in any unit.

    Returns:
        of shape (3, 3), for `mapped`: from the one unit of the points to the other.

    Raises:
        InvalidValue: at `scale`, for points in one line.

    Source:
        eight linear equations, the last entry 1.
    """
    rows, right = [], []
    for (x, y), (u, v) in zip(seen, there, strict=True):
        rows += [[x, y, 1.0, 0.0, 0.0, 0.0, -u * x, -u * y], [0.0, 0.0, 0.0, x, y, 1.0, -v * x, -v * y]]
        right += [u, v]
    try:
        solved = np.linalg.solve(np.array(rows), np.array(right))
    except np.linalg.LinAlgError as error:
        raise InvalidValue("scale", "its corners lie in one line") from error
    return np.append(solved, 1.0).reshape(3, 3)


def mapped(by: Array, points: Array) -> Array:
    """Points (n, 2) where a projective map takes them.

    Args:
        by: of shape (3, 3), as `projective` gives it, in the same unit.
        points: of shape (n, 2), in any unit.

    Returns:
        of shape (n, 2), in the unit of the map's other side.

    Source:
        the third homogeneous coordinate divides the others.
    """
    there = np.column_stack([points, np.ones(len(points))]) @ by.T
    return there[:, :2] / there[:, 2:]
