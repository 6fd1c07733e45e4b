"""What the practice bench's pages show."""

from __future__ import annotations

import math
from datetime import date
from typing import Any

from fastapi import Request
from starlette.responses import Response

from cross_staff.core.practice.exercise import GOALS, GRADES, THEMES, Exercise
from cross_staff.core.practice.log import Practice
from cross_staff.core.simulate.debrief import Debrief, Left
from cross_staff.services.practice import catalogue
from cross_staff.services.practice.page import Learner, learners, practice_rigs, went
from cross_staff.services.practice.program import Needed, program_needs
from cross_staff.services.practice.record import practice as practice_on
from cross_staff.services.rig import Rig
from cross_staff.web.forms.form import FormInput
from cross_staff.web.forms.units import UNIT_SETS, Units
from cross_staff.web.practice.words import MISTAKES, budget_words, far_words, off_words, sentence
from cross_staff.web.shared.moments import local_time
from cross_staff.web.shared.practice_band import band
from cross_staff.web.shared.practice_words import SPENT_WORDS, answer_words
from cross_staff.web.shared.render import render, rig_context

_STATION = {"first": "level", "second": "level", "third": "level", "peep": "card", "paper": "prepare"}


def bench_page(request: Request, form: FormInput, status: int = 200) -> Response:
    """The exercises by theme, the rigs that are worked on, the finished ones."""
    rigs, broken = practice_rigs(request.app.state.database)
    who = request.query_params.get("who")
    by_theme = {
        words: [_offer(each) for each in catalogue.exercises() if each.theme == theme]
        for theme, words in THEMES.items()
    }
    context = {
        "form": form,
        "themes": [(words, rows) for words, rows in by_theme.items() if rows],
        "open": [
            {"rig_id": r.rig_id, "name": r.practice.exercise.name, "learner": r.practice.learner,
             "acts": len(r.practice.acts), "begun": local_time(r.practice.begun)}
            for r in rigs if r.went is None
        ],
        "done": [
            _done(r.rig_id, r.practice, r.went)
            for r in rigs if r.went is not None and who in (None, r.practice.learner)
        ],
        "learners": [_learner(each, who) for each in learners(rigs)],
        "who": who,
        "broken": broken,
        "unit_sets": [(key, units.words) for key, units in UNIT_SETS.items()],
    }  # fmt: skip
    return render(request, "practice/bench.html", status, **context)


def _learner(each: Learner, who: str | None) -> dict[str, Any]:
    """How somebody gets on, in a line."""
    told = f"{each.solved} of {len(catalogue.exercises())} solved, {each.finished} finished"
    if each.slips_first is not None and each.slips_newest is not None:
        told += (
            f"; false beliefs and mistakes of order, each: {each.slips_first:.1f} in the first three, "
            f"{each.slips_newest:.1f} in the newest"
        )
    return {"name": each.name or "without a name", "who": each.name, "told": told, "here": each.name == who}


def _offer(exercise: Exercise) -> dict[str, Any]:
    return {
        "key": exercise.key,
        "name": exercise.name,
        "grade": GRADES[exercise.grade],
        "say": exercise.say,
        "budget": budget_words(exercise.budget),
    }


def _done(rig_id: int, practice: Practice, went: Debrief) -> dict[str, Any]:
    return {
        "rig_id": rig_id,
        "learner": practice.learner,
        "name": practice.exercise.name,
        "when": local_time(practice.begun),
        "how": "solved" if went.solved else "reached, over its budget" if went.reached else "not reached",
        "good": went.solved,
        "left": "; ".join(off_words(each, Units()) for each in went.left if not each.there) or "nothing",
        "spent": [went.spent[name] for name in (*SPENT_WORDS, "hints")],
        "mistakes": sum(each.times for each in went.mistakes),
        "beliefs": len(went.believed),
    }


def rig_page(request: Request, rig: Rig, form: FormInput, at: str = "practice", status: int = 200) -> Response:
    """An exercise, what was done; at the end the truth beside the record. What was refused of the band stands in it.
    Raises NotFound for a rig of the shop."""
    practice, units = practice_on(rig), Units.of(rig.units)
    context = rig_context(rig, "practice", date.today())
    context["practice"] = band(rig, at, form)
    told = went(request.app.state.database, rig, practice) if practice.finished else None
    asked = "program" in request.query_params
    needs = program_needs(practice.exercise) if told is not None and asked else None
    context |= {
        "exercise": practice.exercise,
        "goals": [GOALS[goal] for goal in practice.exercise.goals],
        "budget": budget_words(practice.exercise.budget),
        "hints_left": len(practice.exercise.hints) - practice.spent()["hints"],
        "learner": practice.learner,
        "to": _STATION.get(practice.exercise.goals[0], "sight_in"),
        "acts": [(act.number, answer_words(act, units), local_time(act.at)) for act in reversed(practice.acts)],
        "went": None if told is None else _went(told, practice, units, needs),
        "worked_out": told is None or asked,
        "form": form,
    }
    return render(request, "practice/rig.html", status, **context)


def _went(told: Debrief, practice: Practice, units: Units, needs: Needed | None) -> dict[str, Any]:
    budget = practice.exercise.budget
    program = {} if needs is None else {"arrows": needs.arrows, "turns": needs.turns}
    return {
        "solved": told.solved,
        "reached": told.reached,
        "rows": [_row(each, units) for each in told.left],
        "beliefs": [f"You called it good: {off_words(each, units)}." for each in told.believed],
        "mistakes": [(MISTAKES[each.key].format(first=_first(each.first)), each.times) for each in told.mistakes],
        "spent": [
            (words, told.spent[name], getattr(budget, name), name in told.over, program.get(name))
            for name, words in SPENT_WORDS.items()
        ],
        "hints": told.spent["hints"],
        "sentence": sentence(told, practice.exercise),
    }


def _row(left: Left, units: Units) -> dict[str, Any]:
    missing = not math.isfinite(left.off)
    return {
        "words": off_words(left, units),
        "far": far_words(left, units),
        "there": left.there,
        "record": "called good" if left.called_good else "nothing said" if not missing else "not there",
    }


def _first(key: str) -> str:
    return key.replace("first", "first axis").replace("second", "second axis").replace("third", "third axis")
