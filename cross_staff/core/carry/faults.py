"""What cannot be in a rig's file: every record by the rules of its station, and what holds the records together."""

from __future__ import annotations

import re
from collections.abc import Callable, Iterable, Iterator, Sequence
from dataclasses import dataclass, fields, is_dataclass
from datetime import datetime
from typing import Any

from cross_staff.core.card.faults import check_card, check_sight
from cross_staff.core.carry.logs import (
    as_end,
    as_entry,
    as_handover,
    as_mark,
    as_move,
    as_proof,
    as_reading,
    as_session,
    as_taken,
)
from cross_staff.core.carry.records import CarriedInstrument, CarriedRig, CarriedSight, MarkRecord
from cross_staff.core.errors import CrossStaffError, InvalidValue, NotFound
from cross_staff.core.estimation.groups import Shot
from cross_staff.core.level.log import AXES
from cross_staff.core.level.methods import METHODS
from cross_staff.core.level.station import check_reading
from cross_staff.core.mount.station import check_mark as check_witness
from cross_staff.core.photos.log import STATION as PHOTOS
from cross_staff.core.practice.log import STATION as PRACTICE
from cross_staff.core.prove.handover import check_handover
from cross_staff.core.prove.log import check_line
from cross_staff.core.rig.card import INSTRUMENT_KINDS, RigCard
from cross_staff.core.rig.correction import Meaning
from cross_staff.core.rig.events import CAUSES, RESULTS
from cross_staff.core.rig.instrument import check_instrument
from cross_staff.core.rig.taken import check_taken
from cross_staff.core.sight_in.checks import IMPORT, check_end, check_move, check_session
from cross_staff.core.sight_in.log import STATION as RANGE
from cross_staff.core.sight_in.log import End
from cross_staff.core.sight_in.procedures import answers, pin_distances
from cross_staff.core.stations import STATIONS, check_entry
from cross_staff.core.tape.checks import check_mark
from cross_staff.core.tape.rows import TapeMark

MOST_LETTERS = 4000
MOST_RECORDS = 200_000
MOST_FAULTS = 40
WHOLE = 2**53  # whole numbers beyond it are none that this program wrote
_SHA256_LETTERS, _UID_LETTERS = 64, 32
_HEX = frozenset("0123456789abcdef")
_UNPRINTABLE = re.compile("[\x00-\x08\x0b-\x1f\ud800-\udfff]")


@dataclass(frozen=True)
class Fault:
    """Where in a file, and what is wrong there."""

    where: str
    what: str

    def __str__(self) -> str:
        return f"{self.where}: {self.what}"


def rig_faults(rig: CarriedRig) -> tuple[Fault, ...]:
    """Everything in a rig's file that a form of this program would refuse, and every pointer into nothing.

    Args:
        rig: as it was read.

    Returns:
        the faults, at most MOST_FAULTS of them, in the order of the file.

    Source:
        the rules of each station.
    """
    return _first(_of_rig(rig))


def instrument_faults(instruments: Sequence[CarriedInstrument]) -> tuple[Fault, ...]:
    """Everything in a file of instruments that cannot be."""
    return _first(_of_instruments(instruments))


def sight_faults(sight: CarriedSight) -> tuple[Fault, ...]:
    """Everything in a sight model's file that cannot be."""
    return _first((*_uid("sight", sight.uid), *_of_log("sight", sight.log, lambda each: check_sight(each.sight))))


def _first(faults: Iterable[Fault]) -> tuple[Fault, ...]:
    each_fault = iter(faults)
    return tuple(fault for fault, _ in zip(each_fault, range(MOST_FAULTS)))


def _of_rig(rig: CarriedRig) -> Iterator[Fault]:
    yield from _uid("rig", rig.uid)
    yield from _uid("rig, origin", rig.origin) if rig.origin else ()
    yield from _plain("rig", [(rig.created_utc, rig.units)])
    if not rig.revisions:
        yield Fault("revisions", "a rig has at least one")
        return
    if sum(map(len, rig.logs.values())) > MOST_RECORDS:
        yield Fault("rig", f"more than {MOST_RECORDS} records are no rig's")
        return
    for name, log in rig.logs.items():
        yield from _plain(name, log)
    yield from _of_instruments(rig.instruments)
    yield from _revisions(rig)
    checks = _Checks(rig)
    for name, check in checks.of_each.items():
        for place, record in enumerate(getattr(rig, name), start=1):
            where = f"{name} {place}"
            revision = getattr(record, "revision", 1)
            if not 1 <= revision <= len(rig.revisions):
                yield Fault(f"{where}, revision", f"there is no revision {revision}")
                continue
            yield from _said(where, lambda check=check, record=record: check(record))  # type: ignore[misc]


def _uid(where: str, uid: str) -> Iterator[Fault]:
    if len(uid) != _UID_LETTERS or set(uid) - _HEX:
        yield Fault(f"{where}, uid", f"is not {_UID_LETTERS} figures of 0 to 9 and a to f")


def _said(where: str, check: Callable[[], None]) -> Iterator[Fault]:
    """What a check has against a record, in its words."""
    try:
        check()
    except InvalidValue as error:
        yield Fault(f"{where}, {error.field}", error.message.replace("{}", "so"))
    except CrossStaffError as error:
        yield Fault(where, str(error))
    except (ArithmeticError, ValueError, LookupError, TypeError) as error:
        yield Fault(where, f"cannot be read as what it should be ({type(error).__name__})")


def _plain(name: str, log: Sequence[Any]) -> Iterator[Fault]:
    """Words that are too long, whole numbers that nobody counts to."""
    for place, record in enumerate(log, start=1):
        for field, value in _leaves(record):
            if isinstance(value, str) and len(value) > MOST_LETTERS:
                yield Fault(f"{name} {place}, {field}", f"is longer than {MOST_LETTERS} letters")
            if isinstance(value, str) and _UNPRINTABLE.search(value):
                yield Fault(f"{name} {place}, {field}", "holds letters that cannot be printed")
            if isinstance(value, datetime) and value.tzinfo is None:
                yield Fault(f"{name} {place}, {field}", "must say its time zone: a Z behind it for UTC")
            if isinstance(value, int) and not -WHOLE < value < WHOLE:
                yield Fault(f"{name} {place}, {field}", "is no number that anything here is counted in")


def _leaves(value: Any, path: str = "") -> Iterator[tuple[str, Any]]:
    if is_dataclass(value):
        for part in fields(value):
            yield from _leaves(getattr(value, part.name), f"{path}.{part.name}".lstrip("."))
    elif isinstance(value, tuple):
        for number, each in enumerate(value, start=1):
            yield from _leaves(each, f"{path} {number}")
    elif isinstance(value, dict):
        for key, each in value.items():
            yield from _leaves(each, f"{path}.{key}")
    else:
        yield path, value


def _of_instruments(instruments: Sequence[CarriedInstrument]) -> Iterator[Fault]:
    if len({each.uid for each in instruments}) != len(instruments):
        yield Fault("instruments", "one stands in it twice")
    for place, each in enumerate(instruments, start=1):
        where = f"instruments {place}"
        yield from _plain(where, each.log)
        yield from _uid(where, each.uid)
        yield from _of_log(where, each.log, lambda record: check_instrument(record.instrument))


def _of_log(where: str, log: Sequence[Any], check: Callable[[Any], None]) -> Iterator[Fault]:
    """A log whose records are numbered from 1."""
    if not log:
        yield Fault(f"{where}, log", "is empty")
    for place, record in enumerate(log, start=1):
        if record.number != place:
            yield Fault(f"{where}, log {place}, number", f"is {record.number}: they are numbered from 1, one by one")
        yield from _said(f"{where}, log {place}", lambda record=record: check(record))  # type: ignore[misc]


def _revisions(rig: CarriedRig) -> Iterator[Fault]:
    before: RigCard | None = None
    for place, revision in enumerate(rig.revisions, start=1):
        where = f"revisions {place}"
        if revision.number != place:
            yield Fault(f"{where}, number", f"is {revision.number}: they are numbered from 1, one by one")
        card, known = revision.card, before
        if not card.builds or not 0 <= card.in_use < len(card.builds):
            yield Fault(f"{where}, card.in_use", "is none of the card's arrow builds")
            continue
        yield from _said(where, lambda card=card, known=known: check_card(card, known))  # type: ignore[misc]
        before = card
        wrong = [("happened", key) for key in revision.happened if key not in CAUSES]
        wrong += [("meant", key) for key, said in revision.meant if key not in CAUSES or said not in set(Meaning)]
        wrong += [("taken_up", result) for result, _ in revision.taken_up if result not in RESULTS]
        for field, key in wrong:
            yield Fault(f"{where}, {field}", f"“{key[:40]}” is not known")
        for field, numbers in (("undoes", revision.undoes), ("taken_up", tuple(n for _, n in revision.taken_up))):
            if any(not 1 <= number <= place for number in numbers):
                yield Fault(f"{where}, {field}", "points at a revision that does not come before it")
        for kind, number in card.level.from_shop:
            if kind not in INSTRUMENT_KINDS or not 1 <= number <= len(rig.instruments):
                yield Fault(f"{where}, card.level.from_shop", f"instrument {number} is not in the file")
    named = {number for revision in rig.revisions for _, number in revision.card.level.from_shop}
    for place in range(1, len(rig.instruments) + 1):
        if place not in named:
            yield Fault(f"instruments {place}", "no card of the rig names it")


class _Checks:
    """The rules of each log, with what stood before a record in it."""

    def __init__(self, rig: CarriedRig) -> None:
        self.rig = rig
        self.cards = [revision.card for revision in rig.revisions]
        self.pins = _most_pins(rig)
        self.ends: dict[str, End] = {}
        self.marks: dict[int, TapeMark] = {}
        self.readings = 0
        self.numbers: set[int] = set()
        self.end_keys = {each.key for each in rig.range_ends}
        self.visits = {each.number for each in rig.range_sessions}
        self.stations = {PHOTOS, PRACTICE, *(each.key for each in STATIONS)}
        self.ways = {axis: {method.key for method in METHODS[axis]} for axis in AXES}
        self.of_each: dict[str, Callable[[Any], None]] = {
            "photos": self.photo,
            "bench_entries": self.bench,
            "witness_marks": self.witness,
            "level_readings": self.reading,
            "range_sessions": lambda record: check_session(as_session(record)),
            "range_ends": self.end,
            "range_shots": self.shot,
            "range_moves": lambda record: check_move(as_move(record)),
            "observations": self.mark,
            "printed_tapes": self.printed,
            "proof_lines": self.proof,
            "taken_readings": lambda record: check_taken(as_taken(record)),
            "handover_cards": self.handover,
        }

    def handover(self, record: Any) -> None:
        if self.rig.handover_cards.index(record) + 1 != record.number:
            raise InvalidValue("number", "cards are numbered from 1, one after the other")
        check_handover(as_handover(record))

    def photo(self, record: Any) -> None:
        if len(record.sha256) != _SHA256_LETTERS or set(record.sha256) - _HEX:
            raise InvalidValue("sha256", "is no SHA-256")
        if not (0 < record.width <= 20_000 and 0 < record.height <= 20_000):
            raise InvalidValue("width", "no photo is so large, or so small")

    def bench(self, record: Any) -> None:
        if record.station not in self.stations:
            raise InvalidValue("station", f"“{record.station[:40]}” is not known")
        if (record.station, record.key) == (RANGE, IMPORT):
            self._import(record)
        if not record.removed:  # what only takes back need say nothing more
            check_entry(self.cards[record.revision - 1], as_entry(record))

    def _import(self, record: Any) -> None:
        span = record.points[0] if len(record.points) == 1 else (0.0, -1.0)
        if not (0.0 <= span[0] <= span[1] <= len(self.rig.range_shots) and all(v == int(v) for v in span)):
            raise InvalidValue("points", "must say after which, and up to which record of range_shots they came in")

    def witness(self, record: Any) -> None:
        self._photo(record.photo)
        if not record.removed:
            check_witness(record.joint, record.place, record.photo is not None)

    def _photo(self, place: int | None) -> None:
        if place is not None and not 1 <= place <= len(self.rig.photos):
            raise InvalidValue("photo", f"there is no photo {place} in the file")

    def reading(self, record: Any) -> None:
        self.readings += 1
        self._photo(record.photo)
        if record.axis not in AXES:
            raise InvalidValue("axis", "is not known")
        if record.method not in self.ways[record.axis]:
            raise InvalidValue("method", f"is no way of reading the {record.axis} axis")
        if record.undoes is not None:
            if not 1 <= record.undoes < self.readings:
                raise InvalidValue("undoes", "points at a reading that does not come before it")
        elif not record.turn:
            check_reading(self.cards[record.revision - 1].level, as_reading(record, self.readings))

    def end(self, record: Any) -> None:
        end = as_end(record)
        if not record.key or record.session not in self.visits:
            raise InvalidValue("session" if record.key else "key", "belongs to no visit of the file")
        check_end(end, self.pins, self.ends.get(record.key))
        self.ends[record.key] = end

    def shot(self, record: Any) -> None:
        if record.end_key not in self.end_keys:
            raise NotFound(f"there is no end “{record.end_key[:40]}” in the file")
        Shot(record.right_m, record.up_m, record.called_bad, record.key, record.shaft).checked()

    def mark(self, record: MarkRecord) -> None:
        mark = as_mark(record, 0)
        check_mark(mark, self.pins, self.marks.get(record.line))
        self.marks[record.line] = mark

    def printed(self, record: Any) -> None:
        if record.number < 1 or record.number in self.numbers:
            raise InvalidValue("number", "each printed tape has one of its own, from 1")
        self.numbers.add(record.number)
        record.sheet.sheet()

    def proof(self, record: Any) -> None:
        if not 0 <= record.laying <= len(self.rig.bench_entries):
            raise InvalidValue("laying", "points at no entry of the stations")
        check_line(as_proof(record, 0), record.entered_utc.date())


def _most_pins(rig: CarriedRig) -> int:
    """How many pins could ever be aimed with, by any card and any school that was chosen."""
    chosen: list[dict[str, str]] = [{}]
    for entry in rig.bench_entries:
        if entry.station == RANGE and entry.key.startswith("choose:"):
            chosen.append(chosen[-1] | {entry.key.removeprefix("choose:"): entry.choice})
    cards = dict.fromkeys(revision.card for revision in rig.revisions)
    ways = [dict(each) for each in dict.fromkeys(tuple(sorted(each.items())) for each in chosen)]
    most = 1
    for card in cards:
        most = max(most, len(card.sight.pins))
        for way in ways:
            try:
                most = max(most, len(pin_distances(card, answers(card, way))))
            except (CrossStaffError, LookupError, ValueError):
                continue  # a school that this sight has not: its entry is refused by itself
    return most
