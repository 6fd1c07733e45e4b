"""Instruments of the shop: entered, changed, removed; what was taken from them."""

from dataclasses import replace

from cross_staff.core.errors import InvalidValue, NotFound
from cross_staff.core.rig.taken import Taken
from cross_staff.services import devices
from tests.data import WithDatabase
from tests.rigs import NOON
from tests.shop import Shop

GATE = ("Gate", "chronograph", "192.168.1.20", 7001)


class Devices(WithDatabase):
    def refused(self, field: str, *given: object) -> str:
        with self.assertRaises(InvalidValue) as refused:
            devices.add(self.database, *given, NOON)  # type: ignore[arg-type]
        self.assertEqual(refused.exception.field, field)
        return refused.exception.message

    def test_entered_changed_removed_and_back(self) -> None:
        first = devices.add(self.database, *GATE, NOON)
        devices.change(self.database, first, " Long gate ", "10.0.0.2", 7001, NOON)
        self.assertEqual(
            [(d.name, d.host, d.number) for d in devices.kept(self.database)], [("Long gate", "10.0.0.2", 2)]
        )
        devices.remove(self.database, first, NOON)
        self.assertEqual(devices.kept(self.database), [])
        other = devices.add(self.database, "LONG GATE", "scale", "10.0.0.2", 7001, NOON)  # both are free again
        with self.assertRaises(InvalidValue):
            devices.remove(self.database, first, NOON, back=True)
        devices.remove(self.database, other, NOON)
        devices.remove(self.database, first, NOON, back=True)
        self.assertEqual(len(devices.kept(self.database)), 1)
        with self.assertRaises(NotFound):
            devices.change(self.database, 99, "x", "10.0.0.2", 1, NOON)

    def test_two_of_one_name_or_at_one_place_are_refused_at_their_field(self) -> None:
        devices.add(self.database, *GATE, NOON)
        self.assertIn("another", self.refused("name", "gate", "scale", "10.0.0.2", 7001))
        self.assertIn("Gate listens there", self.refused("address", "Scale", "scale", "192.168.1.20", 7001))
        self.refused("name", " ", "scale", "10.0.0.2", 7001)
        self.refused("name", "x" * 81, "scale", "10.0.0.2", 7001)
        self.refused("kind", "Wind", "windmill", "10.0.0.2", 7001)

    def test_no_more_than_can_be_listened_to(self) -> None:
        for number in range(devices.MOST):
            devices.add(self.database, f"n{number}", "scale", "10.0.0.2", 7000 + number, NOON)
        self.assertIn("remove one", self.refused("name", "one more", "scale", "10.0.0.2", 1))

    def test_when_it_was_heard_is_kept(self) -> None:
        number = devices.add(self.database, *GATE, NOON)
        self.assertIsNone(devices.find(self.database, number).seen)
        for _ in range(2):
            devices.heard(self.database, number, NOON)
        self.assertEqual(devices.find(self.database, number).seen, NOON)

    def test_what_was_taken_is_kept_once_and_only_if_it_can_be(self) -> None:
        rig_id = Shop(self.database).rig()
        taken = Taken("card", "", "readings", "81.2", "Gate", "speed", 81.2, 0.1, 4, NOON)
        devices.keep_taken(self.database, rig_id, [taken, taken, replace(taken, sequence=5)])
        devices.keep_taken(self.database, rig_id, [taken])
        self.assertEqual([each.sequence for each in devices.taken(self.database, rig_id)], [5, 4])
        devices.keep_taken(self.database, rig_id, [replace(taken, value_si=float("nan")), replace(taken, sequence=6)])
        self.assertEqual([each.sequence for each in devices.taken(self.database, rig_id)], [6, 5, 4])
        with self.assertRaises(NotFound):
            devices.keep_taken(self.database, 99, [taken])
