"""The booklet of strips that came with a sight: measured here, matched to the rig, and which one was cut."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from datetime import datetime

from cross_staff.core.ballistics.flight import RigFigures
from cross_staff.core.errors import InvalidValue, OutOfReach, StaleRevision
from cross_staff.core.rig.booklet import Booklet, Strip
from cross_staff.core.rig.card import RigCard
from cross_staff.core.tape import booklet
from cross_staff.core.tape.booklet import Match, StripChoice
from cross_staff.core.tape.station import ratio_known
from cross_staff.services.rig import Rig
from cross_staff.storage import rigs
from cross_staff.storage.database import Database


def keep(database: Database, rig_id: int, measured: Booklet, now: datetime, based_on: int | None = None) -> None:
    """Write the booklet onto the rig's sight, as a revision of the card; the same again writes nothing.

    Args: based_on, the revision whose booklet the writer changed; None for whichever holds.
    Raises: NotFound; InvalidValue where strips contradict each other; StaleRevision.
    """
    _check(measured)
    with database.writing() as connection:
        current = rigs.latest(connection, rig_id)
        if current.card.sight.booklet == measured:
            return
        if based_on is not None and based_on != current.number:
            raise StaleRevision(based_on, current.number)
        card = replace(current.card, sight=replace(current.card.sight, booklet=measured))
        used = measured.used != current.card.sight.booklet.used
        why = f"strip {measured.used} was cut" if used and measured.used else "strips of the booklet measured"
        rigs.add_revision(connection, rig_id, current.number, card, now, why)


def _check(measured: Booklet) -> None:
    if measured.from_m is not None and measured.to_m is not None and measured.to_m <= measured.from_m:
        raise InvalidValue("to", "must be farther than the first distance")
    for side in measured.sides:
        strips = [strip for strip in measured.strips if strip.side == side]
        if len(strips) > 1:
            booklet.checked(strips)


RATIO_UNKNOWN = "the tape's travel per housing travel is not known: a second mark, farther out, tells it"


@dataclass(frozen=True)
class Matched:
    """The rig against its booklet: a match for each side, the best choices of all sides, and, for every other
    place of the extension, the strip that would then fit best."""

    sides: tuple[Match, ...]
    choices: tuple[StripChoice, ...]
    detents: tuple[tuple[int, StripChoice], ...]

    @property
    def best(self) -> StripChoice | None:
        """The strip that errs least at the farthest distance."""
        return _least(self.choices)


def matched(rig: Rig) -> Matched | None:
    """The rig's match; None while fewer than two strips of a side, or no tape, are known.

    Raises: InvalidValue, OutOfReach as `core.booklet.match`.
    """
    card, figures, kept = rig.card, rig.figures, rig.card.sight.booklet
    sides = [[s for s in kept.strips if s.side == side] for side in kept.sides]
    sides = [strips for strips in sides if len(strips) > 1]
    if figures is None or not sides or kept.from_m is None or kept.to_m is None or card.goals.farthest_m is None:
        return None
    ratio = ratio_known(card, rig.evaluation)
    if ratio is None:
        raise InvalidValue("tape_ratio", RATIO_UNKNOWN)
    matches = tuple(_match(card, figures, strips, ratio) for strips in sides)
    choices = sorted((c for m in matches for c in m.choices if c.up_m is not None), key=lambda c: abs(c.up_m or 0.0))
    return Matched(matches, tuple(choices), tuple(_detents(card, figures, sides, ratio)))


def laid_on(rig: Rig, choice: StripChoice) -> Callable[[Sequence[float]], list[float | None]]:
    """Where a strip has distances [m as ranged], from its home line [mm on the tape]."""
    card, figures, kept = rig.card, rig.figures, rig.card.sight.booklet
    assert figures is not None and kept.from_m is not None and kept.to_m is not None
    ratio = _ratio(rig)
    near, far, home = (card.distance_from_sight(d) for d in (kept.from_m, kept.to_m, _begins_m(rig)))

    def positions(ranged_m: Sequence[float]) -> list[float | None]:
        at = [card.distance_from_sight(d) for d in ranged_m]
        places = booklet.strip_marks(figures, near, far, choice.span_mm / ratio, home, at)
        return [None if place is None else ratio * place for place in places]

    return positions


def _begins_m(rig: Rig) -> float:
    """Where the dialled pin's tape begins [m as ranged]."""
    return rig.evaluation.tape_home_m or rig.card.goals.home_m or rig.card.sight.booklet.from_m or 0.0


def _ratio(rig: Rig) -> float:
    return rig.evaluation.fit.tape_ratio if rig.evaluation.fit else rig.card.tape.ratio or 1.0


def _match(card: RigCard, figures: RigFigures, strips: Sequence[Strip], ratio: float) -> Match:
    kept, farthest = card.sight.booklet, card.goals.farthest_m
    assert kept.from_m is not None and kept.to_m is not None and farthest is not None
    near, far, end = (card.distance_from_sight(d) for d in (kept.from_m, kept.to_m, farthest))
    return booklet.match(figures, near, far, strips, end, ratio)


def _detents(
    card: RigCard, figures: RigFigures, sides: Sequence[Sequence[Strip]], ratio: float
) -> list[tuple[int, StripChoice]]:
    """For every other place of the extension the strip that fits best there."""
    places, now = card.sight.extension_mm, card.detent
    if now is None or len(places) < 2:
        return []
    detents = []
    for detent, place in enumerate(places):
        if detent == now:
            continue
        lever = figures.eye_to_sight_m + (place - places[now]) / 1000.0
        try:
            moved = [_match(card, replace(figures, eye_to_sight_m=lever), strips, ratio) for strips in sides]
        except OutOfReach:
            continue
        best = _least([choice for match in moved for choice in match.choices])
        if best is not None:
            detents.append((detent, best))
    return detents


def _least(choices: Sequence[StripChoice]) -> StripChoice | None:
    known = [choice for choice in choices if choice.up_m is not None]
    return min(known, key=lambda choice: abs(choice.up_m or 0.0), default=None)
