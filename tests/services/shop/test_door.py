"""The door: the passphrase hashed and throttled, visits that outlive a start and a clock, who holds a device."""

import json
import random
import stat
from datetime import UTC, datetime, timedelta
from pathlib import Path
from unittest import mock

from cross_staff.core.errors import InvalidValue, NotFound
from cross_staff.core.shop.people import Role
from cross_staff.core.shop.throttle import FREE_TRIES, HELD_S, MOST_HELD, Throttle
from cross_staff.services.shop import people
from cross_staff.services.shop.door import VISIT_DAYS, Door, Waits
from cross_staff.services.shop.passphrase import choose_passphrase, given_passphrase
from cross_staff.storage import shop
from tests.data import WithDatabase

WORDS = "slate and heather"
NOON = datetime(2026, 6, 1, 12, tzinfo=UTC)
HERE = "10.0.0.9"


class Clock:
    def __init__(self) -> None:
        self.now = 1000.0

    def __call__(self) -> float:
        return self.now


class WithDoor(WithDatabase):
    def setUp(self) -> None:
        super().setUp()
        self.data = Path(self.file).parent
        self.clock = Clock()
        choose_passphrase(self.data, WORDS)
        self.door = self.opened()

    def opened(self) -> Door:
        """The door as the program has it when it starts."""
        return Door(self.database, self.data, True, Throttle(self.clock), Throttle(self.clock))

    def knock(self, asker: str = HERE, words: str = WORDS, now: datetime = NOON) -> str:
        return self.door.knock(words, asker, "phone", now)

    def wrong(self, asker: str = HERE, words: str = "wrong words") -> str:
        with self.assertRaises(InvalidValue) as caught:
            self.knock(asker, words)
        return caught.exception.message

    def comes_in(self, cookie: str, now: datetime = NOON, door: Door | None = None) -> bool:
        door = door or self.door
        return door.let_in(door.visit(cookie, now))


class Passphrase(WithDoor):
    def test_the_passphrase_itself_is_nowhere(self) -> None:
        file = self.data / shop.FILE
        self.assertNotIn("heather", file.read_text())
        self.assertIn("argon2", json.loads(file.read_text())["passphrase_hash"])
        self.assertEqual(stat.S_IMODE(file.stat().st_mode), 0o600)

    def test_no_cookie_is_on_file(self) -> None:
        cookie = self.knock()
        self.assertNotIn(cookie.encode(), self.file.read_bytes())

    def test_too_short_or_none_chosen(self) -> None:
        with self.assertRaisesRegex(InvalidValue, "at least 12"):
            choose_passphrase(self.data, "slate")
        (self.data / shop.FILE).unlink()
        self.assertIn("no passphrase", self.wrong(words=WORDS))
        self.assertFalse(self.comes_in("anything"))

    def test_starting_with_the_same_one_turns_nobody_out(self) -> None:
        given_passphrase(self.data, WORDS)  # a file from before it was told apart
        cookie = self.knock()
        for _ in range(2):
            given_passphrase(self.data, WORDS)
            self.assertTrue(self.comes_in(cookie, door=self.opened()))
        given_passphrase(self.data, "gorse on the ridge")
        self.assertFalse(self.comes_in(cookie, door=self.opened()))

    def test_one_chosen_on_the_page_outlives_a_start_with_the_old_one(self) -> None:
        given_passphrase(self.data, WORDS)
        self.door.change_passphrase(None, WORDS, "gorse on the ridge", "gorse on the ridge", HERE, NOON)
        given_passphrase(self.data, WORDS)
        self.door = self.opened()
        self.assertIn("not the shop's", self.wrong(words=WORDS))
        self.assertTrue(self.knock(words="gorse on the ridge"))

    def test_another_one_turns_every_other_device_out(self) -> None:
        mine, other = self.knock(), self.knock("10.0.0.10")
        turned_out = self.door.change_passphrase(
            self.door.visit(mine, NOON), WORDS, "gorse on the ridge", "gorse on the ridge", HERE, NOON
        )
        self.assertEqual((turned_out, self.comes_in(mine), self.comes_in(other)), (1, True, False))
        self.assertTrue(self.comes_in(mine, door=self.opened()))

    def test_what_is_refused_changes_nothing(self) -> None:
        mine = self.knock()
        visit = self.door.visit(mine, NOON)
        for old, new, again, field in (
            ("wrong words", "gorse on the ridge", "gorse on the ridge", "old"),
            (WORDS, "short", "short", "passphrase"),
            (WORDS, "gorse on the ridge", "gorse on a ridge", "again"),
        ):
            with self.assertRaises(InvalidValue) as caught:
                self.door.change_passphrase(visit, old, new, again, HERE, NOON)
            self.assertEqual(caught.exception.field, field)
        self.assertTrue(self.knock("10.0.0.11"))


class Visits(WithDoor):
    def test_the_right_one_gives_a_cookie_that_is_known_and_no_other_is(self) -> None:
        cookie = self.knock(words=f" {WORDS} ")
        self.assertTrue(self.comes_in(cookie))
        for other in ("", "shop", cookie[:-1], f"{cookie}x", cookie.swapcase()):
            self.assertFalse(self.comes_in(other), other)

    def test_a_start_and_a_clock_set_back_turn_nobody_out(self) -> None:
        cookie = self.knock()
        for now in (NOON, NOON - timedelta(days=400), NOON + timedelta(days=VISIT_DAYS - 1)):
            self.assertTrue(self.comes_in(cookie, now, self.opened()), now)
        self.assertFalse(self.comes_in(cookie, NOON + timedelta(days=VISIT_DAYS + 1)))

    def test_seen_again_it_stays_in(self) -> None:
        cookie, now = self.knock(), NOON
        for _ in range(5):
            now += timedelta(days=VISIT_DAYS - 2)
            visit = self.door.visit(cookie, now)
            assert visit is not None
            self.assertTrue(self.door.needs_note(visit, HERE, now))
            self.door.note(visit, HERE, now)
            self.assertTrue(self.comes_in(cookie, now, self.opened()))

    def test_one_ends_by_itself(self) -> None:
        mine, other = self.knock(), self.knock("10.0.0.10")
        visit = self.door.visit(other, NOON)
        assert visit is not None
        self.door.end(visit.visit, NOON)
        self.assertEqual((self.comes_in(mine), self.comes_in(other)), (True, False))
        self.assertFalse(self.comes_in(other, door=self.opened()))
        with self.assertRaises(NotFound):
            self.door.end(99, NOON)

    def test_a_visit_of_this_machine_is_no_key_to_the_network(self) -> None:
        person = people.add(self.database, "Ida Fell", Role.TECHNICIAN, "4711", NOON)
        cookie = self.door.sign_in(None, person, "4711", "127.0.0.1", "computer", NOON)
        self.assertIsNotNone(self.door.visit(cookie, NOON))
        self.assertFalse(self.comes_in(cookie))


class Holders(WithDoor):
    def setUp(self) -> None:
        super().setUp()
        self.ida = people.add(self.database, "Ida Fell", Role.TECHNICIAN, "4711", NOON)
        self.door.look_again()
        self.cookie = self.knock()

    def holder(self) -> str:
        holder = self.door.holder(self.door.visit(self.cookie, NOON))
        return holder.name if holder else ""

    def sign_in(self, pin: str) -> None:
        self.cookie = self.door.sign_in(self.door.visit(self.cookie, NOON), self.ida, pin, HERE, "phone", NOON)

    def test_whoever_had_the_cookie_before_holds_nothing_by_it(self) -> None:
        before = self.cookie
        self.sign_in("4711")
        self.assertNotEqual(self.cookie, before)
        self.assertIsNone(self.door.visit(before, NOON))
        again = Door(self.database, self.data, True)  # after a start
        self.assertIsNone(again.visit(before, NOON))
        self.assertIsNotNone(again.visit(self.cookie, NOON))

    def test_by_the_pin_and_no_longer_than_that(self) -> None:
        self.assertEqual(self.holder(), "")
        self.sign_in("4711")
        self.assertEqual(self.holder(), "Ida Fell")
        visit = self.door.visit(self.cookie, NOON)
        assert visit is not None
        self.door.sign_out(visit)
        self.assertEqual(self.holder(), "")
        self.assertTrue(self.comes_in(self.cookie))

    def test_pins_are_throttled_too(self) -> None:
        for _ in range(FREE_TRIES):
            with self.assertRaisesRegex(InvalidValue, "not the PIN"):
                self.sign_in("0815")
        with self.assertRaises(Waits):
            self.sign_in("4711")
        self.clock.now += 10.0
        self.sign_in("4711")

    def test_who_is_of_the_shop_no_more_holds_nothing(self) -> None:
        self.sign_in("4711")
        people.add(self.database, "Ulf Moor", Role.TECHNICIAN, "8642", NOON)
        people.remove(self.database, self.ida, NOON)
        self.door.look_again()
        self.assertEqual(self.holder(), "")
        with self.assertRaisesRegex(InvalidValue, "not the PIN"):
            self.sign_in("4711")


class Tries(WithDoor):
    def test_wrong_tries_of_a_stranger_wait_longer_and_longer(self) -> None:
        for _ in range(FREE_TRIES):
            self.assertIn("not the shop's", self.wrong())
        self.assertIn("wait", self.wrong())
        self.assertIn("wait", self.wrong(words=WORDS))  # the right one waits too
        first = self.door.throttle.wait_s(HERE)
        self.clock.now += first + 0.1
        self.assertIn("not the shop's", self.wrong())
        self.assertGreater(self.door.throttle.wait_s(HERE), 1.5 * first)

    def test_nobody_is_held_up_by_others(self) -> None:
        with mock.patch("cross_staff.services.shop.door.matches", lambda secret, _: secret == WORDS):
            for number in range(60):
                self.wrong(f"10.0.1.{number}")
        for _ in range(FREE_TRIES):
            self.wrong()
        self.assertTrue(self.knock("10.0.0.10"))

    def test_one_who_was_in_before_is_heard_after_any_number_of_typos(self) -> None:
        self.knock()
        with mock.patch("cross_staff.services.shop.door.matches", lambda secret, _: secret == WORDS):
            for _ in range(40):
                self.wrong()
        hold = self.door.hold_s(HERE, NOON)
        self.assertLessEqual(hold, HELD_S)
        self.assertTrue(self.knock())
        self.assertEqual(self.door.hold_s(HERE, NOON), 0.0)

    def test_but_not_more_at_once_than_hands_can_type(self) -> None:
        self.knock()
        with mock.patch("cross_staff.services.shop.door.matches", lambda secret, _: secret == WORDS):
            for _ in range(FREE_TRIES + 1):
                self.wrong()
        with self.assertRaises(Waits):
            for _ in range(MOST_HELD + 5):
                self.door.hold_s(HERE, NOON)

    def test_sixty_days_of_guessing_beside_honest_typing(self) -> None:
        """Six addresses guess as often as they are heard, for an hour a day; five people mistype once a day, and seven
        times in a row once a week; every day a phone comes that was never here."""
        chance, guesses, refused = random.Random(22), 0, []
        with mock.patch("cross_staff.services.shop.door.matches", lambda secret, _: secret == WORDS):
            for person in range(5):
                self.knock(f"10.0.0.{person + 10}")
            for day in range(60):
                now = NOON + timedelta(days=day)
                self.clock.now += 86400.0
                for number in range(6):
                    guesses += self._guesses(f"10.0.1.{number}", now)
                for person in range(5):
                    typos = 7 if chance.random() < 1.0 / 7.0 else 1
                    refused += self._honest(f"10.0.0.{person + 10}", typos, now)
                refused += self._honest(f"10.0.2.{day}", 1, now)
        self.assertEqual(refused, [])
        self.assertLess(guesses, 6 * 60 * 20)

    def _guesses(self, asker: str, now: datetime) -> int:
        """How many guesses of an hour are heard: as many as there are waits in it."""
        begun, heard = self.clock.now, 0
        while self.clock.now - begun < 3600.0:
            try:
                self.door.knock("guess", asker, "script", now)
            except Waits:
                self.clock.now += self.door.throttle.wait_s(asker)
                continue
            except InvalidValue:
                heard += 1
        self.clock.now = begun
        return heard

    def _honest(self, asker: str, typos: int, now: datetime) -> list[str]:
        for _ in range(typos):
            self.clock.now += 6.0
            with self.assertRaises(InvalidValue):
                self.door.knock("slate an heather", asker, "phone", now)
        self.clock.now += 6.0
        try:
            self.door.hold_s(asker, now)
            self.door.knock(WORDS, asker, "phone", now)
        except Waits as error:
            return [f"{asker} {now:%d %b}: {error.message}"]
        return []
