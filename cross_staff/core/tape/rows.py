"""The rows of marks and groups: how each is taken into the fit, and what is to be said of it."""

from __future__ import annotations

import math
from collections import Counter
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace
from datetime import datetime

from cross_staff.core.ballistics import sightline
from cross_staff.core.ballistics.flight import RigFigures, Trajectories
from cross_staff.core.rig.card import RigCard
from cross_staff.core.rig.scatter import Scatter
from cross_staff.core.tape.fit import Fit, Residual
from cross_staff.core.tape.forecast import PlannedGroup
from cross_staff.core.tape.observation import Observation

READING_SD_MM = 0.15
ARROWS_ASSUMED = 3
PAIR_DISAGREES_SDS = 3.0


@dataclass(frozen=True)
class TapeMark:
    """One row of the marks table as last entered.

    line names the row for good; entry_id the last change of it. ranged_m [m] as the archer ranges
    (from the eye or the sight, as the card says); mark_mm as read on the scale [mm]; up_m how high
    the arrows came in [m], None when the mark was sighted in; arrows how many, None when not noted;
    key, by which a row that is sent twice while it is new is known to be one row; up_se_m and
    reading_sd_mm, where an end of arrows brings its own; pin, the one that was aimed with, 0 the top one;
    reason, why it was left out; session, the visit that it was shot at, empty where nobody said: then that of its
    date. Lines below nought are such ends. ruler, what it was read off: empty for the sight's own scale, else the code
    of a ruler of its own, on which mark_mm is the distance from the line of from_m [m as ranged]; reads, the number
    or label that a strip showed; laid_mm, where on the sight's scale that line lies [mm].
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
    session: str = ""
    ruler: str = ""
    from_m: float | None = None
    reads: str = ""
    laid_mm: float | None = None

    @property
    def from_range(self) -> bool:
        """Whether it is an end of arrows, kept at the range and not in the marks table."""
        return self.line < 0


@dataclass(frozen=True)
class Finding:
    """Something to be said about a row: a code from FINDINGS and the numbers that belong to it."""

    code: str
    numbers: dict[str, float] = field(default_factory=dict)


FINDINGS = (
    "old",  # measured before the rig changed; set aside
    "arrow",  # shot with another arrow of this bow: it tells of bow and sight, and of this arrow by what both share
    "span",  # only the zero can have moved since: its distance from the others of its day still counts
    "left_out",  # set aside by the technician
    "out_of_reach",  # these figures do not carry that far
    "inside_turnover",  # nearer than the turnover: its mark belongs to two distances
    "wrong_way",  # farther, but the mark moved back
    "measured_apart",  # one pencil line was measured twice, and not alike: one of them is a slip
    "disagrees_with",  # another mark at the same distance says otherwise
    "suspect",  # the fit and the other marks do not expect it
)


@dataclass(frozen=True)
class RowEvaluation:
    """A row with what the fit says of it; residuals are None while it is not used; zero, the event that moved its
    zero since, 0 for none; ruler, which of them it lies on, and at_mm, where [mm, farther positive], of the line of
    at_m [m as ranged]; shared, of how many rows this line is; origin, a line that others are measured from; arrow,
    with which of the other arrows it was shot, counted from 1, nought for the one on the card."""

    entry: TapeMark
    used: bool
    findings: tuple[Finding, ...] = ()
    residual_mm: float | None = None
    against_others: float | None = None
    target_m: float | None = None
    sd_mm: float | None = None
    zero: int = 0
    ruler: str = ""
    at_mm: float = 0.0
    at_m: float = 0.0
    reading_sd_mm: float | None = None
    shared: int = 1
    origin: bool = False
    arrow: int = 0

    @property
    def place(self) -> tuple[int, int, str, int]:
        """What its mark can be held against: those of one pin, one zero, one ruler and one arrow."""
        return self.entry.pin, self.zero, self.ruler, self.arrow

    def has(self, code: str) -> bool:
        """Whether this finding was made."""
        return any(finding.code == code for finding in self.findings)


def with_spans(rows: tuple[RowEvaluation, ...], spans: Mapping[int, int]) -> tuple[RowEvaluation, ...]:
    """Old rows whose distance from one another still counts: two and more of one stretch and pin, beside a fresh
    row that says where the zero is now."""
    if not any(row.used for row in rows):
        return rows
    old = [row for row in rows if row.has("old") and row.entry.revision in spans]
    many = Counter[tuple[int, int]]()
    for row in old:
        many[spans[row.entry.revision], row.entry.pin] += 1 if row.entry.from_m is None else 2
    kept = {row.entry.line for row in old if many[spans[row.entry.revision], row.entry.pin] > 1}
    return tuple(
        replace(row, used=True, findings=(Finding("span"),), zero=spans[row.entry.revision])
        if row.entry.line in kept
        else row
        for row in rows
    )


def filed(entry: TapeMark, holds: frozenset[int] | None, arrows: Mapping[int, int] = {}) -> RowEvaluation:
    """A row before it is looked at: whether it counts at all. arrows: of revisions whose marks were shot with another
    arrow, which."""
    if entry.left_out:
        return RowEvaluation(entry, False, (Finding("left_out"),))
    if holds is not None and entry.revision not in holds:
        if entry.revision in arrows:
            return RowEvaluation(entry, True, (Finding("arrow"),), arrow=arrows[entry.revision])
        return RowEvaluation(entry, False, (Finding("old", {"revision": entry.revision}),))
    return RowEvaluation(entry, True)


def day_of(moment: datetime) -> str:
    """The name of the day that marks belong to of which nobody said at which visit they were shot."""
    return moment.date().isoformat()


def observation(card: RigCard, entry: TapeMark, scatter: Scatter) -> Observation:
    """A mark of the sight's own scale as the fit takes it, its error that of an archer who scatters so."""
    at = card.tape.direction * entry.mark_mm
    return observed(card, RowEvaluation(entry, True, at_mm=at, at_m=entry.ranged_m), scatter)


def observed(card: RigCard, row: RowEvaluation, scatter: Scatter) -> Observation:
    """A row as the fit takes it: the line that it tells of, at its place on its ruler."""
    entry = row.entry
    shot = PlannedGroup(entry.arrows or ARROWS_ASSUMED, scatter.spread_mrad)
    distance = card.distance_from_sight(row.at_m)
    far = row.at_m == entry.ranged_m
    up = (entry.up_m or 0.0) if far else 0.0
    error = shot.standard_error_m(distance) if entry.up_se_m is None else entry.up_se_m
    return Observation(
        distance,
        row.at_mm,
        next((sd for sd in (row.reading_sd_mm, entry.reading_sd_mm) if sd is not None), READING_SD_MM),
        up,
        error * row.shared**0.5,
        "mark" if entry.up_m is None or not far else "group",
        entry.pin,
        entry.session or day_of(entry.entered),
        row.ruler,
        row.arrow,
    )


def within_reach(card: RigCard, figures: RigFigures, rows: tuple[RowEvaluation, ...]) -> tuple[RowEvaluation, ...]:
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


def runs_backwards(card: RigCard, rows: Sequence[RowEvaluation], turnover_m: float) -> bool:
    """Whether the marks as a whole fall as the distance grows: the scale is read the other way.

    Args:
        card: the rig's card.
        rows: every row, shape (n,).
        turnover_m: [m as ranged]; what lies nearer does not tell.

    Returns:
        True where more than half of the pairs of one pin and zero fall.

    Source:
        a rule of the craft.
    """
    far = _by_distance(rows, turnover_m)
    if len({row.entry.ranged_m for row in far}) < 2:
        return False
    far = [row for row in far if row.entry.from_m is None]
    pairs = [(a, b) for i, a in enumerate(far) for b in far[i + 1 :] if a.place == b.place]
    apart = [(a, b) for a, b in pairs if b.entry.ranged_m - a.entry.ranged_m > 1.0]
    falling = [card.tape.direction * (b.entry.mark_mm - a.entry.mark_mm) < 0.0 for a, b in apart]
    return bool(falling) and sum(falling) > 0.5 * len(falling)


def with_residuals(fit: Fit, rows: tuple[RowEvaluation, ...]) -> tuple[RowEvaluation, ...]:
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


def with_findings(
    card: RigCard, rows: tuple[RowEvaluation, ...], turnover_m: float, backwards: bool, scatter: Scatter
) -> tuple[RowEvaluation, ...]:
    """The rows with what is to be said of each beside the others.

    Args:
        card: the rig's card.
        rows: every row with its residual, shape (n,).
        turnover_m: [m as ranged].
        backwards: whether the scale is read the other way: then none is called the wrong way.
        scatter: of arrows and days [mrad].

    Returns:
        the rows in their order, shape (n,).

    Source:
        docs/method.md, section 5.
    """
    extra: dict[int, list[Finding]] = {row.entry.line: [] for row in rows}
    for row in rows:
        if row.used and row.entry.ranged_m < turnover_m:
            extra[row.entry.line].append(Finding("inside_turnover", {"turnover_m": turnover_m}))
    for one, other in _disagreeing(card, rows, scatter):
        numbers = {"other_mm": one.entry.mark_mm, "apart_mm": abs(one.at_mm - other.at_mm)}
        code = "measured_apart" if _one_line(one, other) else "disagrees_with"
        extra[other.entry.line].append(Finding(code, numbers))
    if not backwards:
        for row, before in _wrong_way(card, rows, turnover_m):
            numbers = {"before_m": before.entry.ranged_m, "before_mm": before.entry.mark_mm}
            extra[row.entry.line].append(Finding("wrong_way", numbers))
    return tuple(replace(row, findings=row.findings + tuple(extra[row.entry.line])) for row in rows)


def _disagreeing(
    card: RigCard, rows: Sequence[RowEvaluation], scatter: Scatter
) -> list[tuple[RowEvaluation, RowEvaluation]]:
    """Pairs at one distance whose marks, brought to the aim, lie more than chance apart."""
    used = [row for row in rows if row.used]
    pairs = []
    for index, one in enumerate(used):
        for other in used[index + 1 :]:
            same = one.place == other.place and abs(one.at_m - other.at_m) < 0.01
            if same and _apart(card, one, other, scatter):
                pairs.append((one, other))
    return pairs


def _one_line(one: RowEvaluation, other: RowEvaluation) -> bool:
    """Whether two rows of one place are one pencil line, measured twice on a day: the same arrows."""
    return bool(one.ruler) and one.shared > 1 and day_of(one.entry.entered) == day_of(other.entry.entered)


def _apart(card: RigCard, one: RowEvaluation, other: RowEvaluation, scatter: Scatter) -> bool:
    a, b = observed(card, one, scatter), observed(card, other, scatter)
    lever = sightline.sight_shift_at_target(card.eye_to_sight_m or 0.8, a.distance_m)
    shift = 1000.0 * (card.tape.ratio or 1.0) / float(lever)
    if _one_line(one, other):
        return abs(a.mark_mm - b.mark_mm) > PAIR_DISAGREES_SDS * math.hypot(a.reading_sd_mm, b.reading_sd_mm)
    gap = (a.mark_mm - shift * a.up_m) - (b.mark_mm - shift * b.up_m)
    days = 0.0 if a.session == b.session else 2.0 * (1e-3 * scatter.day_mrad * a.distance_m) ** 2
    error = 2.0 * READING_SD_MM**2 + shift**2 * (a.up_se_m**2 + b.up_se_m**2 + days)
    return bool(abs(gap) > PAIR_DISAGREES_SDS * error**0.5)


def _wrong_way(
    card: RigCard, rows: Sequence[RowEvaluation], turnover_m: float
) -> list[tuple[RowEvaluation, RowEvaluation]]:
    """Neighbours in distance of which the farther, sighted in alike, has the smaller mark."""
    far = sorted(
        (row for row in _by_distance(rows, turnover_m) if row.entry.up_m is None),
        key=lambda row: row.place,
    )
    return [(b, a) for a, b in zip(far, far[1:]) if a.place == b.place and b.at_m > a.at_m + 0.5 and b.at_mm < a.at_mm]
