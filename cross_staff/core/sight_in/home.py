"""Where home is: the stop that is met or fitted there, what lies above it, a home that is moved farther out."""

from __future__ import annotations

from cross_staff.core.rig.log import BenchEntry
from cross_staff.core.rig.procedure import CONFIRM, ProcedureStep
from cross_staff.core.rig.sight_steps import REHOME
from cross_staff.core.sight_in.acts import MOVE, Act
from cross_staff.core.sight_in.aims import Aim, Aims
from cross_staff.core.sight_in.controls import WHOLE_UPRIGHT, MovementAdvice, RangeControl, advise, last_resort_for

LAID_BY_HOME = ("tape_on", "pointer")  # what is laid on, and set, with the sight at home
STOP_OFF_MM = 0.3  # what home may lie off the stop before it is fitted again
BACK_MM = 0.3  # a stop is met again within this, or it is not held


class AtHome(Aims):
    """The aims of a rig with its home: what was said of the stop, and what is dialled and moved for it."""

    def _came_back_elsewhere(self, entry: BenchEntry) -> bool:
        fitted = self.log.said.get("step:stop_fit")
        if fitted is None or fitted.number is None or entry.number is None:
            return False
        return abs(entry.number - fitted.number) > BACK_MM or fitted.entered > entry.entered

    def _home_moved_since(self, entry: BenchEntry) -> bool:
        """Whether home is another mark by now than the one that a stop was fitted, or a tape laid on, at; or was moved
        on purpose."""
        moved = self.log.said.get("rehome")
        if moved is not None and moved.entered > entry.entered:
            return True
        mark = self.estimate.fitted_mark(self.home) if self.estimate.by_wheel else None
        key = entry.key.removeprefix("step:")
        if mark is None or entry.number is None or not (key.startswith("stop_") or key in LAID_BY_HOME):
            return False
        return abs(mark[0] - entry.number) > max(STOP_OFF_MM, 1.96 * mark[1])

    def _rehoming(self) -> tuple[ProcedureStep, ...]:
        """The steps of moving home farther out, while that was asked for and its arrows are not shot."""
        asked = self.log.said.get("rehome")
        if asked is None or not self.kind.dialled or not self.estimate.holds_for("home", asked.revision):
            return ()
        return REHOME

    def _lowered(self) -> bool:
        """Whether the housing was moved since home was moved."""
        asked = self.log.said["rehome"]
        return any(m.moves == "gang_elevation" and m.entered > asked.entered for m in self.log.moves)

    def _lower(self, step: ProcedureStep, aim: Aim) -> Act:
        """The housing, lowered by what the tape has between the old home and the new one."""
        asked = self.log.said["rehome"]
        down = -abs(asked.points[0][1]) if asked.points else 0.0
        advice = self._advise(self.estimate.drive("gang_elevation") or WHOLE_UPRIGHT, down)
        return Act(CONFIRM if advice is None else MOVE, "rehome", step, aim, moves=(advice,) if advice else ())

    def _above_the_stop(self, aim: Aim) -> MovementAdvice | None:
        """Home lies above the stop that the wheel meets: by so much the whole sight is to go up; None where it can be
        dialled, or where the stop itself can be fitted elsewhere."""
        stop, mark = self.estimate.stop_mm, self.estimate.fitted_mark(self.home)
        if stop is None or mark is None or self.estimate.chosen.get("stop") != "fixed" or aim.ranged_m > self.home:
            return None
        short = self.card.tape.direction * (stop - mark[0]) / self.estimate.fit.tape_ratio
        if short < max(STOP_OFF_MM, 1.96 * mark[1] / self.estimate.fit.tape_ratio):
            return None
        drive = self.estimate.drive("gang_elevation")
        return self._advise(drive or WHOLE_UPRIGHT, short)

    def _below_the_stop(self, mark_mm: float) -> float:
        """A reading, or that of the home stop, above which nothing can be dialled [mm]."""
        stop, farther = self.estimate.stop_mm, self.card.tape.direction
        return mark_mm if stop is None else farther * max(farther * mark_mm, farther * stop)

    def _advise(self, drive: RangeControl | None, wanted_mm: float, pin: int | None = None) -> MovementAdvice | None:
        if drive is None:
            return None
        estimate = self.estimate
        chance, place = estimate.way_chance(drive), estimate.place_mm(drive)
        advice = advise(drive, wanted_mm, estimate.travel_per_unit(drive), self.card.sight, pin, chance, place)
        if advice is not None and not advice.amount and pin is None:  # its travel has ended
            return advise(last_resort_for(drive), wanted_mm, (1.0, 0.03), self.card.sight)
        return advice
