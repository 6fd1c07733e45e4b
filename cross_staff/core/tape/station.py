"""The tape station's judgement: from a card and its marks to a tape, and what to do now."""

from __future__ import annotations

from collections import Counter
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace
from datetime import datetime
from math import isfinite, nan
from typing import Any

from cross_staff.core.ballistics import sightline
from cross_staff.core.ballistics.flight import RigFigures, Trajectories
from cross_staff.core.errors import InvalidValue, OutOfReach
from cross_staff.core.rig.card import USUAL_SPREAD_MRAD, RigCard
from cross_staff.core.rig.priors import Priors
from cross_staff.core.tape.fit import Fit, Observation, Residual
from cross_staff.core.tape.forecast import Contradiction, NextShot, PlannedGroup, contradiction, good_to, next_shot
from cross_staff.core.tape.solver import solve

READING_SD_MM = 0.15
ARROWS_ASSUMED = 3
ARROWS_TO_SHOOT = 6
NEAREST_GROUP_M = 5.0
LOOK_BEYOND_M = 120.0
PAIR_DISAGREES_SDS = 3.0
_ANOTHER_ZERO = 1000  # more pins than any sight has
GAIN_WORTH_SHOOTING = 0.9  # a shot that leaves more than this part of the sd is not worth a walk


@dataclass(frozen=True)
class TapeMark:
    """One row of the marks table as last entered.

    line names the row for good; entry_id the last change of it. ranged_m [m] as the archer ranges
    (from the eye or the sight, as the card says); mark_mm as read on the scale [mm]; up_m how high
    the arrows came in [m], None when the mark was sighted in; arrows how many, None when not noted;
    key, by which a row that is sent twice while it is new is known to be one row; up_se_m and
    reading_sd_mm, where an end of arrows brings its own; pin, the one that was aimed with, 0 the top one;
    reason, why it was left out. Lines below nought are such ends.
    """

    line: int
    entry_id: int
    revision: int
    entered: datetime
    ranged_m: float
    mark_mm: float
    up_m: float | None = None
    arrows: int | None = None
    left_out: bool = False
    removed: bool = False
    key: str = ""
    up_se_m: float | None = None
    reading_sd_mm: float | None = None
    pin: int = 0
    reason: str = ""

    @property
    def from_range(self) -> bool:
        """Whether it is an end of arrows, kept at the range and not in the marks table."""
        return self.line < 0


@dataclass(frozen=True)
class Pins:
    """What each pin is set for, the top one first [m as ranged], and which of them goes with the wheel."""

    at_m: tuple[float, ...] = ()
    dialled: int = 0


@dataclass(frozen=True)
class Finding:
    """Something to be said about a row: a code from FINDINGS and the numbers that belong to it."""

    code: str
    numbers: dict[str, float] = field(default_factory=dict)


FINDINGS = (
    "old",  # measured before the rig changed; set aside
    "span",  # only the zero can have moved since: its distance from the others of its day still counts
    "left_out",  # set aside by the technician
    "out_of_reach",  # these figures do not carry that far
    "inside_turnover",  # nearer than the turnover: its mark belongs to two distances
    "wrong_way",  # farther, but the mark moved back
    "disagrees_with",  # another mark at the same distance says otherwise
    "suspect",  # the fit and the other marks do not expect it
)


@dataclass(frozen=True)
class RowEvaluation:
    """A row with what the fit says of it; residuals are None while it is not used; zero, the event that moved its
    zero since, 0 for none."""

    entry: TapeMark
    used: bool
    findings: tuple[Finding, ...] = ()
    residual_mm: float | None = None
    against_others: float | None = None
    target_m: float | None = None
    sd_mm: float | None = None
    zero: int = 0

    def has(self, code: str) -> bool:
        """Whether this finding was made."""
        return any(finding.code == code for finding in self.findings)


@dataclass(frozen=True)
class Evaluation:
    """All that the tape station knows of a rig at this moment. Distances are as ranged [m]; tape_home_m is
    where the tape of the dialled pin begins, the distance that it is right for with the sight at home."""

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
    contradiction: Contradiction | None = None
    scale_runs_backwards: bool = False
    pins: Pins = Pins()
    tape_home_m: float | None = None

    def heights_at_home(self) -> tuple[float, ...]:
        """Height of each pin above the arrow line with the sight at home [m]; those out of reach are left off."""
        fit = self.fit
        if fit is None:
            return ()
        return tuple(
            height for pin in range(len(self.pins.at_m)) if isfinite(height := height_at(fit, pin, self.home_mark_mm))
        )

    @property
    def home_mark_mm(self) -> float:
        """The mark at which the sight stands at home [mm], nought before there is one."""
        return self.fit.mark_zero_mm.value if self.fit else 0.0

    @property
    def used(self) -> tuple[RowEvaluation, ...]:
        return tuple(row for row in self.rows if row.used)

    @property
    def suspect(self) -> RowEvaluation | None:
        """The one row to look at first."""
        marked = [row for row in self.rows if row.has("suspect")]
        return max(marked, key=lambda r: abs(r.against_others or 0.0), default=None)

    @property
    def old(self) -> tuple[RowEvaluation, ...]:
        """The rows that a change of the rig has made old."""
        return tuple(row for row in self.rows if row.has("old"))

    @property
    def doubtful(self) -> bool:
        """Whether something must be settled before the tape is to be believed."""
        return bool(self.suspect or self.contradiction or self.scale_runs_backwards)

    @property
    def rms_residual_mm(self) -> float | None:
        """Root mean square of the residuals of the used rows [mm]; None for fewer than two."""
        values = [row.residual_mm for row in self.used if row.residual_mm is not None]
        if len(values) < 2:
            return None
        return float((sum(v * v for v in values) / len(values)) ** 0.5)


def evaluate(
    card: RigCard,
    entries: Sequence[TapeMark],
    holds: frozenset[int] | None = None,
    pins: Pins = Pins(),
    spans: tuple[tuple[int, int], ...] = (),
) -> Evaluation:
    """Fit the tape and judge it.

    Args: card; entries, the rows as they stand; holds, the revisions whose marks still
        hold (None: all of them); pins, what they are set for and which one is dialled; spans, revisions of
        which only the zero is old, each with the event that moved it: their marks tell how far apart marks
        lie, once one was shot since.
    Returns: Evaluation; without a fit when the card lacks something, or nothing can be solved.
    """
    rows = _with_spans(tuple(_filed(entry, holds) for entry in entries if not entry.removed), dict(spans))
    missing = card.missing()
    priors, home = card.priors(), card.goals.home_m
    if priors is None or home is None:
        return Evaluation(missing, rows, pins=pins)
    try:
        turnover = card.ranged_distance(sightline.turnover_distance(priors.figures))
        rows = _within_reach(card, priors.figures, rows)
        backwards = _runs_backwards(card, rows, turnover)
        used = [row for row in rows if row.used]
        fit = fit_of(card, priors, [row.entry for row in used], pins, [row.zero for row in used])
        return _judged(card, fit, rows, Evaluation(missing, rows, scale_runs_backwards=backwards, pins=pins))
    except (InvalidValue, OutOfReach) as error:
        return Evaluation(missing, rows, problem=error.with_traceback(None), pins=pins)


def fit_of(
    card: RigCard, priors: Priors, entries: Sequence[TapeMark], pins: Pins = Pins(), zeros: Sequence[int] = ()
) -> Fit:
    """The fit of these entries, without a judgement of the tape.

    Args: zeros, for each entry the event that moved its zero since, 0 for none: such a stretch of marks counts as
        pins of its own, each with a zero that nobody knows.
    Raises: InvalidValue, as `solve`.
    """
    home = card.distance_from_sight(card.goals.home_m or 0.0)
    seen = [observation(card, entry) for entry in entries]
    if zeros:
        seen = [replace(each, pin=each.pin + _ANOTHER_ZERO * zero) for each, zero in zip(seen, zeros, strict=True)]
    return solve(priors, home, seen, [card.distance_from_sight(d) for d in pins.at_m])


def _with_spans(rows: tuple[RowEvaluation, ...], spans: Mapping[int, int]) -> tuple[RowEvaluation, ...]:
    """Old rows whose distance from one another still counts: two and more of one stretch and pin, beside a fresh
    row that says where the zero is now."""
    if not any(row.used for row in rows):
        return rows
    old = [row for row in rows if row.has("old") and row.entry.revision in spans]
    many = Counter((spans[row.entry.revision], row.entry.pin) for row in old)
    kept = {row.entry.line for row in old if many[spans[row.entry.revision], row.entry.pin] > 1}
    return tuple(
        replace(row, used=True, findings=(Finding("span"),), zero=spans[row.entry.revision])
        if row.entry.line in kept
        else row
        for row in rows
    )


def _filed(entry: TapeMark, holds: frozenset[int] | None) -> RowEvaluation:
    if entry.left_out:
        return RowEvaluation(entry, False, (Finding("left_out"),))
    if holds is not None and entry.revision not in holds:
        return RowEvaluation(entry, False, (Finding("old", {"revision": entry.revision}),))
    return RowEvaluation(entry, True)


def observation(card: RigCard, entry: TapeMark) -> Observation:
    """An entry as the fit takes it."""
    spread = card.goals.spread_mrad or USUAL_SPREAD_MRAD
    shot = PlannedGroup(entry.arrows or ARROWS_ASSUMED, spread)
    distance = card.distance_from_sight(entry.ranged_m)
    return Observation(
        distance,
        card.tape.direction * entry.mark_mm,
        READING_SD_MM if entry.reading_sd_mm is None else entry.reading_sd_mm,
        entry.up_m or 0.0,
        shot.standard_error_m(distance) if entry.up_se_m is None else entry.up_se_m,
        "mark" if entry.up_m is None else "group",
        entry.pin,
    )


def _within_reach(card: RigCard, figures: RigFigures, rows: tuple[RowEvaluation, ...]) -> tuple[RowEvaluation, ...]:
    used = [row for row in rows if row.used]
    if not used:
        return rows
    heights = [row.entry.up_m or 0.0 for row in used]
    distances = [card.distance_from_sight(row.entry.ranged_m) for row in used]
    shots = Trajectories.of(figures, distances, 0.0, heights)
    reached = dict(zip([row.entry.line for row in used], sightline.pin_heights(shots).reached))
    return tuple(
        replace(row, used=False, findings=(*row.findings, Finding("out_of_reach")))
        if row.used and not reached[row.entry.line]
        else row
        for row in rows
    )


def _by_distance(rows: Sequence[RowEvaluation], turnover_m: float) -> list[RowEvaluation]:
    far = [row for row in rows if row.used and row.entry.ranged_m > turnover_m]
    return sorted(far, key=lambda row: row.entry.ranged_m)


def _runs_backwards(card: RigCard, rows: Sequence[RowEvaluation], turnover_m: float) -> bool:
    """Whether the marks as a whole fall as the distance grows: the scale is read the other way."""
    far = _by_distance(rows, turnover_m)
    if len({row.entry.ranged_m for row in far}) < 2:
        return False
    pairs = [(a, b) for i, a in enumerate(far) for b in far[i + 1 :] if (a.entry.pin, a.zero) == (b.entry.pin, b.zero)]
    apart = [(a, b) for a, b in pairs if b.entry.ranged_m - a.entry.ranged_m > 1.0]
    falling = [card.tape.direction * (b.entry.mark_mm - a.entry.mark_mm) < 0.0 for a, b in apart]
    return bool(falling) and sum(falling) > 0.5 * len(falling)


def _judged(card: RigCard, fit: Fit, rows: tuple[RowEvaluation, ...], start: Evaluation) -> Evaluation:
    goals = card.goals
    turnover = card.ranged_distance(sightline.turnover_distance(fit.figures))
    rows = _with_findings(card, _with_residuals(fit, rows), turnover, start.scale_runs_backwards)
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
    if evaluation.old and not evaluation.used:  # nobody knows how far it is good
        return evaluation
    good = _good_to(card, fit, evaluation)
    enough = good is not None and good >= goals.farthest_m
    return replace(evaluation, good_to_m=good, good_enough=enough, **_next(card, fit, turnover, evaluation))


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
    counts = range(int(nearest / unit) + 1, int(farthest / unit + 1e-9) + 1)
    candidates = [card.distance_from_sight(count * unit) for count in counts]
    shot = PlannedGroup(ARROWS_TO_SHOOT, card.goals.spread_mrad or USUAL_SPREAD_MRAD, READING_SD_MM)
    best = next_shot(fit, candidates, card.distance_from_sight(farthest), shot, pin)
    if best is None or best.sd_at_farthest_m_then > GAIN_WORTH_SHOOTING * best.sd_at_farthest_m_now:
        return {}
    then = _good_to_after(card, fit, best, shot, evaluation)
    ranged = replace(best, distance_m=card.ranged_distance(best.distance_m))
    return {"next_shot": ranged, "then_good_to_m": then}


def _good_to_after(card: RigCard, fit: Fit, best: NextShot, shot: PlannedGroup, evaluation: Evaluation) -> float | None:
    """How far the tape would be good after that shot, should it land where the fit expects."""
    pin = evaluation.pins.dialled
    expected = fit.tape([best.distance_m], pin)[0].mark_mm
    if expected is None:
        return None
    error = shot.standard_error_m(best.distance_m)
    new = Observation(best.distance_m, expected, shot.reading_sd_mm, 0.0, error, "group", pin)
    after = solve(fit.priors, fit.reference_distance_m, [*fit.observations, new], fit.pins_at_m)
    return _good_to(card, after, evaluation)


def _with_residuals(fit: Fit, rows: tuple[RowEvaluation, ...]) -> tuple[RowEvaluation, ...]:
    residuals = iter(zip(fit.residuals, fit.observations))
    return tuple(_with_residual(fit, row, *next(residuals)) if row.used else row for row in rows)


def _with_residual(fit: Fit, row: RowEvaluation, residual: Residual, observation: Observation) -> RowEvaluation:
    target = residual.residual_mm * float(fit.target_m_per_tape_mm(observation.distance_m))
    numbers = {"residual_mm": residual.residual_mm, "target_m": target, "sds": abs(residual.against_others or 0.0)}
    return replace(
        row,
        residual_mm=residual.residual_mm,
        sd_mm=residual.sd_mm,
        against_others=residual.against_others,
        target_m=target,
        findings=row.findings + ((Finding("suspect", numbers),) if residual.suspect else ()),
    )


def _with_findings(
    card: RigCard, rows: tuple[RowEvaluation, ...], turnover_m: float, backwards: bool
) -> tuple[RowEvaluation, ...]:
    extra: dict[int, list[Finding]] = {row.entry.line: [] for row in rows}
    for row in rows:
        if row.used and row.entry.ranged_m < turnover_m:
            extra[row.entry.line].append(Finding("inside_turnover", {"turnover_m": turnover_m}))
    for one, other in _disagreeing(card, rows):
        numbers = {"other_mm": one.entry.mark_mm, "apart_mm": abs(one.entry.mark_mm - other.entry.mark_mm)}
        extra[other.entry.line].append(Finding("disagrees_with", numbers))
    if not backwards:
        for row, before in _wrong_way(card, rows, turnover_m):
            numbers = {"before_m": before.entry.ranged_m, "before_mm": before.entry.mark_mm}
            extra[row.entry.line].append(Finding("wrong_way", numbers))
    return tuple(replace(row, findings=row.findings + tuple(extra[row.entry.line])) for row in rows)


def _disagreeing(card: RigCard, rows: Sequence[RowEvaluation]) -> list[tuple[RowEvaluation, RowEvaluation]]:
    """Pairs at one distance whose marks, brought to the aim, lie more than chance apart."""
    used = [row for row in rows if row.used]
    pairs = []
    for index, one in enumerate(used):
        for other in used[index + 1 :]:
            same = (one.entry.pin, one.zero) == (other.entry.pin, other.zero) and abs(
                one.entry.ranged_m - other.entry.ranged_m
            ) < 0.01
            if same and _apart(card, one.entry, other.entry):
                pairs.append((one, other))
    return pairs


def _apart(card: RigCard, one: TapeMark, other: TapeMark) -> bool:
    a, b = observation(card, one), observation(card, other)
    lever = sightline.sight_shift_at_target(card.eye_to_sight_m or 0.8, a.distance_m)
    shift = 1000.0 * (card.tape.ratio or 1.0) / float(lever)
    gap = (a.mark_mm - shift * a.up_m) - (b.mark_mm - shift * b.up_m)
    error = 2.0 * READING_SD_MM**2 + (shift * a.up_se_m) ** 2 + (shift * b.up_se_m) ** 2
    return bool(abs(gap) > PAIR_DISAGREES_SDS * error**0.5)


def _wrong_way(
    card: RigCard, rows: Sequence[RowEvaluation], turnover_m: float
) -> list[tuple[RowEvaluation, RowEvaluation]]:
    """Neighbours in distance of which the farther, sighted in alike, has the smaller mark."""
    far = sorted(
        (row for row in _by_distance(rows, turnover_m) if row.entry.up_m is None),
        key=lambda row: (row.entry.pin, row.zero),
    )
    return [
        (b, a)
        for a, b in zip(far, far[1:])
        if (a.entry.pin, a.zero) == (b.entry.pin, b.zero)
        and b.entry.ranged_m > a.entry.ranged_m + 0.5
        and card.tape.direction * (b.entry.mark_mm - a.entry.mark_mm) < 0.0
    ]
