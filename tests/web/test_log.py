"""The log: what was refused and who came in, a line each, whatever a request is made of, and no secret in it."""

import io
import logging
import unittest
from unittest import mock

from cross_staff.web import log
from cross_staff.web.security import in_log
from tests.web.client import WithClient


class Lines(WithClient):
    def setUp(self) -> None:
        super().setUp()
        own = logging.getLogger("cross_staff")
        before = own.handlers, own.propagate, own.level
        self.addCleanup(lambda: (setattr(own, "handlers", before[0]), setattr(own, "propagate", before[1])))
        self.addCleanup(own.setLevel, before[2])
        self.out = io.StringIO()
        with mock.patch("sys.stderr", self.out):
            log.begin()

    def lines(self) -> list[str]:
        return self.out.getvalue().splitlines()

    def test_what_is_refused_is_a_line_with_its_time_and_without_what_was_typed(self) -> None:
        self.client.post("/rigs", data={"name": "", "archer": "Jory Penhale"})
        self.client.post("/rigs", data={"name": "x"}, headers={"Sec-Fetch-Site": "cross-site"})
        typed, foreign = self.lines()
        self.assertRegex(
            typed, r"^\d{4}-\d\d-\d\dT[\d:]{8}Z INFO cross_staff.security refused \(422\) POST /rigs from "
        )
        self.assertIn("refused (403) POST /rigs", foreign)
        self.assertNotIn("Jory", "".join(self.lines()))

    def test_an_address_makes_no_line_of_its_own_and_speaks_to_no_terminal(self) -> None:
        forged = "/rigs/%0A2026-11-28T00:00:00Z%20INFO%20all%20is%20well%1B[2J%E2%80%AE"
        self.client.post(forged, headers={"Sec-Fetch-Site": "cross-site"})
        (line,) = self.lines()
        self.assertIn("\\n2026", line)
        self.assertTrue(line.isprintable())

    def test_an_unforeseen_error_keeps_its_traceback(self) -> None:
        with mock.patch("cross_staff.web.bench.routes.bench.bench", side_effect=KeyError("lost")):
            self.assertEqual(self.client.get("/").status_code, 500)
        self.assertIn("Traceback", self.out.getvalue())

    def test_a_link_is_a_key_and_stands_in_no_log(self) -> None:
        self.assertEqual(in_log("/archer/7.abcdef/line"), "/archer/")
        self.client.post("/archer/7.abcdef/line", headers={"Sec-Fetch-Site": "cross-site"})
        self.assertNotIn("abcdef", self.out.getvalue())
        self.assertIn("/archer/", self.out.getvalue())


if __name__ == "__main__":
    unittest.main()
