"""The smallest re-proof: the fewest arrows that show whether what was set aside still holds."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

from cross_staff.core.errors import InvalidValue
from cross_staff.core.rig.card import USUAL_SPREAD_MRAD, RigCard
from cross_staff.core.rig.scatter import DAY_PART, usual_scatter
from cross_staff.core.tape.fit import Fit
from cross_staff.core.tape.rows import ARROWS_ASSUMED, TapeMark, observation

FEWEST, MOST = 3, 12  # arrows
HARMED, UNHARMED = 1.645, 1.282  # 1 in 20 of what is off by all that is allowed passes; 4 in 5 of what is not do
SAME_DISTANCE_PART = 0.03


@dataclass(frozen=True)
class ProofEnd:
    """An end that is asked for: at which distance [m as ranged], how many arrows, and how far from where the old
    results have them the mean may come in [m], up or down (and left or right, where windage is asked too); the pin,
    and where the old results have its mark on the sight's scale [mm]."""

    ranged_m: float
    arrows: int
    band_m: float
    pin: int = 0
    mark_mm: float | None = None


@dataclass(frozen=True)
class ProofSeen:
    """What came in at one of them since: arrows, and the mean above [m] (and right of) where the old results have
    it; right_m is None where it was not noted; sideways, whether that is asked too."""

    end: ProofEnd
    arrows: int
    up_m: float
    right_m: float | None = None
    sideways: bool = False

    @property
    def enough(self) -> bool:
        """Whether all arrows that are asked for were shot, and what is asked of them was noted."""
        return self.arrows >= self.end.arrows and not (self.sideways and self.right_m is None)

    @property
    def passes(self) -> bool:
        """Whether the mean lies within the band."""
        return abs(self.up_m) <= self.end.band_m and abs(self.right_m or 0.0) <= self.end.band_m


@dataclass(frozen=True)
class Reproof:
    """The ends that prove the old results again, one beside home only where more than the zero can have moved; what
    came in since; whether windage is asked too. No ends: so few arrows cannot tell."""

    ends: tuple[ProofEnd, ...]
    seen: tuple[ProofSeen, ...] = ()
    sideways: bool = False

    @property
    def next_end(self) -> ProofEnd | None:
        """The first end that was not shot in full."""
        shot = {each.end for each in self.seen if each.enough}
        return next((end for end in self.ends if end not in shot), None)

    @property
    def passed(self) -> bool:
        """Whether every end came in within its band: everything holds again."""
        return bool(self.ends) and self.next_end is None and not self.failed

    @property
    def sideways_seen(self) -> bool:
        """Whether it was noted of every end how far left or right it came in."""
        return bool(self.seen) and all(each.right_m is not None for each in self.seen)

    @property
    def failed(self) -> tuple[ProofSeen, ...]:
        """Ends that were shot in full and came in outside."""
        return tuple(each for each in self.seen if each.enough and not each.passes)


def arrows_and_band(card: RigCard, ranged_m: float, predicted_sd_m: float) -> tuple[int, float] | None:
    """The fewest arrows at a distance that tell a sight that is off by all that is allowed from one that is not.

    What is allowed is half the target at the farthest distance, as an angle. With se = sqrt(spread^2/n + day^2) d
    and the prediction's own sd, the band is b = allowed - 1.645 se: a sight that is off by all of it passes once in
    twenty; and b must be at least 1.282 sqrt(se^2 + sd^2), so that an unharmed one passes four times in five.

    Args:
        card: the rig's card, with goals.
        ranged_m: [m as ranged].
        predicted_sd_m: how sure the old results are of the impact there, one sd [m].

    Returns:
        arrows, and the half width of the band [m]; None where twelve arrows do not tell, or the goals lack.

    Source:
        derived in docs/method.md, section 16.
    """
    farthest, target = card.goals.farthest_m, card.goals.target_size_m
    if farthest is None or target is None:
        return None
    distance = card.distance_from_sight(ranged_m)
    allowed = 0.5 * target * distance / card.distance_from_sight(farthest)
    spread = 1e-3 * (card.goals.spread_mrad or USUAL_SPREAD_MRAD) * distance
    for arrows in range(FEWEST, MOST + 1):
        error = spread * math.sqrt(1.0 / arrows + DAY_PART**2)
        band = allowed - HARMED * error
        if band >= UNHARMED * math.hypot(error, predicted_sd_m):
            return arrows, band
    return None


def plan(card: RigCard, then: Fit, distances_m: Sequence[float], only_home: bool, pin: int = 0) -> tuple[ProofEnd, ...]:
    """Where to shoot, and how many: once, wherever the fewest arrows do, the nearest of such; where more than the
    zero can have moved, home and the farthest of the distances.

    Args:
        card: the rig's card.
        then: the fit before it happened.
        distances_m: where the old results were shot [m as ranged], shape (n,).
        only_home: whether only the zero can have moved.
        pin: which pin, 0 the top one.

    Returns:
        the ends; none where so few arrows cannot tell.

    Source:
        derived in docs/method.md, section 16.
    """
    wanted = sorted({d for d in distances_m if card.distance_from_sight(d) > 0.0})
    if not wanted or not then.on_scale:  # nobody knows where the sight stood for them
        return ()
    candidates = [end for d in wanted for end in (_end(card, then, d, pin),) if end is not None]
    if only_home:
        return tuple(sorted(candidates, key=lambda end: (end.arrows, end.ranged_m))[:1])
    both = [end for end in candidates if end.ranged_m in (wanted[0], wanted[-1])]
    return tuple(both) if len(both) == len({wanted[0], wanted[-1]}) else ()


def _end(card: RigCard, then: Fit, ranged_m: float, pin: int) -> ProofEnd | None:
    row = then.tape([card.distance_from_sight(ranged_m)], pin)[0]
    if row.sd_on_target_m is None or row.mark_mm is None:
        return None
    told = arrows_and_band(card, ranged_m, row.sd_on_target_m)
    mark = card.tape.direction * row.mark_mm if then.on_scale else None
    return None if told is None else ProofEnd(ranged_m, *told, pin, mark)


def against(card: RigCard, then: Fit, entry: TapeMark) -> float | None:
    """How high an entry came in above where the old results have it [m]; None where it is out of their reach, or where
    it is a length between two lines, which says nothing of where the sight stands.

    Args:
        card: the rig's card.
        then: the fit before it happened.
        entry: a mark or a group shot since.

    Returns:
        [m] on the target, up.

    Raises:
        InvalidValue: for a pin that the old results know nothing of.

    Source:
        docs/method.md, section 5.
    """
    if entry.ruler or not then.on_scale:
        return None
    seen = observation(card, entry, usual_scatter(card))
    if seen.pin not in then.zeros and seen.pin >= len(then.pins_at_m):
        raise InvalidValue("pin", "the old results know nothing of this pin")
    mark, _ = then.sensitivities([seen.distance_m], seen.pin, seen.up_m)
    if not math.isfinite(mark[0]):
        return None
    # a mark that is larger than foretold for what was seen: the sight had to go lower, the arrow came in low
    return -float((seen.mark_mm - mark[0]) * then.target_m_per_tape_mm(seen.distance_m))


def judged(
    card: RigCard,
    then: Fit,
    ends: Sequence[ProofEnd],
    since: Sequence[TapeMark],
    rights_m: Sequence[tuple[float, int, float]] = (),
    sideways: bool = False,
) -> Reproof:
    """The re-proof with what came in since.

    Args:
        card: the rig's card.
        then: the fit before it happened.
        ends: the ends that are asked for.
        since: marks and groups since it happened.
        rights_m: of ends since, distance [m as ranged], arrows, how far right they came in [m].
        sideways: whether windage is asked too.

    Returns:
        the ends, and of each what came in.

    Source:
        means weighted by arrows.
    """
    seen = []
    for end in ends:
        rows = [(e.arrows or ARROWS_ASSUMED, up) for e in since if _at(end, e.ranged_m) for up in _known(card, then, e)]
        if rows:
            count = sum(n for n, _ in rows)
            across = [(n, right) for at, n, right in rights_m if _at(end, at)] if sideways else []
            right = sum(n * r for n, r in across) / sum(n for n, _ in across) if across else None
            seen.append(ProofSeen(end, count, sum(n * up for n, up in rows) / count, right, sideways))
    return Reproof(tuple(ends), tuple(seen), sideways)


def _at(end: ProofEnd, ranged_m: float) -> bool:
    return abs(ranged_m - end.ranged_m) <= SAME_DISTANCE_PART * end.ranged_m


def _known(card: RigCard, then: Fit, entry: TapeMark) -> list[float]:
    try:
        up = against(card, then, entry)
    except InvalidValue:
        return []
    return [] if up is None else [up]
