"""Which strip of a booklet to cut: by what it leaves on the target, and whether the fit can tell it from the next."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

from cross_staff.core.tape.booklet import StripChoice
from cross_staff.core.tape.forecast import COVERAGE, NextShot

RIVAL = 0.05  # a strip that is the better one less often is no rival
_TOLD_SDS = 1.645  # once in twenty


@dataclass(frozen=True)
class Leaves:
    """What a strip leaves on the target, its home line on the home mark: the largest height anywhere from home to the
    farthest distance [m, up], and at the farthest."""

    choice: StripChoice
    worst_m: float
    farthest_m: float


@dataclass(frozen=True)
class Cut:
    """The strip to cut; sd_m, how surely the tape is known at the farthest distance [m on the target]; the rivals, of
    which this fit cannot say that they are worse, the nearest first; alike, whether whichever it is leaves less than
    half the target everywhere; tell, the group that would tell most, and whether it then tells them all."""

    best: Leaves
    sd_m: float
    rivals: tuple[Leaves, ...]
    alike: bool
    tell: NextShot | None
    tells: bool


def cut(left: Sequence[Leaves], sd_m: float, target_size_m: float | None, shot: NextShot | None) -> Cut | None:
    """The strip that leaves least, and those that may as well be the right one.

    Of two strips that leave e and e', the second is the better where the truth lies beyond the middle between them:
    its chance is that of a normal error of this sd passing |e + e'| / 2.

    Args:
        left: what each strip leaves, shape (n,).
        sd_m: of the tape at the farthest distance [m on the target].
        target_size_m: its whole height [m]; None where nobody said it.
        shot: the group that would narrow the farthest distance most, with the sd that it leaves; None for none.

    Returns:
        the strip with its rivals; None without any strip.

    Source:
        derived in docs/method.md, section 15.
    """
    if not left:
        return None
    best = min(left, key=lambda each: (abs(each.worst_m), each.choice.order))
    others = sorted((each for each in left if each is not best), key=lambda each: abs(each.worst_m))
    rivals = tuple(each for each in others if _better(best, each, sd_m) >= RIVAL)
    half = math.inf if target_size_m is None else target_size_m / 2.0
    alike = target_size_m is not None and all(
        max(abs(each.worst_m), abs(each.farthest_m) + COVERAGE * sd_m) <= half for each in (best, *rivals)
    )
    then = math.inf if shot is None else shot.sd_at_farthest_m_then
    tells = bool(rivals) and all(_middle(best, each) > _TOLD_SDS * then for each in rivals)
    return Cut(best, sd_m, rivals, alike, shot if rivals else None, tells)


def _middle(one: Leaves, other: Leaves) -> float:
    """How far the truth must lie from what is fitted for the other to be the better one [m]; none of it on that side:
    never."""
    apart = abs(other.farthest_m - one.farthest_m)
    return abs(one.farthest_m + other.farthest_m) / 2.0 if apart > 1e-6 else math.inf


def _better(one: Leaves, other: Leaves, sd_m: float) -> float:
    middle = _middle(one, other)
    if not sd_m > 0.0 or math.isinf(middle):
        return 0.0
    return 0.5 * math.erfc(middle / sd_m / math.sqrt(2.0))
