"""Search over rigs, archers, sights and notes."""

from __future__ import annotations

from dataclasses import dataclass

from cross_staff.storage import search, sight_models
from cross_staff.storage.database import Database
from cross_staff.storage.search import Found

MOST_FOUND, MOST_WORDS = 50, 6


@dataclass(frozen=True)
class Answer:
    """What was found on rigs, and among the shop's own sight models: each by its number and name."""

    found: tuple[Found, ...]
    sights: tuple[tuple[int, str], ...]

    def __bool__(self) -> bool:
        return bool(self.found or self.sights)


def find(database: Database, asked: str) -> Answer:
    """Where all words that were asked for stand in one text; nothing for no words."""
    words = asked.split()[:MOST_WORDS]
    if not words:
        return Answer((), ())
    with database.reading() as connection:
        models = sight_models.all_models(connection)
        named = ((kept.model, kept.sight.name) for kept in models if not kept.removed)
        sights = tuple(each for each in named if all(word.lower() in each[1].lower() for word in words))
        return Answer(tuple(search.find(connection, words, MOST_FOUND)), sights[:MOST_FOUND])
