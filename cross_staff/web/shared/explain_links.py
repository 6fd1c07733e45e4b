"""Which explanations a station's page leads to."""

from __future__ import annotations

from cross_staff.core.explain.explainers import EXPLAINERS

FOR = {
    "level": ("bubbles", "slope", "cant"),
    "card": ("peep",),
    "mount": ("extension", "peep"),
    "sight_in": ("chased", "cant"),
    "tape": ("days", "cosine"),
    "prove": ("days", "slope"),
}


def links(here: str) -> list[tuple[str, str]]:
    """The explanations of a page: key and name."""
    return [(key, EXPLAINERS[key].name) for key in FOR.get(here, ())]
