"""Rigs and cards that many tests use."""

from __future__ import annotations

import math
from dataclasses import replace
from datetime import UTC, datetime

from cross_staff.core.ballistics.arrow import Component
from cross_staff.core.ballistics.flight import RigFigures
from cross_staff.core.ballistics.sightline import pin_height
from cross_staff.core.rig.arrow_build import ArrowBuild
from cross_staff.core.rig.card import Goals, PeepEntry, RigCard
from cross_staff.core.rig.chronograph import ChronographSession
from cross_staff.core.rig.sight import SightModel, TapeSeat
from cross_staff.core.rig.sight_kinds import KINDS
from cross_staff.core.tape.rows import TapeMark

RIG_A = RigFigures(81.0, 0.00142, 0.82, 0.104)
RIG_B = RigFigures(66.5, 0.0021, 0.74, 0.093)
TEMPLATES = {kind.key: kind.template for kind in KINDS.values()}
NOON = datetime(2026, 11, 24, 12, 0, tzinfo=UTC)


def full_card(
    build: ArrowBuild | None = None,
    chronograph: ChronographSession = ChronographSession((80.8, 81.0, 81.2, 80.9)),
    tape: TapeSeat = TapeSeat(),
    **changes: object,
) -> RigCard:
    """A card that lacks nothing, whose figures are close to rig A."""
    build = build or ArrowBuild(
        "slim", 0.72, 0.0168, 0.0058, (Component("Point", 0.0098, 0.724), Component("Nock", 0.0006, 0.0))
    )
    fields: dict[str, object] = {
        "name": "Test bow",
        "archer": "Maren Oake",
        "builds": (replace(build, sessions=(replace(chronograph, mass_kg=build.mass_kg()),)),),
        "sight": SightModel(tape=tape),
        "eye_to_sight_m": 0.82,
        "peep": PeepEntry("along", along_m=0.165, angle_rad=math.radians(39.0)),
        "ranged_from": "sight",
        "goals": Goals(17.0, 95.0, 0.25, 0.10, 38.0),
    }
    return RigCard(**(fields | changes))  # type: ignore[arg-type]


def true_mark(distance_m: float, zero_mm: float = 20.0, figures: RigFigures = RIG_A) -> float:
    """The mark that these figures give on a scale which reads `zero_mm` at 17 m [mm]."""
    return zero_mm + 1000.0 * (pin_height(figures, 17.0) - pin_height(figures, distance_m))


def entry(line: int, ranged_m: float, mark_mm: float, **changes: object) -> TapeMark:
    """A row of the marks table."""
    return TapeMark(line, line, 1, NOON, ranged_m, mark_mm, **changes)  # type: ignore[arg-type]
