"""Peep height square to the arrow line at full draw, by each of the ways it is measured."""

from __future__ import annotations

import math
from dataclasses import dataclass

from cross_staff.core.errors import InvalidValue

SQUARE_SD_M = 0.005
ALONG_SD_M = 0.003
TYPED_ANGLE_SD_RAD = math.radians(1.5)
ESTIMATED_ANGLE_SD_RAD = math.radians(2.5)
LIKELY_SQUARE_M = (0.06, 0.125)  # a square height outside this was probably measured otherwise
USUAL_ANGLE_RAD = (math.radians(35.0), math.radians(42.0))

_TIP_TRAVEL_M = 0.070  # the axles come closer by about this much at full draw
_AXLES_BEHIND_GRIP_M = 0.180  # and the line through them stands about this far behind the grip


@dataclass(frozen=True)
class PeepHeight:
    """height_m square to the arrow line [m] with its sd [m]; ahead_of_nock_m [m] if known."""

    height_m: float
    sd_m: float
    ahead_of_nock_m: float | None = None


def from_square(height_m: float, sd_m: float = SQUARE_SD_M) -> PeepHeight:
    """A height measured square to the arrow, on a draw board.

    Args:
        height_m: square to the arrow line, at full draw [m].
        sd_m: of that way of measuring [m].

    Returns:
        height [m] with its sd [m].

    Source:
        docs/method.md, section 1.
    """
    return PeepHeight(height_m, sd_m)


def from_along_string(
    along_m: float,
    angle_rad: float,
    angle_sd_rad: float = TYPED_ANGLE_SD_RAD,
    along_sd_m: float = ALONG_SD_M,
) -> PeepHeight:
    """A length measured along the string from the nocking point, with the string's angle.

    Hp = a sin(phi), the peep stands a cos(phi) ahead of the nock;
    sd^2 = (sin(phi) sd_a)^2 + (a cos(phi) sd_phi)^2.

    Args:
        along_m: a [m] along the string, from the nocking point.
        angle_rad: phi [rad] between string and arrow at full draw.
        angle_sd_rad: of the angle [rad].
        along_sd_m: of the length [m].

    Returns:
        height [m] with its sd [m], and how far ahead of the nock [m].

    Raises:
        InvalidValue: for an angle that is not between 0 and 90 degrees.

    Source:
        docs/method.md, section 1.
    """
    if not 0.0 < angle_rad < math.pi / 2.0:
        raise InvalidValue("angle_rad", "must lie between 0 and 90 degrees")
    sine, cosine = math.sin(angle_rad), math.cos(angle_rad)
    sd = math.hypot(sine * along_sd_m, along_m * cosine * angle_sd_rad)
    return PeepHeight(along_m * sine, sd, along_m * cosine)


def string_angle(axle_to_axle_m: float, true_draw_m: float) -> float:
    """Estimate of the string's angle to the arrow at full draw, good to about 2.5 degrees.

    phi = atan( (A - 70 mm) / 2 / (T - 180 mm) ): half the distance between the drawn axles, over
    the distance from the nock to the line through them.

    Args:
        axle_to_axle_m: A at rest [m].
        true_draw_m: T [m], nocking point at full draw to the grip.

    Returns:
        phi [rad].

    Raises:
        InvalidValue: when the two cannot belong to one compound bow.

    Source:
        derived in docs/method.md, section 1.
    """
    if not axle_to_axle_m > 0.5:
        raise InvalidValue("axle_to_axle_m", "must be more than 0.5 m")
    if not true_draw_m > 0.4:
        raise InvalidValue("true_draw_m", "must be more than 0.4 m")
    half = (axle_to_axle_m - _TIP_TRAVEL_M) / 2.0
    return math.atan2(half, true_draw_m - _AXLES_BEHIND_GRIP_M)


def looks_along_string(height_m: float) -> bool:
    """Whether a height entered as square to the arrow is rather a length along the string.

    Args:
        height_m: as it was entered [m].

    Returns:
        whether it looks so.

    Source:
        docs/method.md, section 1.
    """
    return height_m > LIKELY_SQUARE_M[1]


def aperture_that_rings(housing_m: float, eye_to_peep_m: float, eye_to_sight_m: float) -> float:
    """Aperture of the peep whose edge covers that of the housing [m].

    a / e = D / (e + L), with e from the eye to the peep and L from the peep to the sight.

    Args:
        housing_m: D [m], inner diameter.
        eye_to_peep_m: e [m] along the line of sight.
        eye_to_sight_m: L [m], peep to sight.

    Returns:
        a [m], inside diameter.

    Source:
        similar triangles; docs/method.md, section 9.
    """
    return housing_m * eye_to_peep_m / (eye_to_peep_m + eye_to_sight_m)


def peep_shift(drop_m: float, eye_to_peep_m: float, eye_to_sight_m: float) -> float:
    """How much lower on the string the eye's line crosses when the housing has dropped [m].

    s e / (e + L): the line from eye to pin turns by about s / (e + L) about the eye, the anchor kept.

    Args:
        drop_m: s [m], how far the housing went down.
        eye_to_peep_m: e [m] along the line of sight.
        eye_to_sight_m: L [m], peep to sight.

    Returns:
        [m] down the string.

    Source:
        docs/method.md, section 9.
    """
    return drop_m * eye_to_peep_m / (eye_to_peep_m + eye_to_sight_m)
