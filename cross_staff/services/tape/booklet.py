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
from cross_staff.core.tape.booklet_choice import Cut, Leaves, cut
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
    booklet.sequences(measured)


MOST_WEIGHED, LOOKED_AT = 40, 8  # strips, and distances on the way
RATIO_UNKNOWN = "the tape's travel per housing travel is not known: a second mark, farther out, tells it"


@dataclass(frozen=True)
class Matched:
    """The rig against its booklet: a match for each row of strips, the choices of all of them, for every other place
    of the extension the strip that would then fit best, what to cut, and the strip that is on the sight, None where
    none is, or its label is none of these."""

    sides: tuple[Match, ...]
    choices: tuple[StripChoice, ...]
    detents: tuple[tuple[int, StripChoice], ...]
    cut: Cut | None = None
    used: Leaves | None = None

    @property
    def best(self) -> StripChoice | None:
        """The strip that leaves least on the target."""
        return None if self.cut is None else self.cut.best.choice


def matched(rig: Rig) -> Matched | None:
    """The rig's match; None while fewer than two strips of a side, or no tape, are known.

    Raises: InvalidValue, OutOfReach as `core.booklet.match`.
    """
    card, figures, kept = rig.card, rig.figures, rig.card.sight.booklet
    rows = booklet.sequences(kept) if len(kept.strips) > 1 else ()
    if figures is None or not rows or kept.from_m is None or kept.to_m is None or card.goals.farthest_m is None:
        return None
    ratio = ratio_known(card, rig.evaluation)
    if ratio is None:
        raise InvalidValue("tape_ratio", RATIO_UNKNOWN)
    home = _begins_m(rig)
    matches = tuple(_match(card, figures, strips, ratio, home) for strips in rows)
    choices = sorted((c for m in matches for c in m.choices if c.up_m is not None), key=lambda c: abs(c.up_m or 0.0))
    left = _left(rig, figures, choices, ratio)
    sd = _sd_at_farthest(rig)
    chosen = None if sd is None else cut(left[:MOST_WEIGHED], sd, card.goals.target_size_m, rig.evaluation.next_shot)
    on_sight = next((each for each in left if kept.used and each.choice.label == kept.used), None)
    return Matched(matches, tuple(choices), tuple(_detents(card, figures, rows, ratio, home)), chosen, on_sight)


def _left(rig: Rig, figures: RigFigures, choices: Sequence[StripChoice], ratio: float) -> list[Leaves]:
    """What each strip leaves from home to the farthest distance, its home line on the home mark."""
    card, kept, home = rig.card, rig.card.sight.booklet, _begins_m(rig)
    farthest = card.goals.farthest_m or 0.0
    near, far, start = (card.distance_from_sight(d) for d in (kept.from_m or 0.0, kept.to_m or 0.0, home))
    steps = [home + (farthest - home) * part / LOOKED_AT for part in range(1, LOOKED_AT + 1)]
    spans = [choice.span_mm / ratio for choice in choices]
    columns = [
        booklet.strip_errors(figures, near, far, spans, card.distance_from_sight(d), start) for d in steps if d > home
    ]
    left = []
    for place, choice in enumerate(choices):
        ups = [up for column in columns if (up := column[place]) is not None]
        if ups and choice.up_m is not None:
            left.append(Leaves(choice, max(ups, key=abs), choice.up_m))
    return left


def _sd_at_farthest(rig: Rig) -> float | None:
    """How surely the tape is known at the farthest distance [m on the target]."""
    fit, farthest = rig.evaluation.fit, rig.card.goals.farthest_m
    if fit is None or farthest is None:
        return None
    return fit.tape([rig.card.distance_from_sight(farthest)], rig.evaluation.pins.dialled)[0].sd_on_target_m


@dataclass(frozen=True)
class WasCut:
    """A strip that was cut: its label, when, at which revision, and for which build of arrow."""

    label: str
    when: datetime
    revision: int
    build: str


def cut_before(rig: Rig) -> tuple[WasCut, ...]:
    """Every strip that was ever cut, oldest first, whatever was written over it since."""
    told, last = [], ""
    for revision in rig.history:
        label = revision.card.sight.booklet.used
        if label and label != last:
            told.append(WasCut(label, revision.saved, revision.number, revision.card.build.name))
        last = label
    return tuple(told)


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


def _match(card: RigCard, figures: RigFigures, strips: Sequence[Strip], ratio: float, home_m: float) -> Match:
    """The match of one row, the strips by their names; home_m, where the dialled pin's tape begins [m as ranged]."""
    kept, farthest = card.sight.booklet, card.goals.farthest_m
    assert kept.from_m is not None and kept.to_m is not None and farthest is not None
    near, far, end, home = (card.distance_from_sight(d) for d in (kept.from_m, kept.to_m, farthest, home_m))
    made = booklet.match(figures, near, far, strips, end, ratio, home)
    row = replace(kept, strips=tuple(strips))
    edges = {strip.order: strip.side for strip in strips} if len(kept.sides) > 1 else {}  # else it goes without saying
    one_edge = strips[0].side if len(set(edges.values())) == 1 else ""
    named = tuple(
        replace(c, label=row.label_at(c.order), side=edges.get(c.order, one_edge))
        for c in made.choices
        if not kept.labels or 1 <= c.order <= len(kept.labels)
    )
    return replace(made, choices=named)


def _detents(
    card: RigCard, figures: RigFigures, rows: Sequence[Sequence[Strip]], ratio: float, home_m: float
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
            moved = [_match(card, replace(figures, eye_to_sight_m=lever), strips, ratio, home_m) for strips in rows]
        except OutOfReach:
            continue
        best = _least([choice for match in moved for choice in match.choices])
        if best is not None:
            detents.append((detent, best))
    return detents


def _least(choices: Sequence[StripChoice]) -> StripChoice | None:
    known = [choice for choice in choices if choice.up_m is not None]
    return min(known, key=lambda choice: abs(choice.up_m or 0.0), default=None)
