"""What an event makes old, and why, in words."""

from __future__ import annotations

from collections.abc import Iterable

from cross_staff.core.rig.events import Cause
from cross_staff.web.card.words import RESULTS


def reasons(causes: Iterable[Cause]) -> list[tuple[str, str]]:
    """What causes make old, each result once with its first reason, in the order of the stations."""
    said: dict[str, str] = {}
    for cause in causes:
        for result in cause.makes_stale:
            said.setdefault(result, cause.reasons[result])
    return [(RESULTS[result], said[result]) for result in RESULTS if result in said]
