"""How each station stands and what comes next, for rigs put together of just what is asked about."""

import unittest
from dataclasses import replace
from types import SimpleNamespace as Of
from typing import Any

from cross_staff.core import stations
from cross_staff.core.errors import InvalidValue, NotFound, OutOfReach
from cross_staff.core.mount.station import DONE, SKIPPED
from cross_staff.core.rig.log import BenchEntry
from cross_staff.core.sight_in.acts import ASK
from cross_staff.core.stations import RigState, check_entry, in_trouble, next_step, standings, summary, tape_step
from cross_staff.core.tape.station import Evaluation, evaluate
from tests.rigs import NOON, entry, full_card, true_mark

CARD = full_card()
MARKS = [entry(n, d, true_mark(d)) for n, d in enumerate((17.0, 47.0, 78.0, 95.0), start=1)]
TAPE = evaluate(CARD, MARKS)
OPEN = Of(verdict="unknown", check=Of(key="paper_tear"))
SHEET: dict[str, Any] = {"open_lines": (), "good": True, "gate_open": True, "override": None,
                         "stopping": None}  # fmt: skip
LEVEL: dict[str, Any] = {"done": True, "required": ("first", "second", "third"), "old": 0, "in_jig": False,
                         "readings": (1,),
                         "current": None, "step": "done", "label": "",
                         "axes": dict.fromkeys(("first", "second", "third"), Of(accepted=""))}  # fmt: skip
RANGE: dict[str, Any] = {"estimate": 1, "steps": (Of(state="done"),), "current": None, "shot": True, "shot_now": True,
                         "old_ends": 0, "act": Of(kind="all_done", aim=None, arrows=0), "question": None,
                         "usable_to_m": lambda: None}  # fmt: skip


def step(state: str, key: str = "clamp") -> Any:
    return Of(state=state, step=Of(key=key))


def rig(
    tape: Evaluation = TAPE, sheet: dict[str, Any] | None = None, steps: tuple[Any, ...] = (),
    level: dict[str, Any] | None = None, range_: dict[str, Any] | None = None,
) -> RigState:  # fmt: skip
    """A rig on which all is done but what is said."""
    parts = (Of(**SHEET | (sheet or {})), steps, Of(**LEVEL | (level or {})), Of(**RANGE | (range_ or {})))
    return RigState(CARD, tape, *parts)  # type: ignore[arg-type]


class Standing(unittest.TestCase):
    def stands(self, key: str, state: RigState) -> tuple[str, str, int]:
        made = next(each for each in standings(state) if each.station.key == key)
        return made.state.value, made.word, made.count

    def test_card(self) -> None:
        self.assertEqual(self.stands("card", rig()), ("done", "complete", 0))
        missing = rig(Evaluation(("peep", "home"), ()))
        self.assertEqual(self.stands("card", missing), ("due", "incomplete", 2))

    def test_prepare(self) -> None:
        old = Of(verdict="old", check=Of(key="rest"))
        for sheet, stands in (
            ({}, ("done", "ready", 0)),
            ({"good": False, "open_lines": (OPEN, OPEN)}, ("due", "checks_open", 2)),
            ({"good": False, "open_lines": (OPEN, old)}, ("stale", "checks_old", 1)),
            ({"good": False, "open_lines": (OPEN,), "override": 1}, ("done", "overridden", 1)),
            ({"good": False, "override": 1, "stopping": OPEN}, ("due", "not_to_be_drawn", 0)),
        ):
            self.assertEqual(self.stands("prepare", rig(sheet=sheet)), stands)

    def test_mount(self) -> None:
        for steps, stands in (
            ((step(DONE), step(SKIPPED)), ("done", "mounted", 0)),
            ((step(DONE), step(""), step("wrong")), ("due", "steps_open", 2)),
            ((step("old"), step("")), ("stale", "steps_old", 1)),
        ):
            self.assertEqual(self.stands("mount", rig(steps=steps)), stands)

    def test_level(self) -> None:
        begun = {"done": False, "current": "second", "step": "axis"}
        left = {"label": "squared_at_rest"}
        accepted = LEVEL["axes"] | {"first": Of(accepted="no adjustment; costs 1 cm")}
        for level, sheet, stands in (
            ({}, {}, ("done", "levelled", 0)),
            ({"required": ("first", "second")}, {}, ("done", "level_only", 0)),
            (begun, {}, ("due", "second_open", 0)),
            ({"axes": accepted}, {}, ("done", "accepted", 0)),
            (begun | {"current": None, "step": "squared"} | left, {}, ("due", "squared_at_rest", 0)),
            (left, {}, ("done", "left_squared_at_rest", 0)),
            (begun | {"current": "first", "step": "match"}, {}, ("due", "match", 0)),
            (begun | {"current": None, "step": "plumb"}, {}, ("due", "plumb", 0)),
            (begun, {"gate_open": False}, ("blocked", "waits_for_gate", 0)),
            (begun | {"in_jig": True}, {"gate_open": False}, ("due", "second_open", 0)),
            (begun | {"old": 3, "readings": ()}, {}, ("stale", "readings_old", 3)),
            (begun | {"old": 3}, {}, ("due", "second_open", 0)),
        ):
            self.assertEqual(self.stands("level", rig(level=level, sheet=sheet)), stands)

    def test_sight_in(self) -> None:
        left = {"steps": (Of(state=""), Of(state="done"), Of(state="")), "current": 1}
        nothing = evaluate(CARD, [])
        for range_, tape, stands in (
            ({}, TAPE, ("done", "sighted_in", 0)),
            (left, TAPE, ("due", "steps_left", 2)),
            (left | {"usable_to_m": lambda: 26.0}, TAPE, ("due", "usable_to", 2)),
            (left | {"old_ends": 2, "shot_now": False}, TAPE, ("stale", "ends_old", 2)),
            (left | {"old_ends": 2}, TAPE, ("due", "steps_left", 2)),
            (left | {"shot": False}, nothing, ("due", "no_arrows", 0)),
            (left | {"shot": False}, TAPE, ("done", "by_marks", 0)),
            (left | {"shot": False}, evaluate(CARD, MARKS[:1]), ("due", "no_arrows", 0)),
            (
                {"act": Of(kind=ASK, aim=None, arrows=0)},
                TAPE,
                ("due", "asked", 0),
            ),  # every step done, and an end in doubt
            ({"act": Of(kind=ASK), "shot": False}, TAPE, ("due", "asked", 0)),
            (left | {"act": Of(kind=ASK)}, TAPE, ("due", "steps_left", 2)),
            ({"estimate": None}, TAPE, ("blocked", "waits_for_card", 0)),
        ):
            self.assertEqual(self.stands("sight_in", rig(tape, range_=range_)), stands)

    def test_tape(self) -> None:
        doubted = replace(TAPE, scale_runs_backwards=True)
        for tape, stands in (
            (TAPE, ("done", "good_to", 0)),
            (replace(TAPE, good_enough=False), ("due", "good_to", 0)),
            (doubted, ("due", "disagrees", 0)),
            (evaluate(CARD, []), ("due", "no_marks", 0)),
            (evaluate(CARD, MARKS, holds=frozenset({9})), ("stale", "marks_old", 4)),
            (Evaluation(("peep",), ()), ("blocked", "waits_for_card", 0)),
            (Evaluation((), (), problem=OutOfReach("no")), ("blocked", "unsolved", 0)),
        ):
            self.assertEqual(self.stands("tape", rig(tape)), stands)

    def test_an_end_in_doubt_is_asked_first_and_no_tape_is_good_meanwhile(self) -> None:
        asks = rig(TAPE, range_={"act": Of(kind=ASK, aim=None, arrows=0), "question": 1})
        self.assertEqual(self.stands("tape", asks), ("due", "end_asked", 0))
        step = next_step(asks)
        self.assertEqual((step.station, step.code), ("sight_in", ASK))

    def test_how_far(self) -> None:
        far = {each.station.key: each.far_m for each in standings(rig(range_={"usable_to_m": lambda: 38.0}))}
        self.assertEqual((far["sight_in"], far["tape"], far["level"]), (38.0, CARD.trusted_m(TAPE.good_to_m), None))

    def test_the_bench_shows_the_most_urgent(self) -> None:
        for steps, urgency in (((step("old"),), 0), ((step(""),), 1), ((), 2)):  # no tape to prove yet
            self.assertEqual(summary(rig(steps=steps)).urgency, urgency)
        done = summary(rig())
        blocked = replace(done.standings[3], state=stations.BLOCKED)
        self.assertEqual(replace(done, standings=(done.standings[0], blocked)).urgency, 2)
        self.assertEqual((in_trouble(CARD, "no").urgency, in_trouble(CARD, "no").step.station), (0, "trouble"))


class Next(unittest.TestCase):
    def next(self, **parts: Any) -> tuple[str, str, dict[str, float]]:
        made = next_step(rig(**parts))
        return made.station, made.code, made.numbers

    def test_in_the_order_of_the_work(self) -> None:
        sheet = {"open_lines": (OPEN, OPEN), "gate_open": False}
        steps = (step(DONE, "hole"), step("", "clamp"), step("", "pins"))
        level = {"done": False, "current": "second", "step": "axis"}
        act = Of(kind="shoot", aim=Of(ranged_m=26.0), arrows=6)
        range_ = {"current": 1, "act": act}
        every = {"sheet": sheet, "steps": steps, "level": level, "range_": range_}
        self.assertEqual(self.next(**every), ("prepare", "paper_tear", {"left": 2.0}))
        del every["sheet"]
        self.assertEqual(self.next(**every), ("mount", "clamp", {"left": 2.0}))
        del every["steps"]
        self.assertEqual(self.next(**every), ("level", "second", {}))
        del every["level"]
        self.assertEqual(self.next(**every), ("sight_in", "shoot", {"ranged_m": 26.0, "arrows": 6.0}))
        self.assertEqual(self.next(range_={"current": 1, "act": Of(kind="confirm", aim=None)})[2], {})
        self.assertEqual(self.next(range_=range_ | {"shot": False})[:2], ("tape", "print_tape"))
        self.assertEqual(self.next()[:2], ("tape", "print_tape"))

    def test_a_card_that_lacks_something_comes_first(self) -> None:
        self.assertEqual(self.next(tape=Evaluation(("peep",), ()), steps=(step(""),)), ("card", "peep", {}))
        wrong = Evaluation((), (), problem=InvalidValue("speed_mps", "must lie elsewhere"))
        made = next_step(rig(wrong, steps=(step(""),)))
        self.assertEqual((made.station, made.code, made.about), ("card", "unsolved", "speed_mps"))
        self.assertIn("must lie elsewhere", made.message)
        self.assertEqual(tape_step(CARD, Evaluation((), (), problem=OutOfReach("too far"))).message, "too far")

    def test_at_the_tape(self) -> None:
        self.assertEqual(tape_step(CARD, evaluate(CARD, [])).numbers, {"home_m": 17.0, "arrows": 6.0})
        self.assertEqual(tape_step(CARD, TAPE).numbers, {"good_to_m": 95.0})
        begun = evaluate(CARD, MARKS[:1])
        said = tape_step(CARD, begun).numbers
        self.assertEqual((said["ranged_m"], said["arrows"]), (begun.next_shot.distance_m, 6.0))
        self.assertEqual((said["farthest_m"], said["then_good_to_m"]), (95.0, CARD.trusted_m(begun.then_good_to_m)))
        self.assertGreater(said["now_m"], said["then_m"])

    def test_what_contradicts_is_named_with_both_values(self) -> None:
        wrong = [replace(mark, mark_mm=20.0 + 1.35 * (mark.mark_mm - 20.0), arrows=6) for mark in MARKS]
        evaluation = evaluate(CARD, wrong)
        made = stations.contradiction_step(evaluation)
        self.assertEqual((made.station, made.code), ("tape", "contradiction"))
        was = getattr(CARD.priors(), made.about)
        self.assertEqual((made.numbers["was"], made.numbers["was_sd"]), (was.value, was.sd))
        known = evaluation.fit.known(made.about)
        self.assertEqual((made.numbers["wanted"], made.numbers["wanted_sd"]), (known.value, known.sd))
        self.assertEqual(made.numbers["pull_sds"], evaluation.contradiction.pull_sds)
        self.assertIsNone(stations.contradiction_step(TAPE))
        self.assertIsNone(stations.contradiction_step(Evaluation((), ())))


class Entries(unittest.TestCase):
    def test_each_station_refuses_what_it_does_not_have(self) -> None:
        check_entry(CARD, BenchEntry("level", "plumb", 1, NOON, points=((0.0, 0.0),)))
        for station in ("prepare", "mount", "level", "sight_in", "tape", "card", "moon"):
            with self.subTest(station), self.assertRaises(NotFound):
                check_entry(CARD, BenchEntry(station, "nothing", 1, NOON))
