"""Figures off a photo that a page brings into its fields, by the key of what was measured."""

from __future__ import annotations

from collections.abc import Mapping

from cross_staff.core.photos.log import STATION, reading_of
from cross_staff.core.photos.plane import Figure
from cross_staff.core.rig.log import newest
from cross_staff.services.rig import Rig


def figures_of(rig: Rig, key: str, use: str) -> Mapping[str, Figure]:
    """The newest figures of a photo that was measured for a use, by its key; nothing for another key."""
    entry = newest(rig.log_of(STATION)).get(key) if key.startswith(f"{use}:") else None
    return {} if entry is None else reading_of(entry).figures()
