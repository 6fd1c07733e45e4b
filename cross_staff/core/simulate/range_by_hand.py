"""How a sight is shot in by the usual rules, without a program: three arrows, then it is moved by all their error."""

from __future__ import annotations

import math
from dataclasses import dataclass, field

from cross_staff.core.sight_in.aims import Aim
from cross_staff.core.sight_in.controls import SMALLEST, MovementAdvice, choose_sideways, control_for, range_controls
from cross_staff.core.sight_in.procedures import pin_distances
from cross_staff.core.simulate.archer import Archer

CLOSE_M, IN_A_GROUP, MOST_GROUPS, MOST_PINS = 5.0, 3, 8, 99


@dataclass
class ByHand:
    """How it went: arrows, movements, and how far each aim truly is off in the end, in what the target allows."""

    arrows: int = 0
    moves: int = 0
    off: dict[Aim, float] = field(default_factory=dict)


def by_hand(archer: Archer, pins: int = MOST_PINS) -> ByHand:
    """Sight in the pins one after the other: a group of three, the sight moved by its whole error, until two groups in
    a row come in within a quarter of the target; the wheel left at home.

    Args:
        archer: with a sight that nobody shot yet.
        pins: how many of them, the nearest first.

    Returns:
        arrows, movements, and each aim's true error over what the target allows [-].

    Source:
        the usual rules of the craft.
    """
    told = ByHand()
    home, *farther = pin_distances(archer.card, {})[:pins]
    for pin, distance in ((0, CLOSE_M), (0, home), *enumerate(farther, start=1)):
        _settle(archer, told, Aim(pin, distance), once=distance == CLOSE_M)
    told.arrows = archer.arrows
    for pin, distance in enumerate((home, *farther)):
        aim = Aim(pin, distance)
        told.off[aim] = archer.off_m(aim, None) / archer.allowed_m()
    return told


def _settle(archer: Archer, told: ByHand, aim: Aim, once: bool) -> None:
    good = 0
    for _ in range(MOST_GROUPS):
        if archer.today >= archer.habits.a_day:
            archer.new_day()
        shot = archer.end(aim, IN_A_GROUP, None, True)
        kept = [s for s in shot.shots if not s.called_bad]
        right, up = (sum(getattr(s, name) for s in kept) / len(kept) for name in ("right_m", "up_m"))
        good = good + 1 if math.hypot(right, up) <= archer.allowed_m() else 0
        if good == 2 or (once and good):
            return
        if not good:
            told.moves += 1
            _move(archer, aim, right, up)


def _move(archer: Archer, aim: Aim, right_m: float, up_m: float) -> None:
    """Move by the whole error of a group, by what the card says of the controls; he looks which way they go."""
    controls = range_controls(archer.card.sight)
    lever = archer.sight.figures.eye_to_sight_m
    right, up = (1000.0 * v * lever / (lever + aim.ranged_m) for v in (right_m, up_m))
    sideways = choose_sideways(controls, right)
    upright = control_for(controls, "gang_elevation" if not aim.pin else "pin")
    for drive, wanted, pin in ((sideways, right, None), (upright, up, aim.pin or None)):
        if drive is None:
            continue
        size = drive.travel_per_unit().size
        way = -1.0 if archer.sight.travels_per_unit.get(drive.name, 1.0) < 0.0 else 1.0
        amount = SMALLEST[drive.unit] * round(wanted / size / SMALLEST[drive.unit])
        if amount:
            archer.sight.move(MovementAdvice(drive, "", amount * size, way * amount, pin=pin))
