"""Coordinates of two tapes side by side: the old one, and the new one with its band."""

from __future__ import annotations

from dataclasses import dataclass

from cross_staff.core.tape.forecast import COVERAGE
from cross_staff.services.tape.carry_over import Before, Outlook
from cross_staff.web.tape.tables import TapeView

WIDTH, TALLEST, TOP = 420.0, 460.0, 26.0
OLD_X, NEW_X, TAPE_WIDTH = 70.0, 250.0, 84.0


@dataclass(frozen=True)
class CarriedLine:
    """A distance: where it lies on both tapes, its number, and half the new one's width by its 95 % band."""

    old_y: float
    new_y: float
    words: str
    spread: float
    strong: bool

    @property
    def band_top(self) -> float:
        return self.new_y - self.spread

    @property
    def band_height(self) -> float:
        return 2.0 * self.spread

    @property
    def length(self) -> float:
        """Of its line on either tape."""
        return 40.0 if self.strong else 26.0


@dataclass(frozen=True)
class ChangeDrawing:
    lines: tuple[CarriedLine, ...]
    height: float
    bottom: float
    old_name: str
    new_name: str
    top: float = TOP
    width: float = WIDTH
    old_x: float = OLD_X
    new_x: float = NEW_X
    tape_width: float = TAPE_WIDTH

    @property
    def old_edge(self) -> float:
        """The edge of the old tape that faces the new one."""
        return self.old_x + self.tape_width

    @property
    def tape_height(self) -> float:
        return self.bottom - self.top


def change_drawing(t: TapeView, was: Before, outlook: Outlook, ranged: list[float]) -> ChangeDrawing | None:
    """The drawing of the distances that both tapes reach; None for fewer than two."""
    kept = [(d, r) for d, r in zip(ranged, outlook.rows) if r.old_mm is not None and r.new_mm is not None]
    if len(kept) < 2:
        return None
    marks = [m for _, r in kept for m in (r.old_mm or 0.0, r.new_mm or 0.0)]
    low, high = min(marks), max(marks)
    scale = (TALLEST - 20.0) / max(high - low, 1.0)

    def y(mark: float) -> float:
        return round(TOP + 10.0 + scale * (mark - low), 1)

    fit = outlook.changed.fit
    lines = []
    unit = t.units.unit("distance").si
    for d, row in kept:
        per_mm = float(fit.target_m_per_tape_mm(t.card.distance_from_sight(d)))
        spread = round(scale * COVERAGE * (row.sd_m or 0.0) / per_mm, 1)
        strong = abs(d / unit / 10.0 - round(d / unit / 10.0)) < 1e-6
        lines.append(CarriedLine(y(row.old_mm or 0.0), y(row.new_mm or 0.0), t.number(d), spread, strong))
    return ChangeDrawing(
        tuple(lines), TALLEST + TOP + 24.0, TALLEST + TOP, f"revision {was.revision}", "after the change"
    )
