"""Cards that are handed over: signed, kept as they were, compared with what holds by now; photos by their sums."""

from __future__ import annotations

from datetime import datetime

from cross_staff.core.prove.handover import CardContent, HandoverCard, check_handover
from cross_staff.storage import handover_cards, rigs, witness_marks
from cross_staff.storage.database import Database
from cross_staff.storage.witness_marks import Photo


def sign(database: Database, rig_id: int, content: CardContent, by: str, note: str, now: datetime) -> int:
    """Keep a card; returns its number. The same content signed twice in a row by the same person is kept once.

    Raises: NotFound; InvalidValue: nobody signed.
    """
    with database.writing() as connection:
        revision = rigs.latest(connection, rig_id).number
        before = handover_cards.of_rig(connection, rig_id)
        last = before[-1] if before else None
        if last is not None and (last.content, last.signed_by, last.note) == (content, by.strip(), note):
            return last.number
        card = HandoverCard(len(before) + 1, revision, now, by.strip(), content, note)
        check_handover(card)
        handover_cards.add(connection, rig_id, card)
        return card.number


def sums(database: Database, rig_id: int) -> dict[int, str]:
    """The SHA-256 of every photo of a rig that is here, by its number."""
    with database.reading() as connection:
        return witness_marks.photo_sums(connection, rig_id)


def pictures(database: Database, rig_id: int, wanted: tuple[tuple[str, str], ...]) -> list[tuple[str, Photo]]:
    """Photos that a card names, as (joint, photo); one that is not here is passed over."""
    with database.reading() as connection:
        numbers = {total: number for number, total in witness_marks.photo_sums(connection, rig_id).items()}
        kept = [(joint, numbers[total]) for joint, total in wanted if total in numbers]
        return [(joint, witness_marks.photo(connection, rig_id, number)) for joint, number in kept]
