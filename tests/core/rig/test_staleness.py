import unittest
from dataclasses import replace
from datetime import date

from cross_staff.core.ballistics.arrow import Component
from cross_staff.core.rig.card import Bow, Goals, Mount, PeepEntry, RigCard
from cross_staff.core.rig.sight import Control, Housing
from cross_staff.core.rig.staleness import (
    ALL_MARKS,
    CAUSES,
    EVERYTHING,
    REPORTED,
    RESULTS,
    State,
    causes,
    changes,
    holding,
    made_stale,
)
from tests.rigs import full_card

OLD = replace(
    full_card(),
    bow=Bow("compound", 270.0, 0.70),
    anchor="knuckle under the jaw",
    release="thumb",
    mount=Mount(0, 1),
    peep=PeepEntry("along", along_m=0.165, angle_rad=0.68, true_draw_m=0.70, aperture_m=0.005),
)
OLD = replace(OLD, sight=replace(OLD.sight, housing=Housing(44.0, 52.0), head_in_use="scope"))
HEAVIER = replace(OLD.build, components=(Component("Point", 0.012, 0.724),))
# a change of the card -> the rows of the table that it calls up
NOTICED = (
    (OLD.with_build(HEAVIER), ("arrow",)),
    (OLD.with_build(replace(OLD.build, shaft_diameter_m=0.0062)), ("arrow",)),
    (replace(OLD, bow=replace(OLD.bow, draw_weight_n=285.0)), ("draw",)),
    (replace(OLD, peep=replace(OLD.peep, true_draw_m=0.71)), ("draw",)),
    (replace(OLD, peep=replace(OLD.peep, along_m=0.170)), ("peep",)),
    (replace(OLD, anchor="web of the hand"), ("peep",)),
    (replace(OLD, release="index finger"), ("peep",)),
    (replace(OLD, peep=replace(OLD.peep, aperture_m=0.004)), ("aperture",)),
    (replace(OLD, eye_to_sight_m=0.80), ("dovetail",)),
    (replace(OLD, mount=Mount(0, 2)), ("dovetail",)),
    (replace(OLD, mount=Mount(1, 1)), ("hole",)),
    (replace(OLD, sight=replace(OLD.sight, kind="fixed_pins")), ("head",)),
    (replace(OLD, sight=replace(OLD.sight, head_in_use="ring")), ("head",)),
    (replace(OLD, name="renamed"), ()),
    (replace(OLD, due=date(2026, 12, 3)), ()),
    (OLD.with_build(replace(OLD.build, name="same shaft")), ()),
    (replace(OLD, goals=Goals(17.0, 61.0)), ()),
)
# what the craft says each makes stale
ASKED = {
    "arrow": {"tape", "pins"},
    "rest": {"tune", "home", "windage"},
    "draw": {"tune", "draw_twist", "speed", "tape", "pins", "peep_height"},
    "cables": {"tune", "draw_twist", "speed", "tape", "pins", "peep_height"},
    "twist": {"peep_height", "timing", "home"},
    "peep": {"home", "pins", "tape", "peep_fit"},
    "aperture": {"peep_fit"},
    "stabiliser": {"windage", "groups"},
    "dovetail": {"tape", "peep_fit", "home", "level", "clearance"},
    "hole": {"home", "level", "clearance"},
    "head": {"level", "home", "tape", "pins", "peep_fit", "clearance"},
    "axis_screw": {"later_axes", "windage", "home"},
    "knock": {"level", "home"},
    "strings": set(EVERYTHING),
}


def keys(old: RigCard, new: RigCard, *happened: str) -> tuple[str, ...]:
    return tuple(cause.key for cause in causes(old, new, happened))


class Table(unittest.TestCase):
    def test_every_row_makes_stale_what_the_craft_says(self) -> None:
        self.assertEqual({key: set(cause.makes_stale) for key, cause in CAUSES.items()}, ASKED)
        self.assertLessEqual({r for c in CAUSES.values() for r in c.makes_stale}, set(RESULTS))

    def test_every_row_is_noticed_on_the_card_or_can_be_reported(self) -> None:
        noticed = {key for _, noticed_by in NOTICED for key in noticed_by}
        self.assertEqual(noticed | {cause.key for cause in REPORTED}, set(CAUSES))

    def test_what_a_change_of_the_card_calls_up(self) -> None:
        for new, noticed_by in NOTICED:
            with self.subTest([c.path for c in changes(OLD, new)]):
                self.assertEqual(keys(OLD, new), noticed_by)

    def test_what_was_reported_comes_in_the_tables_order(self) -> None:
        self.assertEqual(keys(OLD, OLD, "strings", "rest"), ("rest", "strings"))
        self.assertEqual(made_stale([CAUSES["knock"], CAUSES["stabiliser"]]), ("level", "windage", "home", "groups"))

    def test_filling_in_the_unknown_makes_nothing_stale(self) -> None:
        bare = replace(OLD, eye_to_sight_m=None, anchor="", bow=Bow(), peep=PeepEntry("along"))
        bare = bare.with_build(replace(bare.build, components=(), shaft_diameter_m=None))
        self.assertEqual(keys(bare, OLD), ())

    def test_another_build_in_use_is_another_arrow(self) -> None:
        two = replace(OLD, builds=(OLD.build, HEAVIER))
        self.assertEqual(keys(OLD, two), ())
        self.assertEqual(keys(two, replace(two, in_use=1)), ("arrow",))


class Holding(unittest.TestCase):
    def test_since_the_last_change_that_matters(self) -> None:
        nearer = replace(OLD, eye_to_sight_m=0.80)
        history = [State(OLD), State(nearer), State(replace(nearer, archer="Jory Penhale"))]
        self.assertEqual(holding(history, ALL_MARKS), {2, 3})
        self.assertEqual(holding(history, ("tune",)), {1, 2, 3})
        self.assertEqual(holding(history[:1], ALL_MARKS), {1})

    def test_what_was_said_to_have_happened_counts(self) -> None:
        history = [State(OLD), State(OLD, ("knock",)), State(OLD, ("stabiliser",))]
        self.assertEqual(holding(history, ALL_MARKS), {2, 3})
        self.assertEqual(holding(history, ("windage",)), {3})

    def test_going_back_to_an_arrow_brings_its_marks_back(self) -> None:
        heavier = OLD.with_build(HEAVIER)
        self.assertEqual(holding([State(OLD), State(heavier)], ALL_MARKS), {2})
        self.assertEqual(holding([State(OLD), State(heavier), State(OLD)], ALL_MARKS), {1, 3})


class Changes(unittest.TestCase):
    def test_they_name_their_path(self) -> None:
        path = changes(full_card(), full_card(goals=Goals(17.0, 78.0, 0.25, 0.10, 38.0)))
        self.assertEqual([(c.path, c.old, c.new) for c in path], [("goals.farthest_m", 95.0, 78.0)])

    def test_rows_are_told_apart_while_their_number_stays(self) -> None:
        sight = replace(OLD.sight, controls=(Control("wheel"), Control("micro", "windage")))
        turned = replace(sight, controls=(sight.controls[0], replace(sight.controls[1], checked=True)))
        one, other = replace(OLD, sight=sight), replace(OLD, sight=turned)
        self.assertEqual([c.path for c in changes(one, other)], ["sight.controls.1.checked"])
        self.assertEqual([c.path for c in changes(OLD, one)], ["sight.controls"])
