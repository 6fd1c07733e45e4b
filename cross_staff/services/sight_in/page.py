"""What the page of the range shows, worked out in one go."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field, replace

from cross_staff.core.estimation.groups import GroupStatistics, Shot, analyse, suspects
from cross_staff.core.rig.display import AskedLength, asked_lengths
from cross_staff.core.rig.schools import Question
from cross_staff.core.sight_in import anomalies
from cross_staff.core.sight_in.acts import Act
from cross_staff.core.sight_in.aims import mean_radius
from cross_staff.core.sight_in.anomalies import Trend
from cross_staff.core.sight_in.conditions import TapeDay, compared, tape_day
from cross_staff.core.sight_in.dispersion import Wider, wider_than_the_card
from cross_staff.core.sight_in.estimate import AimEstimate, wind_drift_m
from cross_staff.core.sight_in.log import End, standing_imports
from cross_staff.core.sight_in.marks import MarkSoFar, marks_so_far
from cross_staff.core.sight_in.orders import order_of, written
from cross_staff.core.sight_in.procedures import questions
from cross_staff.core.sight_in.readings import ReadAs, ways_to_read
from cross_staff.core.sight_in.shafts import Shaft, shafts
from cross_staff.core.sight_in.stand import SightStand, sight_stand
from cross_staff.core.sight_in.station import sight_in
from cross_staff.services.rig import Rig
from cross_staff.services.sight_in.record import act_key_of, pins_of


@dataclass(frozen=True)
class Doubts:
    """What the arrows make one doubt: a drift with distance; controls that go the other way; shafts that land apart;
    an archer who shoots wider than his card says."""

    trend: Trend | None = None
    reversed: tuple[str, ...] = ()
    apart: tuple[Shaft, ...] = ()
    wider: Wider | None = None


@dataclass(frozen=True)
class NewestEnd:
    """The newest end by itself: its statistics, and its spread over the archer's own earlier one, with the chance
    of that by luck."""

    group: GroupStatistics
    beside: tuple[float | None, float | None]


@dataclass(frozen=True)
class RangePage:
    """All that the page shows: the rig as seen from the step that is looked at; the key of its instruction; how many
    pins can be aimed with; the end that is opened again; ends at the aim in hand, and their usual radius [m]; what is
    doubted; shots far from the others, by the key of their end; today; the crosswind's drift at the aim [m]; what the
    sight stands at; every numbered shaft; the marks so far; what is ordered, as text that the page carries; the ways in
    which the dial can be read; the lengths that a display asks for."""

    rig: Rig
    act_key: str
    pins: int
    questions: tuple[Question, ...]
    imports: int
    draft: End | None = None
    recent: tuple[End, ...] = ()
    usual_radius_m: float | None = None
    doubts: Doubts = field(default_factory=Doubts)
    newest: NewestEnd | None = None
    odd: dict[str, tuple[int, ...]] = field(default_factory=dict)
    day: TapeDay | None = None
    drift_m: float | None = None
    stand: SightStand | None = None
    shafts: tuple[Shaft, ...] = ()
    marks: tuple[MarkSoFar, ...] = ()
    order: str = ""
    reads_as: tuple[ReadAs, ...] = ()
    display_asks: tuple[AskedLength, ...] = ()


def range_page(rig: Rig, step: str = "", end_key: str = "", logged: int = 60) -> RangePage:
    """What the page shows.

    Args:
        rig: as it stands.
        step: the key of a step that is looked at in place of the next one.
        end_key: of an end that is opened again.
        logged: how many of the newest ends are looked over for shots far from the others.
    """
    rig = _looked_at(rig, step)
    draft = next((end for end in rig.every_end if end.key == end_key), None)
    recent = recent_ends(rig, rig.range.act, draft)
    page = RangePage(
        rig,
        act_key_of(rig),
        pins_of(rig),
        questions(rig.card, rig.range_log.chosen),
        len(standing_imports(rig.range_log.entries)),
        draft,
        recent,
        mean_radius(list(recent)),
    )
    estimate = rig.range.estimate
    ends = rig.every_end[-logged:]
    page = replace(page, order=written(order_of(rig.range.act)), reads_as=ways_to_read(rig.card, estimate))
    if estimate is None:
        return replace(page, odd={end.key: suspects(end.shots) for end in ends})
    odd = {end.key: estimate.suspects(end) for end in ends}
    return replace(
        page,
        doubts=_doubts(rig, estimate),
        stand=sight_stand(estimate, rig.session.number if rig.session else None),
        shafts=shafts(rig.card, rig.range_log.ends, rig.range_log.said),
        marks=marks_so_far(rig.card, estimate.fit, rig.evaluation.used),
        display_asks=asked_lengths(rig.card, rig.figures),
        newest=_newest(rig, estimate),
        odd=odd,
        day=tape_day(estimate, rig.session),
        drift_m=_drift_m(rig, estimate),
    )


def _looked_at(rig: Rig, step: str) -> Rig:
    """The rig as seen from a step that was asked for in place of the next one."""
    estimate = rig.range.estimate
    if not step or estimate is None:
        return rig
    asked = rig.range.question
    state = sight_in(rig.card, rig.range_log, rig.evaluation, estimate.holds, step, estimate.spans, asked)
    return replace(rig, state=replace(rig.state, range=state))


def recent_ends(rig: Rig, act: Act, draft: End | None) -> tuple[End, ...]:
    """Ends at the aim in hand since the sight was last moved, but for the one being shot."""
    if act.question is not None:
        return act.question.ends
    if act.odd is not None:
        return (act.odd[0],)
    last = max((move.order for move in rig.range_log.moves), default=0)
    same = [e for e in rig.range_log.ends if e.order > last and e.shots and (draft is None or e.key != draft.key)]
    if act.aim is None or not same:
        return ()
    near = [e for e in same if e.pin == act.aim.pin and abs((e.ranged_m or 0.0) - act.aim.ranged_m) < 0.5]
    return tuple(near[-4:])


def _doubts(rig: Rig, estimate: AimEstimate) -> Doubts:
    log = rig.range_log
    told = shafts(rig.card, log.ends, log.said)
    sound = [estimate.without_suspects(end) for end in estimate.counted]
    wider = None if "spread_told" in log.said else wider_than_the_card(rig.card, sound)
    return Doubts(
        anomalies.sideways_trend(estimate), estimate.reversed, tuple(shaft for shaft in told if shaft.apart), wider
    )


def _known_spread_m(rig: Rig, estimate: AimEstimate | None, end: End) -> float | None:
    """One sd of an arrow at an end's distance [m]; None where it is not known."""
    if estimate is None or end.ranged_m is None:
        return None
    return 1e-3 * estimate.spread.mrad * rig.card.distance_from_sight(end.ranged_m)


def _newest(rig: Rig, estimate: AimEstimate) -> NewestEnd | None:
    end = next((e for e in reversed(rig.range_log.ends) if e.kept and e.ranged_m is not None), None)
    if end is None or end.ranged_m is None:
        return None
    shots: Sequence[Shot] = end.shots
    distance = rig.card.distance_from_sight(end.ranged_m)
    group = analyse(shots, distance, estimate.lever, None, _known_spread_m(rig, estimate, end))
    return NewestEnd(group, compared(estimate, [end], end.session))


def _drift_m(rig: Rig, estimate: AimEstimate) -> float | None:
    """What the crosswind that was written down may do at the aim in hand [m], by the lag rule."""
    session, aim = rig.session, rig.range.act.aim
    if aim is None or session is None or not session.crosswind_mps:
        return None
    return wind_drift_m(estimate.fit, rig.card.distance_from_sight(aim.ranged_m), session.crosswind_mps)
