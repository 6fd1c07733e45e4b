"""The smallest re-proof of a rig: what was set aside, the fit before it happened, the ends that prove it again."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from cross_staff.core.rig.card import RigCard
from cross_staff.core.rig.events import ALL_MARKS, CAUSES, Cause, keeps_spans
from cross_staff.core.rig.pins import Pins
from cross_staff.core.rig.staleness import Event, Said, State, TakenUp, Timeline
from cross_staff.core.sight_in.dispersion import scatter_at_range
from cross_staff.core.sight_in.log import RangeLog
from cross_staff.core.tape.reproof import Reproof, judged, plan
from cross_staff.core.tape.rows import TapeMark
from cross_staff.core.tape.station import Evaluation, evaluate

PROVED = ("windage", "groups", *ALL_MARKS)  # what arrows can prove


@dataclass(frozen=True)
class Shot:
    """What was shot of a rig: the card, the marks and ends as rows, the range's log, what each pin is for."""

    card: RigCard
    marks: tuple[TapeMark, ...]
    log: RangeLog
    pins: Pins


def reproof_of(timeline: Timeline, shot: Shot) -> Reproof | None:
    """The re-proof that is due; None where nothing that was shot is set aside, or where arrows, head or lengths are
    others than they were: then it is not the same sight picture, and must be shot anew."""
    events = _in_the_way(timeline, shot)
    if not events or any(_on_the_card(event) for event in events):
        return None
    first = events[0].number
    return _judged(timeline, shot, events, first)


def reproof_ahead(timeline: Timeline, shot: Shot, causes: Sequence[Cause]) -> Reproof | None:
    """The re-proof that these would ask for; None where they set nothing aside that was shot."""
    history = timeline.history
    now = State(history[-1].card, Said(happened=tuple(cause.key for cause in causes)))
    return reproof_of(Timeline([*history, now]), shot)


def _in_the_way(timeline: Timeline, shot: Shot) -> list[Event]:
    """Events that set aside anything that was shot, oldest first."""
    kept = [mark for mark in shot.marks if not mark.left_out and not mark.removed]
    told = [timeline.set_aside(PROVED if mark.from_range else ALL_MARKS, mark.revision) for mark in kept]
    first = min((event.number for event in told if event is not None), default=None)
    if first is None:
        return []
    proved = set(PROVED if any(mark.from_range for mark in kept) else ALL_MARKS)
    return [e for e in timeline.events if e.number >= first and proved.intersection(e.results)]


def _on_the_card(event: Event) -> bool:
    """Whether the card itself says that something that the marks hang on is another one now."""
    return any(set(CAUSES[key].makes_stale).intersection(ALL_MARKS) for key in event.noticed)


def _judged(timeline: Timeline, shot: Shot, events: Sequence[Event], first: int) -> Reproof | None:
    before = _before(timeline, shot, events, first)
    if before.fit is None or not before.used:
        return None
    pin = max((row.entry.pin for row in before.used), key=[row.entry.pin for row in before.used].count)
    distances = [row.entry.ranged_m for row in before.used if row.entry.pin == pin]
    causes = [cause for event in events for cause in event.causes]
    ends = plan(shot.card, before.fit, distances, keeps_spans(causes), pin)
    last = events[-1].number
    since = [mark for mark in shot.marks if mark.revision >= last and not mark.left_out and not mark.removed]
    rights = [
        (end.ranged_m, end.arrows, end.middle[0])
        for end in shot.log.ends
        if end.revision >= last and end.middle[0] is not None and not end.left_out and end.ranged_m is not None
    ]
    tapped = any(row.entry.from_range for row in before.used)  # the table of marks knows no left and right
    sideways = tapped and any("windage" in event.results for event in events)
    return judged(shot.card, before.fit, ends, since, rights, sideways)


def _before(timeline: Timeline, shot: Shot, events: Sequence[Event], first: int) -> Evaluation:
    """The tape as it was before the first of the events."""
    again = Said(taken_up=tuple(TakenUp(result, e.number) for e in events for result in e.results))
    as_if = Timeline([*timeline.history, State(shot.card, again)])
    marks = [mark for mark in shot.marks if mark.revision < first]
    scatter = scatter_at_range(shot.card, [end for end in shot.log.ends if not end.left_out])
    return evaluate(shot.card, marks, as_if.holding(ALL_MARKS), shot.pins, scatter=scatter)
