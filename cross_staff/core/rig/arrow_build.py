"""An arrow build: its parts, weight, recorded spine, and what the chronograph said of it."""

from __future__ import annotations

from dataclasses import dataclass, replace

from cross_staff.core.ballistics import arrow
from cross_staff.core.rig.chronograph import ChronographSession

FRONT_M = 0.03  # a part this close to the shaft's end belongs to the point: insert, collar, point
WEIGHED_APART = 0.02  # part by which the scale and the sum of parts may differ before it is said
LEAST_SHAFT_MARGIN_M = 0.012  # shaft in front of the rest at full draw
LEAST_COLLAR_MARGIN_M = 0.006


@dataclass(frozen=True)
class SpineBasis:
    """What the stiffness was chosen for: draw weight [N], shaft length [m], mass at the front [kg]."""

    draw_weight_n: float | None
    shaft_length_m: float | None
    front_kg: float


@dataclass(frozen=True)
class ArrowBuild:
    """An arrow build: shaft length from throat to end [m], mass per length [kg/m], diameter [m].

    measured_mass_kg, off a scale, overrides the sum of parts; spine as the maker's chart names it,
    with what it was chosen for; sessions at the chronograph, oldest first; speed_unmeasured, where somebody said that
    there will be none; estimated, where mass or diameter were only put in place of a measured one; balance_point_m from
    the throat [m], where it was measured.
    """

    name: str = ""
    shaft_length_m: float | None = None
    shaft_kg_per_m: float | None = None
    shaft_diameter_m: float | None = None
    components: tuple[arrow.Component, ...] = ()
    measured_mass_kg: float | None = None
    spine: str = ""
    spine_for: SpineBasis | None = None
    sessions: tuple[ChronographSession, ...] = ()
    speed_unmeasured: bool = False
    mass_estimated: bool = False
    diameter_estimated: bool = False
    balance_point_m: float | None = None

    def of_parts(self) -> arrow.Balance | None:
        """Mass and front of centre from the parts; None while the shaft is unknown."""
        if self.shaft_length_m is None or self.shaft_kg_per_m is None:
            return None
        return arrow.balance(self.shaft_length_m, self.shaft_kg_per_m, self.components)

    def balance(self) -> arrow.Balance | None:
        """Mass and front of centre: by the point that it was balanced on, where that was measured, else from the parts;
        None while neither is known."""
        length, point, mass = self.shaft_length_m, self.balance_point_m, self.mass_kg()
        if point is None or length is None or mass is None:
            return self.of_parts()
        return arrow.Balance(mass, point, 100.0 * (point - length / 2.0) / length)

    def mass_kg(self) -> float | None:
        """Mass off the scale, else of the parts [kg]; None while neither is known."""
        balance = self.of_parts()
        if self.measured_mass_kg is not None and (balance is None or not self.mass_estimated):
            return self.measured_mass_kg
        return None if balance is None else balance.mass_kg

    def drag_per_m(self) -> float | None:
        """Drag constant before any impact [1/m]; None while mass or diameter are unknown."""
        mass = self.mass_kg()
        if mass is None or self.shaft_diameter_m is None:
            return None
        return arrow.prior_drag(self.shaft_diameter_m, mass)

    @property
    def chronographed(self) -> bool:
        """Whether any reading is kept."""
        return any(session.kept_mps for session in self.sessions)

    @property
    def newest_session(self) -> ChronographSession:
        return self.sessions[-1] if self.sessions else ChronographSession(())

    def with_newest(self, session: ChronographSession) -> ArrowBuild:
        """The newest session replaced, or the first one added."""
        return replace(self, sessions=(*self.sessions[:-1], session))

    def front_kg(self) -> float:
        """Mass of the parts at the front end [kg]: point, insert, collar."""
        end = (self.shaft_length_m or 0.0) - FRONT_M
        return sum(part.mass_kg for part in self.components if part.centre_from_throat_m >= end)

    def flies_as(self) -> tuple[object, ...]:
        """What decides the flight: two builds that agree in this share their marks."""
        parts = tuple((p.mass_kg, p.centre_from_throat_m) for p in self.components)
        across = None if self.diameter_estimated else self.shaft_diameter_m
        weighed = None if self.mass_estimated else self.measured_mass_kg
        return (self.shaft_length_m, self.shaft_kg_per_m, across, parts, weighed)

    def weighs_apart(self) -> float | None:
        """Scale less sum of parts [kg] where they differ by more than a fiftieth, else None."""
        balance = self.of_parts() if self.components else None
        if balance is None or self.measured_mass_kg is None or self.mass_estimated:
            return None
        apart = self.measured_mass_kg - balance.mass_kg
        return apart if abs(apart) > WEIGHED_APART * balance.mass_kg else None

    def spine_basis(self, draw_weight_n: float | None) -> SpineBasis:
        """What a stiffness chosen now would be chosen for."""
        return SpineBasis(draw_weight_n, self.shaft_length_m, self.front_kg())


# where the middle of a part usually sits: from the throat, or from the shaft's end [m]
_FROM_THROAT = {"nock": 0.005, "vane": 0.045, "fletch": 0.045, "wrap": 0.065}
_FROM_END = {"collar": -0.006, "insert": -0.012, "outsert": 0.004, "point": 0.004, "head": 0.020, "tip": 0.004}


def usual_centre(name: str, shaft_length_m: float) -> float | None:
    """Where the middle of a part sits whose place follows from the shaft.

    Args:
        name: of the part, in words.
        shaft_length_m: throat to end of shaft [m].

    Returns:
        [m] from the throat; None for a part of another name.

    Source:
        a rule of the craft; 10 mm move the front of centre by less than half a per cent.
    """
    words = name.lower()
    for part, from_end in _FROM_END.items():
        if part in words:
            return shaft_length_m + from_end
    return next((place for part, place in _FROM_THROAT.items() if part in words), None)


@dataclass(frozen=True)
class SpineDoubt:
    """Something changed since the stiffness was chosen: what, then and now in SI, and whether the
    change asks for a stiffer (+1) or a weaker (-1) shaft."""

    what: str
    then: float
    now: float
    stiffer: int


def spine_doubts(build: ArrowBuild, draw_weight_n: float | None) -> tuple[SpineDoubt, ...]:
    """What changed since this build's spine was recorded; none where nothing is recorded.

    More draw weight, a longer shaft, or more mass at the front bend the shaft more, and so ask for
    a stiffer one.

    Args:
        build: the build.
        draw_weight_n: peak draw weight now [N]; None where it is not known.

    Returns:
        what changed, each with its old and new value.

    Source:
        docs/method.md, section 6.
    """
    basis = build.spine_for
    if not build.spine or basis is None:
        return ()
    compared = (
        ("draw_weight", basis.draw_weight_n, draw_weight_n, 2.0),
        ("shaft_length", basis.shaft_length_m, build.shaft_length_m, 0.002),
        ("front", basis.front_kg, build.front_kg(), 0.00035),
    )
    return tuple(
        SpineDoubt(what, then, now, 1 if now > then else -1)
        for what, then, now, slack in compared
        if then is not None and now is not None and abs(now - then) > slack
    )


def recorded(new: ArrowBuild, old: ArrowBuild | None, draw_weight_n: float | None) -> ArrowBuild:
    """The build with what belongs to its measurements written beside them: what the spine was chosen
    for, renewed when the spine itself is; draw weight and mass at each new chronograph session.

    Args:
        new: the build as it is saved.
        old: as it was kept; None for a new one.
        draw_weight_n: peak draw weight now [N]; None where it is not known.

    Returns:
        the build, with draw weight [N] and mass [kg] beside its measurements.

    Source:
        docs/method.md, section 6.
    """
    kept = old.sessions if old is not None else ()
    mass = None if new.mass_estimated else new.mass_kg()
    sessions = tuple(
        session if session in kept else _stamped(session, kept, draw_weight_n, mass) for session in new.sessions
    )
    new = replace(new, sessions=sessions)
    if not new.spine:
        return replace(new, spine_for=None)
    if old is not None and old.spine == new.spine and old.spine_for is not None:
        return replace(new, spine_for=old.spine_for)
    return replace(new, spine_for=new.spine_basis(draw_weight_n))


def _stamped(
    session: ChronographSession, kept: tuple[ChronographSession, ...], draw_weight_n: float | None, mass: float | None
) -> ChronographSession:
    """A session that was only looked over again (a reading left out, or mended) keeps what stood beside it."""
    for before in kept:
        if before.same_as(session):
            return replace(session, draw_weight_n=before.draw_weight_n, mass_kg=before.mass_kg)
    return replace(session, draw_weight_n=draw_weight_n, mass_kg=mass)


def mass_per_force(mass_kg: float | None, draw_weight_n: float | None) -> float | None:
    """Arrow mass per draw weight [kg/N]; None while either is unknown.

    Args:
        mass_kg: of the whole arrow [kg]; None where it is not known.
        draw_weight_n: peak draw weight now [N]; None where it is not known.

    Returns:
        [kg/N]; None while either is unknown.

    Source:
        definition.
    """
    if mass_kg is None or not draw_weight_n:
        return None
    return mass_kg / draw_weight_n


@dataclass(frozen=True)
class Margins:
    """At full draw, how far shaft and collar stand in front of the rest [m]; None where unknown."""

    shaft_m: float | None
    collar_m: float | None

    @property
    def short(self) -> tuple[str, ...]:
        """Which of the two is too little."""
        least = (("shaft", self.shaft_m, LEAST_SHAFT_MARGIN_M), ("collar", self.collar_m, LEAST_COLLAR_MARGIN_M))
        return tuple(name for name, value, limit in least if value is not None and value < limit)


def margins(build: ArrowBuild, nock_to_rest_m: float | None) -> Margins:
    """Shaft and collar in front of the rest at full draw.

    Args:
        build: the build.
        nock_to_rest_m: nock throat to where the rest carries the arrow, at full draw [m]; None where it is not known.

    Returns:
        shaft [m] and collar [m] in front of the rest, and what is too short.

    Source:
        docs/method.md, section 6.
    """
    if nock_to_rest_m is None or build.shaft_length_m is None:
        return Margins(None, None)
    collars = [p.centre_from_throat_m for p in build.components if "collar" in p.name.lower()]
    collar = min(collars) - nock_to_rest_m if collars else None
    return Margins(build.shaft_length_m - nock_to_rest_m, collar)
