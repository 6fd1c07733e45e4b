"""What saving a card would make stale, said before it is saved."""

from __future__ import annotations

from typing import Any

from cross_staff.core.rig.card import RigCard
from cross_staff.services.card.page import ahead
from cross_staff.web.card import words as card_words


def stale_ahead(kept: RigCard, card: RigCard) -> dict[str, Any]:
    """For the fragment of that name: the rows of the table called up, and the results they touch."""
    called_up = ahead(kept, card)
    return {
        "stale_causes": [cause.words for cause in called_up.causes],
        "stale_results": card_words.results(called_up.stale),
    }
