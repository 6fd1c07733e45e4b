"""The reckoning column of the card: what it comes to, what it warns of, what it would make stale."""

from __future__ import annotations

from typing import Any

from cross_staff.core.rig.card import RigCard
from cross_staff.services.card.page import ArrowFigures, arrow_figures
from cross_staff.web.card import words
from cross_staff.web.card.drawing import arrow_drawing, peep_drawing, speed_strip
from cross_staff.web.forms.form import FormInput
from cross_staff.web.forms.units import Units
from cross_staff.web.shared import words as sentences
from cross_staff.web.shared.staleness import stale_ahead


def evaluated(form: FormInput, card: RigCard, kept: RigCard) -> dict[str, Any]:
    """Arrow, speed, peep, warnings, and what saving would make stale."""
    units, height = form.units, card.peep.height()
    return (
        {
            "units": units,
            "notes": form.notes,
            "peep": card.peep,
            "peep_height": height,
            "peep_picture": peep_drawing(card.peep, units),
            "spread_mrad": card.goals.spread_mrad,
            "spread_example": _spread_example(card, units),
        }
        | stale_ahead(kept, card)
        | arrow_evaluated(card, units)
    )


def arrow_evaluated(card: RigCard, units: Units) -> dict[str, Any]:
    """The build in use: mass, balance, speed, and what is to be said of it."""
    build, figures = card.build, arrow_figures(card)
    session = build.newest_session
    return {
        "balance": figures.balance,
        "mass": figures.mass_kg,
        "build_problem": figures.problem,
        "arrow": arrow_drawing(build, figures.balance),
        "session": session,
        "earlier": [words.session(s, units) for s in build.sessions[:-1] if s.readings_mps],
        "summary": figures.summary,
        "at_sight": figures.at_sight,
        "predicted": figures.at_sight is not None and figures.predicted and figures.expected is None,
        "expected": "" if figures.expected is None else words.expected(card, figures.expected, units),
        "drag": figures.drag_per_m,
        "strip": speed_strip(session, figures.summary, units),
        "warnings": _warnings(card, figures, units),
    }


def arrow_warnings(card: RigCard, units: Units) -> list[str]:
    """What is wrong, or not to be trusted any more, about the build in use."""
    return _warnings(card, arrow_figures(card), units)


def _warnings(card: RigCard, figures: ArrowFigures, units: Units) -> list[str]:
    build, margin = card.build, figures.margins
    if figures.problem or margin is None:
        return []
    warnings = []
    apart, least = build.weighs_apart(), card.bow.least_mass_per_force
    if apart is not None:
        warnings.append(words.weighs_apart(apart, units))
    if figures.too_light is not None and least is not None:
        warnings.append(words.too_light(figures.too_light, least, units))
    warnings += [words.spine_doubt(build.spine, doubt, units) for doubt in figures.spine_doubts]
    warnings += [words.short_margin(part, margin, units) for part in margin.short]
    return warnings


def _spread_example(card: RigCard, units: Units) -> str:
    """One sd of the archer's spread at the distance of his usual group."""
    spread, at = card.goals.spread_mrad, card.goals.group_at_m
    if spread is None or at is None:
        return ""
    return f"{units.show('offset', 1e-3 * spread * at, 1)} at {sentences.whole_distance(units, at)}"
