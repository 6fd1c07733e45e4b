"""A bow with a sight as nobody sees it: its axes, what ways of reading do not see, seats, screws, vials with ends."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass, field

import numpy as np

from cross_staff.core.ballistics.cant import Case, falls, false_cant
from cross_staff.core.ballistics.flight import RigFigures
from cross_staff.core.errors import OutOfReach
from cross_staff.core.level import screws
from cross_staff.core.level.log import AXES
from cross_staff.core.level.methods import BY_KEY, CLIP, JIG, PART_SD_RAD, RAIL
from cross_staff.core.level.vials import sight_tilt
from cross_staff.core.rig.card import YAW_ELSEWHERE_SD_RAD, YAW_SD_RAD
from cross_staff.core.simulate.bench import BACKLASH_RAD, GAIN_SD_LN, TIGHTENING_RAD, TURN_PART, TURN_SD

DEG = math.radians(1.0)
START_SD_RAD = 2.2 * DEG
ROLL_SD_RAD = 0.7 * DEG
CARRIED_RAD = 0.05 * DEG
EYE_DIV = 0.08  # sd of reading a bubble
BY_EYE = 0.15  # part of a movement that the eye misses
WATCHED_DIV = 0.15  # sd of bringing a bubble to a place while it is watched: it lags
GLASS_DIV = 0.9  # how far past its last line a bubble can stand


@dataclass
class HiddenVial:
    """A vial as it is: radians a line, its own error [lines], lines a side."""

    line_rad: float
    error_div: float
    lines: int

    def stands(self, tilt_rad: float, generator: np.random.Generator) -> tuple[float, int]:
        """Where its bubble is seen [lines], and at which end of its glass."""
        place = tilt_rad / self.line_rad + self.error_div
        end = self.lines + GLASS_DIV
        if abs(place) >= end:
            return math.copysign(self.lines + 1.0, place), 1 if place > 0.0 else -1
        return round(place + float(generator.normal(0.0, EYE_DIV)), 1), 0


@dataclass
class HiddenBow:
    """What nobody sees: axes [rad], what methods do not see [rad], the reference on its present seat [rad], gains
    [rad a turn] and the way of the last turn, the vials."""

    axes: dict[str, float]
    parts: Mapping[str, float]
    gains: Mapping[str, float]
    vials: Mapping[str, HiddenVial]
    generator: np.random.Generator
    yaw_proved: bool = False
    clip_proved: bool = False
    seat: str = ""
    roll: float = 0.0
    yaw: float = 0.0
    jig_roll: float = 0.0
    backlash_rad: float = BACKLASH_RAD
    ways: dict[str, float] = field(default_factory=dict)

    @classmethod
    def drawn(cls, generator: np.random.Generator, yaw_proved: bool) -> HiddenBow:
        """A bow as they come."""

        def around(sd: float) -> float:
            return float(generator.normal(0.0, sd))

        vials = {
            kind: HiddenVial(DEG * float(generator.uniform(0.3, 0.8)), around(0.4), int(generator.integers(3, 6)))
            for kind in ("reference", "rail", "string", "jig")
        }
        vials["sight"] = HiddenVial(DEG * float(generator.uniform(0.3, 0.8)), 0.0, int(generator.integers(3, 6)))
        gains = {
            axis: screws.USUAL_GAIN_RAD * math.exp(around(GAIN_SD_LN)) * float(generator.choice((-1.0, 1.0)))
            for axis in AXES
        }
        return cls(
            {axis: around(START_SD_RAD) for axis in AXES},
            {part: around(sd) for part, sd in PART_SD_RAD.items()},
            gains,
            vials,
            generator,
            yaw_proved,
            jig_roll=around(1.0 * DEG),
        )

    def put_on(self, seat: str, proved_seat: str) -> None:
        """The reference on a seat: another roll, and another yaw unless that seat was proved."""
        self.seat = seat
        self.roll = float(self.generator.normal(0.0, ROLL_SD_RAD))
        sd = YAW_SD_RAD.get(seat, YAW_ELSEWHERE_SD_RAD)
        proved = (self.yaw_proved and seat == proved_seat) or (self.clip_proved and seat == "string")
        self.yaw = 0.0 if proved else float(self.generator.normal(0.0, sd))

    def look(self, axis: str, method: str, pitch_rad: float, cant_rad: float) -> tuple[tuple[float, int], float]:
        """What the vial and what is read beside it show: the place of the one [lines] with its end, the other's."""
        reads, vial = BY_KEY[method].reads, self.vials["rail" if axis == "first" else "sight"]
        tilt = self._tilt(axis, method, pitch_rad, cant_rad)
        beside = {
            CLIP: ("reference", self.roll, self.yaw),
            RAIL: ("rail", self.axes["first"], 0.0),
            JIG: ("jig", 0.0, 0.0),
        }.get(reads)
        if beside is None:
            return vial.stands(tilt, self.generator), 0.0
        other = self.vials[beside[0]]
        shown, end = other.stands(sight_tilt(beside[1], beside[2], cant_rad, pitch_rad), self.generator)
        return vial.stands(tilt, self.generator), shown if not end else shown

    def _tilt(self, axis: str, method: str, pitch_rad: float, cant_rad: float) -> float:
        """How the vial that is watched truly lies [rad]."""
        jig = self.jig_roll if BY_KEY[method].reads == JIG else 0.0
        if axis == "first":
            return sight_tilt(self.axes["first"] + jig, 0.0, cant_rad, pitch_rad)
        seen = self.axes["third"] + sum(self.parts[p] for p in BY_KEY[method].parts)
        second = self.axes["second"] + jig
        return sight_tilt(second, seen, cant_rad, pitch_rad)

    def held_at(self, middle_div: float, pitch_rad: float, kind: str = "reference") -> float:
        """The cant to which the bow is brought so that the reference (or the level on the rail, or the jig's) stands at
        a place of its glass, within a tenth of a line [rad]."""
        vial = self.vials[kind]
        roll, yaw = {"reference": (self.roll, self.yaw), "rail": (self.axes["first"], 0.0)}.get(kind, (0.0, 0.0))
        wanted = (middle_div - vial.error_div + float(self.generator.uniform(-0.1, 0.1))) * vial.line_rad
        low, high = -20.0 * DEG, 20.0 * DEG
        for _ in range(50):
            half = 0.5 * (low + high)
            low, high = (half, high) if sight_tilt(roll, yaw, half, pitch_rad) > wanted else (low, half)
        return 0.5 * (low + high)

    def end_for_end(self, kind: str) -> tuple[float, float]:
        """A level read one way and turned end for end [lines]."""
        vial = self.vials[kind]
        tilt = float(self.generator.normal(0.0, 0.3))
        first = tilt + vial.error_div + float(self.generator.normal(0.0, EYE_DIV))
        turned = tilt - vial.error_div + float(self.generator.normal(0.0, EYE_DIV))
        return round(first, 1), round(turned, 1)

    def canted(self, kinds: tuple[str, ...], off_m: float, over_m: float) -> tuple[float, ...]:
        """How far each bubble moves when the bow is canted until its string stands off a plumb line by so much, read
        with a rule within half a millimetre [lines]."""
        tilt = math.asin((off_m + float(self.generator.normal(0.0, 0.0005))) / over_m)
        sd = EYE_DIV * math.sqrt(2.0)
        return tuple(
            round(tilt / self.vials[kind].line_rad + float(self.generator.normal(0.0, sd)), 1) for kind in kinds
        )

    def plumb_by_string(self) -> tuple[float, float]:
        """Where the string level and the reference stand with the bow plumb by the first [lines]."""
        string, reference = self.vials["string"], self.vials["reference"]
        cant = float(self.generator.uniform(-0.3, 0.3)) * string.line_rad
        across = max(-1.0, min(1.0, string.stands(-cant, self.generator)[0]))
        return across, reference.stands(-(cant + self.roll), self.generator)[0]

    def thrown_right(self, figures: RigFigures, target: Case) -> float:
        """How far right a slope throws the arrow with the bubble centred [m]. Raises OutOfReach."""
        (flight,) = falls(figures, (target,))
        if flight is None:
            raise OutOfReach("this arrow does not get there")
        third = self.axes["third"] + self.parts["slope"]
        return flight[0] * math.sin(false_cant(self.axes["second"], third, target.slope_rad, flight[1]))

    def turn(self, axis: str, turns: float) -> None:
        """Unlock, turn within what a hand can, and lock again."""
        made = turns * (1.0 + float(self.generator.normal(0.0, TURN_PART))) + float(self.generator.normal(0.0, TURN_SD))
        move = self.gains[axis] * made
        way = math.copysign(1.0, move)
        if self.ways.get(axis, way) != way:
            move -= way * min(self.backlash_rad, abs(move))
        self.ways[axis] = way
        self.push(axis, move)

    def place(self, axis: str, method: str, pitch_rad: float, cant_rad: float) -> float:
        """Where the bubble that is watched truly stands [lines]; of a glass without ends."""
        vial = self.vials["rail" if axis == "first" else "sight"]
        return vial.error_div + self._tilt(axis, method, pitch_rad, cant_rad) / vial.line_rad

    def turn_watching(self, axis: str, pitch_rad: float, lines: float) -> None:
        """Turn while the bubble is watched, until it has come so many lines, right positive."""
        vial = self.vials["rail" if axis == "first" else "sight"]
        tilts = math.sin(pitch_rad) if axis == "third" else -math.cos(pitch_rad)
        missed = float(self.generator.normal(0.0, WATCHED_DIV))
        self.push(axis, (lines + missed) * vial.line_rad / tilts)

    def push(self, axis: str, move_rad: float) -> None:
        """Move an axis by so much, and lock it: locking shifts it, and the others a little."""
        self.axes[axis] += move_rad + float(self.generator.normal(0.0, TIGHTENING_RAD))
        for other in AXES:
            if other != axis:
                self.axes[other] += float(self.generator.normal(0.0, CARRIED_RAD))
