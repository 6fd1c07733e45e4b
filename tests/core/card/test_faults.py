"""What cannot be on a card is refused, at its place, whoever brings it."""

from __future__ import annotations

import unittest
from dataclasses import fields, is_dataclass, replace
from typing import Any

from cross_staff.core.ballistics.arrow import Component
from cross_staff.core.card.faults import check_card, check_sight, faults, sight_faults
from cross_staff.core.errors import InvalidValue
from cross_staff.core.rig.arrow_build import ArrowBuild
from cross_staff.core.rig.booklet import Booklet, Strip
from cross_staff.core.rig.card import RigCard
from cross_staff.core.rig.chronograph import ChronographSession
from cross_staff.core.rig.limits import LIMITS, words_for
from cross_staff.core.rig.sight import Control, Pin, Screw, SightModel
from tests.rigs import TEMPLATES, full_card

BUILD = ArrowBuild(
    "slim", 0.72, components=(Component("Point", 0.0098, 0.724),), sessions=(ChronographSession((81.0,)),)
)
STRIPS = Booklet(strips=(Strip("A", 1, 40.0),))
SIGHT = SightModel("whole", pins=(Pin(),), controls=(Control("Wheel"),), screws=(Screw("Lock"),), booklet=STRIPS)
WHOLE = replace(full_card(), builds=(BUILD,), sight=SIGHT)
LISTS = ("goals.distances_m", "goals.pin_distances_m", "sight.extension_mm", "sight.holes_mm", "sight.coarse_steps_mm",
         "sight.tape.places_mm", "builds.sessions.readings_mps", "sight.axes",
         "mount.quiver.ahead_mm", "mount.quiver.above_mm", "mount.wheel.ahead_mm", "mount.wheel.above_mm")  # fmt: skip


def with_value(record: Any, place: str, value: Any) -> Any:
    """The record with another value at a dotted place, in the first of every list."""
    name, _, rest = place.partition(".")
    held = getattr(record, name)
    if not rest:
        return replace(record, **{name: value})
    if isinstance(held, tuple):
        return replace(record, **{name: (with_value(held[0], rest, value), *held[1:])})
    return replace(record, **{name: with_value(held, rest, value)})


def places(record: Any, place: str = "") -> set[str]:
    if is_dataclass(record):
        return {p for part in fields(record) for p in places(getattr(record, part.name), f"{place}.{part.name}")}
    if isinstance(record, tuple) and record and is_dataclass(record[0]):
        return places(record[0], place)
    return {place.lstrip(".")}


def said(card: RigCard) -> dict[str, str]:
    return {fault.field: fault.message for fault in faults(card)}


class Limits(unittest.TestCase):
    def test_each_is_of_a_place_on_the_card(self) -> None:
        self.assertLessEqual(set(LIMITS), places(WHOLE))

    def test_every_number_is_held_on_both_sides(self) -> None:
        self.assertEqual(faults(full_card()), ())
        for place, span in LIMITS.items():
            for wrong in (span.low - abs(span.low) * 0.01 - 1e-9, span.high * 1.01 + 1e-9, float("nan")):
                with self.subTest(place=place, wrong=wrong):
                    value = (wrong,) if place in LISTS else wrong
                    sides = [f for f in faults(with_value(WHOLE, place, value)) if f.message.startswith("must lie")]
                    self.assertEqual(len(sides), 1)
                    self.assertEqual(".".join(p for p in sides[0].field.split(".") if not p.isdecimal()), place)

    def test_every_word_is_one_of_the_list(self) -> None:
        worded = [place for place in places(WHOLE) if words_for(place)]
        self.assertGreater(len(worded), 15)
        for place in worded:
            with self.subTest(place):
                value = ("odd", "", "") if place in LISTS else "odd"
                self.assertIn("choose one from the list", said(with_value(WHOLE, place, value)).values())


class Contradictions(unittest.TestCase):
    def test_each_is_said_at_its_place(self) -> None:
        card = full_card()
        goals, mount = card.goals, card.mount
        pins = "goals.pin_distances_m"
        for wrong, place, words in (
            (replace(card, name=""), "name", "needs a name"),
            (replace(card, goals=replace(goals, home_m=50.0, farthest_m=40.0)), "goals.farthest_m", "farther"),
            (replace(card, goals=replace(goals, pin_distances_m=(26.0, 17.0))), pins, "nearest first"),
            (replace(card, goals=replace(goals, pin_distances_m=(26.0, 26.0))), pins, "only once"),
            (replace(card, goals=replace(goals, group_size_m=0.1, group_at_m=None)), "goals.group_at_m", "which"),
            (replace(card, peep=replace(card.peep, along_m=0.03)), "peep.along_m", "peep would be 19 mm high"),
            (
                replace(card, sight=replace(card.sight, slider_travel_mm=20.0), mount=replace(mount, reserve_mm=30.0)),
                "mount.reserve_mm", "whole travel",
            ),
            (replace(card, sight=replace(card.sight, pins=(Pin(), Pin()))), "sight.kind", "at most 1 pins"),
            (
                card.with_build(replace(card.build, measured_mass_kg=0.005, shaft_diameter_m=0.015)),
                "builds.0.shaft_diameter_m", "which no arrow has",
            ),
            (
                card.with_build(replace(card.build, sessions=(ChronographSession((81.0,), frozenset({0})),))),
                "builds.0.sessions", "keep at least one",
            ),
        ):  # fmt: skip
            with self.subTest(place):
                self.assertIn(words, said(wrong)[place])

    def test_what_was_wrong_before_does_not_stand_in_the_way(self) -> None:
        old = replace(full_card(), eye_to_sight_m=3.0)
        check_card(replace(old, anchor="corner of the mouth"), old)
        with self.assertRaisesRegex(InvalidValue, "eye_to_sight_m: must lie between 0.3 and 1.5"):
            check_card(replace(old, eye_to_sight_m=4.0), full_card())
        with self.assertRaisesRegex(InvalidValue, "goals.home_m"):
            check_card(replace(old, goals=replace(old.goals, home_m=-1.0)), old)

    def test_models_of_the_library(self) -> None:
        for kind, model in TEMPLATES.items():
            self.assertEqual(sight_faults(model), (), kind)
        with self.assertRaisesRegex(InvalidValue, "slider_travel_mm: must lie between 1 and 200"):
            check_sight(replace(SIGHT, slider_travel_mm=900.0))
        with self.assertRaisesRegex(InvalidValue, "kind: choose one"):
            check_sight(replace(SIGHT, kind="wand"))


if __name__ == "__main__":
    unittest.main()
