import math
from dataclasses import replace
from datetime import timedelta

from cross_staff.core.errors import InvalidValue, NotFound
from cross_staff.core.level.log import LevelReading
from cross_staff.core.level.screws import AnglePerTurnPrior
from cross_staff.core.rig.card import RigCard, Vial
from cross_staff.core.rig.sight import Screw
from cross_staff.core.rig.sight_kinds import KINDS
from cross_staff.core.rig.staleness import Said
from cross_staff.services.card import save as card
from cross_staff.services.level import record as level
from cross_staff.services.level import screw_history
from cross_staff.services.level.record import PlumbSeen
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

    def test_a_turn_before_the_axis_was_read_is_kept_and_leaves_no_as_found(self) -> None:
        level.read(self.database, self.rig_id, reading(turns=0.125))
        self.assertIsNone(self.second().as_found)
        self.assertAlmostEqual(self.second().now.value / DEG, -1.0, delta=0.02)

    def test_a_turn_is_an_entry_of_its_own_and_stays_when_its_reading_is_taken_back(self) -> None:
        for _ in range(2):
            level.read(self.database, self.rig_id, reading())
        number = level.read(self.database, self.rig_id, reading(vial=1.0, turns=0.125))
        log = open_rig(self.database, self.rig_id).level_log
        self.assertEqual([(r.turn, r.turns) for r in log[-2:]], [(True, 0.125), (False, None)])
        level.take_back(self.database, self.rig_id, number, NOON)
        self.assertEqual((self.second().looks, self.second().action.because), ((), "first_look"))
        for _ in range(2):
            level.read(self.database, self.rig_id, reading(vial=1.0))
        (turn,) = self.second().turns
        self.assertEqual(turn.turns, 0.125)
        level.take_back(self.database, self.rig_id, log[-2].reading_id, NOON)
        self.assertEqual(self.second().turns, ())

    def test_by_eye_and_alone_are_turns_too(self) -> None:
        level.read(self.database, self.rig_id, reading())
        level.read(self.database, self.rig_id, reading(vial=1.0), by_eye=True)
        self.assertEqual((self.second().turns, self.second().by_eye), ((), 1))
        level.turn(self.database, self.rig_id, reading(turns=0.25, turn=True, key="a"))
        level.turn(self.database, self.rig_id, reading(turns=0.25, turn=True, key="a"))
        log = open_rig(self.database, self.rig_id).level_log
        self.assertEqual([r.turn for r in log], [False, True, False, True])
        self.assertEqual(self.second().action.because, "first_look")

    def test_what_is_sent_twice_from_one_form_counts_once(self) -> None:
        one = level.read(self.database, self.rig_id, reading(key="form", turns=0.125))
        self.assertEqual(level.read(self.database, self.rig_id, reading(key="form", turns=0.125)), one)
        self.assertNotEqual(level.read(self.database, self.rig_id, reading(key="form", vial=1.0)), one)
        self.assertNotEqual(level.read(self.database, self.rig_id, reading(key="next")), one)
        self.assertEqual(len(open_rig(self.database, self.rig_id).level_log), 4)

    def test_plumb_and_acceptance_are_kept_and_can_be_taken_back(self) -> None:
        with self.assertRaisesRegex(InvalidValue, "^side: "):
            level.plumb(self.database, self.rig_id, PlumbSeen(1.2, 0.0), NOON)
        with self.assertRaisesRegex(InvalidValue, "^seat: "):
            level.plumb(self.database, self.rig_id, PlumbSeen(0.2, 0.0, 0.0, "moon"), NOON)
        level.plumb(self.database, self.rig_id, PlumbSeen(0.2, -0.1, 0.3, "flat"), NOON)
        self.assertTrue(open_rig(self.database, self.rig_id).level.matched)
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

    def test_the_same_pair_read_again_is_another_match(self) -> None:
        for key, matches in (("a", 1), ("a", 1), ("b", 2)):
            level.match(self.database, self.rig_id, PlumbSeen(0.0, 0.0, 0.3, "flat", key=key), NOON)
            (seating,) = open_rig(self.database, self.rig_id).level.log.seatings
            self.assertEqual(len(seating.matches), matches)

    def test_after_a_turn_it_is_accepted_anew_with_the_same_words(self) -> None:
        level.read(self.database, self.rig_id, reading())
        level.accept(self.database, self.rig_id, "second", "no screw there", NOON)
        later = NOON + timedelta(minutes=5)
        level.read(self.database, self.rig_id, replace(reading(turns=0.125), entered=later))
        self.assertEqual(self.second().accepted, "")
        level.accept(self.database, self.rig_id, "second", "no screw there", later + timedelta(minutes=1))
        self.assertEqual(self.second().accepted, "no screw there")

    def test_leaving_it_so_wants_a_name_and_something_to_leave(self) -> None:
        with self.assertRaisesRegex(InvalidValue, "^left_by: who leaves it so"):
            level.leave(self.database, self.rig_id, " ", NOON)
        with self.assertRaisesRegex(InvalidValue, "^left_by: there is nothing to leave"):
            level.leave(self.database, self.rig_id, "Sela", NOON)

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
        screw = Screw("Ring screw", "second_axis", "screw_lock")
        named = replace(levelled_card().sight, name="Target scope, long rail", screws=(screw,))
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

    def learned_by(self, shown: RigCard, asked: RigCard) -> dict[str, AnglePerTurnPrior]:
        """What one bow's turns teach another."""
        first, other = self.add_rig(shown), self.add_rig(asked)
        for turns, vial in ((None, 4.0), (None, 4.0), (0.25, 3.0), (None, 3.0), (0.25, 2.0), (None, 2.0)):
            level.read(self.database, first, reading(vial=vial, turns=turns))
        with self.database.reading() as connection:
            return screw_history.angle_per_turn_priors(connection, other, asked, Memory(0))

    def test_a_gain_belongs_to_a_described_screw_in_degrees(self) -> None:
        """Not to a generic name, not to another screw of the same name, not to vials that are not calibrated."""
        screw = Screw("Ring screw", "second_axis", "screw_lock")
        card = levelled_card()
        mine = replace(card, sight=replace(card.sight, name="Shop's own", screws=(screw,)))
        self.assertEqual(set(self.learned_by(mine, mine)), {"second"})
        generic = replace(mine, sight=replace(mine.sight, name=KINDS["multi_pin_slider"].template.name))
        self.assertEqual(self.learned_by(generic, generic), {})
        other = replace(mine, sight=replace(mine.sight, name="Twin"))
        finer = replace(other, sight=replace(other.sight, screws=(replace(screw, key_size="2 mm"),)))
        self.assertEqual(self.learned_by(finer, other), {})
        lines = replace(mine, sight=replace(mine.sight, name="Other"), level=replace(mine.level, sight=Vial()))
        self.assertEqual(self.learned_by(lines, lines), {})

    def test_a_reading_comes_back_from_storage_as_it_went_in(self) -> None:
        sent = reading(
            "third", -0.4, turns=-0.25, locked=False, who="Maren", note="rests slowly", vial_end=-1, seat="string",
            reseated=True, turn=True, distance_m=61.0, right_m=-0.02, arrows=6, key="k",
        )  # fmt: skip
        with self.database.writing() as connection:
            number = level_readings.add(connection, self.rig_id, replace(sent, revision=2))
            back = level_readings.log(connection, self.rig_id)
        self.assertEqual(back, [replace(sent, revision=2, reading_id=number)])
