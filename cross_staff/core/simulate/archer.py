"""An archer at the range with a sight whose aim, gains and flight are hidden, who follows orders only."""

from __future__ import annotations

import math
from dataclasses import dataclass, field, replace
from datetime import UTC, datetime, timedelta

import numpy as np

from cross_staff.core.ballistics.arrow import Component
from cross_staff.core.ballistics.flight import RigFigures
from cross_staff.core.ballistics.sightline import impact_heights, pin_height, sight_shift_at_target
from cross_staff.core.errors import OutOfReach
from cross_staff.core.estimation.groups import Shot
from cross_staff.core.rig.arrow_build import ArrowBuild
from cross_staff.core.rig.card import Goals, PeepEntry, RigCard
from cross_staff.core.rig.chronograph import ChronographSession as Readings
from cross_staff.core.rig.log import BenchEntry
from cross_staff.core.rig.procedure import CONFIRM, MARKS, PLACE, SETTLE, SHOOT
from cross_staff.core.rig.schools import SECOND
from cross_staff.core.rig.sight_kinds import KINDS
from cross_staff.core.sight_in.aims import MEAN_RADIUS, USUAL_CIRCLE, Aim
from cross_staff.core.sight_in.controls import (
    HAND_NOISE_MM,
    HAND_NOISE_PART,
    SIDEWAYS,
    SMALLEST,
    MovementAdvice,
    RangeControl,
    choose_sideways,
)
from cross_staff.core.sight_in.estimate import AimEstimate
from cross_staff.core.sight_in.log import STATION, End, Move, RangeLog
from cross_staff.core.sight_in.marks import end_entries, pins_of
from cross_staff.core.sight_in.station import ALL_DONE, DONE, MOVE, Act, SightIn, sight_in
from cross_staff.core.tape.rows import TapeMark
from cross_staff.core.tape.station import Evaluation, Pins, evaluate, fit_of

START = datetime(2026, 5, 9, 8, 0, tzinfo=UTC)
HOME_M, PINS_M, FAR_M = 17.0, (26.0, 38.0, 47.0), 78.0
OFF_MM = 6.0  # sd of how far off a sight is that was set by eye
REVERSED, CALLED_BAD = 0.1, 0.03
GAIN_SD_LN = 0.3
MOST_ENDS = 3
CHASED = 3  # arrows after which a chaser moves the sight
MOST_ARROWS = 500


def card_of(kind: str, figures: RigFigures, generator: np.random.Generator) -> RigCard:
    """A complete card of a rig with these hidden figures, measured as well as people measure."""
    readings = generator.normal(figures.speed_mps * math.exp(-figures.drag_per_m * 1.5), 0.35, 6)
    parts = (Component("Point", 0.0098, 0.724), Component("Nock", 0.0006, 0.0))
    build = ArrowBuild("slim", 0.72, 0.0168, 0.0058, parts)
    build = replace(build, sessions=(Readings(tuple(map(float, readings)), mass_kg=build.mass_kg()),))
    lever = figures.eye_to_sight_m + float(generator.normal(0.0, 0.003))
    height = figures.peep_height_m + float(generator.normal(0.0, 0.003))
    pins = PINS_M[:2] if KINDS[kind].asks(SECOND) else PINS_M
    goals = Goals(HOME_M, FAR_M, 0.30, 0.10, 38.0, (17.0, 26.0, 38.0, 47.0, 61.0, 78.0), pins)
    sight = KINDS[kind].template
    return RigCard(
        "simulated", "", builds=(build,), sight=sight, eye_to_sight_m=lever, peep=PeepEntry("square", height),
        ranged_from="sight", goals=goals,
    )  # fmt: skip


@dataclass
class HiddenSight:
    """What nobody sees: the flight, how far the aim is off sideways [mm at the sight plane], each pin's
    height above the arrow line at the reading nought [m], and what each control really does."""

    figures: RigFigures
    card: RigCard
    generator: np.random.Generator
    right_mm: float
    heights_m: list[float]
    spread_mrad: float
    travels_per_unit: dict[str, float] = field(default_factory=dict)

    @classmethod
    def drawn(cls, kind: str, generator: np.random.Generator) -> HiddenSight:
        """A rig as they come, its sight set by eye; the archer's spread is not what he says it is."""
        figures = RigFigures(
            float(generator.uniform(68.0, 88.0)),
            float(0.0015 * math.exp(generator.normal(0.0, 0.2))),
            float(generator.uniform(0.74, 0.88)),
            float(generator.uniform(0.094, 0.112)),
        )
        card = card_of(kind, figures, generator)
        off = float(generator.normal(0.0, OFF_MM))
        top = pin_height(figures, HOME_M) + 1e-3 * float(generator.normal(0.0, OFF_MM))
        apart = float(generator.uniform(0.7, 1.3))
        true = [pin_height(figures, HOME_M) - pin_height(figures, d) for d in (HOME_M, *PINS_M)]
        heights = [top - apart * below for below in true]
        usual = card.goals.spread_mrad or 1.0
        spread = usual * math.exp(float(generator.normal(0.0, 0.2)))
        return cls(figures, card, generator, off, heights, spread)

    def shoot(self, pin: int, ranged_m: float, arrows: int, dial_mm: float | None) -> tuple[Shot, ...]:
        """Arrows shot at a distance, the sight as it stands, dialled to a reading."""
        set_to = (dial_mm or 0.0) + (float(self.generator.normal(0.0, 0.1)) if dial_mm else 0.0)
        base = self.heights_m[0] if self.card.sight_kind.computes_dots and dial_mm else self.heights_m[pin]
        height = base - 1e-3 * set_to
        up = float(impact_heights(self.figures, height, ranged_m)[0])
        right = 1e-3 * self.right_mm * float(sight_shift_at_target(self.figures.eye_to_sight_m, ranged_m))
        sd = 1e-3 * self.spread_mrad * ranged_m
        return tuple(self._arrow(right, up, sd) for _ in range(arrows))

    def _arrow(self, right: float, up: float, sd: float) -> Shot:
        bad = self.generator.random() < CALLED_BAD
        wide = 4.0 if bad else 1.0
        return Shot(
            float(np.clip(self.generator.normal(right, wide * sd), -1.9, 1.9)),
            float(np.clip(self.generator.normal(up, wide * sd), -1.9, 1.9)),
            bad,
        )

    def move(self, advice: MovementAdvice) -> None:
        """Move a control as it was said, with what hands and threads make of it."""
        drive = advice.drive
        if drive.name not in self.travels_per_unit:
            spread = GAIN_SD_LN if drive.per_unit_mm is None else 0.03
            sign = -1.0 if not drive.sure_way and self.generator.random() < REVERSED else 1.0
            self.travels_per_unit[drive.name] = (
                sign * drive.travel_per_unit().size * math.exp(self.generator.normal(0.0, spread))
            )
        made = self.travels_per_unit[drive.name] * advice.amount
        noise = 0.02 if drive.unit == "click" else math.hypot(HAND_NOISE_MM, HAND_NOISE_PART * made)
        made += float(self.generator.normal(0.0, noise))
        if drive.moves in SIDEWAYS:
            self.right_mm -= made
        elif drive.moves == "pin" and advice.pin is not None:
            self.heights_m[advice.pin] += 1e-3 * made
        elif drive.moves == "spread":
            below = [self.heights_m[0] - h for h in self.heights_m]
            part = 1e-3 * made / below[-1]
            self.heights_m = [h + part * b for h, b in zip(self.heights_m, below)]
        else:
            self.heights_m = [h + 1e-3 * made for h in self.heights_m]

    def place(self, pin: int, below_mm: float) -> None:
        """Set a pin below the top one with a rule."""
        self.heights_m[pin] = self.heights_m[0] - 1e-3 * (below_mm + float(self.generator.normal(0.0, 0.4)))

    def off_spreads(self, aim: Aim, dial_mm: float | None) -> float:
        """How far the true middle of the arrows is from the aim, in the archer's spreads."""
        quiet = replace(self, spread_mrad=0.0, generator=np.random.default_rng(0))
        base = quiet.heights_m[0] if self.card.sight_kind.computes_dots and dial_mm else quiet.heights_m[aim.pin]
        up = float(impact_heights(self.figures, base - 1e-3 * (dial_mm or 0.0), aim.ranged_m)[0])
        right = 1e-3 * self.right_mm * float(sight_shift_at_target(self.figures.eye_to_sight_m, aim.ranged_m))
        return math.hypot(right, up) / (1e-3 * self.spread_mrad * aim.ranged_m)


@dataclass
class SightInOutcome:
    """How it went: arrows shot, ends, movements, whether the program said done, and how far each aim is
    off in the end [spreads]."""

    arrows: int = 0
    moves: int = 0
    done: bool = False
    off: dict[Aim, float] = field(default_factory=dict)


class Archer:
    """Does what the station says, and nothing else; a chaser moves the sight by each group's own error."""

    def __init__(self, sight: HiddenSight, chases: bool = False) -> None:
        self.sight, self.chases = sight, chases
        # he knows what he shoots: his circle is half as much again as his usual mean radius
        circle = 2e-3 * USUAL_CIRCLE * MEAN_RADIUS * sight.spread_mrad * HOME_M
        wanted = BenchEntry(STATION, "choose:second", 1, START, choice="wanted")
        self.log = RangeLog(entries=(BenchEntry(STATION, "circle", 1, START, circle), wanted))
        self.order = 0
        self.done = SightInOutcome()
        self.dials: dict[Aim, float] = {}
        self._fit: tuple[object, Evaluation] | None = None

    def state(self) -> SightIn:
        """The station as it judges the log of now."""
        card = self.sight.card
        entries = end_entries(card, self.log)
        state = sight_in(card, self.log, self._evaluated(entries))
        if state.act.step is not None and state.act.step.kind == MARKS:  # for which the tape itself is judged
            return sight_in(card, self.log, evaluate(card, entries, pins=pins_of(card, self.log.chosen)))
        return state

    def _evaluated(self, entries: tuple[TapeMark, ...]) -> Evaluation:
        """The fit of now. Where no mark is dialled it only says how far apart the pins belong, and is made
        anew when another aim was shot, and every fourth end."""
        ends = self.log.ends
        aims = frozenset((end.pin, end.ranged_m) for end in ends)
        dialled = self.sight.card.sight_kind.has_dial
        key = (len(ends), len(self.log.moves)) if dialled else (aims, len(ends) // 4)
        if self._fit is None or self._fit[0] != key:
            self._fit = (key, _fitted(self.sight.card, entries, pins_of(self.sight.card, self.log.chosen)))
        return self._fit[1]

    def follow(self, most_arrows: int = MOST_ARROWS) -> SightInOutcome:
        """Until the program says that all is done, or the quiver of a season is empty."""
        while self.done.arrows < most_arrows:
            state = self.state()
            if state.act.kind == ALL_DONE or (self.chases and _settled(state)):
                self.done.done = True
                break
            self._do(state)
        self._measure(self.state())
        return self.done

    def _do(self, state: SightIn) -> None:
        act = state.act
        if act.kind == SHOOT or (act.kind == MOVE and self.chases):
            self._shoot(act)
        elif act.kind == MOVE:
            for advice in act.moves:
                self._move(advice)
        elif act.kind == PLACE:
            assert act.aim is not None and act.place_mm is not None
            self.sight.place(act.aim.pin, act.place_mm)
            self._note(Move("", 1, START, "pin", "pin", 0.0, "mm", act.aim.pin, placed=True))
        elif act.kind == CONFIRM:
            assert act.step is not None
            self._say(f"step:{act.step.key}")

    def _shoot(self, act: Act) -> None:
        assert act.aim is not None
        aim, dial = act.aim, self._dial(act)
        if not self.chases:
            for arrows in _ends(act):
                self._end(aim, arrows, dial)
            return
        for _ in range(MOST_ENDS):  # then he looks whether it is settled
            self._chase(act, self._end(aim, CHASED, self._dial(act)))

    def _end(self, aim: Aim, arrows: int, dial: float | None) -> End:
        shots = self.sight.shoot(aim.pin, aim.ranged_m, arrows, dial)
        self.done.arrows += arrows
        self.order += 1
        now = START + timedelta(minutes=self.order)
        end = End(str(self.order), 0, 1, now, aim.ranged_m, aim.pin, dial, shots, order=self.order)
        self.log = replace(self.log, ends=(*self.log.ends, end))
        return end

    def _dial(self, act: Act) -> float | None:
        assert act.aim is not None
        if self.chases and act.aim in self.dials:
            return self.dials[act.aim]
        if act.dial_mm is not None:
            return round(act.dial_mm, 2)
        first = self.sight.card.sight_kind.has_dial
        by_hand = self.sight.card.sight_kind.computes_dots and self.log.chosen.get("dots") == "by_hand"
        return 0.0 if first and not by_hand else None

    def _chase(self, act: Act, end: End) -> None:
        """Move the sight by this group's own error, all of it."""
        assert act.aim is not None and end.ranged_m is not None
        if not end.kept:
            return
        alone = self._belief(end)
        lever = alone.lever
        mean = [sum(getattr(s, n) for s in end.kept) / len(end.kept) for n in ("right_m", "up_m")]
        right, up = (1000.0 * m * lever / (lever + end.ranged_m) for m in mean)
        self._by(choose_sideways(alone.controls, right), right, None)
        if act.aim.dialled:
            self.dials[act.aim] = round((end.dial_mm or 0.0) - up, 2)
            return
        seen = alone.to_go_mm(end, end.pin)
        up = seen[0] if seen is not None else up
        movement = (
            "gang_elevation" if not end.pin else "spread" if self.sight.card.sight_kind.scales_together else "pin"
        )
        self._by(alone.drive(movement) or alone.drive("elevation"), up, end.pin if movement == "pin" else None)

    def _by(self, drive: RangeControl | None, wanted_mm: float, pin: int | None) -> None:
        """Move a control by what its card says, the right way: he watches it."""
        if drive is None:
            return
        size = math.copysign(drive.travel_per_unit().size, self.sight.travels_per_unit.get(drive.name, 1.0))
        amount = SMALLEST[drive.unit] * round(wanted_mm / size / SMALLEST[drive.unit])
        if amount:
            self._move(MovementAdvice(drive, "", amount * size, amount, pin=pin))

    def _belief(self, end: End) -> AimEstimate:
        """One end by itself, with the flight as it was known when the program was last looked at."""
        fit = self._fit[1].fit if self._fit else None
        assert fit is not None
        return AimEstimate(self.sight.card, RangeLog(ends=(end,), entries=self.log.entries), fit)

    def _move(self, advice: MovementAdvice) -> None:
        self.sight.move(advice)
        self.done.moves += 1
        drive = advice.drive
        self._note(Move("", 1, START, drive.name, drive.moves, advice.amount, drive.unit, advice.pin))

    def _note(self, move: Move) -> None:
        self.order += 1
        self.log = replace(self.log, moves=(*self.log.moves, replace(move, key=str(self.order), order=self.order)))

    def _say(self, key: str) -> None:
        self.order += 1
        when = START + timedelta(minutes=self.order)
        entry = BenchEntry(STATION, key, 1, when, choice=DONE)
        self.log = replace(self.log, entries=(*self.log.entries, entry))

    def _measure(self, state: SightIn) -> None:
        """How far every aim is off, the sight dialled as the tape says."""
        estimate = state.estimate
        if estimate is None:
            return
        for at in state.aims:
            dial = None
            if at.aim.dialled:
                mark = estimate.fitted_mark(at.aim.ranged_m)
                dial = mark[0] if mark else 0.0
            elif self.sight.card.sight_kind.has_dial:
                dial = estimate.home_dial_mm
            try:
                self.done.off[at.aim] = self.sight.off_spreads(at.aim, dial)
            except OutOfReach:
                self.done.off[at.aim] = math.inf


def by_orders(kind: str, seed: int) -> SightInOutcome:
    """A rig and archer of a kind of sight, sighted in by the program's orders alone."""
    return Archer(HiddenSight.drawn(kind, np.random.default_rng(seed))).follow()


def by_chasing(kind: str, seed: int, most_arrows: int) -> SightInOutcome:
    """The same rig and archer, the sight moved by every group's whole error; he stops by the same rule."""
    return Archer(HiddenSight.drawn(kind, np.random.default_rng(seed)), chases=True).follow(most_arrows)


def _settled(state: SightIn) -> bool:
    """The program's own stopping rule, for somebody who does not listen to it otherwise."""
    return all(s.state for s in state.steps if s.step.kind in (SHOOT, MARKS, SETTLE))


def _ends(act: Act) -> list[int]:
    """The arrows that were asked for, in ends; at most three before the program is looked at again."""
    ends, left = [], min(act.more, MOST_ENDS * act.arrows)
    while left > 0:
        ends.append(min(left, act.arrows))
        left -= ends[-1]
    return ends


def _fitted(card: RigCard, entries: tuple[TapeMark, ...], pins: Pins) -> Evaluation:
    """The fit alone, without a judgement of the tape."""
    priors = card.priors()
    assert priors is not None
    return Evaluation((), (), fit=fit_of(card, priors, entries, pins), pins=pins)
