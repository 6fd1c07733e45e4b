"""Kinds of sight, as data: what moves, and how each is sighted in."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True)
class SightKind:
    """What a kind of sight is called, what moves on it, and how it is sighted in."""

    key: str
    name: str
    moves: str
    sighted_in: str


KINDS = {
    kind.key: kind
    for kind in (
        SightKind(
            "single_pin_slider",
            "single-pin slider",
            "the housing on an elevation rail, by wheel or knob",
            "home mark, then two or more dialled marks, then a tape",
        ),
        SightKind(
            "multi_pin_slider",
            "multi-pin slider",
            "the pins one by one, then the whole housing on the rail",
            "fixed pins at the home position first, then one pin becomes the dialled pin",
        ),
    )
}
