"""The shop's passphrase: hashed, asked for, throttled; cookies that cannot be made at home."""

import json
import stat
import tempfile
import unittest
from pathlib import Path

from cross_staff.core.errors import InvalidValue
from cross_staff.services.shop import FREE_TRIES, Gatekeeper, Throttle, choose_passphrase
from cross_staff.storage import shop

WORDS = "slate and heather"


class Clock:
    def __init__(self) -> None:
        self.now = 1000.0

    def __call__(self) -> float:
        return self.now


class Shop(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.data = Path(folder.name) / "data"
        self.clock = Clock()
        self.keeper = Gatekeeper(self.data, Throttle(self.clock))
        choose_passphrase(self.data, WORDS)

    def wrong(self, asker: str = "10.0.0.9", words: str = "wrong words") -> str:
        with self.assertRaises(InvalidValue) as caught:
            self.keeper.knock(words, asker)
        return caught.exception.message

    def test_the_passphrase_itself_is_nowhere(self) -> None:
        file = self.data / shop.FILE
        self.assertNotIn("heather", file.read_text())
        self.assertIn("argon2", json.loads(file.read_text())["passphrase_hash"])
        self.assertEqual(stat.S_IMODE(file.stat().st_mode), 0o600)

    def test_the_right_one_gives_a_cookie_that_is_known(self) -> None:
        self.assertTrue(self.keeper.knows(self.keeper.knock(f" {WORDS} ", "10.0.0.9")))

    def test_no_other_cookie_is(self) -> None:
        cookie = self.keeper.knock(WORDS, "10.0.0.9")
        for other in ("", "shop", cookie[:-1], cookie.replace("shop", "desk"), f"{cookie}x"):
            self.assertFalse(self.keeper.knows(other), other)

    def test_another_passphrase_turns_every_phone_out(self) -> None:
        cookie = self.keeper.knock(WORDS, "10.0.0.9")
        choose_passphrase(self.data, "gorse on the ridge")
        self.assertFalse(self.keeper.knows(cookie))

    def test_too_short(self) -> None:
        with self.assertRaisesRegex(InvalidValue, "at least 8"):
            choose_passphrase(self.data, "slate")

    def test_none_chosen(self) -> None:
        (self.data / shop.FILE).unlink()
        self.assertIn("no passphrase", self.wrong(words=WORDS))
        self.assertFalse(self.keeper.knows("anything"))

    def test_wrong_tries_wait_longer_and_longer(self) -> None:
        for _ in range(FREE_TRIES):
            self.assertIn("not the shop's", self.wrong())
        self.assertIn("wait", self.wrong())
        self.assertIn("wait", self.wrong(words=WORDS))  # the right one waits too
        first = self.keeper.throttle.wait_s("10.0.0.9")
        self.clock.now += first + 0.1
        self.assertIn("not the shop's", self.wrong())
        self.assertGreater(self.keeper.throttle.wait_s("10.0.0.9"), 1.5 * first)

    def test_another_address_is_not_held_up_by_one(self) -> None:
        for _ in range(FREE_TRIES):
            self.wrong()
        self.assertTrue(self.keeper.knock(WORDS, "10.0.0.10"))

    def test_many_addresses_together_are(self) -> None:
        for number in range(4 * FREE_TRIES):
            self.wrong(asker=f"10.0.1.{number}")
        self.assertIn("wait", self.wrong(asker="10.0.2.1"))

    def test_the_right_one_starts_anew(self) -> None:
        for _ in range(FREE_TRIES - 1):
            self.wrong()
        self.keeper.knock(WORDS, "10.0.0.9")
        self.assertEqual(self.keeper.throttle.wait_s("10.0.0.9"), 0.0)
