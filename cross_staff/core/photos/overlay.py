"""One photo laid over another, by points that did not move: how far something between them did."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from cross_staff.core.errors import InvalidValue
from cross_staff.core.photos.plane import LEAST_PART, Array, Figure, Photo, Point
from cross_staff.core.photos.uses import LENGTH_M

LIKE = 0.05  # two photos of one thing from one side: lengths between their fixed points keep their proportion so well


@dataclass(frozen=True)
class Laid:
    """How the later photo lies over the earlier one: x' = a x - b y + right, y' = b x + a y + down [points]; how well
    the fixed points fall on one another [points, of the earlier photo]."""

    a: float
    b: float
    right: float
    down: float
    off: float

    def point(self, point: Point) -> Point:
        """A point of the later photo on the earlier one."""
        x, y = point
        return self.a * x - self.b * y + self.right, self.b * x + self.a * y + self.down


def laid_over(before: Photo, after: Photo, fixed: Sequence[Point], again: Sequence[Point]) -> Laid:
    """The later photo turned, sized and moved so that what stood still falls on itself.

    Args:
        before: the earlier photo's size.
        after: the later one's.
        fixed: two to four points that did not move, on the earlier photo [points].
        again: the same on the later one, in the same order [points].

    Returns:
        how it lies.

    Raises:
        InvalidValue: at `fixed` or `again`, for other numbers of points, or points on one another; at `again`, where
            they are not the same points.

    Source:
        least squares of a similarity; docs/method.md, section 23.
    """
    if not 2 <= len(fixed) <= 4:
        raise InvalidValue("fixed", "tap two to four points that did not move")
    if len(again) != len(fixed):
        raise InvalidValue("again", f"tap the same {len(fixed)} points, in the same order")
    for field, photo, points in (("fixed", before, fixed), ("again", after, again)):
        apart = min(math.dist(p, q) for i, p in enumerate(points) for q in points[:i])
        if apart < LEAST_PART * photo.longer:
            raise InvalidValue(field, "two of them lie nearly on one point")
    own, other = (np.array([complex(*p) for p in points]) for points in (fixed, again))
    middle, there = own.mean(), other.mean()
    turn = np.vdot(other - there, own - middle) / np.vdot(other - there, other - there)
    move = middle - turn * there
    off = float(np.sqrt(np.mean(np.abs(turn * other + move - own) ** 2)))
    if off > LIKE * float(np.abs(own - middle).max()) + 3.0 * before.sd:
        raise InvalidValue("again", "these are not the same points, or it is seen from another side")
    return Laid(float(turn.real), float(turn.imag), float(move.real), float(move.imag), off)


def shift(
    before: Photo,
    after: Photo,
    fixed: Sequence[Point],
    again: Sequence[Point],
    mark: Point,
    now: Point,
    length_m: float,
) -> Figure:
    """How far a mark moved between two photos.

    Args:
        before: the earlier photo's size, and how well a tap finds its place.
        after: the same of the later one.
        fixed: points that did not move, on the earlier photo [points].
        again: the same on the later one, in the same order [points].
        mark: the mark on the earlier photo [points].
        now: the mark on the later one [points].
        length_m: between the first two fixed points [m].

    Returns:
        [m], with its sd.

    Raises:
        InvalidValue: at `fixed`, `again` or `length_1`.

    Source:
        docs/method.md, section 23.
    """
    LENGTH_M.check("length_1", length_m, "m")
    taps: Array = np.array([*fixed, *again, mark, now], dtype=float)
    count = len(fixed)

    def moved(taps: Array) -> Array:
        own, other = [tuple(p) for p in taps[:count]], [tuple(p) for p in taps[count : 2 * count]]
        laid = laid_over(before, after, own, other)
        per_point = length_m / math.dist(own[0], own[1])
        return (np.array(laid.point(tuple(taps[-1]))) - taps[-2]) * per_point

    middle, variance = moved(taps), np.zeros(2)
    for index in np.ndindex(taps.shape):
        step = np.zeros_like(taps)
        on_after = count <= index[0] < 2 * count or index[0] == len(taps) - 1
        step[index] = after.sd if on_after else before.sd
        variance += ((moved(taps + step) - moved(taps - step)) / 2.0) ** 2
    far = float(np.hypot(*middle))
    along = middle / far if far else np.array([1.0, 0.0])
    return Figure(far, float(np.sqrt(np.sum(variance * along**2))))
