"""Coordinates of the tape station's drawing: the tape to scale, and beside it what it is worth.

Both share one vertical axis, the place on the tape; the right half shows how high or low the
arrows would come in, observations as dots, the tape's own uncertainty as a band.
"""

from __future__ import annotations

from dataclasses import dataclass

from cross_staff.core.rig.card import RigCard
from cross_staff.core.tape.forecast import COVERAGE
from cross_staff.core.tape.rows import RowEvaluation
from cross_staff.core.tape.scale import TapeLayout
from cross_staff.core.tape.station import Evaluation
from cross_staff.web.forms.units import Units, trimmed
from cross_staff.web.shared.words import good_to, on_target

PIXELS_PER_MM = 96.0 / 25.4
ENLARGEMENTS = (1.0, 1.5, 2.0, 2.5, 3.0, 4.0, 5.0, 6.0)
TALLEST = 520.0
NARROWEST = 58.0  # across, the tape is drawn wide enough to be read
TOP, BOTTOM = 16.0, 30.0
TAPE_LEFT, PLOT_LEFT, PLOT_RIGHT = 34.0, 152.0, 420.0
WIDTH = 430.0
_BAND_POINTS = 60


@dataclass(frozen=True)
class TickLine:
    y: float
    x1: float
    x2: float
    rank: int
    label: str
    label_x: float
    label_y: float
    anchor: str


@dataclass(frozen=True)
class Dot:
    """An observation: its place on the tape and its error bar beside it."""

    pointer: str
    pointer_label: tuple[float, float]
    label: tuple[float, float]
    y: float
    x: float
    low: float
    high: float
    number: int
    suspect: bool
    clipped: bool


@dataclass(frozen=True)
class TapeDrawing:
    height: float
    enlargement: str
    tape_top: float
    tape_bottom: float
    tape_width: float
    ticks: tuple[TickLine, ...]
    home_y: float
    home_x1: float
    home_x2: float
    band: str
    middle: float
    scale_marks: tuple[tuple[float, str], ...]
    target_low: float | None
    target_high: float | None
    target_label: str
    good_y: float | None
    good_label: str
    dots: tuple[Dot, ...]
    width: float = WIDTH
    tape_left: float = TAPE_LEFT
    plot_left: float = PLOT_LEFT
    plot_right: float = PLOT_RIGHT

    @property
    def tape_height(self) -> float:
        return self.tape_bottom - self.tape_top

    @property
    def axis_y(self) -> float:
        """The line below the plot; its ticks and words hang from it."""
        return self.tape_bottom + 4.0

    @property
    def axis_ticks(self) -> tuple[float, float]:
        return self.axis_y - 3.0, self.axis_y + 3.0

    @property
    def axis_words_y(self) -> tuple[float, float]:
        """Baselines of the figures and of the words low and high."""
        return self.axis_y + 16.0, self.axis_y + 30.0

    @property
    def target_words(self) -> tuple[float, float, str]:
        """Beside the target's edge: inside where there is room for them, else outside."""
        inside = (self.target_high or 0.0) - self.middle > 78.0
        return (self.target_high or 0.0) + (-5.0 if inside else 5.0), self.tape_top + 10.0, "end" if inside else "start"

    @property
    def good_words(self) -> tuple[float, float]:
        return self.plot_left - 18.0, (self.good_y or 0.0) - 6.0


def tape_drawing(card: RigCard, evaluation: Evaluation, units: Units, layout: TapeLayout | None) -> TapeDrawing | None:
    """The drawing for a solved rig; None while there is nothing to draw."""
    return None if layout is None else _Draughtsman(card, evaluation, units, layout).draw()


class _Draughtsman:
    def __init__(self, card: RigCard, evaluation: Evaluation, units: Units, layout: TapeLayout) -> None:
        assert evaluation.fit is not None
        self.card, self.evaluation, self.units, self.layout = card, evaluation, units, layout
        self.fit = evaluation.fit
        fitting = [e for e in ENLARGEMENTS if e * PIXELS_PER_MM * layout.length_mm <= TALLEST]
        self.enlargement = fitting[-1] if fitting else TALLEST / PIXELS_PER_MM / layout.length_mm
        self.scale = self.enlargement * PIXELS_PER_MM
        self.middle = (PLOT_LEFT + PLOT_RIGHT) / 2.0
        self.half_range_m = self._half_range()

    def _half_range(self) -> float:
        """Half the width of the plot [m on the target]: the target with room, or the band."""
        half = (self.card.goals.target_size_m or 0.2) / 2.0
        far = self.card.distance_from_sight(self.card.goals.farthest_m or 50.0)
        last = self.fit.tape([far], self.evaluation.pins.dialled)
        band = COVERAGE * (last[0].sd_on_target_m or half)
        seen = [abs(row.target_m) for row in self.evaluation.used if row.target_m is not None]
        return min(max(1.5 * half, 1.1 * band, 1.3 * max(seen, default=0.0)), 6.0 * half)

    def y(self, position_mm: float) -> float:
        return round(TOP + self.scale * (position_mm - self.layout.first_mm), 2)

    def x(self, up_m: float) -> float:
        half_width = (PLOT_RIGHT - PLOT_LEFT) / 2.0
        return round(self.middle + half_width * up_m / self.half_range_m, 2)

    def clipped(self, x: float) -> float:
        return min(max(x, PLOT_LEFT), PLOT_RIGHT)

    def draw(self) -> TapeDrawing:
        bottom = self.y(self.layout.last_mm)
        half = (self.card.goals.target_size_m or 0.0) / 2.0
        inside = 0.0 < half < self.half_range_m
        good = None if self.evaluation.doubtful else self.evaluation.good_to_m
        return TapeDrawing(
            height=bottom + BOTTOM + 16.0,
            enlargement=trimmed(self.enlargement, 1),
            tape_top=TOP - 10.0,
            tape_bottom=bottom + 10.0,
            tape_width=self._tape_width(),
            ticks=tuple(self._ticks()),
            home_y=self.y(0.0),
            home_x1=TAPE_LEFT + (0.86 * self._tape_width() if self._ticks_left else 0.0),
            home_x2=TAPE_LEFT + (1.0 if self._ticks_left else 0.14) * self._tape_width(),
            band=self._band(),
            middle=self.middle,
            scale_marks=self._scale_marks(),
            target_low=self.x(-half) if inside else None,
            target_high=self.x(half) if inside else None,
            target_label=on_target(self.units, 2.0 * half),
            good_y=self._good_y(good, bottom),
            good_label=good_to(self.card.trusted_m(self.evaluation.good_to_m), self.units),
            dots=tuple(self._dots()),
        )

    @property
    def _ticks_left(self) -> bool:
        return self.card.tape.ticks_at == "left"

    def _tape_width(self) -> float:
        return min(max(self.scale * self.card.tape.width_mm, NARROWEST), PLOT_LEFT - TAPE_LEFT - 24.0)

    def _ticks(self) -> list[TickLine]:
        width = self._tape_width()
        part = {1: 0.26, 5: 0.38, 10: 0.5}
        left = self._ticks_left
        edge, inward = (TAPE_LEFT, 1.0) if left else (TAPE_LEFT + width, -1.0)
        lines = []
        for tick in self.layout.ticks:
            y, reach = self.y(tick.position_mm), part[tick.rank] * width
            inner, words = round(edge + inward * reach, 1), round(edge + inward * (reach + 5.0), 1)
            anchor = "start" if left else "end"
            lines.append(TickLine(y, inner, edge, tick.rank, tick.label or "", words, y + 5.5, anchor))
        return lines

    def _positions(self, ranged_m: list[float]) -> list[tuple[float, float]]:
        """Place on the tape [mm from home] and sd on the target [m], for those within reach."""
        home = self.evaluation.home_mark_mm
        rows = self.fit.tape([self.card.distance_from_sight(d) for d in ranged_m], self.evaluation.pins.dialled)
        return [
            (row.mark_mm - home, row.sd_on_target_m)
            for row in rows
            if row.mark_mm is not None and row.sd_on_target_m is not None
        ]

    def _band(self) -> str:
        goals = self.card.goals
        near, far = self.evaluation.tape_home_m or goals.home_m or 0.0, goals.farthest_m or 0.0
        step = (far - near) / _BAND_POINTS
        places = self._positions([near + step * i for i in range(_BAND_POINTS + 1)])
        left = [(self.clipped(self.x(-COVERAGE * sd)), self.y(p)) for p, sd in places]
        right = [(self.clipped(self.x(COVERAGE * sd)), self.y(p)) for p, sd in places]
        return " ".join(f"{x:.1f},{y:.1f}" for x, y in [*left, *reversed(right)])

    def _scale_marks(self) -> tuple[tuple[float, str], ...]:
        value = self.units.from_si("offset", self.half_range_m)
        step = next(s for s in (1, 2, 5, 10, 20, 50, 100, 200, 500, 1000) if value / s < 3.4 or s == 1000)
        count = int(value / step)
        unit = self.units.unit("offset").si
        return tuple((self.x(i * step * unit), str(abs(i * step))) for i in range(-count, count + 1))

    def _good_y(self, good_m: float | None, bottom: float) -> float | None:
        farthest = self.card.goals.farthest_m or 0.0
        if good_m is None or good_m >= farthest:
            return None
        place = self._positions([good_m])
        return min(self.y(place[0][0]), bottom) if place else None

    def _dots(self) -> list[Dot]:
        dots = []
        for number, row in enumerate(self.evaluation.listed, start=1):
            dot = self._dot(number, row)
            if dot is not None:
                dots.append(dot)
        return dots

    def _dot(self, number: int, row: RowEvaluation) -> Dot | None:
        distance = self.card.distance_from_sight(row.entry.ranged_m)
        place = self._positions([row.entry.ranged_m])
        span = (self.layout.first_mm - 1.0, self.layout.last_mm + 1.0)
        if not row.used or row.arrow or row.residual_mm is None or not place or not span[0] <= place[0][0] <= span[1]:
            return None
        per_mm = float(self.fit.target_m_per_tape_mm(distance))
        off, error = -row.residual_mm * per_mm, COVERAGE * (row.sd_mm or 0.0) * per_mm
        y = self.y(place[0][0])
        x = self.clipped(self.x(off))
        lowest = self.y(self.layout.last_mm) + 10.0
        tape_y = min(max(self.y(place[0][0] + row.residual_mm), TOP - 10.0), lowest)
        return Dot(
            pointer=f"M{TAPE_LEFT - 2.0:.1f} {tape_y:.1f}l-9 -4.5v9z",
            pointer_label=(TAPE_LEFT - 14.0, tape_y + 4.5),
            label=(x + 8.0, y - 6.0),
            y=y,
            x=x,
            low=self.clipped(self.x(off - error)),
            high=self.clipped(self.x(off + error)),
            number=number,
            suspect=row.has("suspect"),
            clipped=x != self.x(off),
        )
