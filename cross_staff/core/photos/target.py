"""Holes of arrows found on a photo of a target, straightened by its corners or by a round face."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from scipy import ndimage

from cross_staff.core.errors import InvalidValue
from cross_staff.core.photos.plane import Array, Disc, Photo, Sheet, check_scale, straightened
from cross_staff.core.ranges import Range

SHAFT_M = Range(0.003, 0.012)
ACROSS = 12.0  # points of the straightened picture to a shaft
LEAST_ACROSS = 4.0  # fewer than this show no hole
MOST_POINTS = 1500  # of its longer side
MARGIN = 0.25  # beyond the corners, as a part of the target: arrows miss a face
LEAST_DEPTH = 0.16  # a hole is darker than what is round it, of all that there is
SURE_DEPTH = 0.3
CLEAR = 6.0  # times the unrest of the paper
ONE = (0.45, 1.6)  # the area of one hole, in shafts' sections
MOST = 4.5  # several that overlap; what is larger is no hole
ROUND = 1.7  # the longer way of one hole over the shorter


@dataclass(frozen=True)
class FoundHole:
    """A place on the photo [points] that looks like a hole, and why it is not sure, empty where it is."""

    x: float
    y: float
    why: str = ""

    @property
    def sure(self) -> bool:
        return not self.why


def find_holes(picture: NDArray[np.uint8], scale: Sheet | Disc, shaft_m: float) -> list[FoundHole]:
    """Holes that a photo of a target shows: one by one where that is sure, else as places to look at.

    Args:
        picture: (height, width, 3), red, green, blue [0 to 255], n points in all.
        scale: the target's corners, or its round face.
        shaft_m: diameter of a shaft [m].

    Returns:
        from the top to the bottom of the photo; several that overlap are one place that is not sure.

    Raises:
        InvalidValue: at `scale`; at `shaft_m`.

    Source:
        docs/method.md, section 23: a dark round spot of a shaft's size against the paper beside it.
    """
    photo = Photo(picture.shape[1], picture.shape[0])
    check_scale(photo, scale)
    SHAFT_M.check("shaft_m", shaft_m, "m")
    size = 2.0 * np.abs(scale.places).max(axis=0) * (1.0 + 2.0 * MARGIN)
    per_m = min(ACROSS / shaft_m, MOST_POINTS / float(size.max()))
    if shaft_m * per_m < LEAST_ACROSS:
        raise InvalidValue("scale", "the shafts are too small on so large a target to be found: tap the holes")
    width, height = (max(int(round(float(side) * per_m)), 8) for side in size)
    at = straightened(scale, photo, width, height, MARGIN)
    there = (at[0] >= 0) & (at[0] <= photo.height - 1) & (at[1] >= 0) & (at[1] <= photo.width - 1)
    bright = picture.max(axis=2).astype(float) / 255.0  # a hole is dark in every colour
    flat = ndimage.map_coordinates(bright, at, order=1, mode="nearest")
    radius = shaft_m * per_m / 2.0
    darker, unrest = _darker(flat, radius)
    darker[~there] = 0.0
    found = []
    for row, column, why in _spots(darker, radius, unrest):
        y, x = (float(ndimage.map_coordinates(layer, [[row], [column]], order=1)[0]) for layer in at)
        found.append(FoundHole(x, y, why))
    return sorted(found, key=lambda each: (each.y, each.x))


def _darker(flat: Array, radius: float) -> tuple[Array, float]:
    """How much darker each point is than the paper round it, and the unrest of the paper."""
    smooth = ndimage.gaussian_filter(flat, max(radius / 6.0, 0.6))
    darker = (
        ndimage.grey_closing(smooth, 2 * int(round(2.4 * radius)) + 1) - smooth
    )  # dark spots filled, less what is there
    unrest = 1.4826 * float(np.median(np.abs(darker - np.median(darker)))) + 0.005
    return ndimage.grey_opening(
        darker, max(int(round(1.3 * radius)), 2)
    ), unrest  # no printed line is as wide as a hole


def _spots(darker: Array, radius: float, unrest: float) -> list[tuple[float, float, str]]:
    """Dark spots of about a shaft's size: row, column, why it is not sure."""
    least = max(CLEAR * unrest, LEAST_DEPTH)
    core = ndimage.gaussian_filter(darker, radius / 2.5)
    tops = (core == ndimage.maximum_filter(core, int(1.6 * radius) | 1)) & (core > 0.55 * least)
    found: list[tuple[float, float, str]] = []
    taken = np.zeros(darker.shape, dtype=bool)
    reach = int(4.0 * radius) + 2
    for row, column in sorted(np.argwhere(tops), key=lambda each: -core[each[0], each[1]]):
        if taken[row, column]:
            continue
        depth = float(darker[max(row - 1, 0) : row + 2, max(column - 1, 0) : column + 2].mean())
        top, left = max(row - reach, 0), max(column - reach, 0)
        part = darker[top : row + reach + 1, left : column + reach + 1]
        pieces, _ = ndimage.label(part > depth / 2.0)
        own = pieces == pieces[row - top, column - left]
        if pieces[row - top, column - left] == 0:
            continue
        taken[top : row + reach + 1, left : column + reach + 1] |= own
        rows, columns = np.nonzero(own)
        weights = part[rows, columns]
        middle = (float(np.average(rows, weights=weights)) + top, float(np.average(columns, weights=weights)) + left)
        why = _why_not(rows, columns, radius, depth, least)
        if why is not None:
            found.append((*middle, why))
    return found


def _why_not(
    rows: NDArray[np.signedinteger], columns: NDArray[np.signedinteger], radius: float, depth: float, least: float
) -> str | None:
    """Why a spot is not surely one hole; empty where it is, None where it is none."""
    sections = rows.size / (math.pi * radius**2)
    if sections > MOST or sections < ONE[0] or depth < least:
        return None
    if rows.size > 2:
        spread = np.sqrt(np.maximum(np.linalg.eigvalsh(np.cov(np.stack([rows, columns]))), 1e-6))
        if spread[0] < 0.28 * radius:  # one section has a spread of half its radius: this is a stroke
            return None
        longer = float(spread[1] / spread[0])
    else:
        longer = 1.0
    if sections > ONE[1] or longer > ROUND:
        return "two or more that overlap? tap each"
    return "" if depth > SURE_DEPTH else "hardly darker than the paper"
