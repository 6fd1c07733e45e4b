"""The bench while many rigs change: no page waits, each old line says so, the page asks again by itself."""

import unittest
from unittest import mock

from cross_staff.services.bench import AT_ONCE
from cross_staff.services.plan.page import shop_plan
from tests.rigs import NOON, full_card
from tests.web.client import WithClient

MANY = 7


class WhileOthersShoot(WithClient):
    def setUp(self) -> None:
        super().setUp()
        self.rigs = [self.add_rig(full_card(archer=f"archer {n}", name=f"bow {n}")) for n in range(MANY)]
        self.beside = mock.Mock(works=True)
        self.beside.plans.return_value = []
        self.client.app.state.beside = self.beside  # type: ignore[attr-defined]

    def test_new_rigs_come_at_once_as_far_as_they_are_few(self) -> None:
        page = self.client.get("/?sort=name").text
        self.assertIn("4 of these rigs are being worked out anew", page)
        self.assertIn('hx-get="/?sort=name"', page)
        self.assertEqual(page.count("Being worked out."), MANY - AT_ONCE)
        self.assertEqual(sorted(*self.beside.want.call_args.args), self.rigs[: MANY - AT_ONCE])
        self.assertIn(f"bow {MANY - 1}", page)

    def test_a_line_that_is_old_says_so_until_it_is_not(self) -> None:
        self.beside.works = False
        self.client.get("/")
        self.beside.works = True
        self.assertNotIn("being worked out", self.client.get("/").text)
        for rig_id in self.rigs:
            self.client.post(f"/rigs/{rig_id}/tape", data={"row-0-distance": "17", "row-0-mark": "20"})
        page = self.client.get("/").text
        self.assertEqual(page.count("<small>as it stood before</small>"), MANY)
        self.assertRegex(page, r"Now · bow \d · as it stood before</p>")
        self.assertIn("bow 3", page)
        self.assertIn("7 of these rigs are being worked out anew", page)
        elsewhere = self.client.get("/?archer=archer+1").text
        self.assertIn("1 of these rigs is being worked out anew", elsewhere)
        self.assertIn("7 other rigs are being worked out anew", self.client.get("/?show=archived").text)
        self.beside.works = False  # the other process is gone: as ever
        page = self.client.get("/").text
        self.assertNotIn("as it stood before", page)
        self.assertNotIn('hx-trigger="load delay:3s"', page)

    def test_the_week_is_the_newest_that_was_made(self) -> None:
        first = self.client.get("/plan/soon").text
        self.assertIn("It is being worked out.", first)
        self.assertIn("load delay:20s", first)
        self.beside.want_plan.assert_called_once()
        shop_plan(self.database, NOON)
        old = self.client.get("/plan/soon").text
        self.assertIn("Rigs have changed since: it is being worked out anew.", old)


if __name__ == "__main__":
    unittest.main()
