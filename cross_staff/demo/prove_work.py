"""Tapes that are proven on the demo rigs: shot by over days, with what the hidden bow does."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime, timedelta

import numpy as np

from cross_staff.core.ballistics.flight import RigFigures
from cross_staff.core.ballistics.sightline import impact_heights, pin_height
from cross_staff.core.prove.locking import SPARE, Thread
from cross_staff.core.prove.log import STATION, ProofLine
from cross_staff.core.prove.station import MARK
from cross_staff.core.rig.log import BenchEntry
from cross_staff.services import log as entries
from cross_staff.services.mount import record as mount
from cross_staff.services.prove import record as prove
from cross_staff.services.rig import open_rig
from cross_staff.storage.database import Database

ARROWS = 4
LOCKER_ON = ("mount", "second_axis", "third_axis")
DAY_PART = 0.3  # of the archer's spread, which a day sets all its arrows off by


@dataclass(frozen=True)
class Truth:
    """What nobody knows of a tape on its sight: the bow's figures and its archer's spread [mrad]; how far the strip
    lies off [mm]; how much longer it should be; windage that is left [mrad]."""

    figures: RigFigures
    spread_mrad: float
    laid_off_mm: float = 0.0
    too_short: float = 0.0
    windage_mrad: float = 0.0


def on_sight(database: Database, rig_id: int, when: datetime) -> None:
    """The strip as fitted is laid on."""
    tapes = open_rig(database, rig_id).prove.tapes
    fitted = next((tape for tape in tapes if tape.strip.name.endswith("fitted")), tapes[0])
    prove.lay(database, rig_id, fitted.code, when)


def visit(
    database: Database,
    rig_id: int,
    truth: Truth,
    distances_m: tuple[float, ...],
    generator: np.random.Generator,
    when: datetime,
    cold: bool = False,
) -> None:
    """A visit to the range: a group at each distance, dialled by the tape and written down.

    Args: cold, the first group is of the day's first arrows.
    """
    rig = open_rig(database, rig_id)
    current = rig.prove.current
    assert current is not None
    card, strip = rig.card, current.tape.strip
    home = pin_height(truth.figures, card.distance_from_sight(strip.home_m))
    day = generator.normal(0.0, DAY_PART * truth.spread_mrad, 2) * 1e-3
    for place, ranged in enumerate(distances_m):
        distance = card.distance_from_sight(ranged)
        stands_mm = strip.place_mm("", ranged) / (1.0 + truth.too_short) - truth.laid_off_mm
        up = float(impact_heights(truth.figures, home - 1e-3 * stands_mm, distance)[0]) + day[0] * distance
        right = (truth.windage_mrad * 1e-3 + day[1]) * distance
        up, right = (v + generator.normal(0.0, 1e-3 * truth.spread_mrad * distance / ARROWS**0.5) for v in (up, right))
        line = ProofLine(
            f"demo-{rig_id}-{when:%m%d}-{place}",
            0,
            when + timedelta(minutes=20 * place),
            when.date(),
            ranged,
            ranged,
            ARROWS,
            round(up / 0.005) * 0.005,
            round(right / 0.005) * 0.005,
            cold=cold and place == 0,
            tape=current.tape.code,
        )
        prove.enter(database, rig_id, line)


def mended(database: Database, rig_id: int, when: datetime) -> None:
    """The strip laid on anew, by as much as the lines said."""
    current = open_rig(database, rig_id).prove.current
    assert current is not None and current.verdict is not None
    much = current.verdict.shift_alone_mm.value
    way = "nearer" if much > 0.0 else "farther"
    why = f"proof: the strip lies so that it reads {abs(much):.1f} mm {way}"
    prove.mend(database, rig_id, prove.STRIP, current.laying, why, when)


def marks_seen(database: Database, rig_id: int, seen: dict[str, str], when: datetime) -> None:
    """What the witness marks showed, by joint."""
    for joint, choice in seen.items():
        entries.enter(database, rig_id, BenchEntry(STATION, f"{MARK}{joint}", 0, when, choice=choice))


def locked(database: Database, rig_id: int, by: str, when: datetime) -> None:
    """Every joint locked and marked, the axes when they were levelled, before they were read for the last time; a spare
    strip in the kit."""
    rig = open_rig(database, rig_id)
    state = rig.state.locking
    assert state is not None
    for place, joint in enumerate(state.unmarked):
        mount.mark_joint(
            database, rig_id, joint.mark, "white line, square across", None, when + timedelta(minutes=place)
        )
    read = {each.axis: each.entered for each in rig.level.readings if not each.turn}
    for place, line in enumerate(state.lines):
        joint = line.joint
        way = Thread.MOVABLE if joint.dials else Thread.LOCKER if joint.moves in LOCKER_ON else Thread.DRY
        at = read[joint.axis] - timedelta(seconds=30) if joint.axis else when + timedelta(minutes=3 * place)
        prove.lock(database, rig_id, joint.name, way, by, at)
    prove.lock(database, rig_id, SPARE, Thread.SPARE, by, when + timedelta(hours=1))
