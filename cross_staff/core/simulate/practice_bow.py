"""The bow of an exercise: it answers what is done to it, and its truth is known here alone.

What it is follows from the exercise and from what was done, in order: nothing else is kept of it.
"""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import replace
from typing import Any

import numpy as np

from cross_staff.core.ballistics.cant import Case
from cross_staff.core.ballistics.sightline import pin_height
from cross_staff.core.errors import InvalidValue, OutOfReach
from cross_staff.core.level.axis import LEAST_TILT_RAD
from cross_staff.core.level.chain import WANDER_SD_M
from cross_staff.core.level.lines import VIAL_KIND
from cross_staff.core.level.methods import ARROWS, BY_KEY, CLIP, LINE, LINE_SD_RAD, WANDER
from cross_staff.core.level.units import kind_beside
from cross_staff.core.practice import log as acts
from cross_staff.core.practice.exercise import AXES, Exercise
from cross_staff.core.practice.log import PracticeAct, Value
from cross_staff.core.prepare.tuning import STEPS
from cross_staff.core.ranges import Range
from cross_staff.core.rig.card import SEATS, Goals, LevelSetup, PeepEntry, RigCard, Vial
from cross_staff.core.rig.sight_kinds import KINDS
from cross_staff.core.sight_in.aims import Aim
from cross_staff.core.sight_in.controls import MovementAdvice, RangeControl, range_controls
from cross_staff.core.sight_in.procedures import pin_distances
from cross_staff.core.simulate.archer import Archer, Habits
from cross_staff.core.simulate.hidden_bow import DEG, HiddenBow
from cross_staff.core.simulate.hidden_sight import HOME_M

SEAT = "flat"
TRAVEL_M, OVER_M, CANTED_LINES = 0.045, 0.5, 3.0
CANT_SD_RAD = 0.4 * DEG  # a bow that is held plumb by eye
SLOPE_M = 40.0
LINES = Range(-20.0, 20.0)
TURNS, AMOUNT, DIAL_MM = Range(-3.0, 3.0), Range(-200.0, 200.0), Range(-20.0, 120.0)
DISTANCE_M, ARROWS_AT_ONCE, PITCH_DEG = Range(2.0, 130.0), Range(1, 12), Range(-70.0, 70.0)
BELOW_MM = Range(0.0, 60.0)
TEAR_A_STEP_MM = {"rest": 4.0, "nock": 6.0, "yoke": 5.0, "cam": 8.0, "cable": 4.0}
TEAR_SD_MM, PEEP_SD_M, LENGTH_SD_M, GAUGE_SD_DEG = 1.5, 0.001, 0.001, 0.05
TOLERANCE_M = 0.03


def drawn_after(kind: str, how: Mapping[str, Value], drawn: bool) -> bool:
    """Whether a bow is at full draw after an act, when it was `drawn` before: some looks and measures want it drawn,
    and nobody shoots and stays there."""
    if kind == acts.LOOK:
        method = BY_KEY.get(str(how.get("method")))
        return method is not None and method.reads != ARROWS and (method.full_draw or drawn)
    return kind == acts.MEASURE or (drawn and kind not in (acts.LET_DOWN, acts.SHOOT, acts.SPEED, acts.PAPER, acts.DAY))


class PracticeBow:
    """An exercise's bow: a hidden bow with its sight, and an archer."""

    def __init__(self, exercise: Exercise) -> None:
        hidden = exercise.hidden
        self.exercise = exercise
        rng = np.random.default_rng([exercise.seed, 0])
        self.bow = HiddenBow.drawn(rng, yaw_proved=hidden.yaw_deg is None)
        self.bow.clip_proved = hidden.yaw_deg is None
        self._set_bow(exercise)
        self.archer = Archer.drawn(exercise.kind, exercise.seed, Habits(
            wild=hidden.wild, day_mrad=hidden.day_mrad, torque_mrad=abs(hidden.torque_mrad), wind_mps=hidden.wind_mps
        ))  # fmt: skip
        self._set_sight(exercise)
        self.bow.put_on(SEAT, SEAT)
        if hidden.yaw_deg is not None:
            self.bow.yaw = hidden.yaw_deg * DEG
        self.tear_mm = [hidden.tear_right_mm, hidden.tear_up_mm]
        self.tear_way = float(rng.choice((-1.0, 1.0)))  # which way a sideways step helps is not agreed on
        self.drawn = False
        self.cant = 0.0

    def _set_bow(self, exercise: Exercise) -> None:
        hidden, bow = exercise.hidden, self.bow
        for axis in AXES:
            said = getattr(hidden, f"{axis}_deg")
            if said is not None:
                bow.axes[axis] = said * DEG
        parts = dict(bow.parts)
        parts |= {} if hidden.flex_deg is None else {"flex": hidden.flex_deg * DEG}
        parts |= {} if hidden.lean_deg is None else {"riser": hidden.lean_deg * DEG}
        bow.parts = parts
        times = 1.0 if hidden.gain is None else hidden.gain
        bow.gains = {
            axis: gain * times * (-1.0 if axis in hidden.reversed else 1.0) for axis, gain in bow.gains.items()
        }
        bow.backlash_rad = bow.backlash_rad if hidden.backlash_deg is None else hidden.backlash_deg * DEG

    def _set_sight(self, exercise: Exercise) -> None:
        hidden, archer, sight = exercise.hidden, self.archer, self.archer.sight
        said = sight.figures
        sight.figures = replace(
            said,
            speed_mps=said.speed_mps * (1.0 + (hidden.speed_part or 0.0)),
            drag_per_m=said.drag_per_m * (1.0 + (hidden.drag_part or 0.0)),
            peep_height_m=said.peep_height_m + 1e-3 * hidden.peep_mm,
        )
        if hidden.windage_mm is not None:
            sight.right_mm = hidden.windage_mm
        if hidden.elevation_mm is not None:
            top = pin_height(sight.figures, HOME_M) + 1e-3 * hidden.elevation_mm
            sight.heights_m = [h + top - sight.heights_m[0] for h in sight.heights_m]
        if hidden.spread_mrad is not None:
            sight.spread_mrad = hidden.spread_mrad
        for drive in range_controls(archer.card.sight):
            against = ("windage" in hidden.reversed and "windage" in drive.moves) or (
                "elevation" in hidden.reversed and "elevation" in drive.moves
            )
            sight.travels_per_unit[drive.name] = drive.travel_per_unit().size * (-1.0 if against else 1.0)

    # the card as the shop has it
    def card(self, name: str) -> RigCard:
        """The card of the rig at the beginning: what the shop knows, and nothing of what is hidden."""
        full, exercise = self.archer.card, self.exercise
        goals = replace(
            full.goals,
            farthest_m=exercise.farthest_m,
            distances_m=tuple(d for d in full.goals.distances_m if d <= exercise.farthest_m),
            slope_up_rad=25.0 * DEG,
            slope_down_rad=25.0 * DEG,
        )
        full = replace(full, name=name, handed="right", goals=goals, level=self._levels())
        if exercise.measured:
            return full
        bare = Goals(full.goals.home_m, exercise.farthest_m, pin_distances_m=full.goals.pin_distances_m)
        return replace(full, builds=RigCard("").builds, eye_to_sight_m=None, peep=PeepEntry(), goals=bare)

    def _levels(self) -> LevelSetup:
        known, vials = self.exercise.calibrated, self.bow.vials

        def vial(kind: str) -> Vial:
            return Vial(vials[kind].line_rad if known else None, lines=vials[kind].lines)

        return LevelSetup(
            vial("reference"), vial("rail"), vial("sight"), SEAT, yaw_proved=self.bow.yaw_proved,
            tolerance_m=TOLERANCE_M, string=vial("string"), jig=vial("jig"), clip_proved=self.bow.clip_proved,
        )  # fmt: skip

    def controls(self) -> dict[str, RangeControl]:
        """What of the sight can be turned at the range, by name; the wheel that dials is set to a reading instead."""
        dialled = KINDS[self.exercise.kind].dialled
        every = range_controls(self.archer.card.sight)
        return {each.name: each for each in every if not (dialled and each.moves == "elevation")}

    def pins(self) -> tuple[float, ...]:
        """The distances of the pins [m]."""
        return tuple(pin_distances(self.archer.card, {}))

    # doing
    def done(self, each: Sequence[PracticeAct]) -> PracticeBow:
        """The bow after what was done to it before."""
        for act in each:
            self.do(act.kind, act.do, act.number)
        return self

    def do(self, kind: str, how: Mapping[str, Value], number: int) -> dict[str, Value]:
        """What the bow answers to one act.

        Args:
            kind: of acts.MINUTES.
            how: as the act is done; lengths [mm], angles [deg], as they are said on the page.
            number: which act it is, from 1.

        Returns:
            what is seen of it.

        Raises:
            InvalidValue: for what cannot be done so.

        Source:
            simulation.
        """
        self.bow.generator = self.archer.generator = np.random.default_rng([self.exercise.seed, number])
        self.archer.sight.generator = self.archer.generator
        doing = getattr(self, f"_{kind}", None)
        if kind not in acts.MINUTES or doing is None:
            raise InvalidValue("kind", "is nothing that is done to a practice bow")
        told: dict[str, Value] = doing(how)
        self.drawn = drawn_after(kind, how, self.drawn)
        return told

    # at the bench
    def _look(self, how: Mapping[str, Value]) -> dict[str, Value]:
        axis, method = _of(how, "axis", AXES), _of(how, "method", tuple(BY_KEY))
        seat = _of(how, "seat", tuple(SEATS)) if how.get("seat") else ""
        pitch = _number(how, "pitch", PITCH_DEG, 0.0) * DEG
        way = BY_KEY[method]
        if way.reads == ARROWS:
            return self._slope(pitch)
        if way.reads == WANDER:
            wander = -TRAVEL_M * math.tan(self.bow.axes["first"]) + float(self.bow.generator.normal(0.0, WANDER_SD_M))
            return {"wander": round(wander, 4), "travel": TRAVEL_M}
        if way.reads == CLIP:
            wanted = seat if not way.seats or seat in way.seats else way.seats[0]
            if how.get("reseated") or (wanted and wanted != self.bow.seat):
                self.bow.put_on(wanted or self.bow.seat, SEAT)
        generator = self.bow.generator
        cant = float(generator.normal(0.0, LINE_SD_RAD if way.reads == LINE else CANT_SD_RAD))
        middle = _number(how, "middle", Range(-10.0, 10.0), math.nan)
        beside_it = kind_beside(axis, method)
        if not math.isnan(middle) and beside_it:
            cant = self.bow.held_at(middle, pitch, beside_it)
        vial, end, beside = 0.0, 0, 0.0
        for _ in range(20):  # held plumber, until what is read beside is on its glass
            (vial, end), beside = self.bow.look(axis, method, pitch, cant)
            if way.reads == LINE or abs(beside) <= self.bow.vials["reference"].lines + 0.8:
                break
            cant *= 0.5
        self.cant = cant
        shown: dict[str, Value] = {"vial": round(vial, 1), "end": end}
        if way.reads != LINE:
            shown["reference"] = round(beside, 1)
        if way.reads == CLIP:
            shown["seat"] = self.bow.seat
        return shown

    def _slope(self, pitch: float) -> dict[str, Value]:
        """Six arrows on a slope with the bubble centred."""
        slope = pitch or 25.0 * DEG
        figures = self.archer.sight.figures
        thrown = self.bow.thrown_right(figures, Case(SLOPE_M, slope))
        lever = figures.eye_to_sight_m + SLOPE_M
        spread = 1e-3 * self.archer.sight.spread_mrad * SLOPE_M / math.sqrt(6.0)
        off = 1e-3 * self.archer.sight.right_mm * lever / figures.eye_to_sight_m
        right = thrown + off + float(self.bow.generator.normal(0.0, spread))
        return {"right": round(right, 3), "distance": SLOPE_M, "slope_arrows": 6, "slope": round(slope / DEG)}

    def _turn(self, how: Mapping[str, Value]) -> dict[str, Value]:
        axis = _of(how, "axis", AXES)
        if how.get("watching"):
            self._watching(how, axis)
        else:
            turns = _number(how, "turns", TURNS)
            if not turns:
                raise InvalidValue("turns", "by how much? a fraction of a turn, such as 1/8")
            self.bow.turn(axis, turns)
        return {"drawn": self.drawn}

    def _watching(self, how: Mapping[str, Value], axis: str) -> None:
        """Until the bubble has come so far, or stands somewhere: the bow as it was looked at last, but at rest."""
        method, pitch = _of(how, "method", tuple(BY_KEY)), _number(how, "pitch", PITCH_DEG, -35.0) * DEG
        if axis == "third" and abs(pitch) < LEAST_TILT_RAD:
            raise InvalidValue("pitch", "too level: this bubble hardly moves with the third axis")
        comes = how.get("until") == "come"
        lines = _number(how, "lines", LINES, None if comes else 0.0)
        if not comes:
            at_rest = "vise_string" if axis == "third" and BY_KEY[method].full_draw and not self.drawn else method
            lines -= self.bow.place(axis, at_rest, pitch, self.cant)
        self.bow.turn_watching(axis, pitch, lines)

    def _reverse(self, how: Mapping[str, Value]) -> dict[str, Value]:
        which = _of(how, "which", ("reference", "string", "rail"))
        first, turned = self.bow.end_for_end(which)
        return {"first_way": first, "turned_way": turned}

    def _match(self, how: Mapping[str, Value]) -> dict[str, Value]:
        """The string's level and the reference, the bow plumb by the first."""
        seat = _of(how, "seat", tuple(SEATS)) if how.get("seat") else self.bow.seat
        if seat != self.bow.seat or how.get("reseated"):
            self.bow.put_on(seat, SEAT)
        across, beside = self.bow.plumb_by_string()
        return {"side": round(across, 1), "fore": 0.0, "beside": round(beside, 1), "seat": self.bow.seat}

    def _let_down(self, how: Mapping[str, Value]) -> dict[str, Value]:
        return {}

    def _cant(self, how: Mapping[str, Value]) -> dict[str, Value]:
        """The bow canted from plumb until its string stands off a plumb line, both bubbles read before and after."""
        axis, method = _of(how, "axis", AXES), _of(how, "method", tuple(BY_KEY))
        beside = kind_beside(axis, method)
        kinds = (VIAL_KIND[axis], *([beside] if beside else []), *(["string"] if beside == "reference" else []))
        off = OVER_M * math.sin(CANTED_LINES * min(self.bow.vials[kind].line_rad for kind in kinds))
        off = round(off, 3)
        moved = self.bow.canted(kinds, off, OVER_M)
        shown: dict[str, Value] = {"off": off, "over": OVER_M}
        return shown | dict(zip(("moved_vial", "moved_beside", "moved_string"), moved))

    def _gauge(self, how: Mapping[str, Value]) -> dict[str, Value]:
        """An electronic level laid on the sight, against the string, the bow at rest."""
        axis = _of(how, "axis", AXES[:2])
        return {"degrees": round(self.bow.axes[axis] / DEG + float(self.bow.generator.normal(0.0, GAUGE_SD_DEG)), 2)}

    # at the range
    def _shoot(self, how: Mapping[str, Value]) -> dict[str, Value]:
        archer, kind = self.archer, KINDS[self.exercise.kind]
        distance = _number(how, "distance", DISTANCE_M)
        arrows, pin = int(_number(how, "arrows", ARROWS_AT_ONCE)), int(_number(how, "pin", Range(0, 20), 0.0))
        pins = len(self.pins())
        if pin >= pins:
            raise InvalidValue("pin", f"this sight has {pins}")
        dial = _number(how, "dial", DIAL_MM, math.nan)
        reading = None if math.isnan(dial) or not kind.dialled else dial
        try:
            end = archer.end(Aim(pin, distance), arrows, reading, reading is None)
        except OutOfReach as error:
            raise InvalidValue("distance", "this arrow does not get there") from error
        shots = [[float(round(1000.0 * s.right_m)), float(round(1000.0 * s.up_m))] for s in end.shots]
        wild = [n for n, shot in enumerate(end.shots, start=1) if archer.was_wild(shot)]
        if any(max(map(abs, shot)) >= 1890 for shot in shots):
            raise InvalidValue("distance", "these would miss the butt: shoot nearer first")
        told: dict[str, Value] = {"shots": shots, "felt_bad": " ".join(map(str, wild))}
        return told | ({"dial": round(archer.stands_mm, 1)} if kind.dialled else {})

    def _move(self, how: Mapping[str, Value]) -> dict[str, Value]:
        controls = self.controls()
        drive = controls[_of(how, "control", tuple(controls))]
        amount = _number(how, "amount", AMOUNT)
        if not amount:
            raise InvalidValue("amount", "by how much?")
        pin = int(_number(how, "pin", Range(0, 20), 0.0)) if drive.moves == "pin" else None
        if pin is not None and pin >= len(self.pins()):
            raise InvalidValue("pin", f"this sight has {len(self.pins())}")
        moved = amount * drive.travel_per_unit().size
        self.archer.sight.move(MovementAdvice(drive, "", moved, amount, pin=pin))
        return {} if pin is None else {"pin": pin}

    def _place(self, how: Mapping[str, Value]) -> dict[str, Value]:
        pin = int(_number(how, "pin", Range(1, 20)))
        if pin >= len(self.pins()):
            raise InvalidValue("pin", f"this sight has {len(self.pins())}")
        self.archer.sight.place(pin, _number(how, "below", BELOW_MM))
        return {}

    def _stop(self, how: Mapping[str, Value]) -> dict[str, Value]:
        """The housing run up to its stop, and the scale read there."""
        if not KINDS[self.exercise.kind].dialled:
            raise InvalidValue("kind", "this sight has no scale")
        self.archer.stands_mm = self.archer.zero_mm
        return {"dial": self.archer.zero_mm}

    def _day(self, how: Mapping[str, Value]) -> dict[str, Value]:
        self.archer.new_day()
        return {}

    # the bow and its arrow
    def _speed(self, how: Mapping[str, Value]) -> dict[str, Value]:
        count = int(_number(how, "arrows", ARROWS_AT_ONCE))
        at = self.on_instruments()["speed"]
        return {"speeds": [[round(float(v), 1) for v in self.bow.generator.normal(at, 0.35, count)]]}

    def _measure(self, how: Mapping[str, Value]) -> dict[str, Value]:
        figures, generator = self.archer.sight.figures, self.bow.generator
        peep = figures.peep_height_m + float(generator.normal(0.0, PEEP_SD_M))
        lever = figures.eye_to_sight_m + float(generator.normal(0.0, LENGTH_SD_M))
        build = self.archer.card.build
        return {
            "peep_mm": round(1000.0 * peep), "eye_to_sight_mm": round(1000.0 * lever),
            "mass_g": round(1000.0 * (build.mass_kg() or 0.0), 1),
            "shaft_mm": round(1000.0 * (build.shaft_diameter_m or 0.0), 1),
        }  # fmt: skip

    def _paper(self, how: Mapping[str, Value]) -> dict[str, Value]:
        right, up = (v + float(self.bow.generator.normal(0.0, TEAR_SD_MM)) for v in self.tear_mm)
        return {"right_mm": round(right), "up_mm": round(up)}

    def _tune(self, how: Mapping[str, Value]) -> dict[str, Value]:
        step = STEPS[_of(how, "step", tuple(STEPS))]
        part, _, way = step.key.partition("_")
        size = TEAR_A_STEP_MM.get(part, 0.0) * (1.0 + float(self.bow.generator.normal(0.0, 0.1)))
        if step.axis == "right":
            self.tear_mm[0] += self.tear_way * size * (1.0 if way == "right" else -1.0)
        elif step.axis == "up":
            self.tear_mm[1] += size * (-1.0 if way in ("down", "in") else 1.0)
        return {}

    def _hint(self, how: Mapping[str, Value]) -> dict[str, Value]:
        given = int(_number(how, "which", Range(1, 20)))
        if given > len(self.exercise.hints):
            raise InvalidValue("which", "there is no further hint")
        return {"hint": self.exercise.hints[given - 1]}

    def _finish(self, how: Mapping[str, Value]) -> dict[str, Value]:
        return {}

    def on_instruments(self) -> dict[str, float]:
        """What instruments would show of it without their scatter, in the units of the wire: the arrow 1.5 m in front
        [m/s], the sight's roll and pitch against the string [deg], the arrow's mass [g], the peep's height [mm]."""
        figures = self.archer.sight.figures
        return {
            "speed": figures.speed_mps * math.exp(-figures.drag_per_m * 1.5),
            "roll": self.bow.axes["second"] / DEG,
            "pitch": 0.0,
            "mass": 1000.0 * (self.archer.card.build.mass_kg() or 0.0),
            "length": 1000.0 * figures.peep_height_m,
        }

    def truth(self) -> dict[str, Any]:
        """What the bow is like now: axes [deg], the tear [mm], where the aim is off sideways [mm]."""
        return {
            **{axis: self.bow.axes[axis] / DEG for axis in AXES},
            "tear_right_mm": self.tear_mm[0],
            "tear_up_mm": self.tear_mm[1],
            "windage_mm": self.archer.sight.right_mm,
        }


def _of(how: Mapping[str, Value], name: str, known: Sequence[str]) -> str:
    value = str(how.get(name, ""))
    if value not in known:
        raise InvalidValue(name, f"one of {', '.join(known)}")
    return value


def _number(how: Mapping[str, Value], name: str, limit: Range, usual: float | None = None) -> float:
    value = how.get(name)
    if value is None or value == "":
        if usual is None:
            raise InvalidValue(name, "how much?")
        return usual
    if isinstance(value, str | list) or not limit.holds(float(value)):
        raise InvalidValue(name, f"must lie between {limit.low:g} and {limit.high:g}")
    return float(value)
