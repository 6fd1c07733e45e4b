"""A virtual bow technician: a bow with hidden axes, and a hand that does what the program says as people do it.

Hidden are the axes at the shot, what each way of reading does not see (riser, flex, jig, board, hand), roll and yaw
of the reference wherever it is put, the vials' own errors and lines, the glass with its ends, what each screw does,
backlash and what locking shifts. The hand turns within 4 %, sometimes by eye, mistypes and undoes, moves the
reference to another seat, reads by any method in its own order.
"""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from datetime import datetime, timedelta

import numpy as np

from cross_staff.core.ballistics.cant import Case
from cross_staff.core.ballistics.flight import RigFigures
from cross_staff.core.level import screws
from cross_staff.core.level.axis import AxisState, moves_freely
from cross_staff.core.level.lines import VIAL_KIND, Canted
from cross_staff.core.level.log import AXES, LevelReading
from cross_staff.core.level.methods import ARROWS, BY_KEY, CLIP, LINE, LINE_SD_RAD
from cross_staff.core.level.rests import rests_at
from cross_staff.core.level.station import LevelState
from cross_staff.core.level.units import kind_beside
from cross_staff.core.rig.card import LevelSetup, RigCard, Vial
from cross_staff.core.simulate.hidden_bow import DEG, HiddenBow

BY_EYE, MISTYPED, RESEATED, OWN_ORDER = 0.15, 0.03, 0.04, 0.15
OTHER_TILT = ("other_tilt", "fewer_there")
IN_JIG = {"first": "jig_rail", "second": "jig_vial", "third": "bench_jig"}
THIRD_METHODS = (
    "vise_riser",
    "vise_string",
    "bench_jig",
    "board_riser",
    "board_string",
    "board_rod",
    "hand_plumb",
    "shooting",
)
FIGURES, SLOPE_RAD = RigFigures(81.0, 0.00142, 0.82, 0.104), 25.0 * DEG  # the flight on slopes


@dataclass
class Habits:
    """How this technician works: by which method the third axis is read, and by which one after that; whether he
    has the vials calibrated, tilts both ways, turns by eye, goes his own way; whether he begins with the sight off the
    bow in a jig (`first`, `only`; empty: not at all); how he reads the first axis, and which line he holds a bow to."""

    methods: tuple[str, ...]
    calibrated: bool
    both_ways: bool
    seat: str
    second: str
    by_eye: float = BY_EYE
    mistypes: float = MISTYPED
    reseats: float = RESEATED
    own_order: float = OWN_ORDER
    on_bench: str = ""
    first: str = "rail_vial"
    place: str = ""

    @classmethod
    def drawn(cls, generator: np.random.Generator) -> Habits:
        count = 1 if generator.random() < 0.5 else 2
        methods = tuple(str(m) for m in generator.choice(THIRD_METHODS, count, replace=False))
        return cls(
            methods,
            bool(generator.random() < 0.7),
            bool(generator.random() < 0.6),
            str(generator.choice(("flat", "other", "string"))),
            "to_rail" if generator.random() < 0.2 else "to_string",
        )

    def without_slips(self, calibrated: bool) -> Habits:
        """The same person with clean references, who obeys to the letter and reads the third axis one way."""
        return replace(
            self, methods=self.methods[:1], calibrated=calibrated, both_ways=False, by_eye=0.0, mistypes=0.0,
            reseats=0.0, own_order=0.0,
        )  # fmt: skip


@dataclass(frozen=True)
class Act:
    """Something done: `kind` is where, reverse, plumb, match, calibrate, entry (a look or a turn), undo,
    accept or leave."""

    kind: str
    entry: LevelReading | None = None
    which: str = ""
    points: tuple[float, float] = (0.0, 0.0)
    reference_div: float = 0.0
    seat: str = ""
    reseated: bool = False
    method: str = ""
    canted: Canted | None = None


@dataclass
class Technician:
    """A hand that does what the program says to a hidden bow, in his own way."""

    bow: HiddenBow
    habits: Habits
    clock: datetime
    windage: float = 0.0004
    readings: int = 0
    turns: int = 0
    largest_first: float = 0.0
    typed_wrong: bool = False
    method_number: int = 0
    reseated: bool = False
    impossible: list[str] = field(default_factory=list)
    moved_once: set[str] = field(default_factory=set)

    @classmethod
    def drawn(cls, generator: np.random.Generator, clock: datetime, clean: bool | None = None) -> Technician:
        """A bow as they come, and somebody at it; clean: without slips, and whether his vials are calibrated."""
        bow, habits = HiddenBow.drawn(generator, bool(generator.random() < 0.5)), Habits.drawn(generator)
        return cls(bow, habits if clean is None else habits.without_slips(clean), clock)

    def setup(self, tolerance_m: float) -> LevelSetup:
        """What the shop wrote down before: nothing reversed yet, vials calibrated or not."""
        known = self.habits.calibrated

        def vial(kind: str) -> Vial:
            hidden = self.bow.vials[kind]
            return Vial(hidden.line_rad if known else None, lines=hidden.lines)

        self.bow.put_on(self.habits.seat, self.habits.seat)
        return LevelSetup(
            vial("reference"),
            vial("rail"),
            vial("sight"),
            self.habits.seat,
            yaw_proved=self.bow.yaw_proved,
            tolerance_m=tolerance_m,
            string=vial("string"),
            jig=vial("jig"),
        )

    def moment(self) -> datetime:
        self.clock += timedelta(minutes=1)
        return self.clock

    def act(self, card: RigCard, state: LevelState) -> list[Act]:
        """What he does next, seeing what the page shows; nothing when he is done."""
        rng = self.bow.generator
        if self.typed_wrong:
            self.typed_wrong = False
            return [Act("undo", which=str(state.readings[-1].reading_id))]
        if self.habits.on_bench and not state.in_jig and not state.readings:
            return [Act("where", which="jig")]
        if state.step in ("reference", "string", "rail"):
            return [self._reversed(state.step)]
        if state.step in ("plumb", "match"):
            return [self._matched(state.step, self.bow.seat)]
        if state.step == "squared":
            if state.in_jig and self.habits.on_bench == "first":
                return [Act("where", which="bow")]
            if self.method_number + 1 < len(self.habits.methods):
                self.method_number += 1
                return self._look(card, state, "third")
            return [Act("leave")]
        if state.step == "done" or state.current is None:
            return []
        axis = state.current
        if rng.random() < self.habits.own_order:
            axis = str(rng.choice(AXES))
        elif rng.random() < self.habits.reseats:
            self._put_on(str(rng.choice(("flat", "other", "string"))))
        return self._at(card, state, axis)

    def _at(self, card: RigCard, state: LevelState, axis: str) -> list[Act]:
        known = state.axes[axis]
        action = known.action
        if action.because == "second_first":
            return self._at(card, state, "second")
        if action.kind == screws.ASK:
            if action.because in ("rail", "string", "reference"):
                return [self._reversed(action.because)]
            if action.because == "match":
                return [self._matched("match", self.bow.seat)]
            if action.because == "calibrate":
                return [self._calibrated(known)]
            return [Act("accept", which=axis)]
        if action.kind == screws.TURN:
            return [*self._turned(card, known), *self._look(card, state, axis)]
        return self._look(card, state, axis)

    def _turned(self, card: RigCard, known: AxisState) -> list[Act]:
        axis, action = known.axis, known.action
        self.turns += 1
        free = moves_freely(card, axis)
        if axis not in self.moved_once:
            self.largest_first = max(self.largest_first, abs(action.turns))
            self.moved_once.add(axis)
        at_end = action.because == "coarse" and BY_KEY[known.method].watched == "here"
        if action.because == "watch" or at_end:
            centred = -self.bow.place(axis, known.method, known.pitch_rad, 0.0)
            lines = centred if action.move is None else known.lines_for(action.move)
            self.bow.turn_watching(axis, known.pitch_rad, lines)
            return [Act("entry", self._entry(axis, known.method, turn=True))]
        if action.because == "coarse" or free or self.bow.generator.random() < self.habits.by_eye:
            self._by_eye(known, free)
            return [Act("entry", self._entry(axis, known.method, turn=True))]
        if not action.turns:
            self.impossible.append(f"{axis}: turn by nothing ({action.because})")
        self.bow.turn(axis, action.turns)
        return [Act("entry", self._entry(axis, known.method, turn=True, turns=action.turns))]

    def _put_on(self, seat: str) -> None:
        """The reference moved to a seat, or taken off and put on again where it was."""
        self.reseated = True
        self.bow.put_on(seat, self.habits.seat)

    def _by_eye(self, known: AxisState, free: bool) -> None:
        """Moved while watching, the way that brings the bubble towards where it should be; a screw a turn at most."""
        axis, action, bow = known.axis, known.action, self.bow
        hidden = bow.vials["rail" if axis == "first" else "sight"]
        tilts = abs(math.sin(known.pitch_rad)) if axis == "third" else 1.0
        if known.beyond is not None:
            wanted = 0.5 * hidden.lines * hidden.line_rad / tilts * known.beyond.side - bow.axes[axis]
        else:
            move = -(known.now.value if known.now else 0.0) if action.move is None else action.move
            wanted = move / known.unit.vial * hidden.line_rad
        if not free:
            wanted = math.copysign(min(abs(wanted), abs(bow.gains[axis])), wanted)
        bow.push(axis, wanted * (1.0 + float(bow.generator.normal(0.0, 0.15))))

    def _look(self, card: RigCard, state: LevelState, axis: str) -> list[Act]:
        known, rng = state.axes[axis], self.bow.generator
        method = {"first": self.habits.first, "second": self.habits.second}.get(axis, "")
        pitch = 0.0
        if axis == "third":
            method = self.habits.methods[self.method_number]
        if state.in_jig:
            method = IN_JIG[axis]
        if axis == "third":
            pitch = known.pitch_rad if known.method == method else -35.0 * DEG
            if known.action.because in OTHER_TILT or (self.habits.both_ways and known.looks and known.method == method):
                pitch = -pitch
        reads = BY_KEY[method].reads
        if reads == ARROWS:
            return self._group(card, state)
        if reads == CLIP and BY_KEY[method].seats and self.bow.seat not in BY_KEY[method].seats:
            self._put_on(BY_KEY[method].seats[0])
        cant = float(rng.normal(0.0, LINE_SD_RAD if reads == LINE else 0.4 * DEG))
        beside = kind_beside(axis, method)
        if beside and not self.habits.calibrated:
            rests = state.middle_div if beside == "reference" else rests_at(card.level, state.log, axis, method)
            cant = self.bow.held_at(rests, pitch, beside)
        (vial, end), reference = self.bow.look(axis, method, pitch, cant)
        for _ in range(20):
            if reads != LINE and abs(reference) > self.bow.vials["reference"].lines + 0.8:
                cant *= 0.5
                (vial, end), reference = self.bow.look(axis, method, pitch, cant)
        self.readings += 1
        if not end and abs(vial) > 0.6 and rng.random() < self.habits.mistypes:
            vial, self.typed_wrong = -vial, True
        seat = self.bow.seat if reads == CLIP else ""
        reseated, self.reseated = reads == CLIP and self.reseated, self.reseated and reads != CLIP
        entry = self._entry(axis, method, pitch, vial, reference, end=end, seat=seat, reseated=reseated)
        return [Act("entry", replace(entry, place=self._place(known, method)))]

    def _place(self, known: AxisState, method: str) -> str:
        """Where on the rail the level lies, or which line the bow is held to."""
        places = BY_KEY[method].places
        return next((place for place in (self.habits.place, known.place) if place in places), "")

    def _group(self, card: RigCard, state: LevelState) -> list[Act]:
        """Six arrows on a slope, uphill and downhill in turn, the bubble centred."""
        bow, rng = self.bow, self.bow.generator
        uphill = sum(k.entry.right_m is not None for k in state.log.of("third", state.log.last)) % 2 == 0
        slope, far = (SLOPE_RAD if uphill else -SLOPE_RAD), card.goals.farthest_m or 50.0
        thrown = bow.thrown_right(FIGURES, Case(card.distance_from_sight(far), slope))
        lever = FIGURES.eye_to_sight_m + far
        spread = (card.goals.spread_mrad or 1.5) / 1000.0 * far / math.sqrt(6.0)
        right = thrown + self.windage * lever + float(rng.normal(0.0, spread))
        self.readings += 1
        empty = self._entry("third", "shooting", slope)
        return [Act("entry", replace(empty, distance_m=far, right_m=round(right, 3), arrows=6))]

    def _reversed(self, kind: str) -> Act:
        return Act("reverse", which=kind, points=self.bow.end_for_end(kind))

    def _calibrated(self, known: AxisState) -> Act:
        """The bow canted until its string stands off a plumb line, and both bubbles read before and after."""
        self.readings += 1
        vial, beside = VIAL_KIND[known.axis], kind_beside(known.axis, known.method)
        finest = min(self.bow.vials[kind].line_rad for kind in (vial, beside) if kind)
        off = round(0.5 * math.sin(3.0 * finest), 3)
        kinds = (vial, *([beside] if beside else []), *(["string"] if beside == "reference" else []))
        moved = self.bow.canted(kinds, off, 0.5)
        canted = Canted(moved[0], moved[1] if beside else None, off, 0.5, moved[2] if len(moved) > 2 else None)
        return Act("calibrate", which=known.axis, method=known.method, canted=canted)

    def _matched(self, kind: str, seat: str) -> Act:
        """Both levels read with the bow plumb by the string."""
        across, shown = self.bow.plumb_by_string()
        again, self.reseated = self.reseated, False
        return Act(kind, points=(across, 0.0), reference_div=shown, seat=seat, reseated=again)

    def _entry(
        self,
        axis: str,
        method: str,
        pitch: float = 0.0,
        vial: float = 0.0,
        reference: float = 0.0,
        *,
        turns: float | None = None,
        turn: bool = False,
        end: int = 0,
        seat: str = "",
        reseated: bool = False,
    ) -> LevelReading:
        return LevelReading(
            axis, method, pitch, vial, reference, 0, self.moment(), turns,
            vial_end=end, seat=seat, reseated=reseated, turn=turn,
        )  # fmt: skip


@dataclass(frozen=True)
class WalkOutcome:
    """How a walk ended: the step and label, the standing of each axis that is asked for; hidden amounts and
    tolerances [rad]; looks, turns, the largest counted turn on a first try, what could not be done."""

    step: str
    label: str
    standings: Mapping[str, str]
    left_rad: Mapping[str, float]
    tolerance_rad: Mapping[str, float]
    readings: int
    turns: int
    largest_first: float
    impossible: tuple[str, ...]

    def over(self, axis: str) -> float:
        """The hidden amount, in tolerances."""
        return abs(self.left_rad[axis]) / self.tolerance_rad[axis]


def outcome(technician: Technician, state: LevelState) -> WalkOutcome:
    """What came of a walk.

    Args:
        technician: with his hidden bow.
        state: as the program has it at the end.

    Returns:
        both side by side [rad].

    Source:
        simulation.
    """
    left = dict(technician.bow.axes)
    if technician.habits.second == "to_rail":
        left["second"] -= left["first"]
    return WalkOutcome(
        state.step,
        state.label,
        {axis: state.axes[axis].standing for axis in state.required},
        left,
        {axis: s.tolerance for axis, s in state.axes.items()},
        technician.readings,
        technician.turns,
        technician.largest_first,
        tuple(technician.impossible),
    )
