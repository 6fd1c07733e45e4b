"""Walks of a virtual archer at the range, from an empty shop, by the program's own services."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field
from datetime import UTC, datetime, timedelta
from pathlib import Path
from tempfile import TemporaryDirectory

from cross_staff.core.errors import InvalidValue
from cross_staff.core.estimation.groups import Shot
from cross_staff.core.prepare.station import OVERRIDE
from cross_staff.core.rig.log import BenchEntry
from cross_staff.core.rig.procedure import CONFIRM, PLACE, SHOOT
from cross_staff.core.sight_in.acts import ALL_DONE, ASK, DONE, MOVE, Act
from cross_staff.core.sight_in.aims import Aim
from cross_staff.core.sight_in.controls import RangeControl
from cross_staff.core.sight_in.log import HOME, ORDERED, End
from cross_staff.core.sight_in.orders import identity, order_of
from cross_staff.core.sight_in.questions import Answer, Question
from cross_staff.core.simulate.archer import Archer
from cross_staff.services import bench
from cross_staff.services.card import save as card
from cross_staff.services.prepare import record as prepare
from cross_staff.services.rig import Rig, open_rig
from cross_staff.services.sight_in import answers, record
from cross_staff.services.sight_in.ends import EndDraft, save_end
from cross_staff.services.sight_in.moves import made_moves
from cross_staff.storage.database import Database

START = datetime(2026, 5, 9, 8, 0, tzinfo=UTC)
MOST_ACTS, MOST_ARROWS = 160, 300


@dataclass
class RangeWalked:
    """How a walk ended: arrows, orders, those that made the aim worse by more than the spread; whether the program
    said that all is done; each aim that it called good with how far it truly is off, in what the target allows;
    questions, and those with nothing behind them; what could not be obeyed."""

    kind: str
    arrows: int = 0
    ends: int = 0
    orders: int = 0
    worse: list[str] = field(default_factory=list)
    done: bool = False
    good: dict[Aim, float] = field(default_factory=dict)
    asked: int = 0
    false_questions: int = 0
    refused: list[str] = field(default_factory=list)


class RangeWalk:
    """One archer, his rig in a shop, and a clock."""

    def __init__(self, database: Database, archer: Archer) -> None:
        self.database, self.archer, self.clock, self.count = database, archer, START, 0
        full = archer.card
        self.rig_id = bench.add(database, full.name, full.archer, {}, self.now())
        card.save(database, self.rig_id, 1, full, {}, self.now(), "measured")
        reason = BenchEntry("prepare", OVERRIDE, 0, self.now(), note="sighted in before it was tuned")
        prepare.override_gate(database, self.rig_id, reason)

    def now(self) -> datetime:
        """A few minutes on."""
        self.clock += timedelta(minutes=3)
        return self.clock

    def walked(self, most_arrows: int = MOST_ARROWS, until: Callable[[Rig], bool] | None = None) -> RangeWalked:
        """To the end, or until what is wanted is there, or the quiver of a season is empty."""
        told = RangeWalked(self.archer.card.sight.kind)
        for _ in range(MOST_ACTS):
            rig = open_rig(self.database, self.rig_id)
            act = rig.range.act
            self._at_home(rig)
            if until is not None and until(rig):
                told.done = True
                break
            if act.kind == ALL_DONE or self.archer.arrows >= most_arrows:
                told.done = act.kind == ALL_DONE
                break
            try:
                self.does(rig, act)
            except InvalidValue as error:
                told.refused.append(f"{act.kind}: {error}")
                break
        return self._outcome(told)

    def _at_home(self, rig: Rig) -> None:
        """Where home is by now: at the stop, or where the wheel found it."""
        home = rig.range.estimate.home_dial_mm if rig.range.estimate else None
        self.archer.home_mm = self.archer.zero_mm if home is None else home

    def does(self, rig: Rig, act: Act) -> None:
        """What the program says now, as this archer does it. Raises InvalidValue where it cannot be done."""
        archer = self.archer
        if act.kind == ASK and act.question is not None:
            self.answered(act.question, archer.answers(act.question))
        elif act.kind == ASK and act.odd is not None:
            end, index = act.odd
            self.told(end, end.shots[index], archer.was_wild(end.shots[index]))
        elif act.kind == ASK and act.unread is not None:
            self.read_then(act.unread)
        elif act.kind == ASK and act.because == "marks_disagree":
            self._leaves_out(rig)
        elif act.kind == ASK and act.where is not None:
            self.stood(act.where)
        elif act.kind == SHOOT:
            self._shoot(act)
        elif act.kind in (MOVE, PLACE):
            self._move(rig, act)
        elif act.kind == CONFIRM:
            self._confirm(rig, act)

    # how it is written down: here by the services, in the browser by the pages
    def answered(self, question: Question, said: Answer) -> None:
        """What was with the newest ends."""
        answers.answer(self.database, self.rig_id, question.keys, _answered(said), self.now())

    def told(self, end: End, shot: Shot, wild: bool) -> None:
        """Whether an arrow far from the others was called bad."""
        if wild:
            record.mark_shot(self.database, self.rig_id, end.key, shot.key, True, self.now())
        else:
            record.say_counts(self.database, self.rig_id, end.key, self.now())

    def read_then(self, end: End) -> None:
        """What the dial read at an end, looked at afterwards."""
        said = answers.Answered("dial", dial_mm=round(self.archer.stands_mm, 1))
        answers.answer(self.database, self.rig_id, (end.key,), said, self.now())

    def stood(self, where: RangeControl) -> None:
        """Where a control that goes by steps stands: at its first place."""
        record.say_stand(self.database, self.rig_id, where.name, where.places_mm[0], self.now())

    def kept(self, draft: EndDraft) -> None:
        """An end."""
        save_end(self.database, self.rig_id, draft, self.now())

    def moved(self, rig: Rig, act: Act, other_way: list[str]) -> None:
        """An order as it was obeyed."""
        order = order_of(act)
        made_moves(self.database, self.rig_id, identity(order, rig.range_log), order, self.now(), other_way)

    def confirmed(self, step: str, mark_mm: float | None) -> None:
        """A step that is done when it is said."""
        record.say_step(self.database, self.rig_id, step, DONE, "", self.now(), mark_mm)

    def _leaves_out(self, rig: Rig) -> None:
        """The mark that fits the others least is left out, where it is an end; else he gives up. Raises
        InvalidValue."""
        suspect = rig.evaluation.suspect
        if suspect is None or not suspect.entry.from_range:
            raise InvalidValue("marks", "they disagree, and none of them is the one")
        end = rig.range_log.ends[-suspect.entry.line - 1]
        record.leave_out(self.database, self.rig_id, end.key, "does not fit the others", self.now())

    def _shoot(self, act: Act) -> None:
        assert act.aim is not None
        archer = self.archer
        if archer.today >= archer.habits.a_day:
            self.clock += timedelta(hours=20)
            archer.new_day()
        dial = None if act.dial_mm is None else round(act.dial_mm, 1)
        shot = archer.end(act.aim, act.arrows, dial, act.at_home)
        self.count += 1
        key = f"walk-{self.count}"
        shots = tuple(
            Shot(round(s.right_m, 4), round(s.up_m, 4), s.called_bad, f"{key}-{n}") for n, s in enumerate(shot.shots)
        )
        dial_from = HOME if shot.at_home else ORDERED if shot.ordered and shot.dial_mm is not None else ""
        self.kept(EndDraft(key, shot.aim.ranged_m, shot.pin, shot.dial_mm, shots, dial_from=dial_from))
        archer.keys.append(open_rig(self.database, self.rig_id).every_end[-1].key)

    def _move(self, rig: Rig, act: Act) -> None:
        other = []
        if act.kind == PLACE:
            assert act.aim is not None and act.place_mm is not None
            self.archer.sight.place(act.aim.pin, act.place_mm)
        for advice in act.moves:
            if not self.archer.obey(advice, act.aim):
                other.append(advice.drive.name)
        self.moved(rig, act, other)

    def _confirm(self, rig: Rig, act: Act) -> None:
        assert act.step is not None
        mark = None
        if act.step.key == "stop_up":
            mark = self.archer.zero_mm
        elif act.step.key in ("stop_fit", "stop_back") and rig.range.estimate is not None:
            mark = rig.range.estimate.home_dial_mm
            mark = None if mark is None else round(mark, 1)
        self.confirmed(act.step.key, mark)

    def _outcome(self, told: RangeWalked) -> RangeWalked:
        rig = open_rig(self.database, self.rig_id)
        archer, state = self.archer, rig.range
        self._at_home(rig)
        told.arrows, told.ends, told.orders, told.worse = archer.arrows, archer.ends, archer.orders, archer.worse
        told.asked, told.false_questions = archer.asked, archer.false_questions
        for at in state.aims:
            if at.verdict.there and state.estimate is not None:
                mark = state.estimate.fitted_mark(at.aim.ranged_m) if at.aim.dialled else None
                told.good[at.aim] = archer.off_m(at.aim, mark[0] if mark else None) / archer.allowed_m()
        return told


def _answered(said: Answer) -> answers.Answered:
    what = (said.kind, said.drive, said.moves, said.move, said.pin, said.dial_mm, said.ranged_m, said.ends)
    return answers.Answered(*what)


def walk_of(kind: str, seed: int, most_arrows: int = MOST_ARROWS) -> RangeWalked:
    """A rig of a kind and an archer with habits, from one seed, in a shop of its own that is empty."""
    return walk_by(Archer.drawn(kind, seed), most_arrows)


def walk_by(archer: Archer, most_arrows: int = MOST_ARROWS) -> RangeWalked:
    """This archer in a shop of his own that is empty."""
    with TemporaryDirectory() as folder:
        database = Database(Path(folder) / "shop.sqlite3")
        database.migrate()
        try:
            return RangeWalk(database, archer).walked(most_arrows)
        finally:
            database.close()
