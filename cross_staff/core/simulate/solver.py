"""What an exercise takes at the least, and what it takes by guess: the two ends that the program is held between.

The all-knowing knows every error, every screw and the archer's aim, but not the noise: what a hand adds to a turn, what
locking shifts, where an arrow goes. He moves each thing once, and shoots until he is as sure as the program has to be.
"""

from __future__ import annotations

import math
from collections.abc import Mapping

from cross_staff.core.sight_in.aims import Aim
from cross_staff.core.simulate.practice_bow import PracticeBow

MOST_TURNS = 60
GUESS_TURN = 0.25
LOOKS_CENTRED = 0.5  # lines


def all_knowing_turns(bow: PracticeBow, tolerances_rad: Mapping[str, float]) -> int:
    """Turns that bring every axis within its tolerance, each turned by exactly what it is off.

    Args:
        bow: as it stands; it is turned.
        tolerances_rad: of each axis that is wanted [rad].

    Returns:
        how many turns.

    Source:
        simulation.
    """
    hidden, turns = bow.bow, 0
    for _ in range(MOST_TURNS):
        axis = next((a for a, most in tolerances_rad.items() if abs(hidden.axes[a]) > most), None)
        if axis is None:
            break
        wanted = -hidden.axes[axis]
        way = math.copysign(1.0, wanted)
        if hidden.ways.get(axis, way) != way:
            wanted += way * hidden.backlash_rad
        hidden.turn(axis, wanted / hidden.gains[axis])
        turns += 1
    return turns


def guessed_turns(bow: PracticeBow, axes: tuple[str, ...]) -> int:
    """Turns of somebody who goes by the bubble alone: a quarter some way, the other way when it got worse, half as much
    when it went past, until it looks centred; each axis once.

    Args:
        bow: as it stands; it is turned.
        axes: which, in order.

    Returns:
        how many turns.

    Source:
        simulation.
    """
    hidden, turns = bow.bow, 0
    for axis in axes:
        vial = hidden.vials["rail" if axis == "first" else "sight"]
        size, way = GUESS_TURN, float(hidden.generator.choice((-1.0, 1.0)))
        before = hidden.axes[axis]
        for _ in range(MOST_TURNS):
            if abs(hidden.axes[axis] / vial.line_rad) < LOOKS_CENTRED:
                break
            hidden.turn(axis, way * size)
            turns += 1
            now = hidden.axes[axis]
            if now * before < 0.0:
                way, size = -way, size / 2.0
            elif abs(now) > abs(before):
                way = -way
            before = now
    return turns


def set_right(bow: PracticeBow) -> int:
    """Set every aim as it belongs, each control once; what is within a quarter of the target is left.

    Args:
        bow: its sight is set.

    Returns:
        how many movements that took.

    Source:
        simulation.
    """
    archer, sight = bow.archer, bow.archer.sight
    aims = [Aim(pin, distance) for pin, distance in enumerate(bow.pins())]
    off = [archer.off_mm(aim) for aim in aims]
    allowed = [1000.0 * archer.allowed_m() * sight.figures.eye_to_sight_m / (sight.figures.eye_to_sight_m + a.ranged_m)
               for a in aims]  # fmt: skip
    moves = int(abs(sight.right_mm) > min(allowed)) + sum(abs(up) > most for (_, up), most in zip(off, allowed))
    sight.right_mm = 0.0
    sight.heights_m = [h + 1e-3 * up for h, (_, up) in zip(sight.heights_m, off)]
    return moves
