"""The strips that came with a sight, as they were measured."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True)
class Strip:
    """A measured strip: its label as printed, its place in the booklet, its length between the two
    distances [mm], and the side of a two-sided gauge it is on (empty for one row)."""

    label: str
    order: float
    span_mm: float
    side: str = ""


@dataclass(frozen=True)
class Booklet:
    """The strips that came with a sight, as measured here: between which distances [m as ranged]; what a
    calibration strip showed at the farther one; and the strip that was cut and laid on."""

    from_m: float | None = None
    to_m: float | None = None
    strips: tuple[Strip, ...] = ()
    read_label: str = ""
    used: str = ""

    @property
    def sides(self) -> tuple[str, ...]:
        """The sides or rows, in the order they were measured."""
        return tuple(dict.fromkeys(strip.side for strip in self.strips))
