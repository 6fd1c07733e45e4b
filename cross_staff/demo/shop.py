"""The demo shop: the scenario's rigs as files that ship with the program, taken in with their days moved to now."""

from __future__ import annotations

import re
import zipfile
from collections.abc import Callable
from dataclasses import replace
from datetime import UTC, date, datetime, timedelta
from importlib.resources import files
from uuid import NAMESPACE_URL, uuid5

from cross_staff.core.carry.records import CarriedInstrument, CarriedRig
from cross_staff.demo import week
from cross_staff.demo.made_on import MADE_ON
from cross_staff.services.carry import documents
from cross_staff.services.carry.documents import PHOTOS, RIG, Document
from cross_staff.services.carry.take_in import take_in
from cross_staff.storage.database import Database

ARCHIVE = "shop.zip"
_DAY = re.compile(r"\b20\d\d-\d\d-\d\d")


def fill(
    database: Database, tell: Callable[[int, int], None] = lambda _done, _of: None, today: date | None = None
) -> None:
    """Take the demo rigs into an empty database, as if they had been made today.

    Args: tell, is told how many rigs are in, of how many.
    """
    later = (today or datetime.now(UTC).date()) - MADE_ON
    with zipfile.ZipFile(str(files("cross_staff.demo") / ARCHIVE)) as archive:
        photos = {name.removeprefix(PHOTOS)[:-4]: archive.read(name) for name in archive.namelist() if PHOTOS in name}
        rigs = sorted(name for name in archive.namelist() if name.startswith("rigs/"))
        for done, name in enumerate(rigs):
            tell(done, len(rigs))
            document = documents.read(moved(archive.read(name), later))
            own = {photo.sha256 for photo in document.content.photos}
            pictures = {each: photos[each] for each in own if each in photos}
            take_in(database, Document(RIG, document.content, pictures), datetime.now(UTC))
        week.fill(database, datetime.now(UTC))
        tell(len(rigs), len(rigs))


def moved(content: bytes, later: timedelta) -> bytes:
    """A document with every day in it so much later."""
    return _DAY.sub(lambda day: (date.fromisoformat(day[0]) + later).isoformat(), content.decode()).encode()


def named(rig: CarriedRig) -> CarriedRig:
    """A rig of the scenario under an identity that it has whenever it is made."""

    def identity(*words: str) -> str:
        return uuid5(NAMESPACE_URL, "/".join(("cross-staff", "demo", *words))).hex

    tools = tuple(
        CarriedInstrument(identity("instrument", each.log[0].instrument.name), each.log) for each in rig.instruments
    )
    return replace(rig, uid=identity("rig", rig.revisions[0].card.name), instruments=tools)
