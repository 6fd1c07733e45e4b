"""Phones shoot at the program as it is served: held up, without room, killed. `make soak` is the long form."""

import signal
import tempfile
import time
import unittest
from pathlib import Path

from tests.data import put_database
from tests.shop import METRIC, Shop, rig_card
from tests.soak import BENCH, SHOT, Answer, Served, Soak, kept_shots, runs

PHONES, SCREENS, KILLS = 5, 2, 3


def a_range(database: object) -> None:
    """Bows that their archers can shoot with."""
    for _ in range(PHONES):
        Shop(database, dict(METRIC)).rig(rig_card())  # type: ignore[arg-type]


class ShortSoak(unittest.TestCase):
    takes_long = True

    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory(prefix="cross-staff-soak-")
        self.addCleanup(folder.cleanup)
        self.served = Served(Path(folder.name), busy_timeout_ms=400)
        put_database(self.served.file, a_range)
        self.served.start()
        self.addCleanup(self.served.stop)
        self.soak = Soak(self.served, list(range(1, PHONES + 1)), SCREENS)
        self.soak.pace_s, self.soak.retry_s, self.soak.look_s = 0.4, 0.2, 0.5

    def until(self, part: str, what: str, status: int, count: int = 1) -> None:
        """Until something was answered so often."""
        end = time.monotonic() + 120.0
        while self.soak.count(part, what, lambda answer: answer.status == status) < count:
            self.assertLess(time.monotonic(), end, f"{part}: no {what} with {status}")
            time.sleep(0.05)

    def test_every_arrow_that_was_acknowledged_is_there_once(self) -> None:
        served, soak = self.served, self.soak
        served.part = "alone"
        soak.alone(1)
        soak.start()
        for part, hindered in (("held", served.held), ("no room", served.no_room)):
            with self.subTest(part), hindered():
                served.part = part
                self.until(part, SHOT, 503, 3)
                self.until(part, BENCH, 200)  # who only looks is served
            served.part = f"after {part}"
            self.until(f"after {part}", SHOT, 200, PHONES)
        served.part = "killed"
        soak.killed(KILLS, 0.8)
        self.until("killed", SHOT, 200, PHONES)
        soak.stop()
        self.assertEqual(kept_shots(served.file, soak.phones), [])
        sent = sum(end.sent for phone in soak.phones for end in phone.ends)
        self.assertEqual(sent, sum(len(end.shots) for phone in soak.phones for end in phone.ends))
        self.assertGreater(soak.count("killed", SHOT, lambda answer: answer.status == 0), 0, "nobody noticed the kills")
        self.assertEqual([a for a in served.answers if a.status >= 500 and a.status != 503], [])

    def test_what_reckons_beside_it_ends_with_it(self) -> None:
        beside = self.served.beside()
        self.assertTrue(beside and all(runs(each) for each in beside))
        self.served.stop(signal.SIGKILL)
        end = time.monotonic() + 60.0
        while any(runs(each) for each in beside):
            self.assertLess(time.monotonic(), end, "it goes on by itself")
            time.sleep(0.05)
        self.served.start()

    def test_what_is_lost_doubled_or_moved_is_seen(self) -> None:
        """The check itself can fail."""
        phone = self.soak.phones[0]
        phone.tap()
        self.assertTrue(phone.send())
        phone.ends[0].shots.append({"key": "s1", "right": 1.0, "up": 2.0, "bad": False})
        phone.ends[0].sent = 2
        self.assertEqual(len(kept_shots(self.served.file, self.soak.phones)), 1)
        phone.ends[0].sent, phone.ends[0].shots[0]["right"] = 1, 99.0
        self.assertEqual(len(kept_shots(self.served.file, self.soak.phones)), 1)
        phone.refused.append(Answer("", SHOT, 422, 0.0))
        self.assertEqual(len(kept_shots(self.served.file, self.soak.phones)), 2)


if __name__ == "__main__":
    unittest.main()
