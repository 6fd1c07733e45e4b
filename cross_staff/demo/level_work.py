"""Levelling on the demo bench: a virtual technician does what the program says, through its services."""

from __future__ import annotations

import math
from dataclasses import replace
from datetime import UTC, datetime

import numpy as np

from cross_staff.core.ballistics.arrow import Component
from cross_staff.core.errors import InvalidValue
from cross_staff.core.level.station import LevelState
from cross_staff.core.prepare.station import OVERRIDE
from cross_staff.core.rig.arrow_build import ArrowBuild
from cross_staff.core.rig.card import INSTRUMENT_KINDS, Goals, LevelSetup, PeepEntry, RigCard
from cross_staff.core.rig.chronograph import ChronographSession
from cross_staff.core.rig.instrument import Instrument, fitted
from cross_staff.core.rig.log import BenchEntry
from cross_staff.core.rig.sight_kinds import KINDS
from cross_staff.core.simulate.hidden_bow import HiddenBow, HiddenVial
from cross_staff.core.simulate.technician import (
    Habits,
    Technician,
    WalkOutcome,
    outcome,
)
from cross_staff.services import bench
from cross_staff.services.card import save as card
from cross_staff.services.level import instruments
from cross_staff.services.practice.level_walk import walk
from cross_staff.services.prepare import record as prepare
from cross_staff.services.rig import open_rig
from cross_staff.storage.database import Database

_NAMES = {
    "reference": "Clip-on level, silver",
    "rail": "Straight level, 60 mm",
    "string": "String level, two vials",
    "jig": "Bench jig by the window",
}


def shop_levels(database: Database, setup: LevelSetup, now: datetime) -> LevelSetup:
    """The shop's own levels, kept and chosen on a setup."""
    for kind in INSTRUMENT_KINDS:
        record = Instrument(_NAMES[kind], kind, getattr(setup, kind))
        setup = fitted(setup, kind, instruments.add(database, record, now), record)
    return setup


def careful(setup: LevelSetup, seed: int, method: str, start: datetime) -> Technician:
    """A technician who does only what he is told, with these levels and this way of reading the third axis."""
    bow = HiddenBow.drawn(np.random.default_rng(seed), setup.yaw_proved)
    bow.vials = {kind: _hidden(setup, kind) for kind in bow.vials}
    bow.put_on(setup.seat, setup.seat)
    habits = Habits((method,), True, True, setup.seat, "to_string", 0.0, 0.0, 0.0, 0.0)
    return Technician(bow, habits, start)


def _hidden(setup: LevelSetup, kind: str) -> HiddenVial:
    vial = getattr(setup, kind)
    assert vial.per_division_rad is not None
    return HiddenVial(vial.per_division_rad, vial.roll_error_div or 0.0, vial.lines)


STAKES_M = (38.0, 61.0, 78.0, 95.0)


def empty_shop_walk(database: Database, seed: int, clean: bool | None = None) -> WalkOutcome:
    """A bow of its own in an empty shop, levelled by a technician with his own habits, to the end.

    Args: seed, of everything that is hidden; clean, without slips, and whether his vials are calibrated.
    """
    rig_id, technician = empty_shop(database, seed, clean)
    return outcome(technician, _walked(database, rig_id, technician))


def empty_shop(database: Database, seed: int, clean: bool | None = None) -> tuple[int, Technician]:
    """A bow of its own put on the bench, its gate open, and who will level it.

    Args: seed, of everything that is hidden; clean, without slips, and whether his vials are calibrated.
    """
    generator = np.random.default_rng(seed)
    technician = Technician.drawn(generator, datetime(2026, 5, 1, tzinfo=UTC), clean)
    kind = str(generator.choice(list(KINDS)))
    goals = Goals(17.0, float(generator.choice(STAKES_M)), 0.25, 0.10, 38.0, slope_up_rad=_SLOPE, slope_down_rad=_SLOPE)
    full = RigCard(
        "walked", handed=str(generator.choice(("right", "left"))), sight=replace(KINDS[kind].template, name="walked"),
        builds=(_BUILD,), eye_to_sight_m=0.82, peep=PeepEntry("square", 0.104), goals=goals,
        level=technician.setup(0.05),
    )  # fmt: skip
    rig_id = bench.add(database, full.name, "", {}, technician.moment())
    card.save(database, rig_id, 1, full, {}, technician.moment(), "measured")
    reason = BenchEntry("prepare", OVERRIDE, 0, technician.moment(), note="levelled before it was tuned")
    prepare.override_gate(database, rig_id, reason)
    return rig_id, technician


def _walked(database: Database, rig_id: int, technician: Technician) -> LevelState:
    """To the end; an order that the program itself refuses is noted."""
    try:
        return walk(database, rig_id, technician)
    except InvalidValue as error:
        technician.impossible.append(str(error))
        return open_rig(database, rig_id).level


_SLOPE = math.radians(25.0)
_BUILD = ArrowBuild(
    "slim carbon", 0.72, 0.0164, 0.0058, (Component("Point", 0.0098, 0.724), Component("Nock", 0.0006, 0.0)),
    sessions=(ChronographSession((81.0, 81.2, 80.9)),),
)  # fmt: skip
