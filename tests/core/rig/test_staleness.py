import unittest
from dataclasses import replace
from datetime import date

from cross_staff.core.ballistics.arrow import Component
from cross_staff.core.rig.card import Bow, Goals, Mount, PeepEntry, RigCard
from cross_staff.core.rig.correction import Meaning, changes
from cross_staff.core.rig.events import ALL_MARKS, CAUSES, EVERYTHING, GROUPS, REPORTED, RESULTS, SPANS
from cross_staff.core.rig.sight import Control, Housing
from cross_staff.core.rig.staleness import Said, State, TakenUp, Timeline, causes, made_stale, noticed
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
    (replace(OLD, anchor="web of the hand"), ("release",)),
    (replace(OLD, release="index finger"), ("release",)),
    (replace(OLD, peep=replace(OLD.peep, aperture_m=0.004)), ("aperture",)),
    (replace(OLD, eye_to_sight_m=0.80), ("dovetail",)),
    (replace(OLD, mount=Mount(0, 2)), ("dovetail",)),
    (replace(OLD, mount=Mount(1, 1)), ("hole",)),
    (replace(OLD, sight=replace(OLD.sight, kind="fixed_pins")), ("head",)),
    (replace(OLD, sight=replace(OLD.sight, head_in_use="ring")), ("head",)),
    (replace(OLD, sight=replace(OLD.sight, housing=Housing(35.0, 52.0))), ("housing",)),
    (replace(OLD, name="renamed"), ()),
    # a tenth of a millimetre, or of a grain, is nothing
    (replace(OLD, eye_to_sight_m=OLD.eye_to_sight_m + 0.0001), ()),
    (replace(OLD, peep=replace(OLD.peep, along_m=0.1649)), ()),
    (OLD.with_build(replace(OLD.build, shaft_length_m=OLD.build.shaft_length_m + 0.0001)), ()),
    (replace(OLD, due=date(2026, 12, 3)), ()),
    (OLD.with_build(replace(OLD.build, name="same shaft")), ()),
    (replace(OLD, goals=Goals(17.0, 61.0)), ()),
)
# what the craft says each makes stale
_HEAD = {"level", "home", "tape", "pins", "peep_fit", "clearance"}
_POWER = {"tune", "draw_twist", "speed", "tape", "pins", "peep_height"}
_EYE = {"home", "pins", "tape", "peep_fit"}
ASKED = {
    "arrow": {"tape", "pins"},
    "rest": {"tune", "home", "windage"},
    "nocking_point": {"tune", "home", "windage"},
    "d_loop": {"tune", "home", "windage"},
    "draw": _POWER,
    "cables": _POWER,
    "timing": _POWER | {"timing"},
    "twist": {"peep_height", "timing", "home"},
    "peep": _EYE,
    "release": _EYE,
    "aperture": {"peep_fit"},
    "stabiliser": {"windage", "groups"},
    "quiver": {"windage", "groups"},
    "dovetail": {"tape", "peep_fit", "home", "level", "clearance"},
    "hole": {"home", "level", "clearance"},
    "head": _HEAD,
    "housing": _HEAD,
    "indicator": {"home"},
    "strip": {"proof"},
    "axis_screw": {"later_axes", "windage", "home"},
    "axis_turned": {"windage", "home"},
    "tuned": {"windage", "home"},
    "tuned_cams": {"windage", "home", "draw_twist"},
    "tuned_cable": {"windage", "home", "draw_twist", "speed", "tape", "pins", "peep_height", "timing"},
    "sight_off": {"level", "home"},
    "knock": {"level", "home"},
    "strings": set(EVERYTHING),
}


NEARER = replace(OLD, eye_to_sight_m=0.70)
HEAVY = OLD.with_build(HEAVIER)


def keys(old: RigCard, new: RigCard, *happened: str) -> tuple[str, ...]:
    return tuple(cause.key for cause in causes(old, new, Said(happened)))


class Table(unittest.TestCase):
    def test_every_row_makes_stale_what_the_craft_says(self) -> None:
        self.assertEqual({key: set(cause.makes_stale) for key, cause in CAUSES.items()}, ASKED)
        self.assertLessEqual({r for c in CAUSES.values() for r in c.makes_stale}, set(RESULTS))

    def test_every_row_is_noticed_on_the_card_or_can_be_reported(self) -> None:
        noticed = {key for _, noticed_by in NOTICED for key in noticed_by}
        self.assertEqual(
            noticed | {cause.key for cause in REPORTED} | {"axis_turned", "tuned", "tuned_cams", "tuned_cable"},
            set(CAUSES),
        )

    def test_every_row_has_its_reason_and_its_group(self) -> None:
        for cause in CAUSES.values():
            self.assertTrue(all(len(reason) > 10 for reason in cause.reasons.values()), cause.key)
            self.assertIn(cause.group, GROUPS)

    def test_where_only_home_can_have_moved(self) -> None:
        self.assertEqual(
            {key for key, cause in CAUSES.items() if cause.only_home},
            {key for key, results in ASKED.items() if "home" in results and not results & set(SPANS)},
        )
        self.assertTrue(CAUSES["twist"].only_home and CAUSES["d_loop"].only_home and CAUSES["knock"].only_home)
        self.assertFalse(CAUSES["peep"].only_home or CAUSES["stabiliser"].only_home)

    def test_what_a_change_of_the_card_calls_up(self) -> None:
        for new, noticed_by in NOTICED:
            with self.subTest([c.path for c in changes(OLD, new)]):
                self.assertEqual(keys(OLD, new), noticed_by)

    def test_what_was_reported_comes_in_the_tables_order(self) -> None:
        self.assertEqual(keys(OLD, OLD, "strings", "rest"), ("rest", "strings"))
        self.assertEqual(made_stale([CAUSES["knock"], CAUSES["stabiliser"]]), ("level", "windage", "home", "groups"))

    def test_filling_in_the_unknown_makes_nothing_stale(self) -> None:
        bare = replace(OLD, eye_to_sight_m=None, anchor="", bow=Bow(), peep=PeepEntry("along"))
        self.assertEqual(keys(replace(bare, peep=PeepEntry("square")), OLD), ())
        bare = bare.with_build(replace(bare.build, components=(), shaft_diameter_m=None))
        self.assertEqual(keys(bare, OLD), ())

    def test_another_build_in_use_is_another_arrow(self) -> None:
        two = replace(OLD, builds=(OLD.build, HEAVIER))
        self.assertEqual(keys(OLD, two), ())
        self.assertEqual(keys(two, replace(two, in_use=1)), ("arrow",))

    def test_another_build_is_another_arrow_also_where_less_is_known_of_the_first(self) -> None:
        weighed = replace(OLD.build, measured_mass_kg=0.027)
        two = replace(OLD, builds=(OLD.build, weighed))
        self.assertEqual(keys(two, replace(two, in_use=1)), ("arrow",))
        there, here = State(replace(two, in_use=1)), State(two)
        self.assertEqual(Timeline([here, there, here, there]).holding(ALL_MARKS), {2, 4})
        self.assertEqual(keys(OLD, OLD.with_build(weighed)), ())


def holding(history: list[State], results: tuple[str, ...]) -> frozenset[int]:
    return Timeline(history).holding(results)


class Holding(unittest.TestCase):
    def test_since_the_last_change_that_matters(self) -> None:
        history = [State(OLD), State(NEARER), State(replace(NEARER, archer="Jory Penhale"))]
        self.assertEqual(holding(history, ALL_MARKS), {2, 3})
        self.assertEqual(holding(history, ("tune",)), {1, 2, 3})
        self.assertEqual(holding(history[:1], ALL_MARKS), {1})

    def test_what_was_said_to_have_happened_counts(self) -> None:
        history = [State(OLD), State(OLD, Said(("knock",))), State(OLD, Said(("stabiliser",)))]
        self.assertEqual(holding(history, ALL_MARKS), {2, 3})
        self.assertEqual(holding(history, SPANS), {1, 2, 3})
        self.assertEqual(holding(history, ("windage",)), {3})

    def test_going_back_to_an_arrow_brings_its_marks_back(self) -> None:
        self.assertEqual(holding([State(OLD), State(HEAVY)], ALL_MARKS), {2})
        self.assertEqual(holding([State(OLD), State(HEAVY), State(OLD)], ALL_MARKS), {1, 3})

    def test_going_back_to_a_head_brings_its_level_back_but_not_over_a_knock(self) -> None:
        ring = State(replace(OLD, sight=replace(OLD.sight, head_in_use="ring", housing=Housing(35.0, 42.0))))
        history = [State(OLD), ring, State(OLD)]
        self.assertEqual(holding(history, ("level",)), {1, 3})
        self.assertEqual(holding([State(OLD), ring, State(ring.card, Said(("knock",))), State(OLD)], ("level",)), {4})

    def test_a_correction_makes_nothing_old(self) -> None:
        for meaning, held in ((Meaning.AGAIN, {1, 2}), (Meaning.MISTYPED, {1, 2}), (Meaning.CHANGED, {2})):
            slip = State(NEARER, Said(meant=(("dovetail", meaning),)))
            self.assertEqual(holding([State(OLD), slip], ("level",)), held)
            heavier = State(HEAVY, Said(meant=(("arrow", meaning),)))
            self.assertEqual(holding([State(OLD), heavier], ALL_MARKS), held)

    def test_an_answer_for_one_cause_says_nothing_of_another(self) -> None:
        both = State(replace(NEARER, anchor="web of the hand"), Said(meant=(("dovetail", Meaning.MISTYPED),)))
        self.assertEqual(holding([State(OLD), both], ("level",)), {1, 2})
        self.assertEqual(holding([State(OLD), both], ALL_MARKS), {2})

    def test_a_corrected_arrow_is_the_same_arrow_also_after_another_one(self) -> None:
        weighed = OLD.with_build(replace(OLD.build, measured_mass_kg=0.0301))
        written = OLD.with_build(replace(OLD.build, measured_mass_kg=0.0310))
        slip = State(written, Said(meant=(("arrow", Meaning.MISTYPED),)))
        history = [State(weighed), slip, State(HEAVY), State(written)]
        self.assertEqual(holding(history, ("tape",)), {1, 2, 4})

    def test_a_change_back_to_what_was_mistyped_is_a_change(self) -> None:
        slip = State(HEAVY, Said(meant=(("arrow", Meaning.MISTYPED),)))
        self.assertEqual(holding([State(OLD), slip, State(OLD)], ("tape",)), {3})
        self.assertEqual(holding([State(OLD), slip, State(OLD), State(HEAVY)], ("tape",)), {1, 2, 4})

    def test_an_event_that_did_not_happen_is_taken_back_and_so_is_that(self) -> None:
        history = [State(OLD), State(OLD, Said(("knock",))), State(OLD, Said(undoes=(2,)))]
        self.assertEqual(holding(history, ("level",)), {1, 2, 3})
        self.assertEqual(holding([*history, State(OLD, Said(undoes=(3,)))], ("level",)), {2, 3, 4})

    def test_a_result_is_taken_up_again_and_the_others_are_not(self) -> None:
        again = State(OLD, Said(taken_up=(TakenUp("level", 2),)))
        history = [State(OLD), State(OLD, Said(("knock",))), again]
        self.assertEqual(holding(history, ("level",)), {1, 2, 3})
        self.assertEqual(holding(history, ("home",)), {2, 3})
        self.assertEqual(holding([*history, State(OLD, Said(undoes=(3,)))], ("level",)), {2, 3, 4})
        self.assertEqual(holding([*history, State(OLD, Said(("knock",)))], ("level",)), {4})

    def test_marks_are_taken_up_with_another_arrow(self) -> None:
        again = State(HEAVY, Said(taken_up=(TakenUp("tape", 2), TakenUp("pins", 2))))
        self.assertEqual(holding([State(OLD), State(HEAVY), again], ("tape", "pins")), {1, 2, 3})

    def test_why_something_does_not_hold(self) -> None:
        history = [State(OLD), State(OLD, Said(("stabiliser",))), State(OLD, Said(("knock", "rest"))), State(HEAVY)]
        timeline = Timeline(history)
        self.assertIsNone(timeline.set_aside(("clearance",), 1))
        self.assertEqual([e.number for e in timeline.events], [2, 3, 4])
        event = timeline.set_aside(("level",), 1)
        self.assertEqual((event.number, [c.key for c in event.causes]), (3, ["rest", "knock"]))
        self.assertEqual(timeline.set_aside(ALL_MARKS, 3).number, 4)
        self.assertIsNone(timeline.set_aside(ALL_MARKS, 4))

    def test_what_an_event_makes_old_as_things_stand(self) -> None:
        again = State(OLD, Said(taken_up=(TakenUp("level", 2),)))
        timeline = Timeline([State(OLD), State(OLD, Said(("knock",))), again])
        self.assertEqual(timeline.events[0].results, ("home",))
        undone = Timeline([State(OLD), State(OLD, Said(("knock",))), State(OLD, Said(undoes=(2,)))])
        self.assertEqual((undone.events[0].undone, undone.events[0].results), (True, ()))

    def test_what_is_worth_a_revision_without_a_change(self) -> None:
        self.assertFalse(Said() or Said(meant=(("arrow", "again"),)))
        self.assertTrue(Said(("knock",)) and Said(undoes=(2,)) and Said(taken_up=(TakenUp("level", 2),)))

    def test_fields_that_show_a_cause(self) -> None:
        shown = noticed(OLD, replace(NEARER, anchor="web of the hand"))
        self.assertEqual(
            {key: [c.path for c in fields] for key, fields in shown.items()},
            {"release": ["anchor"], "dovetail": ["eye_to_sight_m"]},
        )


class OtherArrows(unittest.TestCase):
    """Marks that are old for no other reason than another arrow on the bow."""

    def test_each_comes_with_the_card_that_had_its_arrow_last(self) -> None:
        light, heavy = OLD, OLD.with_build(HEAVIER)
        named = light.with_build(replace(light.build, name="named since"))
        told = dict(Timeline([State(light), State(named), State(heavy), State(heavy)]).other_arrows())
        self.assertEqual(set(told), {1, 2})
        self.assertEqual(told[1].build.name, "named since")

    def test_back_to_the_first_the_second_is_the_other_one(self) -> None:
        told = Timeline([State(OLD), State(OLD.with_build(HEAVIER)), State(OLD)]).other_arrows()
        self.assertEqual([number for number, _ in told], [2])

    def test_what_else_happened_makes_them_old_for_good(self) -> None:
        heavy = OLD.with_build(HEAVIER)
        self.assertEqual(Timeline([State(OLD), State(heavy, Said(("knock",)))]).other_arrows(), ())
        self.assertEqual(Timeline([State(OLD), State(heavy), State(heavy, Said(("rest",)))]).other_arrows(), ())
        other_head = replace(heavy, sight=replace(heavy.sight, head_in_use="ring"))
        self.assertEqual(Timeline([State(OLD), State(heavy), State(other_head)]).other_arrows(), ())

    def test_a_mended_mass_is_no_other_arrow(self) -> None:
        mended = State(OLD.with_build(HEAVIER), Said(meant=(("arrow", Meaning.MISTYPED),)))
        self.assertEqual(Timeline([State(OLD), mended]).other_arrows(), ())


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
