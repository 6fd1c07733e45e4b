"""The reckoning column of the tape station: what the tape is worth, in the user's units."""

from __future__ import annotations

from typing import Any

from cross_staff.core.rig.card import RigCard
from cross_staff.core.tape.forecast import COVERAGE
from cross_staff.core.tape.rows import RowEvaluation
from cross_staff.core.tape.station import Evaluation
from cross_staff.web.forms.units import Units, fixed
from cross_staff.web.shared.words import figure, good_to, on_target, whole_distance


def evaluated(card: RigCard, evaluation: Evaluation, units: Units) -> dict[str, Any] | None:
    """Everything the column shows; None while there is no tape."""
    fit = evaluation.fit
    if fit is None or evaluation.turnover_m is None:
        return None
    goals, good = card.goals, card.trusted_m(evaluation.good_to_m)
    return {
        "good_to": "" if good is None else good_to(good, units).removeprefix("good to "),
        "aside": evaluation.aside,
        "enough": evaluation.good_enough and not evaluation.doubtful,
        "doubtful": evaluation.doubtful,
        "target": "" if goals.target_size_m is None else on_target(units, goals.target_size_m),
        "farthest": "" if goals.farthest_m is None else whole_distance(units, goals.farthest_m),
        "rows": table(card, evaluation, units, every=10),
        "figures": _figures(evaluation, units),
        "off": _farthest_off(evaluation, units),
        "count": len(evaluation.used),
        "on_scale": fit.on_scale,
        "turnover": units.show("distance", evaluation.turnover_m, 1),
        "partner": "" if evaluation.home_partner_m is None else units.show("distance", evaluation.home_partner_m, 1),
        "home": "" if goals.home_m is None else whole_distance(units, goals.home_m),
    }


def _figures(evaluation: Evaluation, units: Units) -> list[dict[str, str]]:
    fit = evaluation.fit
    assert fit is not None
    names = {
        "speed_mps": "Speed at the sight",
        "drag_per_m": "Drag",
        "eye_to_sight_m": "Eye to sight",
        "peep_height_m": "Peep height, square",
        "tape_ratio": "Tape ratio",
    }
    return [
        {
            "name": names[key],
            "value": figure(key, fit.known(key), units),
            "was": figure(key, getattr(fit.priors, key), units),
            "hard": "yes" if abs(pull) > 2.0 else "",
        }
        for key, pull in fit.pulls.items()
    ]


def _farthest_off(evaluation: Evaluation, units: Units) -> str:
    """How far off the tape's line the worst of the marks lies, on the target."""
    worst = max((row for row in evaluation.used if row.target_m is not None), key=_off_m, default=None)
    if worst is None or len(evaluation.used) < 2:
        return ""
    return f"{on_target(units, worst.target_m or 0.0)} at {whole_distance(units, worst.entry.ranged_m)}"


def _off_m(row: RowEvaluation) -> float:
    return abs(row.target_m or 0.0)


def table(card: RigCard, evaluation: Evaluation, units: Units, every: int) -> list[dict[str, Any]]:
    """The tape as a table from home to farthest, each `every` units, ends included."""
    fit, goals = evaluation.fit, card.goals
    if fit is None or goals.home_m is None or goals.farthest_m is None:
        return []
    start = evaluation.tape_home_m or goals.home_m
    home, farthest = (units.from_si("distance", d) for d in (start, goals.farthest_m))
    inner = [float(c) for c in range(int(home) + 1, int(farthest) + 1) if c % every == 0]
    counts = sorted({home, *(c for c in inner if home < c < farthest), farthest})
    ranged = [units.to_si("distance", count) for count in counts]
    half = (goals.target_size_m or 0.0) / 2.0
    rows = []
    for count, row in zip(counts, fit.tape([card.distance_from_sight(d) for d in ranged], evaluation.pins.dialled)):
        width = None if row.sd_on_target_m is None else COVERAGE * row.sd_on_target_m
        rows.append(
            {
                "distance": units.as_typed("distance", units.to_si("distance", count)),
                "mark": "" if row.mark_mm is None else fixed(card.tape.direction * row.mark_mm, 1),
                "from_home": "" if row.mark_mm is None else fixed(row.mark_mm - evaluation.home_mark_mm, 1),
                "plus_minus": "out of reach" if width is None else on_target(units, width),
                "within": width is not None and (not half or width <= half),
            }
        )
    return rows
