"""What the sight stands at: the reading of its dial, home or not, the place of every control; what of it is known."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from enum import StrEnum

from cross_staff.core.sight_in.controls import MARK, STEP, RangeControl
from cross_staff.core.sight_in.estimate import SAME_DIAL_MM, AimEstimate
from cross_staff.core.sight_in.log import HOME, ORDERED, End


class HowKnown(StrEnum):
    """How well it is known where something stands."""

    KNOWN = "known"
    ASSUMED = "assumed"
    UNKNOWN = "unknown"


KNOWN, ASSUMED, UNKNOWN = HowKnown


@dataclass(frozen=True)
class Place:
    """Where something of the sight stands: the dial, or a control by its name; value [mm on the scale; mm moved
    since the card's position or since it was confirmed], how well it is known, since when, and a code for why
    ("read", "ordered", "said", "card", "moved", "uncounted", "another_day", "never"); left, travel that remains to
    the lower or left and the upper or right end [mm]."""

    what: str
    value_mm: float | None
    how: HowKnown
    since: datetime | None = None
    why: str = "never"
    left_mm: tuple[float, float] | None = None
    places_mm: tuple[float, ...] = ()


@dataclass(frozen=True)
class SightStand:
    """The sight as it stands now, as far as anybody knows: the dial (None on a sight without one), whether that is
    home (None: not known), and every control that moves the aim."""

    dial: Place | None
    at_home: bool | None
    controls: tuple[Place, ...]


def sight_stand(estimate: AimEstimate, session: int | None) -> SightStand:
    """What the sight stands at.

    A reading belongs to the visit at which it was taken: on another day, or with another arrow, where the dial
    stands is not known until somebody reads it.

    Args:
        estimate: of everything that was shot and moved.
        session: the visit that arrows go to now; None before the first.

    Returns:
        each place with how well it is known, and since when.

    Source:
        a rule of the craft.
    """
    dial = _dial(estimate, session) if estimate.kind.dialled else None
    moved = {move.drive for move in estimate.log.moves}
    drives = [
        d
        for d in estimate.controls
        if not (d.moves == "elevation" and estimate.kind.dialled) and (d.name in moved or not d.last_resort)
    ]
    return SightStand(dial, _at_home(estimate, dial), tuple(_control(estimate, drive) for drive in drives))


def _dial(estimate: AimEstimate, session: int | None) -> Place:
    """The newest of what was read, said, or asked for and shot at."""
    log = estimate.log
    ends = [end for end in log.ends if end.dial_mm is not None or end.dial_from == HOME]
    newest: End | None = ends[-1] if ends else None
    said = log.said.get("stand:dial")
    entry = max([*log.stops, *([said] if said else [])], key=lambda e: e.entered, default=None)
    begun = log.session(session) if session is not None else None
    if entry is not None and (newest is None or entry.entered > newest.entered):
        if begun is not None and entry.entered < begun.entered:
            return Place("dial", entry.number, UNKNOWN, entry.entered, "another_day")
        return Place("dial", entry.number, UNKNOWN if entry.number is None else KNOWN, entry.entered, "said")
    if newest is None:
        return Place("dial", None, UNKNOWN)
    value = newest.dial_mm if newest.dial_mm is not None else estimate.home_dial_mm
    if newest.session != session or not estimate.still_true(newest):
        return Place("dial", value, UNKNOWN, newest.entered, "another_day")
    if newest.dial_from == ORDERED:
        return Place("dial", value, ASSUMED, newest.entered, "ordered")
    return Place("dial", value, KNOWN, newest.entered, "read")


def _at_home(estimate: AimEstimate, dial: Place | None) -> bool | None:
    if dial is None:
        return True if not estimate.kind.dialled else None
    home = estimate.home_dial_mm
    if dial.how == UNKNOWN or dial.value_mm is None:
        return None
    return None if home is None else abs(dial.value_mm - home) <= 2.0 * SAME_DIAL_MM


def _control(estimate: AimEstimate, drive: RangeControl) -> Place:
    moves = [m for m in estimate.log.moves if m.drive == drive.name and m.unit != MARK and not m.placed]
    last = moves[-1].entered if moves else None
    said = estimate.log.said.get(f"stand:{drive.name}")
    if drive.unit == STEP:
        place = estimate.place_mm(drive)
        since = max([e for e in (last, said.entered if said else None) if e is not None], default=None)
        how, why = (UNKNOWN, "never") if place is None else (KNOWN, "said")
        return Place(drive.name, place, how, since, why, places_mm=drive.places_mm)
    since_said = [m for m in moves if said is None or m.entered > said.entered]
    if any(not m.counted for m in since_said):
        return Place(drive.name, None, UNKNOWN, last, "uncounted")
    size = estimate.travel_per_unit(drive)[0]
    moved = sum(m.amount for m in since_said) * size
    if since_said:
        return Place(drive.name, moved, ASSUMED if drive.assumed else KNOWN, last, "moved", drive.left_mm)
    if said is not None:
        return Place(drive.name, 0.0, KNOWN, said.entered, "said", drive.left_mm)
    how = KNOWN if drive.left_mm is not None and not drive.assumed else ASSUMED
    return Place(drive.name, 0.0, how, None, "card", drive.left_mm)
