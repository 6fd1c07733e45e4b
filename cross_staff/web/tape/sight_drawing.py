"""Coordinates of the little picture of a dialled sight: pointers on the tape, pins in the housing, to scale."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

from cross_staff.core.tape.scale import TapeLayout, Tick
from cross_staff.core.tape.ways import Answer
from cross_staff.services.tape.page import whole_tape
from cross_staff.web.forms.units import fixed
from cross_staff.web.shared import pin_words
from cross_staff.web.tape.tables import TapeView

WIDTH, _TALL = 430.0, 290.0
_TAPE_LEFT, _TAPE_WIDTH, _TOP, _HOUSING_X = 6.0, 46.0, 20.0, 272.0
_USUAL_INNER_MM = 42.0  # where nobody measured the housing
_MOST_TRAVEL_MM = 120.0
_TICK_PART = {1: 0.20, 5: 0.30, 10: 0.40}
_LABEL_PX = 15.0  # a number needs so much room
_LETTER_PX = 8.0
_APART = 17.0  # names of pointers, and of pins, stand so far apart


@dataclass(frozen=True)
class PictureTick:
    y: float
    x: float
    rank: int
    label: str
    beyond: bool


@dataclass(frozen=True)
class PicturePointer:
    """A pointer: where it stands, its name, the number under it, and where its words stand; whether it is the one that
    the answer names."""

    y: float
    name: str
    number: str
    words_y: float
    named: bool

    @property
    def name_dx(self) -> float:
        """Where the name begins, beside the number."""
        return 24.0 + _LETTER_PX * len(self.number)


@dataclass(frozen=True)
class PicturePin:
    """A pin in the housing: where it stands, its name, what it is right for, where its words stand."""

    y: float
    name: str
    worth: str
    words_y: float
    named: bool


@dataclass(frozen=True)
class SightPicture:
    """The sight at one place of its travel [px]: the tape, the pointers, the housing with its pins; the travel from
    home [mm] with its ends, and what it comes to in words."""

    travel_mm: float
    least_mm: float
    most_mm: float
    ticks: tuple[PictureTick, ...]
    tape_y: float
    tape_height: float
    pointers: tuple[PicturePointer, ...]
    housing_y: float
    inner: float
    outer: float
    pins: tuple[PicturePin, ...]
    height: float
    words: str
    width: float = WIDTH
    tape_left: float = _TAPE_LEFT
    tape_width: float = _TAPE_WIDTH
    housing_x: float = _HOUSING_X

    @property
    def tape_right(self) -> float:
        return self.tape_left + self.tape_width

    @property
    def names_x(self) -> float:
        """Where the names of the pins begin, beside the housing."""
        return self.housing_x + self.outer + 10.0


def sight_picture(t: TapeView, answer: Answer | None = None, travel_mm: float | None = None) -> SightPicture | None:
    """The sight as the answer has it, or as far from home as is asked; None while there is no tape."""
    layout = whole_tape(t.card, t.evaluation)
    if layout is None or not t.heights or t.evaluation.fit is None:
        return None
    best = answer.best if answer else None
    least, most = _ends(t, layout)
    asked = travel_mm if travel_mm is not None else best.travel_mm if best else 0.0
    return _Draughtsman(t, layout).draw(min(max(asked, least), most), least, most, best.pin if best else None)


def _ends(t: TapeView, layout: TapeLayout) -> tuple[float, float]:
    """How far the slider goes above home and below it [mm of the housing]."""
    ratio, reach = t.evaluation.fit.tape_ratio if t.evaluation.fit else 1.0, t.reach
    below = reach.below_mm if reach and reach.below_mm is not None else layout.last_mm / ratio
    above = reach.above_mm if reach and reach.above_mm else 0.0
    return -max(above, 0.0), max(min(below, _MOST_TRAVEL_MM), 1.0)


class _Draughtsman:
    def __init__(self, t: TapeView, layout: TapeLayout) -> None:
        self.t, self.layout = t, layout
        self.ratio = t.evaluation.fit.tape_ratio if t.evaluation.fit else 1.0
        self.way = 1.0 if t.card.tape.farther_runs == "down" else -1.0
        self.dialled = t.evaluation.pins.dialled
        housing, stack = t.card.sight.housing, t.rig.stack
        self.inner_mm = housing.inner_mm or _USUAL_INNER_MM
        self.outer_mm = housing.outer_mm or 1.15 * self.inner_mm
        above = stack.top_above_middle_mm if stack and stack.top_above_middle_mm is not None else 0.0
        self.top_pin_mm = self.outer_mm / 2.0 - above

    def draw(self, travel_mm: float, least_mm: float, most_mm: float, named: int | None) -> SightPicture:
        t = self.t
        beyond = {
            pin: self.ratio * 1000.0 * (t.heights[self.dialled] - t.heights[pin]) for pin in range(len(t.heights))
        }
        first, last = min(self.layout.first_mm, 0.0), self.layout.last_mm
        places = [self.way * (self.ratio * travel_mm * (self.way > 0) + beyond[pin]) for pin in self._pointed()]
        low = min([self.way * first, self.way * last, *places])
        high = max([self.way * first, self.way * last, *places])
        span = max(high - low, 2.0 + self.outer_mm + most_mm - least_mm)
        per_mm = min(_TALL / span, 7.0)
        shift = 0.0 if self.way > 0 else self.ratio * travel_mm  # where the tape passes the pointer it moves itself
        zero = _TOP - per_mm * low
        ticks = self._lines(zero, per_mm, shift) if t.drummed else self._ticks(zero, per_mm, shift)
        top = _TOP + per_mm * (travel_mm - least_mm)
        pins_y = [top + per_mm * (self.top_pin_mm + 1000.0 * (t.heights[0] - h)) for h in t.heights]
        worth = t.worth_with(travel_mm)
        pointed = self._pointed()
        pointers_y = [zero + per_mm * place for place in places]
        spread = _apart(pointers_y)
        pointers = tuple(
            PicturePointer(y, t.pointer_name(pin), self._number(worth[pin], travel_mm), words_y, pin == named)
            for pin, y, words_y in zip(pointed, pointers_y, spread)
        )
        pins = tuple(
            PicturePin(y, t.pin_name(pin), self._worth_words(worth[pin]), words_y, pin == named)
            for pin, (y, words_y) in enumerate(zip(pins_y, _apart(pins_y)))
        )
        return SightPicture(
            round(travel_mm, 1),
            round(least_mm, 1),
            round(most_mm, 1),
            ticks,
            zero + per_mm * (min(self.way * first, self.way * last) + shift) - 6.0,
            per_mm * abs(last - first) + 12.0,
            pointers,
            top + per_mm * self.outer_mm / 2.0,
            per_mm * self.inner_mm / 2.0,
            per_mm * self.outer_mm / 2.0,
            pins,
            _TOP + per_mm * span + 26.0,
            self._words(travel_mm, worth),
        )

    def _pointed(self) -> list[int]:
        return [pin for pin in self.t.evaluation.pins.pointed if pin < len(self.t.heights)]

    def _lines(self, zero: float, per_mm: float, shift_mm: float) -> tuple[PictureTick, ...]:
        """The lines of a target sight's own scale, over what a strip would take."""
        t, division = self.t, self.t.card.sight.scale_division_mm or 1.0
        if not t.on_scale:
            return ()  # nobody read where it stands
        grows, home = t.card.tape.direction, t.evaluation.home_mark_mm
        ends = sorted(
            grows * (home + place) / division for place in (min(self.layout.first_mm, 0.0), self.layout.last_mm)
        )
        lines = []
        for line in range(math.ceil(ends[0]), math.floor(ends[1]) + 1):
            rank = 10 if line % 10 == 0 else 5 if line % 5 == 0 else 1
            y = zero + per_mm * (self.way * (grows * line * division - home) + shift_mm)
            x = _TAPE_LEFT + (1.0 - _TICK_PART[rank]) * _TAPE_WIDTH
            lines.append(PictureTick(y, x, rank, str(line) if rank == 10 else "", False))
        return tuple(lines)

    def _ticks(self, zero: float, per_mm: float, shift_mm: float) -> tuple[PictureTick, ...]:
        reach = self.t.reach
        ends = [end for _, end in reach.by_pin] if reach else []
        end = None if not ends or None in ends else max(e for e in ends if e is not None)
        unit, tens = self.layout.unit_m, [tick for tick in self.layout.ticks if tick.rank == 10]

        def label(tick: Tick) -> str:
            crowded = tick.rank < 10 and any(abs(tick.position_mm - t.position_mm) * per_mm < _LABEL_PX for t in tens)
            return "" if crowded else tick.label or ""

        return tuple(
            PictureTick(
                zero + per_mm * (self.way * tick.position_mm + shift_mm),
                _TAPE_LEFT + (1.0 - _TICK_PART[tick.rank]) * _TAPE_WIDTH,
                tick.rank,
                label(tick),
                end is not None and tick.count * unit > end + 0.05,
            )
            for tick in self.layout.ticks
            if tick.rank > 1 or len(self.layout.ticks) < 70
        )

    def _number(self, ranged_m: float | None, travel_mm: float) -> str:
        if self.t.drummed:
            return self.t.drum_words(travel_mm)
        return "–" if ranged_m is None else pin_words.on_strip(self.t.card, ranged_m, self.t.units)

    def _worth_words(self, ranged_m: float | None) -> str:
        return "no distance" if ranged_m is None else f"{self.t.number(ranged_m)} {self.t.unit}"

    def _words(self, travel_mm: float, worth: Sequence[float | None]) -> str:
        """What the sight comes to there, for those who do not see it."""
        where = (
            "at home"
            if abs(travel_mm) < 0.05
            else f"{fixed(abs(travel_mm), 1)} mm {'below' if travel_mm > 0 else 'above'} home"
        )
        told = [f"{self.t.pointer_name(pin)} on {self._number(worth[pin], travel_mm)}" for pin in self._pointed()]
        return f"The sight {where}: {', '.join(told)}."


def _apart(places: Sequence[float]) -> list[float]:
    """Where words beside some places stand, moved down so that none cover another."""
    order = sorted(range(len(places)), key=lambda i: places[i])
    words, below = [0.0] * len(places), -1e9
    for i in order:
        below = max(places[i], below + _APART)
        words[i] = below
    return words
