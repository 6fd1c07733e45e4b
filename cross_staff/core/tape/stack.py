"""The pins in the housing: where each belongs below the reference, how surely, and whether it fits."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from cross_staff.core.errors import OutOfReach
from cross_staff.core.rig.card import RigCard
from cross_staff.core.tape.fit import Fit


@dataclass(frozen=True)
class PinPlace:
    """A pin: its distance [m as ranged], how far below the top pin it belongs with the sd [mm] (None:
    out of reach), and whether it fits into the housing's room (None: room not known)."""

    pin: int
    ranged_m: float
    below_mm: float | None
    sd_mm: float | None
    fits: bool | None


@dataclass(frozen=True)
class Stack:
    """The pins of a sight; how far above the middle of the housing the top pin must stand for the stack
    to lie centred [mm], and the farthest distance that still fits [m as ranged]."""

    pins: tuple[PinPlace, ...]
    top_above_middle_mm: float | None
    farthest_that_fits_m: float | None

    @property
    def beyond(self) -> tuple[PinPlace, ...]:
        """Pins that will not fit."""
        return tuple(place for place in self.pins if place.fits is False)


def stack(card: RigCard, fit: Fit, ranged_m: Sequence[float]) -> Stack:
    """Where each pin belongs by the fit so far: below = h(first) - h(d), in housing millimetres.

    Args:
        card: the rig's card.
        fit: the fit so far.
        ranged_m: the pins' distances [m as ranged], the top pin's first, shape (n,).

    Returns:
        each pin below the first [mm] with its sd [mm], and whether it fits the housing.

    Raises:
        OutOfReach: for the first.

    Source:
        docs/method.md, section 14.
    """
    rows = fit.tape([card.distance_from_sight(d) for d in ranged_m])
    top = rows[0].mark_mm
    if top is None:
        raise OutOfReach("the top pin's distance is out of reach of this arrow")
    room = card.sight.housing.pin_room_mm
    places = []
    sds = gap_sds_mm(card, fit, ranged_m[:1], ranged_m)[0]
    for pin, (distance, row) in enumerate(zip(ranged_m, rows)):
        below = None if row.mark_mm is None else (row.mark_mm - top) / fit.tape_ratio
        sd = None if row.mark_mm is None else sds[pin]
        fits = None if room is None or below is None else below <= room
        places.append(PinPlace(pin, distance, below, sd, fits))
    lowest = max((p.below_mm for p in places if p.below_mm is not None and p.fits is not False), default=0.0)
    inner = card.sight.housing.inner_mm
    return Stack(
        tuple(places),
        None if inner is None else lowest / 2.0,
        max((p.ranged_m for p in places if p.fits), default=None) if room is not None else None,
    )


def gap_sds_mm(card: RigCard, fit: Fit, ones_m: Sequence[float], others_m: Sequence[float]) -> list[list[float]]:
    """The sds of the height between the pins of two distances [mm at the sight plane], m0 taken out.

    Args:
        card: the rig's card.
        fit: the fit so far.
        ones_m: [m as ranged], shape (n,).
        others_m: [m as ranged], shape (k,).

    Returns:
        n rows of k sds [mm]; infinite out of reach.

    Source:
        docs/method.md, section 14.
    """
    if not others_m or not ones_m:
        return [[] for _ in ones_m]
    distances = [card.distance_from_sight(d) for d in (*ones_m, *others_m)]
    _, gradient = fit.sensitivities(distances)
    apart = gradient[len(ones_m) :][None, :, :] - gradient[: len(ones_m)][:, None, :]
    variance = np.einsum("nki,ij,nkj->nk", apart, fit.covariance, apart)
    sd = np.sqrt(np.maximum(variance, 0.0)) / fit.tape_ratio
    return [[float(v) if math.isfinite(v) else math.inf for v in row] for row in sd]
