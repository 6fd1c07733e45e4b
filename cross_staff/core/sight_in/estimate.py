"""From the log of the range to what is believed: spread, windage, the height of every pin, click values."""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping, Sequence
from dataclasses import replace
from functools import cached_property, lru_cache

from cross_staff.core.ballistics.flight import RigFigures, Trajectories
from cross_staff.core.ballistics.sightline import pin_heights
from cross_staff.core.ballistics.wind import drifts
from cross_staff.core.estimation.kalman import (
    FLAT_MM,
    REVERSED_CHANCE,
    FilterEstimate,
    Happening,
    Moved,
    Observed,
    Placed,
    Shifted,
    estimate_from,
)
from cross_staff.core.sight_in.controls import (
    LAST_RESORTS,
    SIDEWAYS,
    ControlUnit,
    RangeControl,
    control_for,
    range_controls,
)
from cross_staff.core.sight_in.counted import Counted
from cross_staff.core.sight_in.log import HOME, End, Move
from cross_staff.core.sight_in.procedures import dialled_pin
from cross_staff.core.tape.fit import Fit
from cross_staff.core.tape.stack import gap_sds_mm

PLACED_SD_MM = 0.5  # of a pin set to a predicted place with a rule
SAME_DIAL_MM, SAME_DISTANCE_PART = 0.35, 0.03
SPREAD_STATE_MM = 12.0
SQUARED_MM = 4.0  # what squaring a display to the eye may move its reference
# how far a display's own way of computing may put the farthest dot, and any other beside those two [mm]
DISPLAY_SD_MM, DOT_SD_MM = 1.5, 0.4
REVERSED_WAY = "reversed"
SQUARE = "step:square"


class AimEstimate(Counted):
    """What the log says of one rig's aim. Millimetres are at the sight plane, right and up positive.

    Args: card, complete; log; fit, the flight as known; holds, the revisions that still hold for
        "windage" and "home" (a result that is missing: all of them); spans, revisions of which only the zero is
        old, each with the event that moved it: their pins still stand as they did to one another.
    """

    # controls
    @cached_property
    def controls(self) -> tuple[RangeControl, ...]:
        drives = range_controls(self.card.sight, self._moved_mm)
        own = (replace(drive, checked=True) if drive.name in self.ways else drive for drive in drives)
        return (*own, *LAST_RESORTS)

    @cached_property
    def ways(self) -> dict[str, int]:
        """Controls whose way somebody looked at on this bow: +1 as the card has it, -1 the other way."""
        said = {key.removeprefix("way:"): e for key, e in self.log.said.items() if key.startswith("way:")}
        return {name: -1 if entry.choice == REVERSED_WAY else 1 for name, entry in said.items()}

    def way_chance(self, drive: RangeControl) -> float:
        """How likely up is up, for a control that goes as its card says, or as the arrows made likelier."""
        if drive.sure_way:
            return 1.0
        estimate = self.right if drive.moves in SIDEWAYS else self.up
        chances = estimate.way_chance if estimate is not None else {}
        return chances.get(drive.name, 1.0 - REVERSED_CHANCE)

    def _moved_mm(self, name: str) -> float:
        """How far a control was moved since its position was written on the card that holds."""
        drive = next((d for d in range_controls(self.card.sight) if d.name == name), None)
        size = drive.travel_per_unit().size if drive else 1.0
        moved = [m for m in self.log.moves if m.drive == name and m.unit != "mark" and m.counted]
        return size * sum(m.amount for m in moved if self.holds_for("controls", m.revision))

    def moved_since_shot_mm(self) -> float:
        """The farthest that a control was moved since the last arrow [mm]; without end where nobody counted."""
        shot = max((e.order for e in self.counted), default=0.0)
        since = [m for m in self.log.moves if m.order > shot]
        sizes = {d.name: d.travel_per_unit().size for d in range_controls(self.card.sight)}
        if any(not m.counted or m.unit == "mark" or m.drive not in sizes for m in since):
            return math.inf
        return max((abs(m.amount) * sizes[m.drive] for m in since), default=0.0)

    def drive(self, movement: str) -> RangeControl | None:
        return control_for(self.controls, movement)

    def travel_per_unit(self, drive: RangeControl) -> tuple[float, float]:
        """What a unit of a control moves now [mm], its way counted, and the sd: learned where it was used."""
        estimate = self.right if drive.moves in SIDEWAYS else self.up
        if estimate is not None and f"gain of {drive.name}" in estimate.names:
            return estimate.travel_per_unit(drive.name)
        known = drive.travel_per_unit()
        return known.size, known.sd

    @property
    def reversed(self) -> tuple[str, ...]:
        """Controls that moved things the other way than the card has it."""
        filters = [self.right, self.up]
        return tuple(
            name for estimate in filters if estimate is not None for name, way in estimate.ways.items() if way < 0
        )

    # windage
    @cached_property
    def right(self) -> FilterEstimate:
        """One windage for all pins."""
        return self._believed({"right": FLAT_MM}, SIDEWAYS, self.seen_right, "windage", lambda move: ("right",))

    def seen_right(self, end: End) -> Observed | None:
        """What an end says of the windage; None where it was not looked at."""
        mean = end.middle[0]
        if end.ranged_m is None or mean is None:
            return None
        distance = self.card.distance_from_sight(end.ranged_m)
        value = 1000.0 * mean * self.lever / (self.lever + distance)
        wind = 1000.0 * self.drift_m(end) * self.lever / (self.lever + distance)
        return Observed({"right": 1.0}, value, math.hypot(self.se_mm(end), wind))

    def drift_m(self, end: End) -> float:
        """What the crosswind that was written down may do at this end [m], by the lag rule."""
        session = self.log.session(end.session)
        wind = session.crosswind_mps if session else None
        if not wind or end.ranged_m is None:
            return 0.0
        return wind_drift_m(self.fit, self.card.distance_from_sight(end.ranged_m), wind)

    # height
    @cached_property
    def up(self) -> FilterEstimate | None:
        """The pins' heights at home; None where nothing but the wheel moves them."""
        states = self._height_states()
        if not states:
            return None
        return self._believed(states, _HEIGHT, self._seen_up, "home", self._taken_along)

    def _height_states(self) -> dict[str, float]:
        if self.kind.scales_together:
            return {"stack": FLAT_MM, "spread": SPREAD_STATE_MM}
        if self.dots_computed:
            far = min(math.hypot(DISPLAY_SD_MM, self.place_sds_mm[-1] if len(self.distances) > 1 else 0.0), FLAT_MM)
            dots = {f"dot{pin}": DOT_SD_MM for pin in range(1, len(self.distances))}
            return {"stack": FLAT_MM, "spread": far} | dots
        return {f"pin{pin}": FLAT_MM for pin in range(len(self.distances)) if pin or not self.by_wheel}

    @property
    def dots_computed(self) -> bool:
        """Whether a display computes where its dots stand: nobody reads where that is."""
        return self.kind.computes_dots and self.chosen.get("dots") == "computed"

    @cached_property
    def by_wheel(self) -> bool:
        """Whether home is found with the wheel, so that the marks and the fit know the reference's height: until a
        stop is fitted there, where the whole housing can be moved instead."""
        if not self.kind.found_by_wheel:
            return False
        stopped = self.chosen.get("stop") == "fixed" or self.stop_mm is not None
        return not (stopped and self.drive("gang_elevation") is not None)

    @cached_property
    def stop_mm(self) -> float | None:
        """What the scale read at the home stop, where it is met or was fitted; None where nobody read it."""
        return next((e.number for e in self.log.stops if self.holds_for("home", e.revision)), None)

    def weights(self, pin: int) -> dict[str, float]:
        """The states that a pin's height is made of."""
        if not self.kind.scales_together and not self.dots_computed:
            return {f"pin{pin}": 1.0}
        lowest = self.below_mm(len(self.distances) - 1)
        together = {"stack": 1.0, "spread": self.below_mm(pin) / lowest if lowest else 0.0}
        return together | ({f"dot{pin}": 1.0} if self.dots_computed and pin else {})

    def below_mm(self, pin: int) -> float:
        """How far a pin belongs below the top one, by the fit [mm]."""
        top, own = self._own_heights[0], self._own_heights[pin]
        return 0.0 if top is None or own is None else 1000.0 * (top - own)

    def _seen_up(self, end: End) -> Observed | None:
        """How far this end says its pin must still be moved, at the home position."""
        if end.pin >= len(self.distances) or (end.pin == 0 and self.by_wheel):
            return None
        to_go_mm = self.to_go_mm(end, end.pin)
        return None if to_go_mm is None else Observed(self.weights(end.pin), *to_go_mm)

    def to_go_mm(self, end: End, pin: int) -> tuple[float, float] | None:
        """How far an end shot as it was says that `pin` must still go up to be right for its own distance
        [mm], and the sd: h(own) less the height from which the arrow came to where it was seen."""
        lift, came_from = self.lift_mm(end), self._came_from.get(end.key)
        own = self._own_heights[pin]
        if lift is None or came_from is None or own is None or end.ranged_m is None:
            return None
        gap = self._gap_sds[pin, end.ranged_m]
        return 1000.0 * (own - came_from) + lift, math.hypot(self.se_mm(end), gap)

    def to_go_from(self, end: End, pin: int, ranged_m: Sequence[float]) -> list[tuple[float, float] | None]:
        """`to_go_mm` of an end, had it been shot at each of these distances [m as ranged]."""
        own, lift, up = self._own_heights[pin], self.lift_mm(end), end.middle[1]
        if own is None or lift is None or up is None:
            return [None] * len(ranged_m)
        distances = [self.card.distance_from_sight(each) for each in ranged_m]
        solved = pin_heights(Trajectories.of(self.fit.figures, distances, 0.0, [up] * len(distances)))
        gaps = gap_sds_mm(self.card, self.fit, [self.distances[pin]], ranged_m)[0]
        told: list[tuple[float, float] | None] = []
        for far, height, reached, gap in zip(ranged_m, solved.height_m, solved.reached, gaps):
            error = math.hypot(self.se_mm(replace(end, ranged_m=far)), gap)
            told.append((1000.0 * (own - float(height)) + lift, error) if reached else None)
        return told

    @cached_property
    def _came_from(self) -> dict[str, float]:
        """The pin height [m] from which each end's arrows came to their middle, by the end's key."""
        ends = [end for end in self.counted if end.ranged_m is not None and end.middle[1] is not None]
        if not ends:
            return {}
        distances = [self.card.distance_from_sight(end.ranged_m or 0.0) for end in ends]
        means = [end.middle[1] or 0.0 for end in ends]
        solved = pin_heights(Trajectories.of(self.fit.figures, distances, 0.0, means))
        made = zip(ends, solved.height_m, solved.reached)
        return {end.key: float(height) for end, height, reached in made if reached}

    @cached_property
    def _own_heights(self) -> list[float | None]:
        """The height at which each pin is right for its own distance [m]; None out of reach."""
        solved = pin_heights(
            Trajectories.of(self.fit.figures, [self.card.distance_from_sight(d) for d in self.distances])
        )
        return [float(h) if reached else None for h, reached in zip(solved.height_m, solved.reached)]

    @cached_property
    def _gap_sds(self) -> dict[tuple[int, float], float]:
        """The sd of the height between a pin's own distance and one that was shot [mm]."""
        shot = sorted({end.ranged_m for end in self.counted if end.ranged_m is not None})
        table = gap_sds_mm(self.card, self.fit, self.distances, shot)
        return {(pin, far): table[pin][k] for pin in range(len(self.distances)) for k, far in enumerate(shot)}

    def lift_mm(self, end: End) -> float | None:
        """What bringing the dial back to home takes off; None where the end was dialled elsewhere, or nobody knows
        where it was."""
        if not self.kind.has_dial or (end.dial_mm is None and end.dial_from == HOME):
            return 0.0
        home = self.home_dial_mm
        if home is None or end.dial_mm is None:
            return None
        away = self.card.tape.direction * (home - end.dial_mm) / self.fit.tape_ratio
        return away if self.by_wheel or abs(away) <= SAME_DIAL_MM else None

    @cached_property
    def home_dial_mm(self) -> float | None:
        """The scale's reading at home: the fit's where the wheel finds it, else what was read at the stop, or where
        home, or nearer, was shot last."""
        if not self.kind.has_dial:
            return None
        if self.by_wheel:
            met = self.fit.observations and self.fit.on_scale
            return self.card.tape.direction * self.fit.mark_zero_mm.value if met else None
        if self.stop_mm is not None:
            return self.stop_mm
        home = self.card.goals.home_m or 0.0
        near = [e for e in self.log.ends if e.dial_mm is not None and e.ranged_m and e.ranged_m <= home + 0.5]
        shot = [e for e in near if same_distance(e.ranged_m or 0.0, home) and e.pin == 0]
        return shot[-1].dial_mm if shot else near[-1].dial_mm if near else None

    def place_mm(self, drive: RangeControl) -> float | None:
        """Where a control that goes by steps stands [mm, one of its places]; None where nobody said."""
        said = self.log.said.get(f"stand:{drive.name}")
        if said is None or said.number is None or not self.holds_for("controls", said.revision):
            return None
        since = [m for m in self.log.moves if m.drive == drive.name and m.entered > said.entered]
        return None if any(not m.counted for m in since) else said.number + sum(m.amount for m in since)

    def _taken_along(self, move: Move) -> tuple[str, ...]:
        states = tuple(self._height_states())
        if move.moves == "pin":
            own = f"{'dot' if self.dots_computed and move.pin else 'pin'}{move.pin}"
            return (own,) if own in states else ("stack",) if "stack" in states and not move.pin else ()
        if move.moves == "spread":
            return ("spread",) if "spread" in states else ()
        if "stack" in states:
            return ("stack",)
        return states

    # both
    def _believed(
        self,
        states: Mapping[str, float],
        movements: tuple[str, ...],
        seen: Callable[[End], Observed | None],
        result: str,
        taken: Callable[[Move], tuple[str, ...]],
    ) -> FilterEstimate:
        """The estimate over some states from the ends and movements that still hold, in their order."""
        happenings: list[tuple[float, Happening]] = [] if result != "home" else self._shifts(states)
        if result == "home" and (squared := self.log.said.get(SQUARE)) is not None:
            along = tuple(state for state in states if state == "stack" or state.startswith("pin"))
            happenings.append((self.log.place_at(squared.entered), Shifted(along, SQUARED_MM)))
        used: dict[str, RangeControl] = {}
        by_name = {drive.name: drive for drive in self.controls}
        for end in self.counted:
            if self._tells(result, end.revision) and (what := seen(end)) is not None:
                happenings.append((end.order, what))
        for move in self.log.moves:
            if move.moves not in movements or not self._tells(result, move.revision):
                continue
            if move.placed and f"pin{move.pin}" in states:
                happenings.append((move.order, Placed(f"pin{move.pin}", self.placed_sd(move.pin or 0), "pin0")))
            elif not move.counted:
                if along := taken(move):
                    happenings.append((move.order, Shifted(along, FLAT_MM)))
            elif move.unit != "mark" and (along := taken(move)):
                drive = by_name.get(move.drive) or RangeControl(move.drive, move.moves, ControlUnit(move.unit), 1.0)
                used[drive.name] = drive
                noise = drive.noise_mm(move.amount * drive.travel_per_unit().size)
                happenings.append((move.order, Moved(along, drive.name, move.amount, noise)))
        travels_per_unit = {name: drive.travel_per_unit() for name, drive in used.items()}
        ways = {name: way for name, way in self.ways.items() if name in used}
        in_order = [what for _, what in sorted(happenings, key=lambda pair: pair[0])]
        return estimate_from(states, travels_per_unit, in_order, ways)

    def _tells(self, result: str, revision: int) -> bool:
        """Whether what was shot or moved at a revision tells of these states, be it only of how they stand to one
        another."""
        return self.holds_for(result, revision) or (result == "home" and revision in self.spans)

    def _shifts(self, states: Mapping[str, float]) -> list[tuple[float, Happening]]:
        """The events that moved all pins together, each before what was shot or moved after it."""
        along = tuple(state for state in states if state != "spread")
        made = [(end.revision, end.order) for end in self.log.ends]
        made += [(move.revision, move.order) for move in self.log.moves]
        shifts: list[tuple[float, Happening]] = []
        for number in sorted(set(self.spans.values())):
            after = min((order for revision, order in made if revision >= number), default=math.inf)
            shifts.append((after - 0.5, Shifted(along, FLAT_MM)))
        return shifts

    def placed_sd(self, pin: int) -> float:
        """How near its right place a pin is that was set by the prediction [mm]."""
        return min(math.hypot(PLACED_SD_MM, self.place_sds_mm[pin]), FLAT_MM)

    @cached_property
    def place_sds_mm(self) -> list[float]:
        """How surely each pin's place below the top one is known [mm]."""
        return gap_sds_mm(self.card, self.fit, self.distances[:1], self.distances)[0]

    def fitted_mark(self, ranged_m: float) -> tuple[float, float] | None:
        """The reading to dial for a distance and its sd [mm]; None without any mark of the scale, or out of reach."""
        if not self.fit.observations or not self.fit.on_scale:
            return None
        row = self.fit.tape([self.card.distance_from_sight(ranged_m)], dialled_pin(self.card, self.log.chosen))[0]
        if row.mark_mm is None or row.sd_mm is None:
            return None
        return self.card.tape.direction * row.mark_mm, row.sd_mm


_HEIGHT = ("gang_elevation", "pin", "spread")


def same_distance(one_m: float, other_m: float) -> bool:
    """Whether two distances are one for an end of arrows: a few hundredths apart at most.

    Args:
        one_m: [m].
        other_m: [m].

    Returns:
        whether they are.

    Source:
        a rule of the craft.
    """
    return abs(one_m - other_m) <= max(SAME_DISTANCE_PART * other_m, 0.25)


def wind_drift_m(fit: Fit, distance_m: float, crosswind_mps: float) -> float:
    """Drift by the lag rule [m], nought out of reach: an estimate, never a windage setting.

    Args:
        fit: the fit so far.
        distance_m: [m] along the line of sight, from the sight plane, 0.5 to 400.
        crosswind_mps: W [m/s] across the line of sight, from the left positive.

    Returns:
        drift [m] with the wind.

    Source:
        the lag rule of exterior ballistics (docs/method.md, section 15).
    """
    return _drift_m(fit.figures, distance_m, crosswind_mps)


@lru_cache(maxsize=1024)  # every end of a visit at a distance has the same, and each is asked for again and again
def _drift_m(figures: RigFigures, distance_m: float, crosswind_mps: float) -> float:
    return drifts(figures, distance_m, crosswind_mps)[0] or 0.0
