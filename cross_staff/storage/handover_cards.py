"""Cards that were handed over; only ever added."""

from __future__ import annotations

from datetime import UTC

from pydantic import TypeAdapter
from sqlalchemy import Connection, insert, select

from cross_staff.core.prove.handover import CardContent, HandoverCard
from cross_staff.storage.tables import handover_cards

_CONTENT = TypeAdapter(CardContent)


def add(connection: Connection, rig_id: int, card: HandoverCard) -> None:
    """Keep a card."""
    connection.execute(
        insert(handover_cards).values(
            rig_id=rig_id,
            number=card.number,
            revision=card.revision,
            entered_utc=card.entered.astimezone(UTC).replace(tzinfo=None),
            signed_by=card.signed_by,
            note=card.note,
            content=_CONTENT.dump_python(card.content, mode="json"),
        )
    )


def of_rig(connection: Connection, rig_id: int) -> list[HandoverCard]:
    """Every card of a rig, oldest first."""
    query = select(handover_cards).where(handover_cards.c.rig_id == rig_id).order_by(handover_cards.c.number)
    return [
        HandoverCard(
            row.number,
            row.revision,
            row.entered_utc.replace(tzinfo=UTC),
            row.signed_by,
            _CONTENT.validate_python(row.content),
            row.note,
        )
        for row in connection.execute(query)
    ]
