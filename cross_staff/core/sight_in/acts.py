"""What the station says: its steps with how they stand, what to do now, and all that it knows of a rig."""

from __future__ import annotations

from dataclasses import dataclass, field
from enum import StrEnum

from cross_staff.core.rig.procedure import CLOSE_M, SHOOT, ProcedureStep, StepKind
from cross_staff.core.sight_in.aims import Aim, AimState
from cross_staff.core.sight_in.controls import MovementAdvice, RangeControl
from cross_staff.core.sight_in.estimate import AimEstimate
from cross_staff.core.sight_in.log import End
from cross_staff.core.sight_in.questions import Question


class SaidOf(StrEnum):
    """What can be said of a step."""

    DONE = "done"
    SKIPPED = "skipped"
    ENOUGH = "enough"


DONE, SKIPPED, ENOUGH = SaidOf


class OtherAct(StrEnum):
    """What may be next beside a step."""

    MOVE = "move"
    CARD = "card"
    ALL_DONE = "all_done"
    ASK = "ask"
    REST = "rest"


MOVE, CARD, ALL_DONE, ASK, REST = OtherAct


@dataclass(frozen=True)
class SightInStepState:
    """A step with its aim, whether it is done, and how: by the arrows, said, said to be good enough, or skipped; by
    whom."""

    step: ProcedureStep
    aim: Aim | None
    state: str = ""
    who: str = ""
    missing: tuple[str, ...] = ()
    by_arrows: bool = False


@dataclass(frozen=True)
class Act:
    """What to do now: a kind (SHOOT, MOVE, PLACE, CONFIRM, ASK, REST, CARD, ALL_DONE), why, and its numbers: the
    aim, how many arrows now and in all, the reading to dial, or that it is to stand at home, the movements, where the
    pin belongs [mm below the top one], the impact to expect [m, up]; what is asked: ends that do not belong to what
    is believed, where a control stands, a shot far from its others (its end, and which), or what
    the dial read at the newest end."""

    kind: StepKind | OtherAct
    because: str = ""
    step: ProcedureStep | None = None
    aim: Aim | None = None
    arrows: int = 0
    more: int = 0
    dial_mm: float | None = None
    moves: tuple[MovementAdvice, ...] = ()
    place_mm: float | None = None
    place_sd_mm: float | None = None
    expect_m: float | None = None
    at: AimState | None = None
    at_home: bool = False
    question: Question | None = None
    where: RangeControl | None = None
    odd: tuple[End, int] | None = None
    unread: End | None = None


@dataclass(frozen=True)
class SightIn:
    """All that the station knows of a rig at this moment; estimate is None while the card lacks something."""

    estimate: AimEstimate | None
    steps: tuple[SightInStepState, ...]
    act: Act
    aims: tuple[AimState, ...] = field(default=())

    @property
    def question(self) -> Question | None:
        """The newest ends, where they do not belong to what is believed."""
        return self.act.question

    @property
    def current(self) -> SightInStepState | None:
        """The step that is next."""
        return next((s for s in self.steps if not s.state), None)

    @property
    def shot(self) -> bool:
        """Whether any arrow was shot that still counts."""
        return self.estimate is not None and bool(self.estimate.counted)

    @property
    def old_ends(self) -> int:
        """Ends that a change of the rig has made old for height or windage."""
        estimate = self.estimate
        return 0 if estimate is None else len(estimate.counted) - len(estimate.standing)

    @property
    def shot_now(self) -> bool:
        """Whether any arrow was shot that is still true of the rig."""
        return self.estimate is not None and bool(self.estimate.standing)

    def usable_to_m(self) -> float | None:
        """The farthest pin that arrows show to be sighted in [m as ranged]: usable as fixed pins up to there."""
        done = [s.aim.ranged_m for s in self.steps if s.by_arrows and s.aim and s.step.kind == SHOOT]
        return max((d for d in done if d > CLOSE_M), default=None)
