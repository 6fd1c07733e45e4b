from cross_staff.core.errors import StaleRevision
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
