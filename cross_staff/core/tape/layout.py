"""The marks of a tape that is asked for: from where to where, in which unit, of which pin, with which bias."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from cross_staff.core.errors import OutOfReach
from cross_staff.core.rig.card import RigCard
from cross_staff.core.tape.edges import edge_shifts_mm
from cross_staff.core.tape.fit import TapeRow
from cross_staff.core.tape.scale import TapeLayout, layout
from cross_staff.core.tape.station import Evaluation


@dataclass(frozen=True)
class Wanted:
    """What is asked of a tape: from where to where [m as ranged], in which unit [m], of which pin (None: the
    dialled one), at which edge of what the tape may be (+1 farther, -1 nearer, 0 as fitted), how low it shall shoot at
    its far end on purpose [m], nought at home and in proportion between, and how far the sight can be set [m as
    ranged], None where nothing is known to end it."""

    from_m: float
    to_m: float
    unit_m: float | None = None
    pin: int | None = None
    edge: float = 0.0
    low_m: float = 0.0
    reach_m: float | None = None


def tape_layout(card: RigCard, evaluation: Evaluation, wanted: Wanted) -> TapeLayout:
    """The fitted tape's ticks, positions from the home mark.

    Raises: OutOfReach while there is no fit; InvalidValue when there is nothing to print.
    """
    if evaluation.fit is None or evaluation.turnover_m is None:
        raise OutOfReach("there is no tape yet: the card lacks something")

    def positions(ranged: Sequence[float]) -> list[float | None]:
        home = evaluation.home_mark_mm
        return [
            None if row.mark_mm is None else row.mark_mm - home for row in tape_rows(card, evaluation, wanted, ranged)
        ]

    def shifts(ranged: Sequence[float]) -> list[float]:
        return [float(v) for v in wanted.edge * edge_shifts_mm(card, evaluation, ranged, wanted.to_m)]

    unit = wanted.unit_m or card.tape.unit_m
    moved = shifts if wanted.edge else None
    return layout(wanted.from_m, wanted.to_m, unit, evaluation.turnover_m, positions, moved, wanted.reach_m)


def tape_rows(card: RigCard, evaluation: Evaluation, wanted: Wanted, ranged_m: Sequence[float]) -> list[TapeRow]:
    """The fitted marks at distances [m as ranged], the wanted bias taken in.

    Args:
        card: the rig's card.
        evaluation: what the marks come to.
        wanted: which tape: pin, bias [m].
        ranged_m: [m as ranged], shape (n,).

    Returns:
        marks [mm] with their sds, in the order asked.

    Raises:
        OutOfReach: while there is no fit.

    Source:
        docs/method.md, sections 5 and 7.
    """
    if evaluation.fit is None:
        raise OutOfReach("there is no tape yet: the card lacks something")
    pin = evaluation.pins.dialled if wanted.pin is None else wanted.pin
    home = card.goals.home_m or 0.0
    span = max(wanted.to_m - home, 1.0)
    low = [-wanted.low_m * max(d - home, 0.0) / span for d in ranged_m]
    return evaluation.fit.tape([card.distance_from_sight(d) for d in ranged_m], pin, low)
