"""The library of sight models: generic templates and the shop's own, to copy onto a card and adapt."""

from __future__ import annotations

from dataclasses import replace
from datetime import datetime

from cross_staff.core.card.faults import check_sight
from cross_staff.core.errors import NotFound
from cross_staff.core.rig.card import RigCard
from cross_staff.core.rig.sight import SightModel
from cross_staff.core.rig.sight_kinds import KINDS
from cross_staff.storage import sight_models
from cross_staff.storage.database import Database
from cross_staff.storage.sight_models import KeptModel


def library(database: Database) -> list[KeptModel]:
    """The shop's own models, by name."""
    with database.reading() as connection:
        return sight_models.all_models(connection)


def find(database: Database, model: int) -> KeptModel:
    """One of the shop's models. Raises NotFound."""
    with database.reading() as connection:
        return sight_models.find(connection, model)


def source(database: Database, key: str) -> SightModel:
    """A model by its key: a kind of sight for its template, which is assumed until somebody looks, a number for one of
    the shop's. Raises NotFound."""
    if key in KINDS:
        return replace(KINDS[key].template, as_usual=True)
    if key.isascii() and key.isdecimal() and len(key) < 10:
        return find(database, int(key)).sight
    raise NotFound("there is no such sight model")


def add(database: Database, sight: SightModel, now: datetime) -> int:
    """Put a model into the library, without what belongs to one bow; returns its name there. Raises InvalidValue."""
    check_sight(sight)
    with database.writing() as connection:
        return sight_models.add(connection, without_bow(sight), now)


def change(database: Database, model: int, based_on: int, sight: SightModel, now: datetime) -> int:
    """The next number of a model. Raises NotFound, StaleRevision, InvalidValue."""
    check_sight(sight)
    with database.writing() as connection:
        return sight_models.change(connection, model, based_on, without_bow(sight), now)


def remove(database: Database, model: int, now: datetime, back: bool = False) -> None:
    """Take a model out of the list, or put it back; cards that were copied from it keep theirs."""
    with database.writing() as connection:
        kept = sight_models.find(connection, model)
        sight_models.change(connection, model, kept.number, kept.sight, now, removed=not back)


def without_bow(sight: SightModel) -> SightModel:
    """A model without present positions and what was checked on one bow."""
    controls = tuple(replace(control, position_mm=None, checked=False) for control in sight.controls)
    return replace(sight, controls=controls)


def fitted(card: RigCard, sight: SightModel) -> RigCard:
    """The card with a model copied onto it; the unit that its tape is printed in stays the card's."""
    tape = replace(sight.tape, unit_m=card.tape.unit_m)
    mount = replace(card.mount, hole=None, detent=None)
    return replace(card, sight=replace(sight, tape=tape), mount=mount)
