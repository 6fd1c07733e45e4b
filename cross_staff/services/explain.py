"""An explanation with the numbers of the rig in hand, or of a usual one."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from cross_staff.core.errors import CrossStaffError, NotFound
from cross_staff.core.explain.explainers import EXPLAINERS, USUAL, Explainer, Picture
from cross_staff.services.rig import Rig


@dataclass(frozen=True)
class Explained:
    """An explanation with where its sliders stand, what is drawn (None where this arrow does not get there), and
    whether the numbers are those of the rig."""

    explainer: Explainer
    values: dict[str, float]
    picture: Picture | None
    own: bool


def explained(key: str, given: Mapping[str, float | None], rig: Rig | None) -> Explained:
    """An explanation. Raises NotFound for none that there is."""
    if key not in EXPLAINERS:
        raise NotFound("there is no such explanation")
    explainer = EXPLAINERS[key]
    figures = rig.figures if rig is not None else None
    usual = dict(given)
    if rig is not None and usual.get("distance") is None:
        usual["distance"] = rig.card.goals.farthest_m if key != "chased" else rig.card.goals.home_m
    values = explainer.values(usual)
    try:
        picture = explainer.picture(figures or USUAL, values)
    except CrossStaffError:
        picture = None
    return Explained(explainer, values, picture, figures is not None)
