"""Taking a file in: what it would do, said first; then all of it, or nothing."""

from __future__ import annotations

from dataclasses import dataclass, replace
from datetime import datetime
from uuid import uuid4

from sqlalchemy import Connection

from cross_staff.core.carry.faults import Fault
from cross_staff.core.carry.records import CarriedInstrument, CarriedRig, CarriedSight, RevisionRecord
from cross_staff.core.carry.relation import Lies, Relation, of_rig, relation
from cross_staff.core.errors import CrossStaffError, InvalidValue
from cross_staff.services.carry.documents import INSTRUMENTS, RIG, Document, Unreadable
from cross_staff.services.records import records
from cross_staff.services.rig import evaluated
from cross_staff.storage import carried, whole_rigs
from cross_staff.storage.database import Database

MOST_NAME = 90
NUMBERS = "numbers"  # the one log of a sight model, or of an instrument
BESIDE = "taken in from a file, beside the rig that went on here"


@dataclass(frozen=True)
class Part:
    """A rig, a sight model or an instrument of a file: its name, how it lies to what is here, which that is; of a rig,
    when the last record was written down, here and in the file."""

    what: str
    name: str
    relation: Relation
    here: int | None = None
    newest_here: datetime | None = None
    newest_there: datetime | None = None

    @property
    def brings(self) -> bool:
        """Whether taking it in changes anything without being asked more."""
        return self.relation.lies in (Lies.NEW, Lies.AHEAD, Lies.JOINS)


@dataclass(frozen=True)
class Preview:
    """What taking a file in would do: of the rig, the sight or each instrument in it; of its instruments where it is a
    rig; pictures that photos here or in it lack and the file brings, or lacks too; whether somebody edited it."""

    document: Document
    parts: tuple[Part, ...]
    instruments: tuple[Part, ...] = ()
    pictures: int = 0
    without_picture: int = 0

    @property
    def edited(self) -> bool:
        return self.document.edited

    @property
    def revised(self) -> tuple[RevisionRecord, ...]:
        """The revisions of a rig that come in."""
        count = self.parts[0].relation.brings.get("revisions", 0) if self.document.format == RIG else 0
        return self.document.content.revisions[-count:] if count else ()

    @property
    def parted(self) -> bool:
        """Whether both went on: then it can be taken in beside the one that is here."""
        return any(part.relation.lies == Lies.PARTED for part in self.parts)

    @property
    def brings(self) -> bool:
        """Whether there is anything to take in."""
        return self.pictures > 0 or any(part.brings for part in self.parts)


@dataclass(frozen=True)
class Taken:
    """What was taken in: the rig's number here, None for sights and instruments; how many records."""

    rig_id: int | None
    records: int


def preview(database: Database, document: Document) -> Preview:
    """What taking it in would do; nothing is written."""
    with database.reading() as connection:
        return _preview(connection, document)


def _preview(connection: Connection, document: Document) -> Preview:
    content = document.content
    if document.format == RIG:
        here = whole_rigs.by_uid(connection, content.uid)
        own = None if here is None else whole_rigs.whole(connection, here)
        newest = None if own is None else own.newest_utc
        part = Part("rig", content.card.name, of_rig(own, content), here, newest, content.newest_utc)
        instruments = tuple(_instrument_part(connection, each) for each in content.instruments)
        had = {} if here is None else whole_rigs.jpegs(connection, here)
        wanted = {photo.sha256 for photo in content.photos} - set(had)
        came = wanted & set(document.photos)
        return Preview(document, (part,), instruments, len(came), len(wanted - came))
    if document.format == INSTRUMENTS:
        return Preview(document, tuple(_instrument_part(connection, each) for each in content))
    return Preview(document, (_sight_part(connection, content),))


def _instrument_part(connection: Connection, each: CarriedInstrument) -> Part:
    numbers = {uid: number for number, uid in carried.instrument_uids(connection).items()}
    own = carried.instrument(connection, each.uid).log if each.uid in numbers else None
    lies = relation(None if own is None else {NUMBERS: own}, {NUMBERS: each.log})
    return Part("instrument", each.log[-1].instrument.name, lies, numbers.get(each.uid))


def _sight_part(connection: Connection, sight: CarriedSight) -> Part:
    numbers = {uid: number for number, uid in carried.sight_uids(connection).items()}
    own = carried.sight(connection, sight.uid).log if sight.uid in numbers else None
    lies = relation(None if own is None else {NUMBERS: own}, {NUMBERS: sight.log})
    return Part("sight model", sight.log[-1].sight.name, lies, numbers.get(sight.uid))


def take_in(database: Database, document: Document, now: datetime, beside: bool = False) -> Taken:
    """Take a file in, all of it or nothing. What is here already is not written twice.

    Args: beside, a rig or a sight that went on here and in the file is taken in as another one.
    Raises: InvalidValue where both went on and nobody said so; Unreadable for a rig that cannot be worked out.
    """
    with database.writing() as connection:
        seen = _preview(connection, document)
        if seen.parted and not beside and document.format != INSTRUMENTS:
            raise InvalidValue("beside", "both went on since they parted: take it in as another one, or leave it")
        if document.format == RIG:
            return _take_rig(connection, seen, now)
        if document.format == INSTRUMENTS:
            return Taken(None, sum(_take_instrument(connection, *each) for each in zip(seen.parts, document.content)))
        return _take_sight(connection, seen)


def _take_rig(connection: Connection, seen: Preview, now: datetime) -> Taken:
    part, rig = seen.parts[0], seen.document.content
    for each in zip(seen.instruments, rig.instruments):
        _take_instrument(connection, *each)
    numbers = {uid: number for number, uid in carried.instrument_uids(connection).items()}
    instruments = [numbers[each.uid] for each in rig.instruments]
    lies, pictures = part.relation.lies, seen.document.photos
    if lies == Lies.PARTED:
        rig_id = whole_rigs.add(connection, _renamed(rig, now), dict(pictures), instruments)
    elif part.here is None:
        rig_id = whole_rigs.add(connection, rig, dict(pictures), instruments)
    else:
        rig_id = part.here
        whole_rigs.extend(connection, rig_id, rig, dict(pictures), instruments)
    _reckonable(connection, rig_id)
    whole = lies == Lies.PARTED
    return Taken(rig_id, sum(map(len, rig.logs.values())) if whole else sum(part.relation.brings.values()))


def _reckonable(connection: Connection, rig_id: int) -> None:
    """Raises Unreadable for records that are sound one by one and come to nothing together."""
    try:
        evaluated(records(connection, rig_id))
    except (CrossStaffError, ArithmeticError, ValueError, LookupError, TypeError) as error:
        reason = "its records cannot be worked out together"
        raise Unreadable(Fault("rig", f"{reason} ({type(error).__name__}): {str(error)[:120]}")) from error


def _renamed(rig: CarriedRig, now: datetime) -> CarriedRig:
    """Another rig with the same records, and a name that tells them apart."""
    last = rig.revisions[-1]
    card = replace(last.card, name=f"{last.card.name[: MOST_NAME - 13]}, from a file")
    revisions = (*rig.revisions, RevisionRecord(last.number + 1, now, BESIDE, card))
    return replace(rig, uid=uuid4().hex, origin=rig.origin or rig.uid, revisions=revisions)


def _take_instrument(connection: Connection, part: Part, each: CarriedInstrument) -> int:
    """How many numbers of it were written; one that went on here too stays as it is here."""
    if not part.brings:
        return 0
    count = sum(part.relation.brings.values())
    carried.add_instrument(connection, each, len(each.log) - count)
    return count


def _take_sight(connection: Connection, seen: Preview) -> Taken:
    part, sight = seen.parts[0], seen.document.content
    count = sum(part.relation.brings.values())
    if part.relation.lies == Lies.PARTED:
        sight, count = replace(sight, uid=uuid4().hex), len(sight.log)
    if count:
        carried.add_sight(connection, sight, len(sight.log) - count)
    return Taken(None, count)
