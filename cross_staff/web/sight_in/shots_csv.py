"""Shots as CSV lines: each is read by itself, what is wrong stays with it, none is taken while any is wrong."""

from __future__ import annotations

import csv
import re
from collections.abc import Iterable
from dataclasses import dataclass, field, replace
from zlib import crc32

from cross_staff.core.errors import InvalidValue
from cross_staff.core.estimation.groups import Shot
from cross_staff.core.ranges import DISTANCE_M
from cross_staff.core.rig.log import check_pin
from cross_staff.core.sight_in.checks import DIAL_MM
from cross_staff.core.sight_in.log import MOST_SHOTS, End, GroupLine
from cross_staff.services.sight_in.ends import EndDraft
from cross_staff.web.forms.form import whole
from cross_staff.web.forms.numbers import NotANumber, read
from cross_staff.web.forms.units import Units
from cross_staff.web.shared.downloads import unharmed
from cross_staff.web.sight_in.form import MOST_PINS

COLUMNS = ("end", "shot", "entered", "session", "revision", "distance_m", "pin", "dial_mm", "dial_from", "right_mm",
           "up_mm", "bad", "arrow", "arrows", "stands", "note")  # fmt: skip
NEEDED = ("distance_m", "right_mm", "up_mm")
MOST_LINE, MOST_SHOWN = 2000, 120
_SAME = {"distance": "distance_m", "dial": "dial_mm", "right": "right_mm", "up": "up_mm"}
_KEY = re.compile(r"[^A-Za-z0-9.-]+")
_AIM = {"distance_m": "at {}", "pin": "with pin {}", "dial_mm": "dialled at {}"}
_SAME_DISTANCE_M, _SAME_DIAL_MM = 0.006, 0.006


@dataclass(frozen=True)
class WrongLine:
    """A line that cannot be taken: its number in the text, itself, and why."""

    number: int
    text: str
    why: str


@dataclass
class ShotsRead:
    """What a text of shots came to: the ends, how many lines, and those that are wrong."""

    ends: list[EndDraft] = field(default_factory=list)
    lines: int = 0
    wrong: list[WrongLine] = field(default_factory=list)


def read_shots(text: str, units: Units, kept: Iterable[End] = (), pins: int = MOST_PINS) -> ShotsRead:
    """Ends from CSV lines: heads first, comma, semicolon or tab between; a distance may have its unit behind it. Lines
    of one `end` are one end; without that column a new end begins where distance, pin or dial changes.

    Args: kept, the ends that are here: an end of the same name must be of the same aim; pins, how many this sight has.
    Raises: NotANumber for a text that is no such lines at all.
    """
    lines = [(n, line) for n, line in enumerate(text.lstrip("\ufeff").splitlines(), start=1) if line.strip()]
    if not lines:
        raise NotANumber("paste the lines first: heads, then a shot a line")
    (_, first), *rest = lines
    mark = max("\t;,", key=first.count)
    if max(len(line) for _, line in lines) > MOST_LINE:
        raise NotANumber(f"a line is longer than {MOST_LINE} letters: these are not shots")
    heads = [_SAME.get(h.strip().lower(), h.strip().lower()) for h in _cells(first, mark)]
    missing = [name for name in NEEDED if name not in heads]
    if missing:
        raise NotANumber(f"the first line must name the columns; missing: {', '.join(missing)}")
    if len(rest) > MOST_SHOTS:
        raise NotANumber(f"at most {MOST_SHOTS} shots at once")
    reader = _Reader(units, {end.key: end for end in kept}, pins)
    outcome = ShotsRead(lines=len(rest))
    for number, line in rest:
        try:
            cells = _cells(line, mark)
            if len(cells) > len(heads):
                raise NotANumber(f"has {len(cells)} cells, and the heads are {len(heads)}")
            reader.take({head: unharmed(cell.strip()) for head, cell in zip(heads, cells)})
        except NotANumber as error:
            outcome.wrong.append(WrongLine(number, line[:MOST_SHOWN], str(error)))
    outcome.ends = list(reader.ends.values())
    return outcome


def _cells(line: str, mark: str) -> list[str]:
    """The cells of one line, by itself: a quote that is not closed swallows no other. Raises NotANumber."""
    try:
        return next(csv.reader([line], delimiter=mark, strict=True))
    except csv.Error as error:
        raise NotANumber("a quote stands alone: write one at each end of the cell, those inside twice") from error


class _Reader:
    """Ends as they grow, line by line."""

    def __init__(self, units: Units, kept: dict[str, End], pins: int) -> None:
        self.units, self.kept, self.pins = units, kept, pins
        self.ends: dict[str, EndDraft] = {}
        self.aims: dict[str, tuple[str, ...]] = {}
        self.last: tuple[tuple[str, ...], str] | None = None

    def take(self, cells: dict[str, str]) -> None:
        """One line. Raises NotANumber, and nothing of it is taken."""
        aim = tuple(cells.get(name, "") for name in _AIM)
        key = self._key(cells.get("end", ""), aim)
        end = self.ends.get(key) or self._end(key, aim, cells)
        self._refuse_other_aim(key, aim, end)
        self.aims.setdefault(key, aim)  # also of a line that is wrong otherwise
        arrows = cells.get("arrows", "") or "1"
        taken = self._shot(end, aim, cells) if arrows == "1" else self._group(end, arrows, cells)
        self.ends[key], self.last = taken, (aim, key)

    def _key(self, name: str, aim: tuple[str, ...]) -> str:
        if name:
            key = _KEY.sub("", name)[:40]
            if not key:
                raise NotANumber(f"“{name[:20]}” is no name for an end: letters, figures, - and .")
            return key
        if self.last and self.last[0] == aim:
            return self.last[1]
        return f"in-{crc32(repr(('', *aim)).encode())}-{len(self.ends) + 1}"

    def _refuse_other_aim(self, key: str, aim: tuple[str, ...], end: EndDraft) -> None:
        """An end has one aim, in the file and here. Raises NotANumber."""
        before = self.aims.get(key, aim)
        for (name, words), one, other in zip(_AIM.items(), before, aim):
            if one != other:
                was = words.format(one or "an unknown place")
                raise NotANumber(f"end {key} was {was} in a line above, here {name} is {other or 'empty'}")
        held = self.kept.get(key)
        if held is None:
            return
        apart: tuple[tuple[str, float | None, float | None, float], ...] = (
            ("distance_m", held.ranged_m, end.ranged_m, _SAME_DISTANCE_M),
            ("dial_mm", held.dial_mm, end.dial_mm, _SAME_DIAL_MM),
            ("pin", held.pin, end.pin if aim[1] else None, 0.0),
        )
        for column, here, there, near in apart:
            if here is not None and there is not None and abs(here - there) > near:
                raise NotANumber(f"end {key} is here already with another {column}: give this one another name")

    def _end(self, key: str, aim: tuple[str, ...], cells: dict[str, str]) -> EndDraft:
        distance, pin, dial = aim
        ranged = self._distance(distance) if distance else None
        if ranged is not None and not DISTANCE_M.holds(ranged):
            raise NotANumber("the distance must lie between 0.5 and 400 m")
        place = (whole(pin) or 0) - 1 if pin else 0
        if not 0 <= place < MOST_PINS:
            raise NotANumber(f"“{pin[:12]}” is not a pin: 1 is the top one")
        try:
            check_pin(place, self.pins, self.kept[key].pin if key in self.kept else None)
        except InvalidValue as error:
            raise NotANumber(f"pin {place + 1}: {error.message}") from error
        reading = self._number(dial, "dial_mm") if dial else None
        if reading is not None and not DIAL_MM.holds(reading):
            raise NotANumber("the dial reading is off any scale")
        source = re.sub(r"[^a-z0-9:+.,-]", "", cells.get("dial_from", ""))[:40]
        return EndDraft(key, ranged, place, reading, note=cells.get("note", "")[:200], dial_from=source)

    def _shot(self, end: EndDraft, aim: tuple[str, ...], cells: dict[str, str]) -> EndDraft:
        if end.line is not None:
            raise NotANumber(f"end {end.key} is a group as one line above: an arrow is of another end")
        right, up = (self._number(cells.get(name, ""), name) / 1000.0 for name in ("right_mm", "up_mm"))
        key = _KEY.sub("", cells.get("shot", ""))[:40] or _key_of((cells.get("end", ""), *aim), right, up, end)
        if any(shot.key == key for shot in end.shots):
            raise NotANumber(f"shot {key} of end {end.key} stands in a line above")
        bad = cells.get("bad", "").lower() in ("x", "1", "yes", "true", "bad")
        try:
            shot = Shot(right, up, bad, key, _KEY.sub("", cells.get("arrow", ""))[:6]).checked()
        except ValueError as error:
            raise NotANumber(str(error).removeprefix("shots: ")) from error
        return replace(end, shots=(*end.shots, shot))

    def _group(self, end: EndDraft, arrows: str, cells: dict[str, str]) -> EndDraft:
        """A group that was written as one line."""
        count = whole(arrows)
        if count is None:
            raise NotANumber("arrows: a whole number, of a group as one line")
        if end.shots or end.line is not None:
            raise NotANumber(f"end {end.key} has arrows above: a group as one line is an end by itself")
        right, up = (self._number(cells[n], n) / 1000.0 if cells.get(n) else None for n in ("right_mm", "up_mm"))
        return replace(end, line=GroupLine(count, right, up))

    def _distance(self, text: str) -> float:
        """Metres, unless another unit stands behind."""
        return read(text, "distance", Units(distance="m") if text.strip()[-1:].isdecimal() else self.units).value

    def _number(self, text: str, name: str) -> float:
        if not text:
            raise NotANumber(f"{name} is empty")
        return read(text, "mark", self.units).value


def _key_of(aim: tuple[str, ...], right: float, up: float, end: EndDraft) -> str:
    """A key for a shot that brings none: the same lines again give the same ones, and none that a page gave."""
    stem = f"in-{crc32(repr((aim, right, up)).encode()):08x}-"
    return stem + str(1 + sum(shot.key.startswith(stem) for shot in end.shots))
