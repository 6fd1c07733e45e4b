"""The card: save the next revision of it, look over the earlier ones."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import datetime

from cross_staff.core.card.faults import check_card
from cross_staff.core.errors import Unanswered
from cross_staff.core.rig.arrow_build import recorded
from cross_staff.core.rig.card import RigCard
from cross_staff.core.rig.chronographed import mended
from cross_staff.core.rig.correction import Change, changes
from cross_staff.core.rig.staleness import Said, causes, made_stale
from cross_staff.services.measured import measured, questions
from cross_staff.storage import rigs
from cross_staff.storage.database import Database
from cross_staff.storage.rigs import Revision


@dataclass(frozen=True)
class Saved:
    """What saving did: the revision that now holds, what changed, which results became stale."""

    number: int
    changed: tuple[Change, ...]
    stale: tuple[str, ...]


def save(
    database: Database,
    rig_id: int,
    based_on: int,
    card: RigCard,
    units: dict[str, str],
    now: datetime,
    why: str = "",
    said: Said = Said(),
    ask: bool = False,
) -> Saved:
    """Save the card as the next revision; a card on which nothing changed, and with which nothing was said, makes
    none.

    Args: said, what happened to the bow, and what a change that the card shows means; ask, whether one that makes
        measured results old is to be asked about where `said` has no answer (else it is a change of the bow).
    Raises: NotFound; InvalidValue for what cannot be; StaleRevision when a newer revision than `based_on` is kept;
        Unanswered.
    """
    with database.writing() as connection:
        current = rigs.latest(connection, rig_id)
        card = _in_its_place(_stamped(card, current.card), current.card)
        check_card(card, current.card)
        mends = mended(current.card, card, said)
        changed = changes(current.card, mends)
        if ask and based_on == current.number:
            asked = questions(measured(connection, rig_id), current.card, card, said)
            if asked:
                raise Unanswered(rig_id, asked, current.card, card)
        rigs.set_units(connection, rig_id, units)
        if not changed and not said:
            return Saved(current.number, (), ())
        number = rigs.add_revision(connection, rig_id, based_on, mends, now, why, said)
        return Saved(number, changed, made_stale(causes(current.card, mends, said)))


def _in_its_place(card: RigCard, before: RigCard) -> RigCard:
    """The card with hole and extension as they were, where places of the sight were added or taken out before
    them: what is on record is a number in a list."""
    mount = card.mount
    if card.sight.holes_mm != before.sight.holes_mm and mount.hole == before.mount.hole:
        mount = replace(mount, hole=_moved(before.sight.holes_mm, card.sight.holes_mm, mount.hole))
    if card.sight.extension_mm != before.sight.extension_mm and mount.detent == before.mount.detent:
        mount = replace(mount, detent=_moved(before.sight.extension_mm, card.sight.extension_mm, mount.detent))
    return replace(card, mount=mount)


def _moved(before: tuple[float, ...], now: tuple[float, ...], index: int | None) -> int | None:
    """Where a place stands in the list by now; as it was, where it is not in it, or a place was measured again."""
    if index is None or not 0 <= index < len(before) or len(before) == len(now) or before[index] not in now:
        return index
    return now.index(before[index])


def _stamped(card: RigCard, before: RigCard) -> RigCard:
    """The card with what belongs to its measurements written beside them."""
    old = dict(enumerate(before.builds))
    builds = tuple(recorded(b, old.get(i), card.bow.draw_weight_n) for i, b in enumerate(card.builds))
    return replace(card, builds=builds)


def revision(history: Sequence[Revision], number: int) -> Revision | None:
    """One of a rig's revisions by its number; None where there is none."""
    return next((each for each in history if each.number == number), None)
