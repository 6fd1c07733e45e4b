"""How proving stands for a rig, from its records."""

from __future__ import annotations

from collections.abc import Sequence

from cross_staff.core.ballistics.flight import RigFigures
from cross_staff.core.errors import CrossStaffError
from cross_staff.core.prove.lines import scale_of
from cross_staff.core.prove.log import ProofLine, kept
from cross_staff.core.prove.station import PINS, Given, Holding, ProofTape, ProveState, prove_state
from cross_staff.core.rig.card import RigCard
from cross_staff.core.rig.events import ALL_MARKS, PROOF_HANGS_ON
from cross_staff.core.rig.log import BenchEntry
from cross_staff.core.rig.scatter import usual_scatter
from cross_staff.core.rig.staleness import Timeline
from cross_staff.core.tape.rulers import StripRuler
from cross_staff.core.tape.station import Evaluation, ratio_known
from cross_staff.services.strips import strips_of
from cross_staff.storage.printed_tapes import KeptTape
from cross_staff.storage.rigs import Revision

PIN_LINES = 40


def holding_of(timeline: Timeline) -> Holding:
    """What of the lines' past still holds."""
    revisions = timeline.holding(PROOF_HANGS_ON) | {number for number, _ in timeline.other_arrows()}
    wanted = frozenset(PROOF_HANGS_ON)
    touched = [event.number for event in timeline.events if event.touches(wanted)]
    done = tuple(sum(number <= revision for number in touched) for revision in range(1, len(timeline.history) + 1))
    return Holding(frozenset(revisions), timeline.arrows(ALL_MARKS), done)


def state_of(
    history: Sequence[Revision],
    timeline: Timeline,
    card: RigCard,
    evaluation: Evaluation,
    figures: RigFigures | None,
    printed: Sequence[KeptTape],
    log: Sequence[ProofLine],
    entries: Sequence[BenchEntry],
) -> ProveState:
    """The state of the station."""
    holding = holding_of(timeline)
    ratio = ratio_known(card, evaluation) if card.sight_kind.dialled else 1.0
    given = Given(card, figures, evaluation.scatter or usual_scatter(card), ratio or 1.0, holding)
    if not card.sight_kind.dialled:
        tapes = _pins(card, figures, holding, len(history))
    else:
        tapes = [
            ProofTape(strip, each.revision, holding.arrow_at(each.revision))
            for each in reversed(printed)
            for strip in strips_of(history, each)
        ]
    return prove_state(given, tapes, kept(log), entries)


def _pins(card: RigCard, figures: RigFigures | None, holding: Holding, revision: int) -> list[ProofTape]:
    """Fixed pins are proven like a tape on which each pin stands at its distance."""
    goals = card.goals
    if figures is None or goals.home_m is None or goals.farthest_m is None:
        return []
    home, farthest = (card.distance_from_sight(d) for d in (goals.home_m, goals.farthest_m))
    try:
        scale = scale_of(figures, home)
        step = (farthest - home) / PIN_LINES
        lines = [home + step * i for i in range(-2, PIN_LINES + 1)]
        places = tuple(scale.place_mm(each) for each in lines)
    except CrossStaffError:
        return []
    if any(b <= a for a, b in zip(places, places[1:])):
        return []
    ranged = tuple(card.ranged_distance(each) for each in lines)
    strip = StripRuler(PINS, "the pins", card.tape.unit_m, ranged, places, goals.home_m)
    return [ProofTape(strip, revision, holding.arrow_at(revision))]
