"""Kinds of sight, as data: what moves, and how each is sighted in."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True)
class SightKind:
    """What a kind of sight is called, what moves on it, how it is sighted in; how many pins it may
    have, and whether its housing is dialled along a tape or a scale."""

    key: str
    name: str
    moves: str
    sighted_in: str
    most_pins: int
    dialled: bool


KINDS = {
    kind.key: kind
    for kind in (
        SightKind(
            "fixed_pins",
            "fixed pins",
            "each pin; the whole housing up and down, left and right",
            "top pin with the whole housing, every other pin by itself",
            7,
            False,
        ),
        SightKind(
            "single_pin_slider",
            "single-pin slider",
            "the housing on an elevation rail, by wheel or knob",
            "home mark, then two or more dialled marks, then a tape",
            1,
            True,
        ),
        SightKind(
            "multi_pin_slider",
            "multi-pin slider",
            "the pins one by one, then the whole housing on the rail",
            "fixed pins at the home position first, then one pin becomes the dialled pin",
            7,
            True,
        ),
        SightKind(
            "vertical_pin_slider",
            "vertical two- or three-pin slider",
            "pins on one post, one indicator for each pin",
            "one pin finds the tape, the other pins are placed, each indicator is set to its pin",
            3,
            True,
        ),
        SightKind(
            "geared_stack",
            "geared pin stack",
            "one control spreads all pins in proportion",
            "two distances fix all pins; the unchecked one with the widest band is shot",
            7,
            False,
        ),
        SightKind(
            "target_scope",
            "target sight with scope",
            "a block on a threaded bar, with scale and click drum",
            "indicator and drum zeroed together, marks read to a fraction of a division",
            1,
            True,
        ),
        SightKind(
            "pin_display",
            "electronic pin display",
            "aiming dots computed from speed and body measurements, or entered pin by pin",
            "reference distance first, display squared to the eye, then far groups with their offset",
            20,
            False,
        ),
    )
}
