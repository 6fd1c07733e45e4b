"""The reckoning column of the card: what it comes to, what it warns of, what it would make stale."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from cross_staff.core.errors import InvalidValue
from cross_staff.core.rig import chronograph, speed
from cross_staff.core.rig.arrow_build import margins, mass_per_force, spine_doubts
from cross_staff.core.rig.card import RigCard
from cross_staff.web.card import words
from cross_staff.web.card.drawing import arrow_drawing, peep_drawing, speed_strip
from cross_staff.web.forms.form import FormInput
from cross_staff.web.forms.units import Units
from cross_staff.web.shared import words as sentences
from cross_staff.web.shared.staleness import stale_ahead


def evaluated(form: FormInput, card: RigCard, kept: RigCard, happened: Sequence[str]) -> dict[str, Any]:
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
        | stale_ahead(kept, card, happened)
        | arrow_evaluated(card, units)
    )


def arrow_evaluated(card: RigCard, units: Units) -> dict[str, Any]:
    """The build in use: mass, balance, speed, and what is to be said of it."""
    build, balance, problem = card.build, None, ""
    try:
        balance = build.balance()
    except InvalidValue as error:
        problem = error.message
    session = build.newest_session
    summary = chronograph.summary(session) if session.kept_mps else None
    force = card.bow.draw_weight_n
    own = None if problem else speed.measured(card.builds, card.in_use, force)
    at_sight = own or (None if problem else speed.predicted(card.builds, card.in_use, force))
    return {
        "balance": balance,
        "mass": None if problem else build.mass_kg(),
        "build_problem": problem,
        "arrow": arrow_drawing(build, balance),
        "session": session,
        "earlier": [words.session(s, units) for s in build.sessions[:-1] if s.readings_mps],
        "summary": summary,
        "at_sight": at_sight,
        "predicted": at_sight is not None and own is None,
        "drag": None if problem else build.drag_per_m(),
        "strip": speed_strip(session, summary, units),
        "warnings": [] if problem else arrow_warnings(card, units),
    }


def arrow_warnings(card: RigCard, units: Units) -> list[str]:
    """What is wrong, or not to be trusted any more, about the build in use."""
    build, force = card.build, card.bow.draw_weight_n
    warnings = []
    apart = build.weighs_apart()
    if apart is not None:
        warnings.append(words.weighs_apart(apart, units))
    ratio, least = mass_per_force(build.mass_kg(), force), card.bow.least_mass_per_force
    if ratio is not None and least is not None and ratio < least:
        warnings.append(words.too_light(ratio, least, units))
    warnings += [words.spine_doubt(build.spine, doubt, units) for doubt in spine_doubts(build, force)]
    margin = margins(build, card.bow.nock_to_rest_m)
    warnings += [words.short_margin(part, margin, units) for part in margin.short]
    return warnings


def _spread_example(card: RigCard, units: Units) -> str:
    """One sd of the archer's spread at the distance of his usual group."""
    spread, at = card.goals.spread_mrad, card.goals.group_at_m
    if spread is None or at is None:
        return ""
    return f"{units.show('offset', 1e-3 * spread * at, 1)} at {sentences.whole_distance(units, at)}"
