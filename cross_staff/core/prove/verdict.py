"""Whether a printed tape is true, and if not, whether it lies shifted or is stretched: from lines shot over days."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace
from enum import StrEnum

import numpy as np
from scipy.stats import chi2 as chi2_distribution
from scipy.stats import norm

from cross_staff.core.ballistics.flight import Array
from cross_staff.core.errors import InvalidValue
from cross_staff.core.prove.lines import (
    Lines,
    Posterior,
    ProofShots,
    Proving,
    TapeScale,
    beyond_m,
    shift_and_stretch,
    up_per_unit,
)
from cross_staff.core.rig.priors import Known

TRUE_AT, OFF_AT = 0.95, 0.05
CAUSE_SDS = 2.0
AGAINST_SHIFT = 0.7  # a stretch is called one where it is nearly as sure as the shift beside it
OTHER_CAUSE_SDS = 1.0  # where the other is at least so much, both may be at work
LEARNED = 0.5  # how much of what was not known of the stretch must be gone before a shift is called one
DIFFER_P = 0.01
STEP_DAYS = 2  # on either side of a step
STEP_P = 0.002  # of a step between two visits: there are several places for one


class VerdictKind(StrEnum):
    """What the lines say of a tape."""

    TRUE = "true"
    SHIFTED = "shifted"
    STRETCHED = "stretched"
    CANNOT_TELL = "cannot_tell"


class Doubt(StrEnum):
    """Why nothing can be told, where it is not for want of lines: the days differ more than believed, something moved
    between two visits, the tape is wrong and the cause open, or it is told by the lines of a single day."""

    NONE = ""
    DAYS = "days_differ"
    MOVED = "moved_between"
    CAUSE = "cause_open"
    ONE_DAY = "one_day"


@dataclass(frozen=True)
class WantedRow:
    """How high arrows come in at a distance, dialled by the tape [m], one sd, and the chance that it is within half
    the target."""

    distance_m: float
    up_m: float
    sd_m: float
    chance_within: float


@dataclass(frozen=True)
class NextGroup:
    """Where the next group tells most [m], the sd that it leaves at the worst distance [m]; the chances that the
    tape is then called true, or wrong."""

    distance_m: float
    sd_then_m: float
    may_be_true: float
    may_be_off: float


@dataclass(frozen=True)
class Misfit:
    """Chi-squared of the lines about a straight tape, with p; None while there are two lines or fewer."""

    value: float
    dof: int
    p: float


@dataclass(frozen=True)
class TapeVerdict:
    """What the lines say: the verdict, whether the tape is wrong somewhere, why nothing can be told; the shift [mm]
    and the stretch, the shift if nothing is stretched [mm]; what comes in at each distance wanted and where it is
    worst; the next group; the misfit, lines that do not go with the others, and after which session something
    moved; the smallest chance once the pointer is moved by the shift alone."""

    kind: VerdictKind
    off: bool
    doubt: Doubt
    shift_mm: Known
    stretch: Known
    shift_alone_mm: Known
    rows: tuple[WantedRow, ...]
    worst_m: float
    next: NextGroup | None
    misfit: Misfit | None
    suspects: tuple[int, ...] = ()
    moved_after: str = ""
    mended_chance: float = 0.0

    @property
    def agrees(self) -> bool:
        """Whether the lines go together: else nothing is known of any distance."""
        return self.doubt not in (Doubt.DAYS, Doubt.MOVED)

    @property
    def smallest_chance(self) -> float:
        """That of the worst distance, which is the tape's."""
        return min(row.chance_within for row in self.rows)


def judge(scale: TapeScale, shots: Sequence[ProofShots], asked: Proving) -> TapeVerdict:
    """What lines that were shot over days say of a printed tape.

    The tape m_p and the rig's marks differ by a shift and a stretch, M(d) = m_p(d) + a + b (m_p(d) - m_p(home)). With
    f = 1000 ratio L / (L + d) a line says m_p(dialled) - f up - m_p(d) = a + b (m_p(d) - m_p(home)) - f d g + noise;
    dialled by the tape, arrows come in -(a + b (m_p(d) - m_p(home))) / f high. True when the smallest chance of half
    the target is 0.95 or more; wrong when it is 0.05 or less, stretched where |b| is two of its sds, else shifted where
    |a| is. Nothing is told while the lines differ from one another beyond chance.

    Args:
        scale: the tape [mm; m].
        shots: its lines, in the order in which they were shot, shape (n,), n >= 0.
        asked: distances and target [m], scatter [mrad], priors.

    Returns:
        the verdict; shift [mm], stretch [-], rows [m].

    Raises:
        InvalidValue: when no distance is wanted.

    Source:
        derived in docs/method.md, section 17.
    """
    if not asked.wanted_m:
        raise InvalidValue("wanted_m", "name a distance that the tape is wanted at")
    lines = Lines.of(scale, shots, asked)
    posterior = shift_and_stretch(lines, asked)
    rows = _rows(scale, posterior, asked, lines.farthest_m)
    worst = min(rows, key=lambda row: row.chance_within)
    misfit, suspects = _misfit(lines, asked)
    moved = _moved_after(lines, asked)
    shift, stretch = (_known(posterior, place) for place in (0, 1))
    alone = _shift_alone(lines, asked)
    mended = min(row.chance_within for row in _rows(scale, posterior.moved(alone.value), asked, lines.farthest_m))
    cause = _cause(asked, shift, stretch, mended)
    kind, off, doubt = _told(worst.chance_within, cause, misfit, moved)
    return TapeVerdict(
        kind,
        off,
        doubt,
        shift,
        stretch,
        alone,
        rows,
        worst.distance_m,
        _next(scale, lines, asked, worst.distance_m, doubt),
        misfit,
        suspects if doubt == Doubt.DAYS else (),
        moved if doubt == Doubt.MOVED else "",
        mended,
    )


def rows_at(scale: TapeScale, shots: Sequence[ProofShots], asked: Proving) -> tuple[WantedRow, ...]:
    """What comes in at the distances wanted, dialled by the tape, without a judgement.

    Args:
        scale: the tape [mm; m].
        shots: its lines, shape (n,).
        asked: distances and target [m], scatter [mrad], priors.

    Returns:
        a row for each distance [m], shape (m,).

    Source:
        docs/method.md, section 17.
    """
    lines = Lines.of(scale, shots, asked)
    return _rows(scale, shift_and_stretch(lines, asked), asked, lines.farthest_m)


def _known(posterior: Posterior, place: int) -> Known:
    return Known(float(posterior.mean[place]), math.sqrt(float(posterior.covariance[place, place])))


def _shift_alone(lines: Lines, asked: Proving) -> Known:
    """The shift where nothing is stretched: by how much the pointer is to be moved."""
    return _known(shift_and_stretch(lines, asked, (asked.shift_mm,)), 0)


def _rows(scale: TapeScale, posterior: Posterior, asked: Proving, farthest_m: float) -> tuple[WantedRow, ...]:
    rows = []
    for distance in asked.wanted_m:
        share, more = up_per_unit(scale, distance), beyond_m(scale, distance, farthest_m)
        ups = posterior.means @ share
        sds = np.sqrt(np.einsum("i,kij,j->k", share, posterior.covariances, share) + more**2)
        half = 0.5 * asked.target_m
        within = norm.cdf((half - ups) / sds) - norm.cdf((-half - ups) / sds)
        sd = math.sqrt(float(share @ posterior.covariance @ share) + more**2)
        up, chance = float(posterior.weights @ ups), float(posterior.weights @ within)
        rows.append(WantedRow(distance, up, sd, chance))
    return tuple(rows)


def _told(chance: float, cause: VerdictKind, misfit: Misfit | None, moved: str) -> tuple[VerdictKind, bool, Doubt]:
    if moved:
        return VerdictKind.CANNOT_TELL, False, Doubt.MOVED
    if misfit is not None and misfit.p < DIFFER_P:
        return VerdictKind.CANNOT_TELL, False, Doubt.DAYS
    if chance >= TRUE_AT:
        return VerdictKind.TRUE, False, Doubt.NONE
    if chance > OFF_AT:
        return VerdictKind.CANNOT_TELL, False, Doubt.NONE
    return cause, True, Doubt.CAUSE if cause == VerdictKind.CANNOT_TELL else Doubt.NONE


def _cause(asked: Proving, shift: Known, stretch: Known, mended: float) -> VerdictKind:
    """What makes a tape wrong: a stretch; a shift, where nothing speaks of a stretch beside it or the pointer alone
    mends it; else not known."""
    shifted, stretched = (abs(each.value) / (each.sd or math.inf) for each in (shift, stretch))
    if stretched >= CAUSE_SDS and (shifted < CAUSE_SDS or stretched >= AGAINST_SHIFT * shifted):
        return VerdictKind.STRETCHED
    learned = (stretch.sd or 0.0) <= LEARNED * asked.stretch
    if shifted >= CAUSE_SDS and learned and (stretched < OTHER_CAUSE_SDS or mended >= TRUE_AT):
        return VerdictKind.SHIFTED
    return VerdictKind.CANNOT_TELL


def _misfit(lines: Lines, asked: Proving) -> tuple[Misfit | None, tuple[int, ...]]:
    """Chi-squared of the lines with shift and stretch free, and the line that goes least with the others."""
    count = len(lines.said)
    if count < 3:
        return None, ()
    weight = np.linalg.inv(lines.variance(asked.day_mrad))
    left = weight - weight @ lines.shares @ np.linalg.pinv(lines.shares.T @ weight @ lines.shares) @ (
        lines.shares.T @ weight
    )
    pulls, room = left @ lines.said, np.clip(np.diag(left), 1e-12, None)
    value = max(float(lines.said @ pulls), 0.0)
    misfit = Misfit(value, count - 2, float(chi2_distribution.sf(value, count - 2)))
    return misfit, (int(np.argmax(np.abs(pulls) / np.sqrt(room))),) if misfit.p < DIFFER_P else ()


def _moved_after(lines: Lines, asked: Proving) -> str:
    """The day after which the pointer seems to have moved: a step in the shift that the lines ask for; empty where
    none does, or where there are fewer than two days on a side of it."""
    order = list(dict.fromkeys(lines.days))
    if len(order) < 2 * STEP_DAYS:
        return ""
    weight: Array = np.asarray(np.linalg.inv(lines.variance(asked.day_mrad)), dtype=float)
    plain, dof = _chi2(lines, weight, lines.shares), len(lines.said) - 3
    best, after = plain, ""
    for place in range(STEP_DAYS, len(order) - STEP_DAYS + 1):
        late = np.array([1.0 if order.index(day) >= place else 0.0 for day in lines.days])
        with_step = _chi2(lines, weight, np.column_stack([lines.shares, late]))
        if with_step < best:
            best, after = with_step, order[place - 1]
    # lines that differ with the step too were not made so by one
    agree = dof < 1 or chi2_distribution.sf(best, dof) >= DIFFER_P
    return after if after and agree and chi2_distribution.sf(plain - best, 1) < STEP_P else ""


def _chi2(lines: Lines, weight: Array, shares: Array) -> float:
    """Of the lines about the best of these shares."""
    solved = np.linalg.pinv(shares.T @ weight @ shares) @ (shares.T @ weight @ lines.said)
    rest = lines.said - shares @ solved
    return float(rest @ weight @ rest)


def _next(scale: TapeScale, lines: Lines, asked: Proving, worst_m: float, doubt: Doubt) -> NextGroup | None:
    """Where a group on a new day leaves the smallest sd at the worst distance; while the cause is open, of the
    shift."""
    told = []
    for distance in asked.places_m:
        with_it = _with_group(scale, lines, asked, distance)
        covariance = shift_and_stretch(with_it, asked).covariance
        share, more = up_per_unit(scale, worst_m), beyond_m(scale, worst_m, with_it.farthest_m)
        sd = math.sqrt(float(share @ covariance @ share) + more**2)
        told.append((math.sqrt(covariance[0, 0]) if doubt == Doubt.CAUSE else sd, distance, sd))
    if not told:
        return None
    _, distance, sd = min(told)
    return _what_it_may_say(scale, lines, asked, worst_m, replace(_NOTHING, distance_m=distance, sd_then_m=sd))


_NOTHING = NextGroup(0.0, 0.0, 0.0, 0.0)


def _with_group(scale: TapeScale, lines: Lines, asked: Proving, distance_m: float) -> Lines:
    """The lines with a group more, on a new day, that says what they foretell."""
    mean = shift_and_stretch(lines, asked).mean
    f, d = scale.mm_per_m(distance_m), scale.from_sight_m(distance_m)
    one = Lines.of(scale, [ProofShots(distance_m, distance_m, 0.0, asked.next_arrows, "\0new")], asked)
    return Lines(
        np.append(lines.said, one.shares[0] @ mean),
        np.vstack([lines.shares, one.shares]),
        np.append(lines.per_day, -f * d * 1e-3),
        np.append(lines.own, one.own),
        (*lines.days, "\0new"),
        max(lines.farthest_m, d),
    )


def _what_it_may_say(scale: TapeScale, lines: Lines, asked: Proving, worst_m: float, group: NextGroup) -> NextGroup:
    """The chances of each verdict after the group, by the worst distance as it is now."""
    before = _rows(scale, shift_and_stretch(lines, asked), replace(asked, wanted_m=(worst_m,)), lines.farthest_m)[0]
    half, sd = 0.5 * asked.target_m, group.sd_then_m
    moves = math.sqrt(max(before.sd_m**2 - sd**2, 0.0))
    places = before.up_m + moves * norm.ppf((np.arange(400) + 0.5) / 400.0)
    within = norm.cdf((half - places) / sd) - norm.cdf((-half - places) / sd)
    return replace(group, may_be_true=float(np.mean(within >= TRUE_AT)), may_be_off=float(np.mean(within <= OFF_AT)))
