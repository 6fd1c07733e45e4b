"""What a vial shows on a bow: tilt of sight, reference and rail at any pitch and cant.

Angles in radians; a vial's tilt is the angle by which its right end is high, so that the bubble of a
positive tilt stands right. Signs as in docs/method.md, section 11.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

from cross_staff.core.errors import InvalidValue
from cross_staff.core.rig.limits import VIAL_LINE_RAD


def sight_tilt(second_rad: float, third_rad: float, cant_rad: float, pitch_rad: float) -> float:
    """Tilt of the sight's vial on the bench [rad].

    asin( cos a2 sin a3 sin p - cos p (cos a2 cos a3 sin c + sin a2 cos c) )

    Args:
        second_rad: a2 [rad], clockwise positive.
        third_rad: a3 [rad], right end forward positive.
        cant_rad: c [rad] about the arrow line, top limb right positive.
        pitch_rad: p [rad] of the arrow line, up positive.

    Returns:
        tilt [rad], right end high positive.

    Source:
        derived in docs/method.md, section 11.
    """
    forward = math.cos(second_rad) * math.sin(third_rad) * math.sin(pitch_rad)
    across = math.cos(second_rad) * math.cos(third_rad) * math.sin(cant_rad) + math.sin(second_rad) * math.cos(cant_rad)
    return math.asin(max(-1.0, min(1.0, forward - math.cos(pitch_rad) * across)))


def reference_tilt(yaw_rad: float, cant_rad: float, pitch_rad: float) -> float:
    """Tilt of a trimmed reference that sits yawed by `yaw_rad` on its seat [rad].

    Args:
        yaw_rad: e [rad] of the reference on its seat, right end forward positive.
        cant_rad: c [rad] about the arrow line, top limb right positive.
        pitch_rad: p [rad] of the arrow line, up positive.

    Returns:
        tilt [rad], right end high positive.

    Source:
        derived in docs/method.md, section 11.
    """
    return sight_tilt(0.0, yaw_rad, cant_rad, pitch_rad)


def rail_tilt(first_rad: float, yaw_rad: float, cant_rad: float, pitch_rad: float) -> float:
    """Tilt of a level held square on the elevation rail [rad]: the rail leans with the bow's cant.

    Args:
        first_rad: a1 [rad], clockwise positive.
        yaw_rad: e [rad] of the reference on its seat, right end forward positive.
        cant_rad: c [rad] about the arrow line, top limb right positive.
        pitch_rad: p [rad] of the arrow line, up positive.

    Returns:
        tilt [rad], right end high positive.

    Source:
        derived in docs/method.md, section 11.
    """
    return sight_tilt(first_rad, yaw_rad, cant_rad, pitch_rad)


def cant_of(reference_rad: float, yaw_rad: float, pitch_rad: float) -> float:
    """Cant of the bow that a reference reading tells, given its own yaw [rad].

    sin r = sin e sin p - cos p cos e sin c.

    Args:
        reference_rad: the reference vial's tilt [rad].
        yaw_rad: e [rad] of the reference on its seat, right end forward positive.
        pitch_rad: p [rad] of the arrow line, up positive.

    Returns:
        cant [rad], top limb right positive.

    Raises:
        InvalidValue: where no cant reads so.

    Source:
        derived in docs/method.md, section 11.
    """
    across = math.cos(pitch_rad) * math.cos(yaw_rad)
    sine = (math.sin(yaw_rad) * math.sin(pitch_rad) - math.sin(reference_rad)) / across
    if not -1.0 < sine < 1.0:
        raise InvalidValue("reference_deg", "no cant of the bow makes this reading at this pitch")
    return math.asin(sine)


LARGE_ERROR_DIV = 1.5  # a vial that is so wrong was likely read from both sides of the room


@dataclass(frozen=True)
class Reversal:
    """A clip-on vial read twice, turned end for end, both towards the same side of the room: the
    true tilt and the vial's own error [in the unit of the readings]."""

    tilt: float
    error: float

    @property
    def doubtful(self) -> bool:
        return abs(self.error) > LARGE_ERROR_DIV


def reversal(first: float, turned: float) -> Reversal:
    """Half the sum is the true tilt, half the difference the vial's own error.

    Args:
        first: bubble as it lies first [lines, right positive].
        turned: turned end for end, towards the same side of the room [lines, right positive].

    Returns:
        the true tilt and the vial's own error [lines].

    Source:
        docs/method.md, section 11.
    """
    return Reversal((first + turned) / 2.0, (first - turned) / 2.0)


def line_from_shim(shim: float, base: float, moved_div: float) -> float:
    """Radians a line, from a shim put under one end of a straight edge and the lines it moved the bubble.

    Args:
        shim: height under one end, in any unit.
        base: length it stands on, in the same unit.
        moved_div: how far the bubble moved [lines].

    Returns:
        [rad] a line.

    Raises:
        InvalidValue: for a line that no vial has.

    Source:
        right triangle; docs/method.md, section 11.
    """
    return line_of(math.asin(min(shim / base, 1.0)), moved_div, "moved")


def line_of(tilt_rad: float, moved_div: float, name: str) -> float:
    """Radians a line, from a tilt and the lines that it moved a bubble, either way.

    Args:
        tilt_rad: [rad].
        moved_div: how far the bubble moved [lines].
        name: of the input that the lines were typed in.

    Returns:
        [rad] a line.

    Raises:
        InvalidValue: for a line that no vial has.

    Source:
        docs/method.md, section 11.
    """
    made = abs(tilt_rad / moved_div)
    if not VIAL_LINE_RAD.holds(made):
        said = f"that makes {math.degrees(made):.2f} degrees a line, which no vial has: check all that was typed"
        raise InvalidValue(name, said)
    return made


def bubble_between(left_line: float, right_line: float, lines: float, one_end: float, other_end: float) -> float:
    """Where a bubble stands on a photo [divisions, right positive].

    Args:
        left_line: place of the line left of the middle, along one direction of the photo [any unit].
        right_line: place of the line right of it [same unit].
        lines: how many lines each stands from the middle [lines].
        one_end: place of one end of the bubble [same unit].
        other_end: place of the other [same unit].

    Returns:
        [lines], right positive.

    Source:
        similar triangles on the photo.
    """
    middle, half = (left_line + right_line) / 2.0, (right_line - left_line) / 2.0
    return lines * ((one_end + other_end) / 2.0 - middle) / half
