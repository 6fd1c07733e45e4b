"""Writing files: a rig with or without its photos, a sight model, the shop's instruments, all of them into a folder."""

from __future__ import annotations

import re
from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path

from cross_staff.core.carry.faults import Fault, rig_faults
from cross_staff.core.carry.records import CarriedRig
from cross_staff.core.errors import InvalidValue, NotFound, NotKept
from cross_staff.services.carry import documents
from cross_staff.storage import carried, rigs, whole_rigs
from cross_staff.storage.database import Database
from cross_staff.storage.files import put_file

JSON, ZIP = "json", "zip"


@dataclass(frozen=True)
class Written:
    """A file to be handed out: what it is named after, its bytes."""

    name: str
    content: bytes


def stem(name: str, otherwise: str) -> str:
    """The beginning of a file's name, of a rig's or a sight's."""
    return re.sub(r"[^a-z0-9]+", "-", name.lower()).strip("-")[:60].strip("-") or otherwise


def whole_rig(database: Database, rig_id: int) -> CarriedRig:
    """Everything of a rig. Raises NotFound."""
    with database.reading() as connection:
        return whole_rigs.whole(connection, rig_id)


def rig_file(database: Database, rig_id: int, ending: str) -> Written:
    """A rig as JSON, or as a zip with its photos. Raises NotFound."""
    with database.reading() as connection:
        rig = whole_rigs.whole(connection, rig_id)
        pictures = whole_rigs.jpegs(connection, rig_id) if ending == ZIP else {}
    content = documents.archived(rig, pictures) if ending == ZIP else documents.written(documents.RIG, rig)
    return Written(f"{stem(rig.card.name, f'rig-{rig_id}')}.{ending}", content)


def not_taken_elsewhere(rig: CarriedRig) -> tuple[Fault, ...]:
    """What today's rules have against records of a rig that older ones took: its file would be refused for them."""
    return rig_faults(rig)


def sight_file(database: Database, model: int) -> Written:
    """A sight model with every number of it. Raises NotFound."""
    with database.reading() as connection:
        uid = carried.sight_uids(connection).get(model)
        if uid is None:
            raise NotFound(f"there is no sight model {model}")
        sight = carried.sight(connection, uid)
    name = stem(sight.log[-1].sight.name, f"sight-{model}")
    return Written(f"sight-{name}.json", documents.written(documents.SIGHT, sight))


def instruments_file(database: Database) -> Written:
    """The shop's instruments, every number of each, also of those that were removed, by their identity: in the same
    order in every shop."""
    with database.reading() as connection:
        uids = sorted(carried.instrument_uids(connection).values())
        every = tuple(carried.instrument(connection, uid) for uid in uids)
    return Written("instruments.json", documents.written(documents.INSTRUMENTS, every))


def rig_named(database: Database, words: str) -> int:
    """A rig by its number, its identity, or its name as the bench shows it.

    Raises: NotFound; InvalidValue where several have the name.
    """
    with database.reading() as connection:
        every = rigs.rig_ids(connection)
        if words.isdecimal() and int(words) in every:
            return int(words)
        known = whole_rigs.by_uid(connection, words)
        if known is not None:
            return known
        named = [each for each in every if rigs.latest(connection, each).card.name.lower() == words.lower()]
    if len(named) > 1:
        raise InvalidValue("rig", f"“{words}” is the name of rigs {', '.join(map(str, named))}: say which, by number")
    if not named:
        raise NotFound(f"there is no rig {words}")
    return named[0]


def write_rig(database: Database, rig_id: int, file: Path) -> None:
    """Write a rig's file, as JSON or zip by its ending. Raises NotFound, InvalidValue, NotKept."""
    ending = file.suffix.lower().removeprefix(".")
    if ending not in (JSON, ZIP):
        raise InvalidValue("file", f"{file.name} must end in .json, or in .zip to have the photos in it")
    put_file(file, rig_file(database, rig_id, ending).content)


def write_all(database: Database, folder: Path, tell: Callable[[str], None] = lambda _name: None) -> int:
    """Write every rig, archived ones too, as zip, every sight model and the instruments into a folder; returns how many
    files. Raises NotKept."""
    try:
        folder.mkdir(parents=True, exist_ok=True)
    except OSError as error:
        raise NotKept(f"{folder} cannot be made: {error.strerror}", "name another folder") from error
    with database.reading() as connection:
        every, sights = rigs.rig_ids(connection), list(carried.sight_uids(connection))
    files = [_numbered(rig_file(database, rig_id, ZIP), f"rig-{rig_id}-") for rig_id in every]
    files += [_numbered(sight_file(database, model), f"{model}-") for model in sights]
    files.append(instruments_file(database))
    for each in files:
        tell(each.name)
        put_file(folder / each.name, each.content)
    return len(files)


def _numbered(file: Written, before: str) -> Written:
    """So that two of one name do not write over one another."""
    return Written(f"{before}{file.name}", file.content)
