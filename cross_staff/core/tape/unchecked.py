"""The farthest mark, which the others hardly check: how likely a slip in it would be noticed."""

from __future__ import annotations

import math
from dataclasses import dataclass

from cross_staff.core.tape.fit import SUSPECT_SDS
from cross_staff.core.tape.rows import RowEvaluation
from cross_staff.core.tape.station import Evaluation

SLIP_SDS = 5.0  # of the mark's own: a slip that should be noticed
CAUGHT = 0.8  # a chance of being noticed that is enough
SAME_PLACE = 0.03  # of the distance: groups so near check one another


@dataclass(frozen=True)
class Unchecked:
    """The farthest mark that is used, and the chance that a slip of five of its own sds would be noticed there."""

    row: RowEvaluation
    caught: float


def unchecked(evaluation: Evaluation) -> Unchecked | None:
    """The farthest mark, while a slip in it would hardly be noticed and nobody shot there on another day.

    A slip of s sds shows against what the others predict as s sqrt(1 - h) of their sds, h the mark's leverage; it is
    noticed beyond 3.

    Args:
        evaluation: what the marks come to.

    Returns:
        the mark with its chance; None where it is checked, or there are fewer than two marks.

    Source:
        docs/method.md, section 5.
    """
    fit, used = evaluation.fit, evaluation.used
    if fit is None:
        return None
    own = [place for place, row in enumerate(used) if not row.arrow]
    if len(own) < 2:
        return None
    place = max(own, key=lambda i: used[i].entry.ranged_m)
    far = used[place]
    near = SAME_PLACE * far.entry.ranged_m
    there = [row for row in evaluation.own if abs(row.entry.ranged_m - far.entry.ranged_m) <= near]
    if len({row.entry.entered.date() for row in there}) > 1:
        return None
    shown = SLIP_SDS * math.sqrt(max(1.0 - fit.leverage[place], 0.0))
    caught = 0.5 * math.erfc((SUSPECT_SDS - shown) / math.sqrt(2.0))
    return Unchecked(far, caught) if caught < CAUGHT else None
