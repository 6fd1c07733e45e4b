"""The tape station's judgement: from a card and its marks to a tape, and what to do now."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from math import inf, isfinite, nan
from typing import Any

from cross_staff.core.ballistics import sightline
from cross_staff.core.errors import InvalidValue, OutOfReach
from cross_staff.core.rig.card import RigCard
from cross_staff.core.rig.pins import Pins
from cross_staff.core.rig.priors import Priors
from cross_staff.core.rig.reach import PinSetting, place_now, sight_reach
from cross_staff.core.rig.scatter import Scatter, usual_scatter
from cross_staff.core.tape.day_spread import fit_with_days
from cross_staff.core.tape.fit import Fit
from cross_staff.core.tape.forecast import (
    Contradiction,
    NextShot,
    PlannedGroup,
    chronograph_worth,
    contradiction,
    good_to,
    next_shot,
)
from cross_staff.core.tape.observation import Observation, OtherArrow
from cross_staff.core.tape.rows import (
    READING_SD_MM,
    RowEvaluation,
    TapeMark,
    filed,
    observed,
    runs_backwards,
    with_findings,
    with_residuals,
    with_spans,
    within_reach,
)
from cross_staff.core.tape.rulers import SCALE, with_places
from cross_staff.core.tape.solver import solve, solved

ARROWS_TO_SHOOT, MANY_ARROWS = 6, 20
NEAREST_GROUP_M = 5.0
LOOK_BEYOND_M = 120.0
_ANOTHER_ZERO = 1000  # more pins than any sight has
RATIO_TOLD = 0.1  # of the ratio: an sd above this tells nothing of it
AS_FAR_OUT = 0.95  # of the farthest, of two lines on one ruler
GAIN_WORTH_SHOOTING = 0.9  # a shot that leaves more than this part of the sd is not worth a walk


@dataclass(frozen=True)
class Evaluation:
    """All that the tape station knows of a rig at this moment. Distances are as ranged [m]; tape_home_m is
    where the tape of the dialled pin begins, the distance that it is right for with the sight at home; scatter, what
    the fit was made with: of arrows, and of days; next_shot is on a day of its own, same_day what MANY_ARROWS more
    would leave on the day of the newest marks; chronograph, what one would make of the farthest distance where the
    speed was not measured."""

    missing: tuple[str, ...]
    rows: tuple[RowEvaluation, ...]
    problem: InvalidValue | OutOfReach | None = None
    fit: Fit | None = None
    turnover_m: float | None = None
    home_partner_m: float | None = None
    good_to_m: float | None = None
    good_enough: bool = False
    next_shot: NextShot | None = None
    then_good_to_m: float | None = None
    same_day: NextShot | None = None
    contradiction: Contradiction | None = None
    scale_runs_backwards: bool = False
    scatter: Scatter | None = None
    pins: Pins = Pins()
    tape_home_m: float | None = None
    chronograph: NextShot | None = None

    @property
    def home_mark_mm(self) -> float:
        """The mark at which the sight stands at home [mm], nought before there is one."""
        return self.fit.mark_zero_mm.value if self.fit else 0.0

    @property
    def dialled_unshot(self) -> bool:
        """Whether other pins were shot and the dialled one was not: nobody knows that it stands where it belongs."""
        return self.fit is not None and bool(self.fit.shot_pins) and self.pins.dialled not in self.fit.shot_pins

    @property
    def used(self) -> tuple[RowEvaluation, ...]:
        """The rows that the fit is made of, as its observations are."""
        return tuple(row for row in self.rows if row.used)

    @property
    def own(self) -> tuple[RowEvaluation, ...]:
        """Those of them that were shot with the arrow on the card."""
        return tuple(row for row in self.used if not row.arrow)

    @property
    def aside(self) -> bool:
        """Whether marks were shot, and none of them since something happened to the bow: nobody knows what the tape
        is worth."""
        return not self.own and bool(self.old or self.used)

    @property
    def set_aside(self) -> int:
        """How many marks are not of this arrow as the bow is now."""
        return len(self.old) + sum(1 for row in self.used if row.arrow and not row.origin)

    @property
    def listed(self) -> tuple[RowEvaluation, ...]:
        """The rows that somebody wrote down, without the lines that others are measured from."""
        return tuple(row for row in self.rows if not row.origin)

    @property
    def suspect(self) -> RowEvaluation | None:
        """The one row to look at first."""
        marked = [row for row in self.rows if row.residual_mm is not None and not row.arrow]
        if not any(row.has("suspect") for row in marked):
            return None

        def out(row: RowEvaluation) -> float:
            return abs(row.against_others or 0.0)

        # of two lines each lies as far from the other: it is the one that somebody wrote down
        farthest = max(map(out, marked))
        return min((row for row in marked if out(row) >= AS_FAR_OUT * farthest), key=lambda r: (r.origin, -out(r)))

    @property
    def measured_apart(self) -> RowEvaluation | None:
        """A pencil line that was measured twice and not alike: one of the two is a slip."""
        return next((row for row in self.listed if row.has("measured_apart")), None)

    @property
    def old(self) -> tuple[RowEvaluation, ...]:
        """The rows that a change of the rig has made old."""
        return tuple(row for row in self.rows if row.has("old"))

    @property
    def doubtful(self) -> bool:
        """Whether something must be settled before the tape is to be believed."""
        return bool(self.suspect or self.measured_apart or self.contradiction or self.scale_runs_backwards)


def evaluate(
    card: RigCard,
    entries: Sequence[TapeMark],
    holds: frozenset[int] | None = None,
    pins: Pins = Pins(),
    spans: tuple[tuple[int, int], ...] = (),
    scatter: Scatter | None = None,
    others: tuple[tuple[int, OtherArrow], ...] = (),
) -> Evaluation:
    """Fit the tape and judge it.

    Args: card; entries, the rows as they stand; holds, the revisions whose marks still
        hold (None: all of them); pins, what they are set for and which one is dialled; spans, revisions of
        which only the zero is old, each with the event that moved it: their marks tell how far apart marks
        lie, once one was shot since; scatter, of arrows and days as they are known before the marks (None: by the
        card alone); others, revisions whose marks were shot with another arrow, each with what it is beside this one.
    Returns: Evaluation; without a fit when the card lacks something, or nothing can be solved.
    """
    arrows = tuple(dict.fromkeys(arrow for _, arrow in others))
    of_arrow = {revision: 1 + arrows.index(arrow) for revision, arrow in others}
    kept = tuple(filed(entry, holds, of_arrow) for entry in entries if not entry.removed)
    rows = with_spans(kept, dict(spans))
    missing = card.missing()
    priors, home = card.priors(), card.goals.home_m
    if priors is None or home is None:
        return Evaluation(missing, rows, pins=pins)
    try:
        turnover = card.ranged_distance(sightline.turnover_distance(priors.figures))
        rows = within_reach(card, priors.figures, rows)
        backwards = runs_backwards(card, rows, turnover)
        rows = with_places(card, rows)
        used = [row for row in rows if row.used]
        before = scatter or usual_scatter(card)
        by_spread = [row.entry.up_se_m is None for row in used]
        seen = _placed(card, _seen(card, used, before), pins)
        fit, told = fit_with_days(priors, *seen, before, by_spread, arrows)
        start = Evaluation(missing, rows, scale_runs_backwards=backwards, scatter=told, pins=pins)
        return _judged(card, fit, rows, start)
    except (InvalidValue, OutOfReach) as error:
        return Evaluation(missing, rows, problem=error.with_traceback(None), pins=pins)


def fit_of(
    card: RigCard,
    priors: Priors,
    rows: Sequence[RowEvaluation],
    pins: Pins,
    scatter: Scatter,
    arrows: tuple[OtherArrow, ...] = (),
) -> Fit:
    """The fit of these rows, without a judgement of the tape, with a scatter that is known.

    Raises: InvalidValue, as `solve`.
    """
    return solved(priors, *_placed(card, _seen(card, rows, scatter), pins), scatter.day_mrad, (), arrows)


def _seen(card: RigCard, rows: Sequence[RowEvaluation], scatter: Scatter) -> tuple[Observation, ...]:
    """The rows as the fit takes them. Marks of another ruler, or from before an event moved the zero, count as pins of
    their own, each with a zero that nobody knows; those of the sight's scale of now have the fit's own."""
    zeros = list(dict.fromkeys((row.zero, row.ruler) for row in rows))
    zeros.sort(key=lambda each: each != (0, SCALE))
    seen = (observed(card, row, scatter) for row in rows)
    places = (zeros.index((row.zero, row.ruler)) for row in rows)
    return tuple(replace(each, pin=each.pin + _ANOTHER_ZERO * place) for each, place in zip(seen, places, strict=True))


def _placed(
    card: RigCard, seen: tuple[Observation, ...], pins: Pins
) -> tuple[float, tuple[Observation, ...], tuple[float, ...]]:
    home = card.distance_from_sight(card.goals.home_m or 0.0)
    return home, seen, tuple(card.distance_from_sight(d) for d in pins.at_m)


def _judged(card: RigCard, fit: Fit, rows: tuple[RowEvaluation, ...], start: Evaluation) -> Evaluation:
    goals = card.goals
    turnover = card.ranged_distance(sightline.turnover_distance(fit.figures))
    scatter = start.scatter or usual_scatter(card)
    rows = with_findings(card, with_residuals(fit, rows), turnover, start.scale_runs_backwards, scatter)
    evaluation = replace(
        start,
        rows=rows,
        fit=fit,
        turnover_m=turnover,
        contradiction=contradiction(fit),
        home_partner_m=_home_partner(card, fit),
        tape_home_m=tape_home(card, fit, start.pins),
    )
    if goals.farthest_m is None or goals.target_size_m is None:
        return evaluation
    if evaluation.aside:  # nobody knows how far it is good
        return evaluation
    if card.expected_speed() is not None:
        far = card.distance_from_sight(goals.farthest_m)
        evaluation = replace(evaluation, chronograph=chronograph_worth(fit, far, start.pins.dialled))
    good = _good_to(card, fit, evaluation)
    enough = good is not None and good >= goals.farthest_m and not evaluation.dialled_unshot
    return replace(evaluation, good_to_m=good, good_enough=enough, **_next(card, fit, turnover, evaluation))


def ready_code(card: RigCard) -> str:
    """What is made of a tape that is good enough: a strip, a table for scale and drum, a template, a display's dots.

    Args:
        card: the rig's card.

    Returns:
        the code of the step.

    Source:
        what the kind of sight can.
    """
    kind = card.sight_kind
    if kind.dialled:
        return "print_marks" if kind.has_drum else "print_tape"
    return "enter_dots" if kind.computes_dots else "set_pins"


def ratio_known(card: RigCard, evaluation: Evaluation) -> float | None:
    """Tape travel per housing travel, as the marks have it, or as it is on the card.

    Args:
        card: the rig's card.
        evaluation: what the marks come to.

    Returns:
        [mm/mm]; None where the card does not know it and the marks do not tell it to a tenth yet.

    Source:
        docs/method.md, section 5.
    """
    fit = evaluation.fit
    if fit is None:
        return card.tape.ratio
    known = fit.known("tape_ratio")
    unsure = card.tape.ratio is None and (known.sd or 0.0) > RATIO_TOLD * known.value
    return None if unsure else fit.tape_ratio


def tape_home(card: RigCard, fit: Fit, pins: Pins) -> float | None:
    """Where the tape of the dialled pin begins: what it is right for with the sight at home [m as ranged];
    None where it stands above the turnover there.

    Args:
        card: the rig's card.
        fit: the fit so far.
        pins: what each pin is set for [m as ranged], and which is dialled.

    Returns:
        [m as ranged]; None where it stands above the turnover there.

    Source:
        derived in docs/method.md, section 15.
    """
    if not pins.dialled:
        return card.goals.home_m
    return pin_now(card, fit, pins.dialled, fit.mark_zero_mm.value)


def pin_now(card: RigCard, fit: Fit, pin: int, mark_mm: float) -> float | None:
    """What a pin is right for with the sight at a mark [m as ranged], by the fit: the far one of the two
    distances; None above the turnover.

    Args:
        card: the rig's card.
        fit: the fit so far.
        pin: which pin, 0 the top one.
        mark_mm: [mm] on the tape, from any zero.

    Returns:
        [m as ranged], the far one of the two distances; None above the turnover.

    Source:
        derived in docs/method.md, section 15.
    """
    height = height_at(fit, pin, mark_mm)
    now = sightline.far_distances(fit.figures, [height])[0] if isfinite(height) else None
    return None if now is None else card.ranged_distance(now)


def height_at(fit: Fit, pin: int, mark_mm: float) -> float:
    """Height of a pin above the arrow line with the sight at a mark [m], by the fit; nan for a pin that was
    not shot and whose distance is out of reach.

    Args:
        fit: the fit so far.
        pin: which pin, 0 the top one.
        mark_mm: [mm] on the tape, from any zero.

    Returns:
        [m] above the arrow line; nan for a pin that was not shot and whose distance is out of reach.

    Source:
        docs/method.md, section 5.
    """
    zero = fit.tape([fit.reference_distance_m], pin)[0].mark_mm
    if zero is None:
        return nan
    return sightline.pin_height(fit.figures, fit.reference_distance_m) - (mark_mm - zero) / fit.tape_ratio / 1000.0


def _good_to(card: RigCard, fit: Fit, evaluation: Evaluation) -> float | None:
    goals, start = card.goals, evaluation.tape_home_m
    if goals.farthest_m is None or goals.target_size_m is None or start is None:
        return None
    end = card.distance_from_sight(max(goals.farthest_m, LOOK_BEYOND_M))
    start = card.distance_from_sight(start)
    good = good_to(fit, start, end, goals.target_size_m, pin=evaluation.pins.dialled)
    return None if good is None else card.ranged_distance(good)


def _home_partner(card: RigCard, fit: Fit) -> float | None:
    """The nearer distance that shares the home mark; None when home lies inside the turnover."""
    home = fit.reference_distance_m
    if home <= sightline.turnover_distance(fit.figures):
        return None
    return card.ranged_distance(sightline.near_partner(fit.figures, home))


def _next(card: RigCard, fit: Fit, turnover_m: float, evaluation: Evaluation) -> dict[str, Any]:
    """Where to shoot next: whole distances as the archer ranges them, beyond the turnover."""
    farthest, pin = card.goals.farthest_m, evaluation.pins.dialled
    if not fit.observations or farthest is None:
        return {}  # the home mark comes first: nothing else can be weighed without it
    nearest = max(NEAREST_GROUP_M, turnover_m, (evaluation.tape_home_m or 0.0) if pin else 0.0)
    unit = card.tape.unit_m
    as_far = min(farthest, _reach_m(card, fit, evaluation))
    counts = range(int(nearest / unit) + 1, int(as_far / unit + 1e-9) + 1)
    candidates = [card.distance_from_sight(count * unit) for count in counts]
    scatter = evaluation.scatter or usual_scatter(card)
    shot = PlannedGroup(ARROWS_TO_SHOOT, scatter.spread_mrad, READING_SD_MM, scatter.day_mrad)
    best = next_shot(fit, candidates, card.distance_from_sight(farthest), shot, pin)
    if best is None or best.sd_at_farthest_m_then > GAIN_WORTH_SHOOTING * best.sd_at_farthest_m_now:
        return {}
    # of a pin that was not shot the tape takes for granted where it stands: what a shot makes of that is no gain
    then = None if evaluation.dialled_unshot else _good_to_after(card, fit, best, shot, evaluation)
    ranged = replace(best, distance_m=card.ranged_distance(best.distance_m))
    seen = [each for each in zip(evaluation.used, fit.observations) if not each[0].arrow]
    newest = max(seen, key=lambda each: each[0].entry.entered)[1].session
    many = replace(shot, arrows=MANY_ARROWS)
    same = next_shot(fit, candidates, card.distance_from_sight(farthest), many, pin, newest)
    same = None if same is None else replace(same, distance_m=card.ranged_distance(same.distance_m))
    return {"next_shot": ranged, "then_good_to_m": then, "same_day": same}


def _reach_m(card: RigCard, fit: Fit, evaluation: Evaluation) -> float:
    """How far the dialled pin can be dialled, as it stands [m as ranged]; without end where nothing is known to."""
    pins, below = evaluation.pins, []
    home = sightline.pin_height(fit.figures, fit.reference_distance_m)
    for pin in range(max(len(pins.at_m), pins.dialled + 1)):
        height = height_at(fit, pin, fit.mark_zero_mm.value) if pin in fit.shot_pins else nan
        below.append(1000.0 * (home - height) if isfinite(height) else None)
    setting = PinSetting(pins, tuple(below), ratio_known(card, evaluation))
    end = sight_reach(card, fit.figures, place_now(card), setting).of_pin(pins.dialled)
    return inf if end is None else end


def _good_to_after(card: RigCard, fit: Fit, best: NextShot, shot: PlannedGroup, evaluation: Evaluation) -> float | None:
    """How far the tape would be good after that shot, should it land where the fit expects."""
    pin = evaluation.pins.dialled
    expected = fit.tape([best.distance_m], pin)[0].mark_mm
    if expected is None:
        return None
    error = shot.standard_error_m(best.distance_m)
    new = Observation(best.distance_m, expected, shot.reading_sd_mm, 0.0, error, "group", pin)
    known = (fit.pins_at_m, fit.day_spread_mrad, (), fit.arrows)
    after = solve(fit.priors, fit.reference_distance_m, [*fit.observations, new], *known)
    return _good_to(card, after, evaluation)
