"""How a sight is shot in by the usual rules, without a program: three arrows, then it is moved by all their error."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, field

from cross_staff.core.ballistics.sightline import pin_height
from cross_staff.core.sight_in.aims import Aim
from cross_staff.core.sight_in.controls import SMALLEST, MovementAdvice, choose_sideways, control_for, range_controls
from cross_staff.core.sight_in.procedures import pin_distances
from cross_staff.core.simulate.archer import Archer

CLOSE_M, IN_A_GROUP, MOST_GROUPS, MOST_PINS = 5.0, 3, 8, 99
MOST_TIMES = 8  # that he comes back to it
GUESSED_MM = 2.0  # sd of the reading that he begins from at a far mark


@dataclass
class ByHand:
    """How it went: arrows, movements, and how far each aim truly is off in the end, in what the target allows."""

    arrows: int = 0
    moves: int = 0
    off: dict[Aim, float] = field(default_factory=dict)


def by_hand(archer: Archer, pins: int = MOST_PINS, marks_m: Sequence[float] = (), until_true: bool = False) -> ByHand:
    """Sight in the pins one after the other: a group of three, the sight moved by its whole error, until two groups in
    a row come in within a quarter of the target; the wheel left at home.

    Args:
        archer: with a sight that nobody shot yet.
        pins: how many of them, the nearest first.
        marks_m: distances at which he dials until a group is good, for a tape [m as ranged], shape (n,).
        until_true: whether he comes back on another day to what truly is off, as his misses tell him, and chases again.

    Returns:
        arrows, movements, and each aim's true error over what the target allows [-].

    Source:
        the usual rules of the craft.
    """
    told = ByHand()
    home, *farther = pin_distances(archer.card, {})[:pins]
    for pin, distance in ((0, CLOSE_M), (0, home), *enumerate(farther, start=1)):
        _settle(archer, told, Aim(pin, distance), once=distance == CLOSE_M)
    dials = {Aim(0, far, True): _guessed(archer, far) for far in marks_m}
    for aim in dials:
        _settle(archer, told, aim, once=False, dials=dials)
    aims = [*(Aim(pin, distance) for pin, distance in enumerate((home, *farther))), *dials]
    for _ in range(MOST_TIMES):
        told.off = {aim: archer.off_m(aim, dials.get(aim)) / archer.allowed_m() for aim in aims}
        wrong = [aim for aim, off in told.off.items() if off > 1.0]
        if not wrong or not until_true:
            break
        archer.new_day()
        for aim in wrong:
            _settle(archer, told, aim, once=False, dials=dials)
    told.arrows = archer.arrows
    return told


def _guessed(archer: Archer, far_m: float) -> float:
    """The reading that somebody begins from at a far mark [mm]: right within what a friend's tape is."""
    fallen = archer.sight.heights_m[0] - pin_height(archer.sight.figures, far_m)
    return archer.zero_mm + 1000.0 * fallen + float(archer.generator.normal(0.0, GUESSED_MM))


def _settle(archer: Archer, told: ByHand, aim: Aim, once: bool, dials: dict[Aim, float] | None = None) -> None:
    good, dials = 0, dials or {}
    for _ in range(MOST_GROUPS):
        if archer.today >= archer.habits.a_day:
            archer.new_day()
        shot = archer.end(aim, IN_A_GROUP, dials.get(aim), aim not in dials)
        kept = [s for s in shot.shots if not s.called_bad]
        right, up = (sum(getattr(s, name) for s in kept) / len(kept) for name in ("right_m", "up_m"))
        good = good + 1 if math.hypot(right, up) <= archer.allowed_m() else 0
        if good == 2 or (once and good):
            return
        if not good:
            told.moves += 1
            lever = archer.sight.figures.eye_to_sight_m
            if aim in dials:
                dials[aim] -= 1000.0 * up * lever / (lever + aim.ranged_m)
                up = 0.0
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
