"""An archer at the range with human habits: obeys, mostly, and does things of his own that nobody noted."""

from __future__ import annotations

import math
from dataclasses import dataclass, field, replace

import numpy as np

from cross_staff.core.ballistics.sightline import impact_heights, pin_height, sight_shift_at_target
from cross_staff.core.ballistics.wind import drifts
from cross_staff.core.errors import OutOfReach
from cross_staff.core.estimation.groups import Shot
from cross_staff.core.rig.card import RigCard
from cross_staff.core.rig.sight_kinds import KINDS
from cross_staff.core.sight_in.aims import TARGET_PART, Aim
from cross_staff.core.sight_in.controls import SIDEWAYS, MovementAdvice, RangeControl, range_controls
from cross_staff.core.sight_in.procedures import pin_distances
from cross_staff.core.sight_in.questions import (
    COUNT,
    DIAL,
    MOVED,
    NOT_MADE,
    OTHER_WAY,
    PIN,
    Answer,
    Question,
)
from cross_staff.core.simulate.hidden_sight import HOME_M, PINS_M, HiddenSight

DAY_MRAD = 0.3
BUTT_M = 0.8  # from the aim to the edge of what stops an arrow
WILD = 4.0  # times as far as usual goes an arrow that was a wild one
BY_HAND_SD_MM = 1.6  # of a movement that nobody counts
DISPLAY_OFF, DOT_OFF_MM = 0.06, 0.2


@dataclass(frozen=True)
class Habits:
    """How often [0 to 1] an archer moves a control between ends and notes nothing, forgets to set the dial, aims with
    another pin, lets a wild arrow go and does not call it, says that a knob went as it should without looking, and
    looks at a step of his own choice; how many arrows he shoots a day."""

    own_move: float = 0.0
    forgets_dial: float = 0.0
    wrong_pin: float = 0.0
    wild: float = 0.0
    does_not_look: float = 0.0
    own_order: float = 0.0
    a_day: int = 1000
    day_mrad: float = 0.0
    torque_mrad: float = 0.0  # what his hand does sideways, one sd an arrow
    wind_mps: float = 0.0  # from the left, steady

    @classmethod
    def drawn(cls, generator: np.random.Generator) -> Habits:
        """As people are."""
        rates = generator.uniform(0.0, 1.0, 5)
        return cls(0.10 * rates[0], 0.12 * rates[1], 0.05 * rates[2], 0.05, 0.5 * rates[3], 0.15 * rates[4],
                   int(generator.integers(15, 45)), DAY_MRAD)  # fmt: skip


@dataclass(frozen=True)
class ShotEnd:
    """An end as he shot it, and as he notes it: the pin, the reading that he sets down [mm], whether that is only
    what was ordered, and whether the sight was at home."""

    aim: Aim
    shots: tuple[Shot, ...]
    pin: int
    dial_mm: float | None
    ordered: bool
    at_home: bool


@dataclass
class Slip:
    """Something that he did and noted nowhere, before his next end: what, and what undoes the riddle."""

    kind: str
    drive: str = ""
    dial_mm: float | None = None
    pin: int | None = None
    end: int = 0


@dataclass
class Archer:
    """One person with a hidden sight: the reading at which its heights hold [mm], where home is by now and where the
    dial truly stands [mm], today's offset [mrad]; what he did and did not note; orders obeyed, and those that made the
    aim worse by more than his spread."""

    sight: HiddenSight
    habits: Habits
    generator: np.random.Generator
    zero_mm: float = 0.0
    home_mm: float = 0.0
    stands_mm: float = 0.0
    day_mrad: float = 0.0
    slips: list[Slip] = field(default_factory=list)
    arrows: int = 0
    ends: int = 0
    orders: int = 0
    worse: list[str] = field(default_factory=list)
    asked: int = 0
    false_questions: int = 0
    today: int = 0
    wild: list[tuple[float, float]] = field(default_factory=list)
    keys: list[str] = field(default_factory=list)  # of his ends, as they were kept

    @classmethod
    def drawn(cls, kind: str, seed: int, habits: Habits | None = None) -> Archer:
        """A rig of a kind and somebody at it, both from one seed."""
        generator = np.random.default_rng(seed)
        sight = HiddenSight.drawn(kind, generator)
        sight.called_bad = 0.0
        if KINDS[kind].computes_dots:
            sight.heights_m = _computed(sight, generator)
        habits = Habits.drawn(generator) if habits is None else habits
        archer = cls(sight, habits, generator)
        if KINDS[kind].dialled:
            archer.zero_mm = archer.home_mm = archer.stands_mm = round(float(generator.uniform(2.0, 14.0)), 1)
        archer.new_day()
        return archer

    @property
    def card(self) -> RigCard:
        """The rig's card."""
        return self.sight.card

    def new_day(self) -> None:
        """Another day sets all its arrows off by as much."""
        self.day_mrad = float(self.generator.normal(0.0, self.habits.day_mrad)) if self.habits.day_mrad else 0.0
        self.today = 0

    def _chance(self, rate: float) -> bool:
        return bool(self.generator.random() < rate)

    # shooting
    def end(self, aim: Aim, arrows: int, dial_mm: float | None, at_home: bool) -> ShotEnd:
        """Shoot an end as it was ordered, or nearly: the dial set to a reading, or run up to home."""
        self._own_moves()
        kind, noted = self.card.sight_kind, dial_mm
        if kind.dialled:
            wanted = self.zero_mm if dial_mm is None else dial_mm
            forgets = abs(wanted - self.stands_mm) > 0.5 and self.ends and self._chance(self.habits.forgets_dial)
            if forgets and self._on_the_butt(aim):
                self.slips.append(Slip("dial", dial_mm=round(self.stands_mm, 1), end=self.ends))
            else:
                self.stands_mm = wanted + float(self.generator.normal(0.0, 0.05))
            if dial_mm is None and not at_home:
                noted = round(self.stands_mm, 1)  # nothing was ordered: he reads it
        pin = aim.pin
        pins = len(pin_distances(self.card, {}))
        if pins > 1 and self._chance(self.habits.wrong_pin) and self.ends:
            pin = int(self.generator.choice([p for p in (aim.pin - 1, aim.pin + 1) if 0 <= p < pins]))
            self.slips.append(Slip("pin", pin=pin, end=self.ends))
        shots = self._shots(pin, aim.ranged_m, arrows)
        self.ends += 1
        self.arrows += arrows
        self.today += arrows
        return ShotEnd(aim, shots, aim.pin, noted, dial_mm is not None, at_home and dial_mm is None)

    def _on_the_butt(self, aim: Aim) -> bool:
        """Whether arrows shot as the sight stands would be on the butt: else he sees at once what he forgot."""
        height = self.sight.heights_m[aim.pin] - 1e-3 * (self.stands_mm - self.zero_mm)
        try:
            return abs(float(impact_heights(self.sight.figures, height, aim.ranged_m)[0])) < BUTT_M
        except OutOfReach:
            return False

    def _shots(self, pin: int, ranged_m: float, arrows: int) -> tuple[Shot, ...]:
        shots = self.sight.shoot(pin, ranged_m, arrows, self.stands_mm - self.zero_mm)
        off = 1e-3 * self.day_mrad * ranged_m
        made = []
        for shot in shots:
            gone = self._blown(ranged_m)
            wide = WILD if self._chance(self.habits.wild) else 0.0
            sd = 1e-3 * self.sight.spread_mrad * ranged_m
            x, y = self.generator.normal(0.0, 1.0, 2) * wide * sd
            right, up = (float(np.clip(v, -1.9, 1.9)) for v in (shot.right_m + x + gone, shot.up_m + off + y))
            made.append(Shot(right, up, shot.called_bad))
            if wide:
                self.wild.append((right, up))
        return tuple(made)

    def _blown(self, ranged_m: float) -> float:
        """How far wind and the hand's torque send one arrow to the right [m]."""
        habits, gone = self.habits, 0.0
        if habits.wind_mps:
            gone += drifts(self.sight.figures, [ranged_m], habits.wind_mps)[0] or 0.0
        if habits.torque_mrad:
            gone += 1e-3 * ranged_m * float(self.generator.normal(0.0, habits.torque_mrad))
        return gone

    def _own_moves(self) -> None:
        """A control turned between two ends, and nothing noted."""
        if not self.ends or not self._chance(self.habits.own_move):
            return
        drives = [d for d in self._drives() if d.moves in ("windage", "gang_windage", "gang_elevation")]
        if not drives:
            return
        drive = drives[int(self.generator.integers(len(drives)))]
        travel = float(self.generator.normal(0.0, BY_HAND_SD_MM))
        amount = travel / drive.travel_per_unit().size
        self.sight.move(MovementAdvice(drive, "", travel, amount))
        self.slips.append(Slip("moved", drive=drive.name, end=self.ends))

    def _drives(self) -> tuple[RangeControl, ...]:
        return range_controls(self.card.sight)

    # obeying
    def obey(self, advice: MovementAdvice, aim: Aim | None) -> bool:
        """Move as it was ordered; returns whether it went the way it should, as he says it did."""
        before = None if aim is None else self.off_mm(aim)
        self.sight.move(advice)
        self.orders += 1
        went = self.sight.travels_per_unit.get(advice.drive.name, 1.0) * advice.amount * advice.moved_mm >= 0.0
        if before is not None and aim is not None:
            side = 0 if advice.drive.moves in SIDEWAYS else 1
            worse = abs(self.off_mm(aim)[side]) - abs(before[side])
            if worse > self.spread_mm(aim.ranged_m) and went:
                self.worse.append(
                    f"{advice.drive.name} {advice.amount:.2f} at {aim.ranged_m:.0f}: {worse:.2f} mm worse"
                )
        if went or self._chance(self.habits.does_not_look):
            if not went:
                self.slips.append(Slip("reversed", drive=advice.drive.name, end=self.ends))
            return True
        return False

    def spread_mm(self, ranged_m: float) -> float:
        """One sd of his arrows [mm at the sight plane]."""
        lever = self.sight.figures.eye_to_sight_m
        return self.sight.spread_mrad * ranged_m * lever / (lever + ranged_m)

    def off_mm(self, aim: Aim) -> tuple[float, float]:
        """How far an aim truly is off, right and up [mm at the sight plane]; in height that of the pin at home."""
        figures = self.sight.figures
        scale = 1e-3 * float(sight_shift_at_target(figures.eye_to_sight_m, aim.ranged_m))
        try:
            height = self.sight.heights_m[aim.pin] - 1e-3 * (self.home_mm - self.zero_mm)
            up = float(impact_heights(figures, height, aim.ranged_m)[0])
        except OutOfReach:
            return math.inf, math.inf
        return self.sight.right_mm, up / scale if not aim.dialled else 0.0

    def off_m(self, aim: Aim, dial_mm: float | None) -> float:
        """How far the true middle of his arrows is from the aim on the target [m], on a day like any, the sight
        dialled to a reading where the aim is."""
        figures = self.sight.figures
        dialled = dial_mm if aim.dialled and dial_mm is not None else self.home_mm
        try:
            height = self.sight.heights_m[aim.pin] - 1e-3 * (dialled - self.zero_mm)
            up = float(impact_heights(figures, height, aim.ranged_m)[0])
        except OutOfReach:
            return math.inf
        right = 1e-3 * self.sight.right_mm * float(sight_shift_at_target(figures.eye_to_sight_m, aim.ranged_m))
        return math.hypot(right, up)

    def allowed_m(self) -> float:
        """What an aim may be off on the target [m]."""
        return TARGET_PART * (self.card.goals.target_size_m or 0.25)

    # answering
    def answers(self, question: Question) -> Answer:
        """What he says when he is asked about his newest ends: he remembers what he did, once he is asked."""
        self.asked += 1
        turned = {name for name, travel in self.sight.travels_per_unit.items() if travel < 0.0}
        reversed_one = next((a for a in question.answers if a.kind == OTHER_WAY and a.drive in turned), None)
        if reversed_one is not None:  # now he looks at it
            return reversed_one
        about = {key for each in question.answers for key in each.ends}
        recent = self.ends - 1 - len(question.ends)
        slips = [s for s in self.slips if s.end >= recent or about.intersection(self.keys[s.end : s.end + 1])]
        if not slips:
            self.false_questions += 1
            return Answer(COUNT)
        for slip in reversed(slips):
            said = self._said(slip, question)
            if said is not None:
                self.slips.remove(slip)
                return said
        return Answer(COUNT)

    def was_wild(self, shot: Shot) -> bool:
        """Whether he knows that he let it go badly."""
        return any(abs(shot.right_m - x) < 1e-3 and abs(shot.up_m - y) < 1e-3 for x, y in self.wild)

    def _said(self, slip: Slip, question: Question) -> Answer | None:
        of = self.keys[slip.end : slip.end + 1]  # the end that he made it at
        for each in question.answers:
            if of and slip.kind in ("dial", "pin") and of[0] not in (each.ends or question.keys):
                continue
            if slip.kind == "moved" and each.kind == MOVED and each.drive == slip.drive:
                return each
            if slip.kind == "dial" and each.kind == DIAL:
                return replace(each, dial_mm=slip.dial_mm)
            if slip.kind == "pin" and each.kind == PIN and each.pin == slip.pin:
                return each
            if slip.kind == "reversed" and each.kind == OTHER_WAY and each.drive == slip.drive:
                return each
        if slip.kind == "pin":  # he opens the end and mends it
            return Answer(PIN, pin=slip.pin, ends=tuple(of))
        if slip.kind == "dial" and of and of[0] not in question.keys:
            return Answer(DIAL, dial_mm=slip.dial_mm, ends=tuple(of))
        if slip.kind == "reversed":
            return next((each for each in question.answers if each.kind == NOT_MADE and each.drive == slip.drive), None)
        return None


def _computed(sight: HiddenSight, generator: np.random.Generator) -> list[float]:
    """Dots where a display computes them, from figures a little wrong: too far apart by a part, and each by itself."""
    top, apart = sight.heights_m[0], 1.0 + float(generator.normal(0.0, DISPLAY_OFF))
    home = pin_height(sight.figures, HOME_M)
    below = [home - pin_height(sight.figures, d) for d in _display_distances(sight.card)]
    return [
        top - apart * b + (1e-3 * float(generator.normal(0.0, DOT_OFF_MM)) if n else 0.0) for n, b in enumerate(below)
    ]


def _display_distances(card: RigCard) -> tuple[float, ...]:
    """What a display has a dot for [m as ranged]."""
    return (HOME_M, *(d for d in (card.goals.pin_distances_m or PINS_M) if d > HOME_M))
