"""The shop's levels and jigs: kept once, chosen on a rig."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace
from datetime import datetime
from typing import Any

from cross_staff.core.errors import NotFound
from cross_staff.core.level.lines import Canted, lines_by
from cross_staff.core.level.vials import Reversal
from cross_staff.core.rig.card import INSTRUMENT_KINDS, LevelSetup, Vial
from cross_staff.core.rig.instrument import Instrument, check_instrument, fitted, outdated
from cross_staff.services.card import save as card_service
from cross_staff.services.rig import open_rig
from cross_staff.storage import instruments
from cross_staff.storage.database import Database
from cross_staff.storage.instruments import KeptInstrument


def kept(database: Database) -> list[KeptInstrument]:
    """The shop's instruments, by name, without those that were removed."""
    with database.reading() as connection:
        return [each for each in instruments.every(connection) if not each.removed]


def find(database: Database, instrument: int) -> KeptInstrument:
    """One of them, removed or not. Raises NotFound."""
    with database.reading() as connection:
        return instruments.find(connection, instrument)


def add(database: Database, record: Instrument, now: datetime) -> int:
    """Keep a new one; returns which it is. Raises InvalidValue."""
    check_instrument(record)
    with database.writing() as connection:
        return instruments.add(connection, record, now)


def change(database: Database, instrument: int, based_on: int, record: Instrument, now: datetime) -> None:
    """The next number of one; rigs that use it are told, and keep what they have. Raises NotFound, StaleRevision,
    InvalidValue."""
    check_instrument(record)
    with database.writing() as connection:
        was = instruments.find(connection, instrument)
        instruments.change(connection, based_on, replace(was, saved=now, record=record))


def remove(database: Database, instrument: int, now: datetime, back: bool = False) -> None:
    """Take one out of the list, or put it back; rigs that use it keep what they have of it. Raises NotFound."""
    with database.writing() as connection:
        was = instruments.find(connection, instrument)
        instruments.change(connection, was.number, replace(was, saved=now, removed=not back))


def chosen(database: Database, setup: LevelSetup, kind: str, instrument: int | None) -> LevelSetup:
    """A rig's setup with one of the shop's instruments; None for the rig's own. Raises NotFound."""
    if instrument is None:
        return fitted(setup, kind, None, None)
    record = find(database, instrument).record
    if record.kind != kind:
        raise NotFound(f"{record.name} is none of that kind")
    return fitted(setup, kind, instrument, record)


def newer(database: Database, setup: LevelSetup) -> list[KeptInstrument]:
    """Instruments of which the shop knows other figures by now than this rig has."""
    every = [find(database, number) for _, number in setup.from_shop]
    return [each for each in every if outdated(setup, each.record.kind, each.record)]


def take_newer(database: Database, rig_id: int, now: datetime) -> None:
    """Take the shop's present figures of the instruments that a rig uses. Raises NotFound."""
    rig = open_rig(database, rig_id)
    setup = rig.card.level
    for each in newer(database, setup):
        setup = fitted(setup, each.record.kind, each.instrument, each.record)
    card = replace(rig.card, level=setup)
    card_service.save(database, rig_id, rig.revision.number, card, rig.units, now, "the shop's levels, read anew")


REVERSIBLE = ("reference", "string", "rail", "sight")
LEVELS = INSTRUMENT_KINDS | {"sight": "sight's own vial"}


def level_of(setup: LevelSetup, kind: str) -> Vial:
    """A level that can be turned end for end. Raises NotFound for any other."""
    if kind not in REVERSIBLE:
        raise NotFound("there is no such level")
    vial: Vial = getattr(setup, kind)
    return vial


def reverse(database: Database, rig_id: int, kind: str, seen: Reversal, now: datetime) -> None:
    """Keep what a reversal showed of a level: on the rig, and of one of the shop's in the shop. Raises NotFound."""
    rig = open_rig(database, rig_id)
    level_of(rig.card.level, kind)
    shown = {"roll_error_div": seen.error, "reversed_on": now.astimezone().date()}
    setup = _known_of(database, rig.card.level, kind, shown, now)
    card = replace(rig.card, level=setup)
    why = f"{LEVELS[kind]} turned end for end"
    card_service.save(database, rig_id, rig.revision.number, card, rig.units, now, why)


def calibrate(database: Database, rig_id: int, axis: str, method: str, seen: Canted, now: datetime) -> None:
    """Keep what a known cant showed of the lines of the vials that an axis is read with: on the rig, and of one of the
    shop's in the shop. Raises NotFound; InvalidValue."""
    rig = open_rig(database, rig_id)
    setup = rig.card.level
    for kind, line_rad in lines_by(setup, axis, method, seen).items():
        setup = _known_of(database, setup, kind, {"per_division_rad": line_rad}, now)
    card = replace(rig.card, level=setup)
    card_service.save(database, rig_id, rig.revision.number, card, rig.units, now, "vials calibrated by a known cant")


def _known_of(database: Database, setup: LevelSetup, kind: str, shown: Mapping[str, Any], now: datetime) -> LevelSetup:
    """The setup with what was shown of a level; of one of the shop's, the shop knows it too."""
    number = setup.instrument(kind)
    if number is None:
        changed = {kind: replace(getattr(setup, kind), **shown)}
        return replace(setup, **changed)
    was = find(database, number)
    record = replace(was.record, vial=replace(was.record.vial, **shown))
    change(database, number, was.number, record, now)
    return fitted(setup, kind, number, record)
