"""How proving stands for a rig, from its records."""

from __future__ import annotations

from collections.abc import Sequence

from cross_staff.core.ballistics.flight import RigFigures
from cross_staff.core.errors import CrossStaffError
from cross_staff.core.prove.chain import Given, Holding, ProofTape
from cross_staff.core.prove.lines import scale_of
from cross_staff.core.prove.log import ProofLine, kept
from cross_staff.core.prove.station import PINS, ProveState, prove_state
from cross_staff.core.rig.card import RigCard
from cross_staff.core.rig.events import ALL_MARKS, PROOF_HANGS_ON
from cross_staff.core.rig.log import BenchEntry
from cross_staff.core.rig.scatter import usual_scatter
from cross_staff.core.rig.staleness import Timeline
from cross_staff.core.sight_in.log import Move
from cross_staff.core.tape.booklet import strip_marks
from cross_staff.core.tape.rulers import BOOKLET, StripRuler, trial_span
from cross_staff.core.tape.station import Evaluation, ratio_known
from cross_staff.services.strips import strips_of
from cross_staff.storage.printed_tapes import KeptTape
from cross_staff.storage.rigs import Revision

PINS_MOVED = ("elevation", "pin", "spread")  # what moves a pin past the pointer, or pins that stand fixed
HOUSING_MOVED = ("gang_elevation",)  # on a slider the pointer goes with it
LINES = 40  # of a scale that is worked out


def holding_of(card: RigCard, timeline: Timeline, moves: Sequence[Move]) -> Holding:
    """What of the lines' past still holds. Args: moves, of the sight at the range, that stand."""
    revisions = timeline.holding(PROOF_HANGS_ON) | {number for number, _ in timeline.other_arrows()}
    wanted = frozenset(PROOF_HANGS_ON)
    touched = [event.number for event in timeline.events if event.touches(wanted)]
    done = tuple(sum(number <= revision for number in touched) for revision in range(1, len(timeline.history) + 1))
    upright = PINS_MOVED if card.sight_kind.dialled else PINS_MOVED + HOUSING_MOVED
    moved = tuple(sorted(move.entered for move in moves if move.moves in upright))
    return Holding(frozenset(revisions), timeline.arrows(ALL_MARKS), done, moved)


def given_of(
    card: RigCard, evaluation: Evaluation, figures: RigFigures | None, timeline: Timeline, moves: Sequence[Move]
) -> Given:
    """What the station goes by."""
    ratio = ratio_known(card, evaluation) if card.sight_kind.dialled else 1.0
    scatter = evaluation.scatter or usual_scatter(card)
    return Given(card, figures, scatter, ratio, holding_of(card, timeline, moves))


def state_of(
    history: Sequence[Revision],
    timeline: Timeline,
    card: RigCard,
    evaluation: Evaluation,
    figures: RigFigures | None,
    printed: Sequence[KeptTape],
    log: Sequence[ProofLine],
    entries: Sequence[BenchEntry],
    moves: Sequence[Move],
) -> ProveState:
    """The state of the station."""
    given = given_of(card, evaluation, figures, timeline, moves)
    holding = given.holding
    if not card.sight_kind.dialled:
        tapes = _pins(card, figures, holding, len(history))
    else:
        tapes = [
            ProofTape(strip, each.revision, holding.arrow_at(each.revision))
            for each in reversed(printed)
            for strip in strips_of(history, each)
        ]
        tapes += _booklet(history, card, evaluation, figures, given)
    return prove_state(given, tapes, kept(log), entries)


def _booklet(
    history: Sequence[Revision], card: RigCard, evaluation: Evaluation, figures: RigFigures | None, given: Given
) -> list[ProofTape]:
    """The strip of the booklet that is on the sight: this rig's tape with the speed that gives its length."""
    book, goals = card.sight.booklet, card.goals
    home = evaluation.tape_home_m or goals.home_m
    ratio = given.ratio
    if not book.used or figures is None or home is None or book.from_m is None or book.to_m is None or ratio is None:
        return []
    farthest = max(goals.farthest_m or 0.0, book.to_m)
    ranged = [home + (farthest - home) * part / LINES for part in range(LINES + 1)]
    near, far, start, *at = (card.distance_from_sight(d) for d in (book.from_m, book.to_m, home, *ranged))
    try:
        span = trial_span(book, book.used)[0] / ratio
        places = strip_marks(figures, near, far, span, start, at)
    except CrossStaffError:
        return []
    lines = [(d, ratio * place) for d, place in zip(ranged, places) if place is not None]
    if len(lines) < 2 or any(b[1] <= a[1] for a, b in zip(lines, lines[1:])):
        return []
    since = max((n for n, r in enumerate(history, start=1) if r.card.sight.booklet.used != book.used), default=0) + 1
    name = f"strip {book.used} of the booklet"
    ruler = StripRuler(
        f"{BOOKLET} {book.used}", name, card.tape.unit_m, tuple(d for d, _ in lines), tuple(p for _, p in lines), home
    )
    return [ProofTape(ruler, since, given.holding.arrow_at(since))]


def _pins(card: RigCard, figures: RigFigures | None, holding: Holding, revision: int) -> list[ProofTape]:
    """Fixed pins are proven like a tape on which each pin stands at its distance."""
    goals = card.goals
    if figures is None or goals.home_m is None or goals.farthest_m is None:
        return []
    home, farthest = (card.distance_from_sight(d) for d in (goals.home_m, goals.farthest_m))
    try:
        scale = scale_of(figures, home)
        step = (farthest - home) / LINES
        lines = [home + step * i for i in range(-2, LINES + 1)]
        places = tuple(scale.place_mm(each) for each in lines)
    except CrossStaffError:
        return []
    if any(b <= a for a, b in zip(places, places[1:])):
        return []
    ranged = tuple(card.ranged_distance(each) for each in lines)
    strip = StripRuler(PINS, "the pins", card.tape.unit_m, ranged, places, goals.home_m)
    return [ProofTape(strip, revision, holding.arrow_at(revision))]
