"""What the pages at the tape show: a rig whose tape is known, and all that its flight and its pins come to.

Distances that go in are as the archer ranges them; those that come out of the core are from the sight plane.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass

from cross_staff.core.ballistics.flight import Array, RigFigures
from cross_staff.core.ballistics.reach import all_misjudged_m
from cross_staff.core.ballistics.sightline import far_distances
from cross_staff.core.ballistics.slope import SlopeCut, cut_chart
from cross_staff.core.ballistics.wind import drifts
from cross_staff.core.errors import CrossStaffError, InvalidValue
from cross_staff.core.mount.planner import Remedy, remedies
from cross_staff.core.printing.pin_template import TemplateLine
from cross_staff.core.rig.card import RigCard
from cross_staff.core.rig.display import AskedLength
from cross_staff.core.rig.display import asked_lengths as lengths_asked
from cross_staff.core.rig.reach import SightReach
from cross_staff.core.sight_in.pin_places import PinStands
from cross_staff.core.tape.comparison import TripRow, Weather, trip
from cross_staff.core.tape.fit import TapeRow
from cross_staff.core.tape.holds import Band, best_hold, impacts, midway, point_on_bands
from cross_staff.core.tape.layout import Wanted, tape_layout, tape_rows
from cross_staff.core.tape.pin_choice import Price, bands_that_meet, even_gaps, price, widest_cover
from cross_staff.core.tape.pins import covers_m, worth
from cross_staff.core.tape.scale import TapeLayout
from cross_staff.core.tape.station import Evaluation
from cross_staff.core.tape.ways import Answer, Travel, answers
from cross_staff.services.mount.page import planned_here
from cross_staff.services.rig import Rig


def whole_tape(card: RigCard, evaluation: Evaluation) -> TapeLayout | None:
    """The tape from where it begins to the farthest distance wanted; None while there is none to draw."""
    goals = card.goals
    if evaluation.fit is None or goals.home_m is None or goals.farthest_m is None:
        return None
    try:
        return tape_layout(card, evaluation, Wanted(evaluation.tape_home_m or goals.home_m, goals.farthest_m))
    except CrossStaffError:
        return None


@dataclass(frozen=True)
class PinGap:
    """A pin in its stack: what it is for [m as ranged]; where it belongs below the top one's place with its sd, and to
    the next that belongs [mm]; where it stands there and how surely, and what it is right for with the sight at home
    [m as ranged]; what it hides of the target [m]; its thickness [mm]. None is not known, or there is no next."""

    pin: int
    ranged_m: float
    belongs_mm: float | None
    sd_mm: float | None
    next_mm: float | None
    stands: PinStands
    hides_m: float | None
    thickness_mm: float | None

    @property
    def to_go_up_mm(self) -> float | None:
        """How far it is to go up to where it belongs, down negative [mm]; None where nobody shot or set it."""
        stands = self.stands.below_mm
        return None if stands is None or self.belongs_mm is None else stands - self.belongs_mm


@dataclass(frozen=True)
class PinsChosen:
    """A way to choose distances for pins, by its name: the distances from the sight plane [m] and their price, or
    why it cannot be done."""

    by: str
    distances_m: tuple[float, ...] = ()
    price: Price | None = None
    problem: str = ""


def asked_lengths(rig: Rig) -> tuple[AskedLength, ...]:
    """What a display asks for, by its own names."""
    return lengths_asked(rig.card, rig.figures)


@dataclass(frozen=True)
class TapePage:
    """A rig whose tape is known; heights of the pins at home [m], and the target's height [m]."""

    rig: Rig
    evaluation: Evaluation
    figures: RigFigures
    heights: tuple[float, ...]
    target_m: float

    @property
    def card(self) -> RigCard:
        return self.rig.card

    def from_sight(self, ranged_m: Sequence[float]) -> list[float]:
        """Distances from the sight plane [m]."""
        return [self.card.distance_from_sight(d) for d in ranged_m]

    def marks(self, start_m: float, ranged_m: Sequence[float]) -> list[TapeRow]:
        """The marks of the dialled pin."""
        return tape_rows(self.card, self.evaluation, Wanted(start_m, ranged_m[-1]), list(ranged_m))

    # holds
    def shots_at(self, distances_m: Sequence[float] | Array) -> Array:
        """How high each pin shoots at each distance from the sight plane [m], nan out of reach."""
        return impacts(self.figures, list(self.heights), distances_m)

    def bands(self) -> list[Band | None]:
        """Each pin's point-on band."""
        return point_on_bands(self.figures, list(self.heights), self.target_m)

    def midway(self) -> list[float | None]:
        """What midway to the next pin is right for [m]."""
        return midway(self.figures, list(self.heights))

    def misjudged(self, ranged_m: Sequence[float], errors_m: Sequence[float]) -> list[list[float | None]]:
        """How high the arrow comes in when the sight is set too far [m]."""
        return all_misjudged_m(self.figures, self.from_sight(ranged_m), errors_m)

    def best_hold(self, ranged_m: float) -> tuple[int, float] | None:
        """The pin that is least off, and how high it shoots [m]."""
        return best_hold(self.figures, self.heights, self.card.distance_from_sight(ranged_m))

    # pins
    def gaps(self) -> list[PinGap]:
        """The stack, the top pin first: where each belongs, and where it stands."""
        stack, pins = self.rig.stack, self.card.sight.pins
        places = stack.pins if stack else ()
        rows = []
        for place, following in zip(places, (*places[1:], None)):
            thick = pins[place.pin].thickness_mm if place.pin < len(pins) else None
            distance = self.card.distance_from_sight(place.ranged_m)
            after = following.below_mm if following else None
            rows.append(
                PinGap(
                    place.pin,
                    place.ranged_m,
                    place.below_mm,
                    place.sd_mm if place.pin else None,
                    None if after is None or place.below_mm is None else after - place.below_mm,
                    self.rig.pins_stand[place.pin] if place.pin < len(self.rig.pins_stand) else PinStands(place.pin),
                    None if thick is None else covers_m(thick, self.figures.eye_to_sight_m, distance),
                    thick,
                )
            )
        return rows

    def template(self, names: Sequence[str]) -> list[TemplateLine]:
        """The lines of a template to set the pins against: where they belong."""
        told = zip(names, self.gaps())
        return [
            TemplateLine(name, gap.belongs_mm, gap.thickness_mm, gap.sd_mm)
            for name, gap in told
            if gap.belongs_mm is not None
        ]

    def chosen(self, count: int, first_m: float, last_m: float, target_m: float) -> list[PinsChosen]:
        """Ways to choose distances for a count of pins, each with its price.

        Args:
            count: how many pins.
            first_m: the nearest [m as ranged].
            last_m: the farthest [m as ranged].
            target_m: height of the target [m].
        """
        first, last = self.from_sight((first_m, last_m))
        room = self.card.sight.housing.pin_room_mm
        tried: list[tuple[str, Callable[[], tuple[float, ...]]]] = [
            ("even gaps", lambda: even_gaps(self.figures, first, last, count)),
            ("point-on bands that meet", lambda: bands_that_meet(self.figures, first, target_m, count)),
        ]
        if room is not None:
            tried.append(("widest cover", lambda: widest_cover(self.figures, first, room / 1000.0, count)))
            if count != 2:
                tried.append(("two pins, largest gap", lambda: widest_cover(self.figures, first, room / 1000.0, 2)))
        own = self.from_sight(self.evaluation.pins.at_m)
        ways = [self._priced("as on the card", tuple(own), target_m)] if len(own) > 1 else []
        for name, choose in tried:
            try:
                ways.append(self._priced(name, choose(), target_m))
            except CrossStaffError as error:
                said = error.message if isinstance(error, InvalidValue) else str(error)
                ways.append(PinsChosen(name, problem=said))
        return ways

    def _priced(self, by: str, distances_m: tuple[float, ...], target_m: float) -> PinsChosen:
        return PinsChosen(by, distances_m, price(self.figures, distances_m, target_m))

    # dialled
    def worth(self, ranged_m: Sequence[float]) -> list[list[float | None]]:
        """What every pin is worth with the dialled one at each distance [m]."""
        return worth(self.figures, self.heights, self.evaluation.pins.dialled, self.from_sight(ranged_m))

    def worth_with(self, travel_mm: float) -> list[float | None]:
        """What every pin is right for with the housing so far below home [m as ranged]; None above the turnover."""
        distances = far_distances(self.figures, [height - travel_mm / 1000.0 for height in self.heights])
        return [None if d is None else self.card.ranged_distance(d) for d in distances]

    def answers(self, ranged_m: Sequence[float]) -> list[Answer]:
        """How each distance is shot: a pin at home that holds it, else a pointer and the number under it."""
        hold = 0.0 if self.card.sight_kind.has_drum else self.target_m / 2.0
        pointed = self.evaluation.pins.pointed if self.card.sight_kind.dialled else ()
        return answers(self.figures, self.heights, pointed, self.from_sight(ranged_m), hold, self._travel())

    def _travel(self) -> Travel:
        """What there is to dial with; without a reach none above, and any below."""
        reach = self.reach
        if reach is None:
            return Travel()
        ends = {pin: None if end is None else self.card.distance_from_sight(end) for pin, end in reach.by_pin}
        return Travel(max(reach.above_mm or 0.0, 0.0), reach.below_mm, ends)

    @property
    def reach(self) -> SightReach | None:
        """How far the sight goes as it is mounted."""
        return self.rig.reach

    # slopes, wind, air, reach
    def cuts(self, ranged_m: Sequence[float], slopes_rad: Sequence[float]) -> list[SlopeCut]:
        """What to dial for each distance at each slope, slope by slope."""
        return cut_chart(self.figures, self.from_sight(ranged_m), slopes_rad)

    def drifts(self, ranged_m: Sequence[float], crosswind_mps: float) -> list[float | None]:
        """Crosswind drift by the lag rule [m]."""
        return drifts(self.figures, self.from_sight(ranged_m), crosswind_mps)

    def trip(self, ranged_m: Sequence[float], here: Weather, there: Weather) -> tuple[TripRow, ...]:
        """What the air of a trip does to the marks."""
        fit = self.evaluation.fit
        return trip(fit, self.from_sight(ranged_m), here, there) if fit else ()

    def remedies(self) -> tuple[Remedy, ...]:
        """What would take the sight farther than it goes as it is mounted; none where that cannot be worked out."""
        here = planned_here(self.rig)
        if here is None or self.rig.figures is None:
            return ()
        try:
            return tuple(remedies(self.card, self.rig.figures, here, self.rig.setting))
        except CrossStaffError:
            return ()
