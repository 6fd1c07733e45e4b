"""What one station hands on to another: figures, tolerances, other arrows' marks, places that still hold."""

from __future__ import annotations

from collections.abc import Sequence
from functools import lru_cache

from cross_staff.core.ballistics.flight import RigFigures
from cross_staff.core.errors import InvalidValue, OutOfReach
from cross_staff.core.level.cost import tolerances
from cross_staff.core.rig.card import RigCard
from cross_staff.core.rig.staleness import Timeline
from cross_staff.core.tape.carry_over import other_arrow
from cross_staff.core.tape.observation import OtherArrow
from cross_staff.core.tape.station import Evaluation
from cross_staff.storage.rigs import Revision


def other_arrows(timeline: Timeline, card: RigCard) -> tuple[tuple[int, OtherArrow], ...]:
    """Revisions whose marks were shot with another arrow of the same bow, with what that one is beside this one; none
    of arrows whose mass or diameter nobody knows."""
    told = []
    for number, shot in timeline.other_arrows():
        try:
            told.append((number, other_arrow(shot, card)))
        except InvalidValue:
            continue
    return tuple(told)


def figures_of(card: RigCard, evaluation: Evaluation) -> RigFigures | None:
    """What the marks say of speed, drag and geometry, else what the card says; None without either."""
    fit, priors = evaluation.fit, card.priors()
    return fit.figures if fit else priors.figures if priors else None


def tolerances_of(card: RigCard, evaluation: Evaluation) -> dict[str, float]:
    """What each axis may be off [rad] for the tolerance at the target; empty while that is not known."""
    figures = figures_of(card, evaluation)
    wanted = card.level.tolerance_m
    if figures is None or wanted is None or card.goals.home_m is None:
        return {}
    try:
        return _tolerated(card, figures, wanted)
    except OutOfReach:
        return {}


_tolerated = lru_cache(maxsize=128)(tolerances)


def same_places(history: Sequence[Revision]) -> frozenset[int]:
    """Revisions since the places of the sight's controls were last written down."""
    places = [tuple((c.name, c.position_mm) for c in revision.card.sight.controls) for revision in history]
    since = max((n for n, (a, b) in enumerate(zip(places, places[1:]), start=1) if a != b), default=0)
    return frozenset(revision.number for revision in history[since:])
