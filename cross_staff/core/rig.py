"""The card of a rig: who, which bow, sight and arrow, and what was measured. Unknown is None."""

from __future__ import annotations

from dataclasses import dataclass, field
from datetime import date

from cross_staff.core import arrow, peep
from cross_staff.core.chronograph import Session, speed_at_sight
from cross_staff.core.fit import Known, Priors

EYE_TO_SIGHT_SD_M = 0.005
NO_PEEP_SD_M = 0.012
USUAL_SPREAD_MRAD = 1.0
SPREADS_ACROSS_GROUP = 3.3  # extreme spread of six arrows in sds (F. E. Grubbs, 1964)
PEEP_WAYS = {
    "square": "square to the arrow, on a draw board",
    "along": "along the string, angle measured",
    "estimated": "along the string, angle from the bow's length",
    "eye": "no peep: eye above the arrow",
}


@dataclass(frozen=True)
class Build:
    """An arrow build: shaft length from throat to end [m], mass per length [kg/m], diameter [m]."""

    name: str = ""
    shaft_length_m: float | None = None
    shaft_kg_per_m: float | None = None
    shaft_diameter_m: float | None = None
    components: tuple[arrow.Component, ...] = ()

    def balance(self) -> arrow.Balance | None:
        """Mass and front of centre; None while the shaft is unknown."""
        if self.shaft_length_m is None or self.shaft_kg_per_m is None:
            return None
        return arrow.balance(self.shaft_length_m, self.shaft_kg_per_m, self.components)

    def drag_per_m(self) -> float | None:
        """Drag constant before any impact [1/m]; None while shaft or diameter are unknown."""
        balance = self.balance()
        if balance is None or self.shaft_diameter_m is None:
            return None
        return arrow.prior_drag(self.shaft_diameter_m, balance.mass_kg)


@dataclass(frozen=True)
class PeepEntry:
    """The peep as it was measured, in one of PEEP_WAYS; lengths [m], angle [rad]."""

    way: str = "square"
    square_m: float | None = None
    along_m: float | None = None
    angle_rad: float | None = None
    axle_to_axle_m: float | None = None
    true_draw_m: float | None = None

    def angle(self) -> float | None:
        """The string's angle to the arrow [rad], measured or estimated."""
        if self.way == "along":
            return self.angle_rad
        if self.way == "estimated" and self.axle_to_axle_m and self.true_draw_m:
            return peep.string_angle(self.axle_to_axle_m, self.true_draw_m)
        return None

    def height(self) -> peep.PeepHeight | None:
        """Peep height square to the arrow; None while a figure is missing."""
        if self.way in ("square", "eye"):
            sd = NO_PEEP_SD_M if self.way == "eye" else peep.SQUARE_SD_M
            return None if self.square_m is None else peep.from_square(self.square_m, sd)
        angle = self.angle()
        if angle is None or self.along_m is None:
            return None
        estimated = self.way == "estimated"
        sd = peep.ESTIMATED_ANGLE_SD_RAD if estimated else peep.TYPED_ANGLE_SD_RAD
        return peep.from_along_string(self.along_m, angle, sd)


@dataclass(frozen=True)
class TapeWish:
    """How the tape sits on the sight: width [mm], edge of the ticks, which way farther runs,
    whether the scale's numbers grow with distance, the tape ratio (None: find it), and metres
    per printed unit of distance."""

    width_mm: float = 9.0
    ticks_at: str = "right"
    farther_runs: str = "down"
    scale_grows: bool = True
    ratio: float | None = 1.0
    unit_m: float = 1.0

    @property
    def direction(self) -> float:
        """+1 where the scale's numbers grow with distance, -1 where they fall."""
        return 1.0 if self.scale_grows else -1.0


@dataclass(frozen=True)
class Goals:
    """Home and farthest distance [m, as the archer ranges], size of target that counts as good [m],
    the archer's usual group: size across [m] at a distance [m]."""

    home_m: float | None = None
    farthest_m: float | None = None
    target_size_m: float | None = None
    group_size_m: float | None = None
    group_at_m: float | None = None

    @property
    def spread_mrad(self) -> float | None:
        """One sd of the archer's spread in one direction [mrad]; None when no group is known."""
        if self.group_size_m is None or self.group_at_m is None:
            return None
        return 1000.0 * self.group_size_m / self.group_at_m / SPREADS_ACROSS_GROUP


@dataclass(frozen=True)
class RigCard:
    """Everything known of one rig at one revision."""

    name: str
    archer: str = ""
    occasion: str = ""
    due: date | None = None
    bow: str = ""
    handed: str = "right"
    sight_kind: str = "single_pin_slider"
    sight: str = ""
    build: Build = field(default_factory=Build)
    chronograph: Session = field(default_factory=lambda: Session(()))
    eye_to_sight_m: float | None = None
    peep: PeepEntry = field(default_factory=PeepEntry)
    ranged_from: str = "eye"
    goals: Goals = field(default_factory=Goals)
    tape: TapeWish = field(default_factory=TapeWish)

    def missing(self) -> tuple[str, ...]:
        """Keys of what the tape still needs from the card, in the order of measuring."""
        wanted = (
            ("arrow", self.build.drag_per_m()),
            ("chronograph", self.chronograph.kept_mps or None),
            ("eye_to_sight", self.eye_to_sight_m),
            ("peep", self.peep.height()),
            ("home", self.goals.home_m),
            ("farthest", self.goals.farthest_m),
            ("target_size", self.goals.target_size_m),
        )
        return tuple(key for key, value in wanted if value is None)

    def priors(self) -> Priors | None:
        """What is known before any mark; None while something is missing."""
        drag, height = self.build.drag_per_m(), self.peep.height()
        lever = self.eye_to_sight_m
        if drag is None or height is None or lever is None or not self.chronograph.kept_mps:
            return None
        speed = speed_at_sight(self.chronograph, drag)
        ratio = self.tape.ratio
        return Priors(
            Known(speed.speed_mps, speed.sd_mps),
            Known(drag, arrow.PRIOR_DRAG_SD_LN),
            Known(lever, EYE_TO_SIGHT_SD_M),
            Known(height.height_m, height.sd_m),
            Known(1.0, None) if ratio is None else Known(ratio, 0.0),
        )

    def distance_from_sight(self, ranged_m: float) -> float:
        """A ranged distance [m] as distance from the sight plane [m]."""
        return ranged_m - self._ranging_lead()

    def ranged_distance(self, from_sight_m: float) -> float:
        """A distance from the sight plane [m] as this archer ranges it [m]."""
        return from_sight_m + self._ranging_lead()

    def _ranging_lead(self) -> float:
        return (self.eye_to_sight_m or 0.0) if self.ranged_from == "eye" else 0.0
