"""What a line of a vial is worth, found while levelling: from a known tilt, beside a level that is known, or from a
counted turn of a screw that is known from other bows."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass, replace

from cross_staff.core.errors import InvalidValue
from cross_staff.core.level.log import History, Look
from cross_staff.core.level.looks import amounts_between
from cross_staff.core.level.methods import BY_KEY
from cross_staff.core.level.screws import TURN_PART, AnglePerTurnPrior
from cross_staff.core.level.units import COARSE_LINE_RAD, LOOK_DIV, kind_beside, unit_for
from cross_staff.core.level.vials import line_of
from cross_staff.core.rig.card import LevelSetup
from cross_staff.core.rig.limits import VIAL_LINE_RAD

LEAST_MOVED_DIV = 1.0  # a bubble that moved less tells little of its lines
SURE_SD_LN = 0.25  # a screw of which more is open calibrates nothing
LEAST_TURNED_DIV = 0.5
LEAST_SEEN_DIV = 0.3  # a tolerance that is less on the glass asks more of a look than it can give
VIAL_KIND = {"first": "rail", "second": "sight", "third": "sight"}
_UPPER_SDS = 1.64


def line_by(tilt_rad: float, moved_div: float, name: str) -> float:
    """What a line is, from a tilt of the whole bow that is known.

    Args:
        tilt_rad: how far it was canted [rad].
        moved_div: how far the bubble moved for it, either way [lines].
        name: of the input that the lines were typed in.

    Returns:
        [rad] a line.

    Raises:
        InvalidValue: for less than a line, or a line that no vial has.

    Source:
        docs/method.md, section 12.
    """
    if abs(moved_div) < LEAST_MOVED_DIV:
        raise InvalidValue(name, "less than a line tells little: cant it more, and read again")
    return line_of(tilt_rad, moved_div, name)


def cant_by(off: float, over: float) -> float:
    """How far a bow is canted whose string stands off a plumb line.

    Args:
        off: at one end of the string, when it touches the line at the other, in any unit.
        over: the length between both, in the same unit.

    Returns:
        [rad].

    Raises:
        InvalidValue: for a length that is none, or a tilt beyond every glass.

    Source:
        right triangle.
    """
    if not 0.0 < off < over:
        raise InvalidValue("off", "off the line by more than nought, and by less than the length it is measured over")
    return math.asin(off / over)


@dataclass(frozen=True)
class Canted:
    """A bow canted on purpose, and how far its bubbles moved for it [lines]: that of the vial in hand, and that of the
    level beside it (None where none is read); how far the string's end then stood off a plumb line over a length [both
    in one unit]; None where the level beside is calibrated, which tells the tilt by itself. The string level's bubble,
    which hangs on the same bow, where it was read too."""

    vial_div: float
    beside_div: float | None = None
    off: float | None = None
    over: float | None = None
    string_div: float | None = None


def lines_by(setup: LevelSetup, axis: str, method: str, seen: Canted) -> dict[str, float]:
    """What a line is of each vial that an axis is read with, by a cant that is known.

    Args:
        setup: vials as they are known [rad a line].
        axis: first, second or third.
        method: how it is read.
        seen: how far the bubbles moved, and by which tilt.

    Returns:
        [rad] a line, by the kind of vial; of those that were not calibrated.

    Raises:
        InvalidValue: for a tilt that is not told, or a line that no vial has.

    Source:
        docs/method.md, section 12.
    """
    kind = kind_beside(axis, method)
    known = getattr(setup, kind).per_division_rad if kind else None
    if kind and seen.beside_div is None:
        raise InvalidValue("moved_beside", "how far did its bubble move?")
    if known is not None:
        tilt = known * abs(seen.beside_div or 0.0)
        if abs(seen.beside_div or 0.0) < LEAST_MOVED_DIV:
            raise InvalidValue("moved_beside", "less than a line tells little: cant it more, and read again")
    else:
        tilt = cant_by(seen.off or 0.0, seen.over or 0.0)
    lines = {VIAL_KIND[axis]: line_by(tilt, seen.vial_div, "moved_vial")}
    if kind and known is None:
        lines[kind] = line_by(tilt, seen.beside_div or 0.0, "moved_beside")
    if seen.string_div is not None and abs(seen.string_div) >= LEAST_MOVED_DIV:
        lines["string"] = line_by(tilt, seen.string_div, "moved_string")
    return lines


def with_lines(setup: LevelSetup, log: History, known: Mapping[str, AnglePerTurnPrior]) -> LevelSetup:
    """The setup with lines that a counted turn told, of vials that nobody calibrated: rather too coarse than too fine.

    Args:
        setup: vials [rad a line].
        log: looks and turns in order.
        known: what the shop knows of such screws, by axis [rad a turn].

    Returns:
        a setup.

    Source:
        docs/method.md, section 12.
    """
    for axis, prior in known.items():
        kind = VIAL_KIND[axis]
        vial = getattr(setup, kind)
        if vial.per_division_rad is not None or prior.sd_ln > SURE_SD_LN:
            continue
        line = _line_by_turn(axis, log, prior)
        if line is not None:
            changed = {kind: replace(vial, per_division_rad=line)}
            setup = replace(setup, **changed)
    return setup


def _line_by_turn(axis: str, log: History, prior: AnglePerTurnPrior) -> float | None:
    """The coarsest that a line likely is, by the first turn that tells it [rad]; None before one."""
    spans = sorted({k.span for k in log.of(axis) if not k.entry.vial_end})
    for before, after in zip(spans, spans[1:]):
        turns = amounts_between(axis, log, before, after)
        old, new = _inside(axis, log, before)[-1], _inside(axis, log, after)[0]
        alike = (old.entry.method, old.entry.place, old.seating) == (new.entry.method, new.entry.place, new.seating)
        same_tilt = abs(old.entry.pitch_rad - new.entry.pitch_rad) < math.radians(2.0)
        moved = (new.entry.vial_div - new.entry.reference_div) - (old.entry.vial_div - old.entry.reference_div)
        if not turns or not alike or not same_tilt or abs(moved) < LEAST_TURNED_DIV:
            continue
        pitch = new.entry.pitch_rad
        tilts = abs(math.sin(pitch) if axis == "third" else math.cos(pitch))
        sd_ln = math.hypot(prior.sd_ln, TURN_PART, 2.0 * LOOK_DIV / moved)
        line = prior.size * abs(turns) * tilts / abs(moved) * math.exp(_UPPER_SDS * sd_ln)
        if line < COARSE_LINE_RAD and VIAL_LINE_RAD.holds(line):
            return line
    return None


def _inside(axis: str, log: History, span: int) -> list[Look]:
    return [k for k in log.of(axis, span) if not k.entry.vial_end]


def glass_too_coarse(setup: LevelSetup, axis: str, method: str, pitch_rad: float, tolerance_rad: float) -> bool:
    """Whether what may be left of the third axis is too little to be seen, by lines that are only guessed.

    Args:
        setup: vials [rad a line].
        axis: first, second or third.
        method: how it is read.
        pitch_rad: at which tilt of the arrow line [rad].
        tolerance_rad: what may be left [rad].

    Returns:
        whether its vial is to be calibrated first.

    Source:
        docs/method.md, section 12.
    """
    unit = unit_for(setup, axis, method)
    if unit.calibrated or axis != "third" or BY_KEY[method].reads == "arrows":
        return False
    return tolerance_rad * abs(math.sin(pitch_rad)) / unit.vial < LEAST_SEEN_DIV
