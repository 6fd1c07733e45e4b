from dataclasses import replace

from cross_staff.core.errors import StaleRevision, Unanswered
from cross_staff.core.rig.card import Bow, RigCard
from cross_staff.core.rig.correction import Meaning
from cross_staff.core.rig.staleness import Said
from cross_staff.services.card import save as card
from cross_staff.services.rig import open_rig
from tests.data import WithDatabase
from tests.rigs import NOON, full_card


class Cards(WithDatabase):
    def test_an_unchanged_card_makes_no_revision(self) -> None:
        rig_id = self.add_rig()
        self.assertEqual(card.save(self.database, rig_id, 2, full_card(), {"speed": "mps"}, NOON).number, 2)
        self.assertEqual(open_rig(self.database, rig_id).units, {"speed": "mps"})

    def test_a_stale_window_is_refused_and_changes_nothing(self) -> None:
        rig_id = self.add_rig()
        with self.assertRaises(StaleRevision):
            card.save(self.database, rig_id, 1, full_card(name="late"), {"speed": "mps"}, NOON)
        rig = open_rig(self.database, rig_id)
        self.assertEqual((rig.card.name, rig.units), ("Test bow", {}))
        self.assertEqual([r.number for r in open_rig(self.database, rig_id).history], [1, 2])

    def heavier(self, grams: float) -> RigCard:
        """The card with its point written down anew."""
        card_now = full_card()
        point, *others = card_now.build.components
        return card_now.with_build(
            replace(card_now.build, components=(replace(point, mass_kg=grams / 1000.0), *others))
        )

    def test_a_mass_that_is_mended_takes_its_chronographed_speed_along(self) -> None:
        """Nothing was shot at the range: still it is asked, and a slip of the pen predicts no other speed."""
        rig_id = self.add_rig()
        before = open_rig(self.database, rig_id).card.speed()
        with self.assertRaises(Unanswered) as asked:
            card.save(self.database, rig_id, 2, self.heavier(8.9), {}, NOON, ask=True)
        (question,) = asked.exception.questions
        self.assertEqual((question.cause.key, dict(question.sets_aside)["speed"]), ("arrow", 1))
        said = Said(meant=(("arrow", Meaning.MISTYPED),))
        card.save(self.database, rig_id, 2, self.heavier(8.9), {}, NOON, said=said, ask=True)
        rig = open_rig(self.database, rig_id)
        self.assertEqual(rig.card.chronograph.mass_kg, rig.card.build.mass_kg())
        assert before and (after := rig.card.speed())
        self.assertAlmostEqual(after.sd_mps, before.sd_mps, delta=0.02)
        self.assertAlmostEqual(after.speed_mps, before.speed_mps, delta=0.05)

    def test_an_arrow_that_was_changed_is_predicted_anew(self) -> None:
        rig_id = self.add_rig()
        before = open_rig(self.database, rig_id).card.speed()
        said = Said(meant=(("arrow", Meaning.CHANGED),))
        card.save(self.database, rig_id, 2, self.heavier(12.9), {}, NOON, said=said, ask=True)
        after = open_rig(self.database, rig_id).card.speed()
        assert before and after
        self.assertLess(after.speed_mps, before.speed_mps - 2.0)

    def test_a_draw_weight_that_is_mended_takes_them_along_too(self) -> None:
        rig_id = self.add_rig()
        weighed = full_card(bow=Bow("bow", 250.0))
        session = replace(weighed.chronograph, readings_mps=(81.3, 81.5, 81.4))
        weighed = weighed.with_build(replace(weighed.build, sessions=(session,)))
        card.save(self.database, rig_id, 2, weighed, {}, NOON)
        weighed = open_rig(self.database, rig_id).card
        said = Said(meant=(("draw", Meaning.MISTYPED),))
        card.save(self.database, rig_id, 3, replace(weighed, bow=Bow("bow", 280.0)), {}, NOON, said=said)
        after = open_rig(self.database, rig_id).card
        self.assertEqual(after.chronograph.draw_weight_n, 280.0)
        card.save(self.database, rig_id, 4, replace(after, bow=Bow("bow", 300.0)), {}, NOON)
        self.assertEqual(open_rig(self.database, rig_id).card.chronograph.draw_weight_n, 280.0)

    def test_a_reading_that_is_mended_stays_that_of_its_arrow(self) -> None:
        rig_id = self.add_rig()
        changed = Said(meant=(("arrow", Meaning.CHANGED),))
        card.save(self.database, rig_id, 2, self.heavier(12.9), {}, NOON, said=changed)
        now = open_rig(self.database, rig_id).card
        readings = (80.8, 81.0, 81.2, 80.6)  # the last was written down wrongly
        one = replace(now.chronograph, readings_mps=readings)
        card.save(self.database, rig_id, 3, now.with_build(replace(now.build, sessions=(one,))), {}, NOON)
        after = open_rig(self.database, rig_id).card
        self.assertEqual(after.chronograph.mass_kg, full_card().build.mass_kg())
        other = replace(now.chronograph, readings_mps=(77.0, 77.2, 77.1), mass_kg=None)
        card.save(self.database, rig_id, 4, now.with_build(replace(now.build, sessions=(other,))), {}, NOON)
        self.assertEqual(open_rig(self.database, rig_id).card.chronograph.mass_kg, now.build.mass_kg())
