"""A station's pages, as staff, bench and application know them.

Each package of the web floor that bears a station's key has a module `room` with its `ROOM`: it is found by that
name, so that a new station is its packages and one entry in `core/stations.py`.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from functools import lru_cache
from importlib import import_module
from typing import Any

from fastapi import APIRouter

from cross_staff.core.stations import NextStep, StationStanding
from cross_staff.web.forms.units import Units
from cross_staff.web.shared.takes import Takes
from cross_staff.web.shared.words import CAUTION_STRING, Now, good_to, whole_distance


@dataclass(frozen=True)
class StationRoom:
    """The pages of the station `key`: their routers; what to do next there, in words; the word for each way it
    can stand, with {} for a count, {far} for a distance and {good_to} for how far a tape is
    good; the fields that its forms may bring, # for the number of a row; which of those of a page, by its context, an
    instrument can fill."""

    key: str
    routers: tuple[APIRouter, ...]
    now: Callable[[NextStep, Units], Now]
    standing: Mapping[str, str]
    fields: tuple[str, ...] = ()
    takes: Callable[[Mapping[str, Any]], dict[str, Takes]] = lambda context: {}


@lru_cache
def room_of(key: str) -> StationRoom:
    """The pages of a station. Raises ModuleNotFoundError where it has none."""
    room: StationRoom = import_module(f"cross_staff.web.{key}.room").ROOM
    return room


def now(step: NextStep, units: Units) -> Now:
    """The sentence for what to do next, in the words of its station."""
    if step.station != "trouble":
        return room_of(step.station).now(step, units)
    return Now("This rig cannot be worked out.", f"{step.message}.", CAUTION_STRING, "trouble", "See what can be done")


def standing_word(standing: StationStanding, units: Units) -> str:
    """The word beside a station's cross-piece."""
    far = whole_distance(units, standing.far_m or 0.0)
    word = room_of(standing.station.key).standing[standing.word]
    return word.format(standing.count, far=far, good_to=good_to(standing.far_m, units))
