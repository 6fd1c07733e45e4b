import math
from dataclasses import replace

from cross_staff.core.errors import InvalidValue, NotFound
from cross_staff.core.level.station import LevelReading
from cross_staff.core.rig.staleness import Said
from cross_staff.services.card import save as card
from cross_staff.services.level import record as level
from cross_staff.services.level import screw_history
from cross_staff.services.memory import Memory
from cross_staff.services.rig import open_rig
from cross_staff.storage import level_readings
from tests.core.level.test_station import levelled_card
from tests.data import WithDatabase
from tests.rigs import NOON
from tests.shop import METRIC

DEG = math.radians(1.0)


def reading(axis: str = "second", vial: float = 2.0, **more: object) -> LevelReading:
    method = {"first": "rail_vial", "second": "to_string", "third": "vise_string"}[axis]
    return LevelReading(axis, method, 0.0, vial, 0.0, 0, NOON, **more)  # type: ignore[arg-type]


class Level(WithDatabase):
    def setUp(self) -> None:
        super().setUp()
        self.rig_id = self.add_rig(levelled_card())

    def second(self):  # type: ignore[no-untyped-def]
        return open_rig(self.database, self.rig_id).level.axes["second"]

    def test_a_turn_before_the_axis_was_read_as_found_is_refused(self) -> None:
        with self.assertRaisesRegex(InvalidValue, "turned: read this axis as found first"):
            level.read(self.database, self.rig_id, reading(turns=0.125))
        level.read(self.database, self.rig_id, reading())
        level.read(self.database, self.rig_id, reading(vial=1.0, turns=0.125))
        self.assertAlmostEqual(self.second().as_found.value / DEG, -1.0)
        self.assertAlmostEqual(self.second().now.value / DEG, -0.5)

    def test_plumb_and_acceptance_are_kept_and_can_be_taken_back(self) -> None:
        with self.assertRaisesRegex(InvalidValue, "^side: "):
            level.plumb(self.database, self.rig_id, 1.2, 0.0, NOON)
        level.plumb(self.database, self.rig_id, 0.2, -0.1, NOON)
        with self.assertRaisesRegex(InvalidValue, "^reason: read it first"):
            level.accept(self.database, self.rig_id, "second", "no screw there", NOON)
        level.read(self.database, self.rig_id, reading())
        with self.assertRaisesRegex(InvalidValue, "^reason: write why"):
            level.accept(self.database, self.rig_id, "second", "no", NOON)
        with self.assertRaises(NotFound):
            level.accept(self.database, self.rig_id, "fourth", "no screw there", NOON)
        level.accept(self.database, self.rig_id, "second", "no screw there", NOON)
        self.assertEqual((self.second().standing, self.second().accepted), ("accepted", "no screw there"))
        for key in ("accept_second", "plumb"):
            level.reopen(self.database, self.rig_id, key, NOON)
        back = open_rig(self.database, self.rig_id).level
        self.assertEqual((back.axes["second"].standing, back.plumb), ("open", None))
        with self.assertRaises(NotFound):
            level.reopen(self.database, self.rig_id, "moon", NOON)

    def test_taking_a_reading_back_keeps_it_in_the_log(self) -> None:
        first = level.read(self.database, self.rig_id, reading(note="as typed"))
        level.take_back(self.database, self.rig_id, first, NOON)
        rig = open_rig(self.database, self.rig_id)
        self.assertEqual((rig.level.readings, len(rig.level_log)), ((), 2))
        with self.assertRaises(NotFound):
            level.take_back(self.database, self.rig_id, first, NOON)

    def test_a_flipped_sign_is_turned_and_all_three_stay(self) -> None:
        number = level.read(self.database, self.rig_id, reading(vial=-2.0, note="by lamp"))
        level.flip(self.database, self.rig_id, number, "sight_sign", NOON)
        rig = open_rig(self.database, self.rig_id)
        self.assertEqual([r.vial_div for r in rig.level.readings], [2.0])
        self.assertEqual(rig.level.readings[0].note, "by lamp sign turned")
        self.assertEqual(len(rig.level_log), 3)
        for wrong in ((number, "sight_sign"), (99, "sight_sign"), (rig.level_log[-1].reading_id, "moon")):
            with self.assertRaises(NotFound):
                level.flip(self.database, self.rig_id, *wrong, NOON)

    def test_every_slip_turns_its_own_sign(self) -> None:
        for slip, seen in (
            ("reference_sign", (2.0, -0.5, 0.6)),
            ("both_signs", (-2.0, -0.5, 0.6)),
            ("pitch_sign", (2.0, 0.5, -0.6)),
        ):
            odd = replace(reading("third"), reference_div=0.5, pitch_rad=0.6)
            number = level.read(self.database, self.rig_id, odd)
            level.flip(self.database, self.rig_id, number, slip, NOON)
            last = open_rig(self.database, self.rig_id).level.readings[-1]
            self.assertEqual((last.vial_div, last.reference_div, last.pitch_rad), seen, slip)

    def test_readings_before_a_remount_are_old_and_still_there(self) -> None:
        level.read(self.database, self.rig_id, reading())
        rig = open_rig(self.database, self.rig_id)
        card.save(self.database, self.rig_id, 2, rig.card, METRIC, NOON, "off and on", Said(("knock",)))
        later = open_rig(self.database, self.rig_id)
        self.assertEqual((later.level.readings, later.level.old, len(later.level_log)), ((), 1, 1))

    def test_the_gain_learned_on_another_bow_with_the_same_sight(self) -> None:
        named = replace(levelled_card().sight, name="Target scope, long rail")
        rigs = [self.add_rig(replace(levelled_card(), sight=named)) for _ in range(2)]
        for _ in range(3):
            level.read(self.database, rigs[0], reading(vial=4.0))
        for step in range(3):
            level.read(self.database, rigs[0], reading(vial=3.0 - step, turns=0.25))
            level.read(self.database, rigs[0], reading(vial=3.0 - step))
        with self.database.reading() as connection:
            known = screw_history.angle_per_turn_priors(
                connection, rigs[1], open_rig(self.database, rigs[1]).card, Memory(0)
            )
            own = screw_history.angle_per_turn_priors(
                connection, rigs[0], open_rig(self.database, rigs[0]).card, Memory(0)
            )
            stranger = screw_history.angle_per_turn_priors(connection, self.rig_id, levelled_card(), Memory(0))
        self.assertEqual((set(known), own, stranger), ({"second"}, {}, {}))
        self.assertAlmostEqual(known["second"].size / DEG, 2.0, delta=0.15)
        self.assertEqual(known["second"].sign, 0)

    def test_a_reading_comes_back_from_storage_as_it_went_in(self) -> None:
        sent = reading("third", -0.4, turns=-0.25, locked=False, who="Maren", note="rests slowly")
        with self.database.writing() as connection:
            number = level_readings.add(connection, self.rig_id, replace(sent, revision=2))
            back = level_readings.log(connection, self.rig_id)
        self.assertEqual(back, [replace(sent, revision=2, reading_id=number)])
