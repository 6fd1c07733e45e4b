"""The people of the shop: names, what each may do, and the PIN by which a device knows who holds it."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum

from cross_staff.core.errors import InvalidValue

MOST_NAME = 60
LEAST_DIGITS, MOST_DIGITS = 4, 8
_STEPS = "0123456789012345678", "9876543210987654321"


class Role(StrEnum):
    """What somebody of the shop may do: everything, or look on."""

    TECHNICIAN = "technician"
    VIEWER = "viewer"


@dataclass(frozen=True)
class Person:
    """Somebody of the shop; removed, where he is not of it any more and his name stays with what he did."""

    person: int
    name: str
    role: Role = Role.TECHNICIAN
    removed: bool = False

    @property
    def writes(self) -> bool:
        """Whether he may write anything down."""
        return self.role == Role.TECHNICIAN and not self.removed


def check_name(name: str, others: Sequence[Person]) -> str:
    """A name as it is kept.

    Args:
        name: as typed.
        others: everybody else who is of the shop, shape (n,).

    Returns:
        the name without idle space.

    Raises:
        InvalidValue: none, too long, or somebody else's.

    Source:
        names on a record are told apart by their letters alone.
    """
    kept = " ".join(name.split())
    if not kept:
        raise InvalidValue("name", "by which name do records know this person?")
    if len(kept) > MOST_NAME:
        raise InvalidValue("name", f"at most {MOST_NAME} letters")
    if any(kept.casefold() == each.name.casefold() for each in others if not each.removed):
        raise InvalidValue("name", "somebody else has this name: add a letter, so that records tell you apart")
    return kept


def check_pin(pin: str) -> str:
    """A PIN as it is kept.

    Args:
        pin: as typed.

    Returns:
        its digits.

    Raises:
        InvalidValue: other than 4 to 8 digits, or one that is tried first: all alike, or counted up or down.

    Source:
        the guesses that anybody makes first.
    """
    digits = pin.strip()
    if not (digits.isascii() and digits.isdecimal() and LEAST_DIGITS <= len(digits) <= MOST_DIGITS):
        raise InvalidValue("pin", f"{LEAST_DIGITS} to {MOST_DIGITS} digits")
    if len(set(digits)) == 1 or any(digits in steps for steps in _STEPS):
        raise InvalidValue("pin", "the first that anybody would try: choose other digits")
    return digits
