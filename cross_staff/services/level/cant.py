"""A cant on purpose: two groups kept, what they show, and the vial's line taken from them."""

from __future__ import annotations

from dataclasses import dataclass, replace
from datetime import datetime

from cross_staff.core.errors import InvalidValue, NotFound
from cross_staff.core.level import cant_trial
from cross_staff.core.level.cant_trial import USUAL_LINES, CantFound, CantTrial, trial_of
from cross_staff.core.level.station import STATION
from cross_staff.core.rig.log import BenchEntry, standing
from cross_staff.services import log as entries
from cross_staff.services.card import save as card_service
from cross_staff.services.rig import Rig, open_rig
from cross_staff.storage.database import Database


@dataclass(frozen=True)
class CantPage:
    """The trial that stands (None: none was shot) with what it shows (None while the flight is not known); how many
    arrows in each group tell a cant of so many lines at a distance [m as ranged] (None where that cannot be said)."""

    trial: CantTrial | None
    found: CantFound | None
    distance_m: float
    lines: float
    arrows: int | None


def cant_page(rig: Rig, distance_m: float | None = None, lines: float = USUAL_LINES) -> CantPage:
    """What the page shows."""
    trials = standing(rig.log_of(STATION)).get(cant_trial.KEY, [])
    trial = trial_of(trials[-1]) if trials else None
    shown = cant_trial.found(rig.card, rig.figures, trial) if trial else None
    far = distance_m or rig.card.goals.farthest_m or 30.0
    return CantPage(trial, shown, far, lines, cant_trial.arrows_to_tell(rig.card, rig.figures, far, lines))


def keep(database: Database, rig_id: int, trial: CantTrial, now: datetime) -> None:
    """Keep a trial. Raises NotFound; InvalidValue for what tells nothing."""
    trial.check()
    entries.enter(database, rig_id, trial.entry(STATION, now))


def take_back(database: Database, rig_id: int, now: datetime) -> None:
    """Take the newest trial back; the log keeps both. Raises NotFound."""
    entries.take_back(database, rig_id, BenchEntry(STATION, cant_trial.KEY, 0, now))


def take_line(database: Database, rig_id: int, now: datetime) -> None:
    """Take what the arrows tell as what a line of the sight's vial is. Raises NotFound; InvalidValue where they do not
    tell it."""
    rig = open_rig(database, rig_id)
    shown = cant_page(rig).found
    if shown is None:
        raise NotFound("no cant was shot on purpose, or its flight is not known")
    if not shown.calibrates:
        raise InvalidValue("line", "these groups do not tell a line well enough: more arrows, or more cant")
    setup = rig.card.level
    setup = replace(setup, sight=replace(setup.sight, per_division_rad=shown.line_rad))
    card = replace(rig.card, level=setup)
    card_service.save(database, rig_id, rig.revision.number, card, rig.units, now, "vial's line by a cant on purpose")
