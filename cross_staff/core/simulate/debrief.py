"""At the end of an exercise: the truth beside the record, what it cost, mistakes of order, false beliefs."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass

from cross_staff.core.errors import CrossStaffError
from cross_staff.core.level.methods import BY_KEY, CLIP
from cross_staff.core.practice import log as acts
from cross_staff.core.practice.exercise import AXES
from cross_staff.core.practice.log import Practice, PracticeAct
from cross_staff.core.prepare.checklist import PASS
from cross_staff.core.prepare.tuning import TEAR_FAIR_M
from cross_staff.core.sight_in.aims import Aim
from cross_staff.core.sight_in.controls import SIDEWAYS
from cross_staff.core.sight_in.procedures import dialled_pin
from cross_staff.core.simulate.hidden_bow import DEG
from cross_staff.core.simulate.practice_bow import PracticeBow
from cross_staff.core.stations import RigState

CLOSE_M = 10.0  # the first arrows of a sight that nobody shot
WIND_MPS = 3.0  # no windage is touched in more
PEEP_M = 0.004  # a peep that is on the card is as near as this
FEW_ARROWS = 2  # fewer tell nothing of where a group is
# what was done in a wrong order, each counted once for every time
DRAWN, EARLIER, UNREAD, UNPROVEN, ONE_ARROW, IN_WIND, TOO_FAR, WORSE = (
    "turned_at_full_draw", "earlier_axis_open", "not_read_after", "reference_unproven", "moved_after_one_arrow",
    "windage_in_wind", "first_arrows_too_far", "made_it_worse",
)  # fmt: skip


@dataclass(frozen=True)
class Left:
    """A goal at the end: how far off it truly is and what is allowed, in its unit (deg, cm, mm, pins); the same at the
    farthest, steepest shot [cm] where it is an axis; whether the record calls it good."""

    goal: str
    off: float
    allowed: float
    unit: str
    far_cm: float | None = None
    called_good: bool = False

    @property
    def there(self) -> bool:
        return abs(self.off) <= self.allowed

    @property
    def believed(self) -> bool:
        """A false belief: called good, and it is not."""
        return self.called_good and not self.there


@dataclass(frozen=True)
class Mistake:
    """Something done in a wrong order: which, how often, and the axis or control of the first time."""

    key: str
    times: int
    first: str


@dataclass(frozen=True)
class Debrief:
    """What came of an exercise: each goal's truth, what was spent and what of it is over the budget, mistakes."""

    left: tuple[Left, ...]
    spent: dict[str, int]
    over: tuple[str, ...]
    mistakes: tuple[Mistake, ...]

    @property
    def reached(self) -> bool:
        """Whether every goal is there, whatever it cost."""
        return all(each.there for each in self.left)

    @property
    def solved(self) -> bool:
        """Whether every goal is there, within the budget."""
        return self.reached and not self.over

    @property
    def believed(self) -> tuple[Left, ...]:
        return tuple(each for each in self.left if each.believed)


def debrief(practice: Practice, rig: RigState) -> Debrief:
    """The truth of an exercise beside what its record says.

    Args:
        practice: the exercise, with all that was done.
        rig: as the program has it.

    Returns:
        goals, costs, mistakes.

    Source:
        the hidden bow.
    """
    bow = PracticeBow(practice.exercise).done(practice.acts)
    spent, budget = practice.spent(), practice.exercise.budget
    over = tuple(name for name in ("arrows", "turns", "minutes", "days") if spent[name] > getattr(budget, name))
    left = tuple(each for goal in practice.exercise.goals for each in _left(goal, bow, rig))
    return Debrief(left, spent, over, mistakes(practice))


def _left(goal: str, bow: PracticeBow, rig: RigState) -> list[Left]:
    if goal in AXES:
        return [_axis(goal, bow, rig)]
    return {"home": _home, "pins": _pins, "tape": _tape, "peep": _peep, "paper": _paper}[goal](bow, rig)


def _axis(axis: str, bow: PracticeBow, rig: RigState) -> Left:
    state = rig.level.axes[axis]
    off = bow.bow.axes[axis]
    far = 100.0 * (rig.card.level.tolerance_m or 0.0) * abs(off) / state.tolerance
    return Left(axis, off / DEG, state.tolerance / DEG, "deg", far, state.standing == "good")


def _aim(bow: PracticeBow, rig: RigState, aim: Aim, mark_mm: float | None) -> float:
    """How far an aim truly is off on the target [m]."""
    estimate, archer = rig.range.estimate, bow.archer
    home = estimate.home_dial_mm if estimate else None
    archer.home_mm = archer.zero_mm if home is None else home
    return archer.off_m(aim, mark_mm)


def _called(rig: RigState, aim: Aim) -> bool:
    own = (aim.pin, aim.ranged_m)
    return any(each.verdict.there and (each.aim.pin, each.aim.ranged_m) == own for each in rig.range.aims)


def _home(bow: PracticeBow, rig: RigState) -> list[Left]:
    aim = Aim(0, bow.pins()[0])
    off, allowed = _aim(bow, rig, aim, None), bow.archer.allowed_m()
    return [Left("home", 100.0 * off, 100.0 * allowed, "cm", None, _called(rig, aim))]


def _pins(bow: PracticeBow, rig: RigState) -> list[Left]:
    told = []
    for pin, distance in enumerate(bow.pins()[1:], start=1):
        aim = Aim(pin, distance)
        off = _aim(bow, rig, aim, None)
        told.append(Left(f"pin:{pin + 1}", 100.0 * off, 100.0 * bow.archer.allowed_m(), "cm", None, _called(rig, aim)))
    return told


def tape_called_good(rig: RigState, far_m: float) -> bool:
    """Whether the program calls the tape good to a distance, by marks that were shot: none from speed alone is.

    Args:
        rig: as the program has it, in any state.
        far_m: distance [m as ranged].

    Returns:
        whether it does [yes or no].

    Source:
        the tape station's own verdict.
    """
    good = rig.evaluation.good_to_m
    return bool(rig.evaluation.own) and not rig.evaluation.doubtful and good is not None and good >= far_m


def _tape(bow: PracticeBow, rig: RigState) -> list[Left]:
    far, estimate = bow.exercise.farthest_m, rig.range.estimate
    mark = None
    if estimate is not None:
        try:
            mark = estimate.fitted_mark(far)
        except CrossStaffError:
            mark = None
    good = tape_called_good(rig, far)
    allowed = 100.0 * bow.archer.allowed_m()
    if mark is None or estimate is None:
        return [Left("tape", math.inf, allowed, "cm", None, good)]
    pin = dialled_pin(rig.card, estimate.log.chosen)
    return [Left("tape", 100.0 * _aim(bow, rig, Aim(pin, far, True), mark[0]), allowed, "cm", None, good)]


def _peep(bow: PracticeBow, rig: RigState) -> list[Left]:
    said = rig.card.peep.height()
    true = bow.archer.sight.figures.peep_height_m
    off = math.inf if said is None else 1000.0 * (said.height_m - true)
    return [Left("peep", off, 1000.0 * PEEP_M, "mm", None, said is not None)]


def _paper(bow: PracticeBow, rig: RigState) -> list[Left]:
    off = math.hypot(*bow.tear_mm)
    line = rig.checklist.line("paper_tear")
    return [Left("paper", off, 1000.0 * TEAR_FAIR_M, "mm", None, line.verdict == PASS)]


def mistakes(practice: Practice) -> tuple[Mistake, ...]:
    """What was done in a wrong order, by what the bow was like just then.

    Args:
        practice: the exercise, with all that was done.

    Returns:
        each with how often, the commonest first.

    Source:
        the order of the work: docs/method.md, section 24.
    """
    bow, seen = PracticeBow(practice.exercise), _Seen()
    for act in practice.acts:
        before = dict(bow.bow.axes), bow.archer.sight.right_mm, list(bow.archer.sight.heights_m)
        bow.do(act.kind, act.do, act.number)
        seen.saw(act, bow, before[0], _off(before[1], before[2], bow), _now(bow))
    seen.ended()
    told = [Mistake(key, len(each), each[0]) for key, each in seen.told.items() if each]
    return tuple(sorted(told, key=lambda each: -each.times))


def _off(right_mm: float, heights: list[float], bow: PracticeBow) -> tuple[float, float]:
    """How far the first pin was off at home [mm at the sight], sideways and in height."""
    sight = bow.archer.sight
    now = sight.right_mm, list(sight.heights_m)
    sight.right_mm, sight.heights_m = right_mm, heights
    off = _now(bow)
    sight.right_mm, sight.heights_m = now
    return off


def _now(bow: PracticeBow) -> tuple[float, float]:
    try:
        right, up = bow.archer.off_mm(Aim(0, bow.pins()[0]))
    except CrossStaffError:
        return math.inf, math.inf
    return abs(right), abs(up)


class _Seen:
    """What was noticed so far."""

    def __init__(self) -> None:
        self.told: dict[str, list[str]] = {}
        self.unread: dict[str, bool] = {}
        self.proven = False
        self.arrows = 0
        self.any_arrow = False

    def note(self, key: str, what: str) -> None:
        self.told.setdefault(key, []).append(what)

    def saw(
        self,
        act: PracticeAct,
        bow: PracticeBow,
        axes: dict[str, float],
        was: tuple[float, float],
        now: tuple[float, float],
    ) -> None:
        told: dict[str, Callable[[], None]] = {
            acts.TURN: lambda: self._turned(act, bow, axes),
            acts.LOOK: lambda: self._looked(act),
            acts.SHOOT: lambda: self._shot(act),
            acts.MOVE: lambda: self._moved(act, bow, was, now),
        }
        if act.kind in (acts.MATCH, acts.REVERSE):
            self.proven = True
        told.get(act.kind, lambda: None)()

    def _turned(self, act: PracticeAct, bow: PracticeBow, axes: dict[str, float]) -> None:
        axis = str(act.do.get("axis"))
        self.unread[axis] = True
        if act.saw.get("drawn"):
            self.note(DRAWN, axis)
        allowed = 0.5 * DEG
        earlier = [
            each for each in AXES[: AXES.index(axis)] if each in bow.exercise.goals and abs(axes[each]) > allowed
        ]
        if earlier:
            self.note(EARLIER, f"{axis}:{earlier[0]}")
        if abs(bow.bow.axes[axis]) > abs(axes[axis]) + allowed:
            self.note(WORSE, axis)

    def _looked(self, act: PracticeAct) -> None:
        axis, method = str(act.do.get("axis")), str(act.do.get("method"))
        self.unread.pop(axis, None)
        if BY_KEY[method].reads == CLIP and not self.proven:
            self.note(UNPROVEN, axis)
            self.proven = True  # once is enough to be told

    def _shot(self, act: PracticeAct) -> None:
        distance = float(str(act.do.get("distance", 0.0)))
        if not self.any_arrow and distance > CLOSE_M:
            self.note(TOO_FAR, f"{distance:.0f}")
        self.any_arrow = True
        self.arrows += act.arrows

    def _moved(self, act: PracticeAct, bow: PracticeBow, was: tuple[float, float], now: tuple[float, float]) -> None:
        name = str(act.do.get("control"))
        sideways = bow.controls()[name].moves in SIDEWAYS
        if self.any_arrow and self.arrows < FEW_ARROWS:
            self.note(ONE_ARROW, name)
        if sideways and abs(bow.exercise.hidden.wind_mps) >= WIND_MPS:
            self.note(IN_WIND, name)
        side = 0 if sideways else 1
        if now[side] > was[side] + bow.archer.spread_mm(bow.pins()[0]):
            self.note(WORSE, name)
        self.arrows = 0

    def ended(self) -> None:
        for axis in self.unread:
            self.note(UNREAD, axis)
