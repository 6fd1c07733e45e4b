"""An order as it was shown: what is to be moved, by how much; noted as made, whatever has changed meanwhile."""

from __future__ import annotations

import hashlib
import json
from dataclasses import asdict, dataclass

from cross_staff.core.errors import InvalidValue
from cross_staff.core.rig.procedure import PLACE
from cross_staff.core.rig.sight import MOVEMENTS
from cross_staff.core.sight_in.acts import MOVE, Act
from cross_staff.core.sight_in.checks import MOVED
from cross_staff.core.sight_in.controls import MM, ControlUnit
from cross_staff.core.sight_in.log import RangeLog

MOST_MOVES, MOST_LETTERS = 6, 120


@dataclass(frozen=True)
class Ordered:
    """One movement of an order: the control and what it moves, amount in unit, right or up positive as the card has
    it; the pin, where one is moved; placed, where a pin is set to its predicted place."""

    drive: str
    moves: str
    amount: float
    unit: str
    pin: int | None = None
    placed: bool = False


def order_of(act: Act) -> tuple[Ordered, ...]:
    """What an act orders to be moved; empty where it orders nothing."""
    if act.kind == PLACE and act.aim is not None:
        return (Ordered("pin", "pin", 0.0, MM, act.aim.pin, True),)
    if act.kind != MOVE:
        return ()
    made = [advice for advice in act.moves if advice.amount]  # one at the end of its travel orders nothing
    return tuple(Ordered(a.drive.name, a.drive.moves, round(a.amount, 4), a.drive.unit, a.pin) for a in made)


def identity(order: tuple[Ordered, ...], log: RangeLog) -> str:
    """The name of an order: of its content, and of what had been shot and moved when it was given; the same order
    given again later is another one."""
    place = max([0.0, *(end.order for end in log.ends), *(move.order for move in log.moves)])
    shots = sum(len(end.shots) for end in log.ends)
    told = f"{place}.{shots}.{len(log.moves)}.{written(order)}"
    return hashlib.sha256(told.encode()).hexdigest()[:16]


def written(order: tuple[Ordered, ...]) -> str:
    """An order as text, to be carried by the page that shows it."""
    return json.dumps([asdict(each) for each in order], separators=(",", ":"))


def read_order(text: str) -> tuple[Ordered, ...]:
    """An order as the page that showed it sends it back.

    Args:
        text: as `written` made it.

    Returns:
        its movements.

    Raises:
        InvalidValue: for anything that no order can have been.

    Source:
        a rule of the craft: what was done is recorded, whatever the program would say by now.
    """
    try:
        rows = json.loads(text)
        order = tuple(Ordered(**row) for row in rows)
        good = 0 < len(order) <= MOST_MOVES and all(_can_be(each) for each in order)
    except (ValueError, TypeError, RecursionError):
        good = False
    if not good:
        raise InvalidValue("moves", "the order came in garbled: note the movement under “I moved something myself”")
    return order


def _can_be(each: Ordered) -> bool:
    named = isinstance(each.drive, str) and 0 < len(each.drive) <= MOST_LETTERS
    pinned = each.pin is None or (isinstance(each.pin, int) and 0 <= each.pin < 100)
    known = each.unit in list(ControlUnit) and each.moves in (*MOVEMENTS, "coarse")
    number = isinstance(each.amount, int | float) and MOVED.holds(each.amount)
    return named and pinned and known and number and (bool(each.amount) or each.placed is True)
