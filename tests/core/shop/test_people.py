"""People of the shop: names that can be told apart, PINs that are not guessed first; one asker in many addresses."""

import unittest

from hypothesis import given
from hypothesis import strategies as st

from cross_staff.core.errors import InvalidValue
from cross_staff.core.shop.people import Person, Role, check_name, check_pin
from cross_staff.core.shop.throttle import FREE_TRIES, LONGEST_WAIT_S, MOST_ASKERS, Throttle, neighbours

IDA = Person(1, "Ida Fell")


class Names(unittest.TestCase):
    def test_idle_space_is_dropped_and_a_name_is_nobody_else_s(self) -> None:
        self.assertEqual(check_name("  Ulf   Moor ", [IDA]), "Ulf Moor")
        for name, words in (("", "which name"), ("x" * 61, "at most 60"), ("ida fell", "somebody else")):
            with self.assertRaisesRegex(InvalidValue, words):
                check_name(name, [IDA])

    def test_the_name_of_one_who_left_is_free(self) -> None:
        self.assertEqual(check_name("Ida Fell", [Person(1, "Ida Fell", removed=True)]), "Ida Fell")

    def test_who_may_write(self) -> None:
        self.assertTrue(IDA.writes)
        self.assertFalse(Person(2, "Ulf", Role.VIEWER).writes)
        self.assertFalse(Person(2, "Ulf", removed=True).writes)


class Pins(unittest.TestCase):
    def test_digits_that_nobody_tries_first(self) -> None:
        self.assertEqual(check_pin(" 4711 "), "4711")
        for pin in ("", "123", "123456789", "12a4", "１２３５"):
            with self.assertRaisesRegex(InvalidValue, "4 to 8 digits"):
                check_pin(pin)
        for pin in ("1111", "1234", "4321", "6789", "8901", "00000000"):
            with self.assertRaisesRegex(InvalidValue, "first that anybody"):
                check_pin(pin)


class Askers(unittest.TestCase):
    def test_a_network_of_long_addresses_is_one_asker(self) -> None:
        self.assertEqual(neighbours("2001:db8:0:7::1"), neighbours("2001:db8:0:7:ffff::2"))
        self.assertNotEqual(neighbours("2001:db8:0:7::1"), neighbours("2001:db8:0:8::1"))
        self.assertEqual(neighbours("::ffff:10.0.0.9"), "10.0.0.9")
        self.assertEqual(neighbours("testclient"), "testclient")

    def test_typos_are_forgotten(self) -> None:
        now = [0.0]
        throttle = Throttle(lambda: now[0])
        for _ in range(200):  # one every hour, for more than a week
            throttle.note_wrong("a")
            self.assertEqual(throttle.wait_s("a"), 0.0)
            now[0] += 3600.0

    @given(st.lists(st.floats(0.0, 3.0 * LONGEST_WAIT_S), min_size=1, max_size=60))
    def test_no_wait_is_longer_than_the_longest_and_it_ends(self, pauses: list[float]) -> None:
        now = [0.0]
        throttle = Throttle(lambda: now[0])
        for pause in pauses:
            throttle.note_wrong("a")
            now[0] += pause
            wait = throttle.wait_s("a")
            self.assertLessEqual(wait, LONGEST_WAIT_S)
        now[0] += wait
        self.assertLess(throttle.wait_s("a"), 1e-6)

    def test_a_flood_of_addresses_does_not_free_one_that_guessed(self) -> None:
        throttle = Throttle(lambda: 0.0)
        for _ in range(FREE_TRIES + 3):
            throttle.note_wrong("guesser")
        for number in range(MOST_ASKERS + 50):
            throttle.note_wrong(f"other {number}")
        self.assertGreater(throttle.wait_s("guesser"), 0.0)
        self.assertLessEqual(len(throttle.tries), MOST_ASKERS)
