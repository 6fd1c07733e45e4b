"""The pins of a rig as they are meant: what each is for, which one goes with the wheel, which pointer is whose."""

from __future__ import annotations

from dataclasses import dataclass

from cross_staff.core.rig.sight import SightModel
from cross_staff.core.rig.sight_kinds import kind_of


@dataclass(frozen=True)
class Pins:
    """What each pin is set for, the top one first [m as ranged]; which of them goes with the wheel, for which the
    tape is laid on; and which pin each pointer belongs to, by its place from the top."""

    at_m: tuple[float, ...] = ()
    dialled: int = 0
    pointers: tuple[int, ...] = ()

    @property
    def pointed(self) -> tuple[int, ...]:
        """The pins that have a pointer; a single one is the dialled pin's."""
        return self.pointers or (self.dialled,)


def pointed_pins(sight: SightModel, count: int, dialled: int) -> tuple[int, ...]:
    """Which pin each pointer of a sight belongs to.

    Several pointers belong to the pins that the sight's description names, or, where it names none and the kind has
    one for each pin, to all; a single pointer goes with the wheel's pin, whichever that is.

    Args:
        sight: as it is described.
        count: how many pins are in use [-].
        dialled: which of them goes with the wheel [-].

    Returns:
        places of pins, the top one 0 [-]; none on a sight that is not dialled.

    Source:
        the sight model.
    """
    kind = kind_of(sight)
    if not kind.dialled:
        return ()
    named = tuple(pin for pin in sorted(sight.pointers) if pin < count)
    if not named and not sight.pointers and kind.has_indicators:
        named = tuple(range(count))
    return named if len(named) > 1 else (dialled,)


def may_be_dialled(sight: SightModel, count: int) -> tuple[int, ...]:
    """The pins that the tape can be laid on for: of several pointers one of their pins, of a single one any.

    Args:
        sight: as it is described.
        count: how many pins are in use [-].

    Returns:
        places of pins, the top one 0 [-].

    Source:
        the sight model.
    """
    several = pointed_pins(sight, count, 0)
    return several if len(several) > 1 else tuple(range(max(count, 1)))
