"""The strips that came with a sight, as they were measured."""

from __future__ import annotations

import re
from dataclasses import dataclass

_HERE = "\0"  # where the number stands in a label


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
    calibration strip showed at the farther one; the strip that was cut and laid on; and every label in the order of
    the booklet, where they are no plain numbers or letters."""

    from_m: float | None = None
    to_m: float | None = None
    strips: tuple[Strip, ...] = ()
    read_label: str = ""
    used: str = ""
    labels: tuple[str, ...] = ()

    @property
    def sides(self) -> tuple[str, ...]:
        """The sides or rows, in the order they were measured."""
        return tuple(dict.fromkeys(strip.side for strip in self.strips))

    def order_of(self, label: str) -> float | None:
        """The place of a label: as measured, in the list of labels, else what a number or a letter says by itself.

        Args:
            label: as printed.

        Returns:
            the place, counted from 1; None where nobody said it.

        Source:
            a rule of the craft.
        """
        if self.labels:
            return self.labels.index(label) + 1.0 if label in self.labels else None
        measured = next((strip.order for strip in self.strips if strip.label == label), None)
        if measured is not None:
            return measured
        own = _number(label)
        if own is None:
            return None
        known = [(strip.order, *each) for strip in self.strips if (each := _number(strip.label)) is not None]
        if not known:
            return own[1] if own[0] in ("", "letter") else None
        way = _way(known)
        if way is not None and known[0][1] == own[0]:
            return known[0][0] + way * (own[1] - known[0][2])
        return own[1] if own[0] == "" else None

    def label_at(self, order: float) -> str:
        """What the strip at a place is called: measured, listed, or counted on from those that were measured.

        Args:
            order: the place, counted from 1.

        Returns:
            its label; its place in words, where the labels do not count.

        Source:
            a rule of the craft.
        """
        measured = next((strip.label for strip in self.strips if strip.order == order), None)
        if measured is not None:
            return measured
        if self.labels:
            listed = order == int(order) and 1 <= order <= len(self.labels)
            return self.labels[int(order) - 1] if listed else f"place {order:g}"
        known = [(strip.order, *each) for strip in self.strips if (each := _number(strip.label)) is not None]
        way = _way(known) if len(known) == len(self.strips) else None
        number = None if way is None else known[0][2] + way * (order - known[0][0])
        called = "" if number is None else _called(known[0][1], number, self.strips[0].label)
        return called or f"place {order:g}"


def _number(label: str) -> tuple[str, float] | None:
    """A label that counts: what stands around its number, “letter” for a single letter, and the number."""
    if re.fullmatch("[A-Za-z]", label):
        return "letter", float(ord(label.upper()) - ord("A") + 1)
    match = re.fullmatch(r"([^0-9]{0,8})([0-9]{1,4}(?:[.,][0-9])?)([^0-9]{0,8})", label)
    if match is None:
        return None
    around = f"{match[1]}{_HERE}{match[3]}" if match[1] + match[3] else ""
    return around, float(match[2].replace(",", "."))


def _way(known: list[tuple[float, str, float]]) -> float | None:
    """Whether labels of one kind go one up (+1), or one down (-1), from place to place; None where they do neither."""
    for way in (1.0, -1.0):
        if known and len({(kind, number - way * place) for place, kind, number in known}) == 1:
            return way
    return None


def _called(kind: str, number: float, like: str) -> str:
    """The label of a number of a kind; nothing where there is none such."""
    if kind != "letter":
        return "" if number < 0.0 else (kind.replace(_HERE, f"{number:g}") or f"{number:g}")
    if number != int(number) or not 1 <= number <= 26:
        return ""
    letter = chr(ord("A") + int(number) - 1)
    return letter if like.isupper() else letter.lower()
