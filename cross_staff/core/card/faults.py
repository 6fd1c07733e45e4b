"""What cannot be on a card: numbers and words outside their limits, and what contradicts itself."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import fields, is_dataclass, replace
from typing import Any

from cross_staff.core.errors import InvalidValue
from cross_staff.core.ranges import DRAG_PER_M, PEEP_HEIGHT_M
from cross_staff.core.rig.card import RigCard
from cross_staff.core.rig.limits import LIMITS, words_for
from cross_staff.core.rig.sight import Fault, SightModel
from cross_staff.core.rig.sight import faults as contradictions
from cross_staff.core.rig.sight_kinds import KINDS


def faults(card: RigCard) -> tuple[Fault, ...]:
    """Everything on a card that cannot be; what is unknown is no fault."""
    faults = [] if card.name else [Fault("name", "a rig needs a name")]
    beyond = _beyond_limits(card)
    faults += beyond
    faults += (replace(fault, field=f"sight.{fault.field}") for fault in _sight_contradictions(card.sight))
    made_of_several = () if beyond else (*_peep(card), *_builds(card))  # only of what can be by itself
    return (*faults, *_goals(card), *_pointers(card), *_mount(card), *made_of_several)


def sight_faults(sight: SightModel) -> tuple[Fault, ...]:
    """Everything on a model of the library that cannot be."""
    faults = [replace(f, field=f.field.removeprefix("sight.")) for f in _beyond_limits(sight, "sight", "sight")]
    return (*faults, *_sight_contradictions(sight))


def check_card(card: RigCard, before: RigCard | None = None) -> None:
    """Refuse a card for what cannot be on it; faults that stood on it before do not stand in the way of others.

    Raises: InvalidValue, with the place on the card.
    """
    known = set() if before is None else set(faults(before))
    _refuse(fault for fault in faults(card) if fault not in known)


def check_sight(sight: SightModel) -> None:
    """Refuse a model of the library for what cannot be on it. Raises InvalidValue."""
    _refuse(iter(sight_faults(sight)))


def _refuse(each_fault: Iterator[Fault]) -> None:
    first = next(each_fault, None)
    if first is not None:
        raise InvalidValue(first.field, first.message)


def _leaves(value: Any, field: str, place: str) -> Iterator[tuple[str, str, Any]]:
    """Every number and word of a record: where it stands, its place in the tables of limits, and what it is."""
    if is_dataclass(value):
        for part in fields(value):
            behind = (f"{field}.{part.name}", f"{place}.{part.name}")
            yield from _leaves(getattr(value, part.name), *(each.lstrip(".") for each in behind))
    elif isinstance(value, tuple):
        for number, each in enumerate(value):
            yield from _leaves(each, f"{field}.{number}", place)
    else:
        yield field, place, value


def _beyond_limits(record: Any, field: str = "", place: str = "") -> list[Fault]:
    beyond = []
    for where, known_as, value in _leaves(record, field, place):
        span, words = LIMITS.get(known_as), words_for(known_as)
        if words is not None and value not in words:
            beyond.append(Fault(where, "choose one from the list"))
        elif span is not None and value is not None and not span.holds(value):
            beyond.append(Fault(where, f"must lie between {span.low:g} and {span.high:g}"))
    return beyond


def _sight_contradictions(sight: SightModel) -> tuple[Fault, ...]:
    contradicting = contradictions(sight)
    kind = KINDS.get(sight.kind)
    if kind is not None and len(sight.pins) > kind.most_pins:
        return (*contradicting, Fault("kind", f"a {kind.name} has at most {kind.most_pins} pins"))
    return contradicting


def _goals(card: RigCard) -> Iterator[Fault]:
    goals = card.goals
    if goals.home_m is not None and goals.farthest_m is not None and goals.farthest_m <= goals.home_m:
        yield Fault("goals.farthest_m", "must be farther than home")
    if goals.group_size_m is not None and goals.group_at_m is None:
        yield Fault("goals.group_at_m", "at which distance?")
    if list(goals.pin_distances_m) != sorted(set(goals.pin_distances_m)):
        yield Fault("goals.pin_distances_m", "the nearest first, each only once")


def _pointers(card: RigCard) -> Iterator[Fault]:
    """Pointers for pins that are not in use, where the sight's description does not count its pins."""
    wanted = len(card.goals.pin_distances_m)
    beyond = [pin + 1 for pin in card.sight.pointers if pin >= wanted]
    if wanted and beyond and not card.sight.pins:
        yield Fault("sight.pointers", f"a pointer for pin {beyond[0]}, and the card has {wanted} pins")


def _mount(card: RigCard) -> Iterator[Fault]:
    mount, sight = card.mount, card.sight
    for name, outline in (("quiver", mount.quiver), ("wheel", mount.wheel)):
        for part, span in (("ahead", outline.ahead_mm), ("above", outline.above_mm)):
            if span and (len(span) != 2 or span[0] >= span[1]):
                yield Fault(f"mount.{name}.{part}_mm", "two numbers: from, and to")
    reserve, travel = mount.reserve_mm, sight.slider_travel_mm
    if reserve is not None and travel is not None and reserve > travel:
        yield Fault("mount.reserve_mm", "the reserve is more than the slider's whole travel: home would lie beyond it")


def _peep(card: RigCard) -> Iterator[Fault]:
    """What no field shows by itself: the height that length and angle make together."""
    if card.peep.way not in ("along", "estimated"):
        return
    height = card.peep.height()
    if height is not None and not PEEP_HEIGHT_M.holds(height.height_m):
        words = "with this angle the peep would be {} high, which no bow has: check both"
        yield Fault("peep.along_m", words, height.height_m)


def _builds(card: RigCard) -> Iterator[Fault]:
    """What no field shows by itself: the drag that mass and diameter make together."""
    for number, build in enumerate(card.builds):
        drag = build.drag_per_m()
        if drag is not None and not DRAG_PER_M.holds(drag):
            words = f"with this mass it makes a drag of {drag:.3f} /m, which no arrow has: check both"
            yield Fault(f"builds.{number}.shaft_diameter_m", words)
        point, length = build.balance_point_m, build.shaft_length_m
        if point is not None and length is not None and point >= length:
            yield Fault(f"builds.{number}.balance_point_m", "lies beyond the end of the shaft: measure from the throat")
        for session in build.sessions:
            if session.readings_mps and not session.kept_mps:
                yield Fault(f"builds.{number}.sessions", "every reading is left out: keep at least one")
