from dataclasses import replace

from cross_staff.core.errors import InvalidValue, NotFound, StaleRevision
from cross_staff.core.level.vials import reversal
from cross_staff.core.rig.card import LevelSetup, Vial
from cross_staff.core.rig.instrument import Instrument
from cross_staff.services.card import save as card
from cross_staff.services.level import instruments
from cross_staff.services.rig import open_rig
from tests.core.level.test_station import levelled_card
from tests.data import WithDatabase
from tests.rigs import NOON
from tests.shop import METRIC

VIAL = Vial(0.01, 4.0, 0.2, NOON.date(), 3)
SILVER = Instrument("Silver", "reference", VIAL)


class Instruments(WithDatabase):
    def setUp(self) -> None:
        super().setUp()
        self.rig_id = self.add_rig(levelled_card())
        self.silver = instruments.add(self.database, SILVER, NOON)

    @property
    def setup_now(self) -> LevelSetup:
        return open_rig(self.database, self.rig_id).card.level

    def choose(self) -> None:
        rig = open_rig(self.database, self.rig_id)
        setup = instruments.chosen(self.database, rig.card.level, "reference", self.silver)
        full = replace(rig.card, level=setup)
        card.save(self.database, self.rig_id, rig.revision.number, full, METRIC, NOON, "the shop's level")

    def test_one_is_kept_changed_removed_and_put_back(self) -> None:
        self.assertEqual([k.record for k in instruments.kept(self.database)], [SILVER])
        instruments.change(self.database, self.silver, 1, replace(SILVER, note="scratched"), NOON)
        self.assertEqual(instruments.find(self.database, self.silver).record.note, "scratched")
        with self.assertRaises(StaleRevision):
            instruments.change(self.database, self.silver, 1, SILVER, NOON)
        instruments.remove(self.database, self.silver, NOON)
        self.assertEqual(instruments.kept(self.database), [])
        instruments.remove(self.database, self.silver, NOON, back=True)
        self.assertEqual(len(instruments.kept(self.database)), 1)
        with self.assertRaises(NotFound):
            instruments.find(self.database, 99)

    def test_what_cannot_be_is_refused(self) -> None:
        for field, wrong in (("name", " "), ("kind", "moon"), ("reverse_days", 0)):
            with self.assertRaisesRegex(InvalidValue, f"^{field}: "):
                instruments.add(self.database, replace(SILVER, **{field: wrong}), NOON)  # type: ignore[arg-type]
        with self.assertRaises(NotFound):
            instruments.chosen(self.database, LevelSetup(), "rail", self.silver)
        with self.assertRaises(NotFound):
            instruments.reverse(self.database, self.rig_id, "jig", reversal(0.0, 0.0), NOON)

    def test_chosen_on_a_rig_it_brings_its_vial(self) -> None:
        self.choose()
        self.assertEqual((self.setup_now.reference, self.setup_now.instrument("reference")), (VIAL, self.silver))
        back = instruments.chosen(self.database, self.setup_now, "reference", None)
        self.assertEqual((back.reference, back.instrument("reference")), (VIAL, None))

    def test_a_reversal_on_a_rig_is_the_shops_too(self) -> None:
        self.choose()
        instruments.reverse(self.database, self.rig_id, "reference", reversal(0.5, -0.1), NOON)
        kept = instruments.find(self.database, self.silver).record
        self.assertAlmostEqual(kept.vial.roll_error_div, 0.3)
        self.assertEqual(self.setup_now.reference, kept.vial)
        instruments.reverse(self.database, self.rig_id, "rail", reversal(0.2, 0.0), NOON)
        self.assertAlmostEqual(self.setup_now.rail.roll_error_div, 0.1)

    def test_newer_figures_are_told_and_taken_by_one_act(self) -> None:
        self.choose()
        self.assertEqual(instruments.newer(self.database, self.setup_now), [])
        finer = replace(SILVER, vial=replace(VIAL, per_division_rad=0.008), clip_proved_on=NOON.date())
        instruments.change(self.database, self.silver, 1, finer, NOON)
        self.assertEqual([k.record.name for k in instruments.newer(self.database, self.setup_now)], ["Silver"])
        self.assertEqual(self.setup_now.reference, VIAL)
        instruments.take_newer(self.database, self.rig_id, NOON)
        self.assertEqual((self.setup_now.reference, self.setup_now.clip_proved), (finer.vial, True))

    def test_one_that_was_removed_goes_on_serving_where_it_is_in_use(self) -> None:
        self.choose()
        instruments.remove(self.database, self.silver, NOON)
        self.assertEqual(self.setup_now.reference, VIAL)
        self.assertEqual(instruments.newer(self.database, self.setup_now), [])
