"""What changed on a rig, and which results each change makes stale: a table, and how it is read."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, fields, is_dataclass
from functools import lru_cache
from typing import Any

from cross_staff.core.rig.card import RigCard

# Results that a change can make stale -> the station that makes them anew.
RESULTS = {
    "speed": "card",
    "tune": "prepare",
    "timing": "prepare",
    "peep_rotation": "prepare",
    "peep_height": "prepare",
    "clearance": "mount",
    "peep_fit": "mount",
    "draw_twist": "level",
    "level": "level",
    "later_axes": "level",
    "windage": "sight_in",
    "home": "sight_in",
    "groups": "sight_in",
    "pins": "tape",
    "tape": "tape",
}
EVERYTHING = tuple(RESULTS)
ALL_MARKS = ("home", "pins", "tape")


@dataclass(frozen=True)
class Cause:
    """A row of the table: what was done to the rig, what that makes stale, and the fields of the
    card by which it is noticed (without any, somebody has to say that it happened)."""

    key: str
    words: str
    makes_stale: tuple[str, ...]
    paths: tuple[str, ...] = ()


CAUSES = {
    cause.key: cause
    for cause in (
        Cause("arrow", "arrow mass or point, vanes, nock or lighted nock changed", ("tape", "pins"), ("flies_as",)),
        Cause("rest", "rest or nocking point moved, D-loop retied", ("tune", "home", "windage")),
        Cause(
            "draw",
            "draw weight or draw length changed",
            ("tune", "draw_twist", "speed", "tape", "pins", "peep_height"),
            ("bow.draw_weight_n", "bow.nock_to_rest_m", "peep.true_draw_m"),
        ),
        Cause(
            "cables",
            "string, cables, cable guard or timing adjusted",
            ("tune", "draw_twist", "speed", "tape", "pins", "peep_height"),
        ),
        Cause("twist", "string twisted to turn the peep", ("peep_height", "timing", "home")),
        Cause(
            "peep",
            "peep, anchor or release changed",
            (*ALL_MARKS, "peep_fit"),
            (
                "peep.way",
                "peep.square_m",
                "peep.along_m",
                "peep.angle_rad",
                "peep.axle_to_axle_m",
                "anchor",
                "release",
            ),
        ),
        Cause("aperture", "peep of another aperture", ("peep_fit",), ("peep.aperture_m", "peep.eye_to_peep_m")),
        Cause("stabiliser", "stabiliser, side bar or quiver on or off", ("windage", "groups")),
        Cause(
            "dovetail",
            "sight moved on its dovetail",
            ("tape", "peep_fit", "home", "level", "clearance"),
            ("eye_to_sight_m", "mount.detent"),
        ),
        Cause("hole", "sight moved to another mounting hole", ("home", "level", "clearance"), ("mount.hole",)),
        Cause(
            "head",
            "housing or head swapped",
            ("level", "home", "tape", "pins", "peep_fit", "clearance"),
            ("sight.kind", "sight.head_in_use", "sight.housing.inner_mm", "sight.housing.outer_mm"),
        ),
        Cause("axis_screw", "an axis screw turned", ("later_axes", "windage", "home")),
        Cause("knock", "sight off and on, or knocked", ("level", "home")),
        Cause("strings", "new strings", EVERYTHING),
    )
}
REPORTED = tuple(cause for cause in CAUSES.values() if not cause.paths)


@dataclass(frozen=True)
class Change:
    """One field of the card that differs: its dotted path, the old and the new value."""

    path: str
    old: Any
    new: Any

    @property
    def fills_in(self) -> bool:
        """Whether it only writes down what was unknown, which changes nothing about the rig."""
        return self.old is None or self.old == () or self.old == ""


@dataclass(frozen=True)
class State:
    """A revision as the table sees it: the card, and what was said to have happened before it."""

    card: RigCard
    happened: tuple[str, ...] = ()


def changes(old: RigCard, new: RigCard) -> tuple[Change, ...]:
    """Every field that differs, in the card's order."""
    return tuple(_differences("", old, new))


def _differences(prefix: str, old: Any, new: Any) -> list[Change]:
    if old == new:
        return []
    if isinstance(old, tuple) and isinstance(new, tuple) and _records(old) and _records(new) and len(old) == len(new):
        pairs = ((f"{prefix}.{i}", a, b) for i, (a, b) in enumerate(zip(old, new)))
        return [differences for place, a, b in pairs for differences in _differences(place, a, b)]
    if not is_dataclass(old) or type(old) is not type(new):
        return [Change(prefix, old, new)]
    differences = []
    for part in fields(old):
        path = f"{prefix}.{part.name}" if prefix else part.name
        differences += _differences(path, getattr(old, part.name), getattr(new, part.name))
    return differences


def _records(values: tuple[Any, ...]) -> bool:
    return all(is_dataclass(value) for value in values)


@lru_cache(maxsize=1024)  # every result asks the same of every pair of revisions
def causes(old: RigCard, new: RigCard, happened: tuple[str, ...] = ()) -> tuple[Cause, ...]:
    """The rows of the table that this save calls up, noticed and said, in the table's order."""
    paths = {change.path for change in changes(old, new) if not change.fills_in}
    said = set(happened)
    return tuple(
        cause
        for cause in CAUSES.values()
        if cause.key in said or paths.intersection(cause.paths) or (cause.key == "arrow" and _other_arrow(old, new))
    )


def _other_arrow(old: RigCard, new: RigCard) -> bool:
    """Whether another arrow flies now: another build, or this one with other parts; what was not
    known before is only being written down."""
    before, after = old.build.flies_as(), new.build.flies_as()
    return any(a != b and a is not None and a != () for a, b in zip(before, after))


def made_stale(causes: Iterable[Cause]) -> tuple[str, ...]:
    """The results that these causes make stale, in the order of the stations."""
    stale = {result for cause in causes for result in cause.makes_stale}
    return tuple(result for result in RESULTS if result in stale)


def holding(history: Sequence[State], results: Iterable[str]) -> frozenset[int]:
    """Numbers of the revisions at which a measurement that hangs on these results still holds now.

    Every revision since the last cause that touches them; the arrow is compared directly, so that
    going back to a build brings its marks back.

    Args: history, revisions 1, 2, ... of a rig.
    """
    wanted, now = set(results), history[-1].card
    steps = list(zip(history, history[1:]))
    since = 1
    for number, (old, new) in enumerate(steps, start=2):
        called_up = [cause for cause in causes(old.card, new.card, new.happened) if cause.key != "arrow"]
        if wanted.intersection(made_stale(called_up)):
            since = number
    held = range(since, len(history) + 1)
    if not wanted.intersection(CAUSES["arrow"].makes_stale):
        return frozenset(held)
    return frozenset(n for n in held if not _other_arrow(history[n - 1].card, now))
