"""What saving a card would make stale, said before it is saved."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from cross_staff.core.rig.card import RigCard
from cross_staff.core.rig.staleness import causes, made_stale
from cross_staff.web.card import words as card_words


def stale_ahead(kept: RigCard, card: RigCard, happened: Sequence[str] = ()) -> dict[str, Any]:
    """For the fragment of that name: the rows of the table called up, and the results they touch."""
    ahead = causes(kept, card, tuple(happened))
    return {"stale_causes": [cause.words for cause in ahead], "stale_results": card_words.results(made_stale(ahead))}
