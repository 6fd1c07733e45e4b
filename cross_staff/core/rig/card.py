"""The card of a rig: who, which bow, sight and arrow, and what was measured. Unknown is None."""

from __future__ import annotations

import math
from dataclasses import dataclass, field, replace
from datetime import date

from cross_staff.core.ballistics import arrow
from cross_staff.core.ballistics.arrow import PRIOR_VIRTUAL_MASS_KG
from cross_staff.core.rig import estimates, peep, speed
from cross_staff.core.rig.arrow_build import ArrowBuild
from cross_staff.core.rig.chronograph import ChronographSession, SpeedAtSight
from cross_staff.core.rig.estimates import Estimate
from cross_staff.core.rig.expected_speed import ExpectedSpeed, expected_speed
from cross_staff.core.rig.priors import Known, Priors
from cross_staff.core.rig.sight import SightModel, TapeSeat
from cross_staff.core.rig.sight_kinds import SightKind, kind_of

EYE_TO_SIGHT_SD_M = 0.005
NO_PEEP_SD_M = 0.012
PHOTO_PEEP_SD_M = 0.006
USUAL_SPREAD_MRAD, SPREAD_SD_LN = 1.5, 0.4  # the median of archers, where nobody said; sd of its logarithm
USUAL_EYE_TO_PEEP_M = 0.07
SPREADS_ACROSS_GROUP = 3.3  # extreme spread of six arrows in sds (F. E. Grubbs, 1964)
PEEP_WAYS = {
    "square": "square to the arrow, on a draw board",
    "along": "along the string, angle measured",
    "estimated": "along the string, angle from the bow's length",
    "photo": "square to the arrow, off a scaled side photograph",
    "eye": "no peep: eye above the arrow",
}
_SQUARE_SD_M = {"square": peep.SQUARE_SD_M, "photo": PHOTO_PEEP_SD_M, "eye": NO_PEEP_SD_M}


@dataclass(frozen=True)
class Bow:
    """The bow in words; peak draw weight [N]; nock throat to rest at full draw [m]; the least arrow
    mass per draw weight that its maker allows [kg/N]; the part of the draw weight that is let off at full draw; how its
    cams are set, a key of CAMS_BY."""

    words: str = ""
    draw_weight_n: float | None = None
    nock_to_rest_m: float | None = None
    least_mass_per_force: float | None = None
    let_off: float | None = None
    cams_by: str = ""


CAMS_BY = {
    "": "not known",
    "none": "no cams",
    "cables": "cables alone",
    "yokes": "cables, with yoke legs",
    "spacers": "cables, and spacers beside the cams",
    "both": "cables, yoke legs and spacers",
}


@dataclass(frozen=True)
class PeepEntry:
    """The peep as it was measured, in one of PEEP_WAYS, its aperture, and the eye behind it; lengths
    [m], angle [rad]; estimated, where its height was only put in place of a measured one."""

    way: str = "square"
    square_m: float | None = None
    along_m: float | None = None
    angle_rad: float | None = None
    axle_to_axle_m: float | None = None
    true_draw_m: float | None = None
    aperture_m: float | None = None
    eye_to_peep_m: float | None = None
    estimated: bool = False
    square_sd_m: float | None = None  # off a photo, as its taps tell; None for the usual one of its way

    def angle(self) -> float | None:
        """The string's angle to the arrow [rad], measured or estimated."""
        if self.way == "along":
            return self.angle_rad
        if self.way == "estimated" and self.axle_to_axle_m and self.true_draw_m:
            return peep.string_angle(self.axle_to_axle_m, self.true_draw_m)
        return None

    def height(self) -> peep.PeepHeight | None:
        """Peep height square to the arrow; None while a figure is missing."""
        if self.estimated and self.square_m is not None:
            return peep.from_square(self.square_m, estimates.WIDER * estimates.peep_height(self.along_m).sd)
        if self.way in _SQUARE_SD_M:
            own = self.square_sd_m if self.way == "photo" else None
            return None if self.square_m is None else peep.from_square(self.square_m, own or _SQUARE_SD_M[self.way])
        angle = self.angle()
        if angle is None or self.along_m is None:
            return None
        estimated = self.way == "estimated"
        sd = peep.ESTIMATED_ANGLE_SD_RAD if estimated else peep.TYPED_ANGLE_SD_RAD
        return peep.from_along_string(self.along_m, angle, sd)


@dataclass(frozen=True)
class Goals:
    """Home and farthest distance [m, as the archer ranges], size of target that counts as good [m],
    the archer's usual group: size across [m] at a distance [m]; the distances that will be shot and
    those of the pins [m]; the steepest slopes, up and down alike positive [rad]; rules in words."""

    home_m: float | None = None
    farthest_m: float | None = None
    target_size_m: float | None = None
    group_size_m: float | None = None
    group_at_m: float | None = None
    distances_m: tuple[float, ...] = ()
    pin_distances_m: tuple[float, ...] = ()
    level_only: bool = False
    slope_up_rad: float | None = None
    slope_down_rad: float | None = None
    rules: str = ""

    @property
    def spread_mrad(self) -> float | None:
        """One sd of the archer's spread in one direction [mrad]; None when no group is known."""
        if self.group_size_m is None or self.group_at_m is None:
            return None
        return 1000.0 * self.group_size_m / self.group_at_m / SPREADS_ACROSS_GROUP


@dataclass(frozen=True)
class Outline:
    """What a part at the riser takes up, looked at from the side: from and to ahead of the upper mount bolt, from and
    to above it, and how far from the riser its inner side stands [mm]; empty and None where nobody measured."""

    ahead_mm: tuple[float, ...] = ()
    above_mm: tuple[float, ...] = ()
    out_mm: float | None = None

    @property
    def known(self) -> bool:
        return len(self.ahead_mm) == 2 and len(self.above_mm) == 2 and self.out_mm is not None

    def covers(self, other: Outline) -> bool:
        """Whether one of the two lies behind the other, looked at from the side."""
        spans = ((self.ahead_mm, other.ahead_mm), (self.above_mm, other.above_mm))
        return all(max(a[0], b[0]) < min(a[1], b[1]) for a, b in spans)


@dataclass(frozen=True)
class Mount:
    """Where the sight sits on this bow: index of the mounting hole and of the extension's detent,
    home position (a key of mount.HOMES) and the reserve above home [mm]; the height of the wheel's
    pin above the arrow line with the slider at its top stop [mm]; the pin ahead of the grip [m]; the
    vanes' height above the arrow line and the clearance wanted above them [mm]; words on torque; the outlines of quiver
    bracket and wheel."""

    hole: int | None = None
    detent: int | None = None
    home: str = ""
    reserve_mm: float | None = None
    pin_at_top_mm: float | None = None
    ahead_of_grip_m: float | None = None
    vanes_mm: float | None = None
    clearance_mm: float | None = None
    torque: str = ""
    quiver: Outline = field(default_factory=lambda: Outline())
    wheel: Outline = field(default_factory=lambda: Outline())


@dataclass(frozen=True)
class Vial:
    """A vial: radians a division (None: not calibrated), seconds it takes to settle, what a reversal
    showed of its own error [divisions], with the day, and its lines on either side of the middle."""

    per_division_rad: float | None = None
    settle_s: float | None = None
    roll_error_div: float | None = None
    reversed_on: date | None = None
    lines: int = 4


SEATS = {
    "": "not known",
    "flat": "machined flat near the grip",
    "string": "clipped on the string",
    "other": "elsewhere",
}
YAW_SD_RAD = {"flat": 0.5 * math.pi / 180.0}
YAW_ELSEWHERE_SD_RAD = 1.5 * math.pi / 180.0


INSTRUMENT_KINDS = {
    "reference": "reference level",
    "rail": "level for the rail",
    "string": "string level",
    "jig": "level of the bench jig",
}


@dataclass(frozen=True)
class LevelSetup:
    """What the axes are read with: reference, rail, sight, string and jig vials; where the reference sits, its
    own yaw there [rad] and whether that was proved against a plumb line; how far off to the side the
    farthest, steepest shot may be [m]; which of the shop's instruments the vials are, by kind."""

    reference: Vial = field(default_factory=Vial)
    rail: Vial = field(default_factory=Vial)
    sight: Vial = field(default_factory=Vial)
    seat: str = ""
    seat_words: str = ""
    yaw_rad: float = 0.0
    yaw_proved: bool = False
    tolerance_m: float | None = None
    string: Vial = field(default_factory=Vial)
    jig: Vial = field(default_factory=Vial)
    from_shop: tuple[tuple[str, int], ...] = ()
    clip_proved: bool = False

    def vial_of(self, axis: str) -> Vial:
        """The vial that an axis is read with."""
        return self.rail if axis == "first" else self.sight

    def yaw_of(self, seat: str) -> tuple[float, float]:
        """The reference's yaw on a seat of this bow, and its sd [rad]: nought only where it was proved, on this
        bow, or of its clip by the shop."""
        if seat == self.seat and self.yaw_proved:
            return self.yaw_rad, 0.0
        if seat == "string" and self.clip_proved:
            return 0.0, 0.0
        return (self.yaw_rad if seat == self.seat else 0.0), YAW_SD_RAD.get(seat, YAW_ELSEWHERE_SD_RAD)

    def instrument(self, kind: str) -> int | None:
        """Which of the shop's instruments this is, by kind; None for one of the rig's own."""
        return dict(self.from_shop).get(kind)


def _among(places: tuple[float, ...], index: int | None) -> int | None:
    return index if index is not None and 0 <= index < len(places) else None


@dataclass(frozen=True)
class RigCard:
    """Everything known of one rig at one revision; `in_use` is the index of the arrow build on it."""

    name: str
    archer: str = ""
    occasion: str = ""
    due: date | None = None
    bow: Bow = field(default_factory=Bow)
    handed: str = "right"
    release: str = ""
    anchor: str = ""
    sight: SightModel = field(default_factory=SightModel)
    mount: Mount = field(default_factory=Mount)
    level: LevelSetup = field(default_factory=LevelSetup)
    builds: tuple[ArrowBuild, ...] = (ArrowBuild(),)
    in_use: int = 0
    eye_to_sight_m: float | None = None
    eye_to_sight_estimated: bool = False
    peep: PeepEntry = field(default_factory=PeepEntry)
    ranged_from: str = "eye"
    goals: Goals = field(default_factory=Goals)
    eye_to_sight_sd_m: float | None = None  # off a photo, where the peep is measured on one

    @property
    def build(self) -> ArrowBuild:
        """The arrow build in use."""
        return self.builds[self.in_use]

    @property
    def chronograph(self) -> ChronographSession:
        """The newest session of the build in use."""
        return self.build.newest_session

    @property
    def tape(self) -> TapeSeat:
        return self.sight.tape

    @property
    def hole(self) -> int | None:
        """The mounting hole it sits in; None where that is not known, or the sight has no such hole by now."""
        return _among(self.sight.holes_mm, self.mount.hole)

    @property
    def detent(self) -> int | None:
        """The extension's place it sits at; None where that is not known, or the sight has no such place by now."""
        return _among(self.sight.extension_mm, self.mount.detent)

    @property
    def sight_of_other_hand(self) -> bool:
        """Whether the sight is made for bows of the other hand."""
        return self.sight.hand in ("right", "left") and self.sight.hand != self.handed

    @property
    def sight_kind(self) -> SightKind:
        """What this rig's sight can."""
        return kind_of(self.sight)

    def with_build(self, build: ArrowBuild) -> RigCard:
        """The card with another build in place of the one in use."""
        builds = tuple(build if i == self.in_use else b for i, b in enumerate(self.builds))
        return replace(self, builds=builds)

    def with_tape(self, tape: TapeSeat) -> RigCard:
        """The card with the tape sitting otherwise."""
        return replace(self, sight=replace(self.sight, tape=tape))

    def speed(self) -> SpeedAtSight | None:
        """Speed of the build in use at the sight plane: measured, predicted from the others, or expected of the bow
        where somebody said that it was not measured."""
        own = speed.measured(self.builds, self.in_use, self.bow.draw_weight_n)
        if own is not None:
            return own
        expected = self.expected_speed()
        told = speed.predicted(self.builds, self.in_use, self.bow.draw_weight_n)
        told = told if told is not None or expected is None else expected.at_sight
        if told is None or not self.build.mass_estimated:
            return told
        return replace(told, sd_mps=estimates.WIDER * math.hypot(told.sd_mps, self._speed_by_mass(told)))

    def _speed_by_mass(self, told: SpeedAtSight) -> float:
        """What a mass that was only estimated leaves open of a speed that hangs on it [m/s]."""
        mass = self.build.mass_kg() or 0.0
        return 0.5 * told.speed_mps * mass / (mass + PRIOR_VIRTUAL_MASS_KG) * self.estimate("arrow_mass").sd

    def estimate(self, key: str) -> Estimate:
        """What is put in place of a figure of this card that nobody measured: arrow_mass, shaft_diameter, eye_to_sight
        or peep."""
        draw = self.peep.true_draw_m
        if key == "arrow_mass":
            return estimates.mass(self.bow.draw_weight_n)
        if key == "shaft_diameter":
            return estimates.diameter()
        return estimates.eye_to_sight(draw) if key == "eye_to_sight" else estimates.peep_height(self.peep.along_m)

    @property
    def estimated(self) -> tuple[str, ...]:
        """Which figures of the arrow in use and of the bow are only estimated, as `estimate` has them."""
        told = (
            ("arrow_mass", self.build.mass_estimated),
            ("shaft_diameter", self.build.diameter_estimated),
            ("eye_to_sight", self.eye_to_sight_estimated),
            ("peep", self.peep.estimated),
        )
        return tuple(key for key, only in told if only)

    def with_estimate(self, key: str) -> RigCard:
        """The card with the usual value in place of one that nobody measured, marked as such."""
        value = self.estimate(key).value
        if key == "arrow_mass":
            return self.with_build(replace(self.build, measured_mass_kg=value, mass_estimated=True))
        if key == "shaft_diameter":
            return self.with_build(replace(self.build, shaft_diameter_m=value, diameter_estimated=True))
        if key == "eye_to_sight":
            return replace(self, eye_to_sight_m=value, eye_to_sight_estimated=True)
        return replace(self, peep=replace(self.peep, way="square", square_m=value, estimated=True))

    def _lever_sd_m(self) -> float:
        """Of eye to sight, as it was measured or estimated [m]."""
        if self.eye_to_sight_estimated:
            return estimates.WIDER * self.estimate("eye_to_sight").sd
        return (self.eye_to_sight_sd_m if self.peep.way == "photo" else None) or EYE_TO_SIGHT_SD_M

    def _drag_sd_ln(self) -> float:
        """Of the logarithm of drag before any mark, wider by what was only estimated of the arrow."""
        mass = self.estimate("arrow_mass").sd if self.build.mass_estimated else 0.0
        across = 2.0 * self.estimate("shaft_diameter").sd if self.build.diameter_estimated else 0.0
        return math.hypot(arrow.PRIOR_DRAG_SD_LN, estimates.WIDER * math.hypot(mass, across))

    def expected_speed(self) -> ExpectedSpeed | None:
        """What the bow gives the build in use; None where any arrow of the bow was chronographed, or nobody said that
        it was not, or the arrow's mass is not known."""
        mass = self.build.mass_kg()
        if mass is None or not self.build.speed_unmeasured or any(build.chronographed for build in self.builds):
            return None
        return expected_speed(mass, self.bow.draw_weight_n, self.peep.true_draw_m, self.bow.let_off)

    def missing(self) -> tuple[str, ...]:
        """Keys of what the tape still needs from the card, in the order of measuring."""
        wanted = (
            ("arrow", self.build.drag_per_m()),
            ("chronograph", self.speed()),
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
        start = self.speed()
        if drag is None or height is None or lever is None or start is None:
            return None
        ratio = self.tape.ratio
        return Priors(
            Known(start.speed_mps, start.sd_mps),
            Known(drag, self._drag_sd_ln()),
            Known(lever, self._lever_sd_m()),
            Known(height.height_m, height.sd_m),
            Known(1.0, None) if ratio is None else Known(ratio, self.tape.ratio_sd),
        )

    def trusted_m(self, good_to_m: float | None) -> float | None:
        """How far a tape is good, at most what is wanted [m as ranged]; None while it is not good anywhere."""
        wanted = self.goals.farthest_m
        return good_to_m if good_to_m is None or wanted is None else min(good_to_m, wanted)

    def distance_from_sight(self, ranged_m: float) -> float:
        """A ranged distance [m] as distance from the sight plane [m]."""
        return ranged_m - self._ranging_lead()

    def ranged_distance(self, from_sight_m: float) -> float:
        """A distance from the sight plane [m] as this archer ranges it [m]."""
        return from_sight_m + self._ranging_lead()

    def _ranging_lead(self) -> float:
        return (self.eye_to_sight_m or 0.0) if self.ranged_from == "eye" else 0.0
