"""An axis on the bench whose error, gain and play are hidden, and somebody who only follows orders."""

from __future__ import annotations

import math
from dataclasses import dataclass, field

import numpy as np

from cross_staff.core.level.screws import (
    ASK,
    GOOD,
    READ,
    USUAL_GAIN_RAD,
    USUAL_PLAY_RAD,
    AnglePerTurnPrior,
    Evidence,
    Turn,
    decide,
    estimate,
)

START_RAD = math.radians(2.5)
GAIN_SD_LN = 0.5
REVERSED = 0.25  # part of the knobs that go against their card
TURN_PART, TURN_SD = 0.04, 0.02
TIGHTENING_RAD = math.radians(0.05)
BACKLASH_RAD = math.radians(0.03)
LOOK_RAD = math.radians(0.05)  # a tenth of a division of half a degree
MOST_ACTIONS = 200


@dataclass
class HiddenAxis:
    """What nobody sees: the error and the gain [rad, rad a turn], the way of the last turn."""

    error_rad: float
    gain_rad: float
    generator: np.random.Generator
    way: float = 0.0

    @classmethod
    def drawn(cls, generator: np.random.Generator) -> HiddenAxis:
        """An axis as they come: +-2.5 degrees off, gain log-normal, one knob in four reversed."""
        size = USUAL_GAIN_RAD * math.exp(generator.normal(0.0, GAIN_SD_LN))
        sign = -1.0 if generator.random() < REVERSED else 1.0
        return cls(float(generator.uniform(-START_RAD, START_RAD)), sign * size, generator)

    def look(self) -> float:
        """The vial, read once [rad]."""
        return self.error_rad + float(self.generator.normal(0.0, LOOK_RAD))

    def turn(self, turns: float) -> None:
        """Unlock, turn, and lock again."""
        made = turns * (1.0 + self.generator.normal(0.0, TURN_PART)) + self.generator.normal(0.0, TURN_SD)
        move = self.gain_rad * made
        way = math.copysign(1.0, move)
        if self.way and way != self.way:
            move -= way * min(BACKLASH_RAD, abs(move))
        self.way = way
        self.error_rad += move + float(self.generator.normal(0.0, TIGHTENING_RAD))


@dataclass
class LevelOutcome:
    """How it went: turns and looks that were asked for, whether the program said good enough, and
    the hidden error at the end [rad]."""

    looks: int
    turns: int = 0
    good: bool = False
    error_rad: float = 0.0
    log: list[Turn] = field(default_factory=list)


def follow(axis: HiddenAxis, tolerance_rad: float) -> LevelOutcome:
    """Do what the program says, and nothing else, until it says good enough.

    Args:
        axis: the hidden axis.
        tolerance_rad: what counts as good [rad].

    Returns:
        what came of it: turns, looks, and how far off in truth [rad].

    Source:
        simulation.
    """
    prior = AnglePerTurnPrior(USUAL_GAIN_RAD, GAIN_SD_LN, 1, USUAL_PLAY_RAD)
    done, looks = LevelOutcome(1), [axis.look()]
    for _ in range(MOST_ACTIONS):
        seen = estimate(looks, LOOK_RAD)
        action = decide(Evidence(tuple(looks), LOOK_RAD, seen, seen), done.log, tolerance_rad, prior)
        if action.kind == GOOD:
            done.good = True
            break
        if action.kind == ASK:
            break
        if action.kind == READ:
            looks.append(axis.look())
            done.looks += 1
            continue
        before = seen
        assert before is not None
        axis.turn(action.turns)
        looks = [axis.look(), axis.look()]
        done.looks += 2
        done.turns += 1
        after = estimate(looks, LOOK_RAD)
        assert after is not None
        done.log.append(Turn(action.turns, before.value, after.value, math.hypot(before.sd, after.sd)))
    done.error_rad = axis.error_rad
    return done
