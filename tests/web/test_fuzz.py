"""Every form route under what nobody would type: never a server error, and the rig can be opened afterwards.

make fuzz    the same for some minutes: FUZZ_EXAMPLES says how many requests a seed, FUZZ_FIRST the first seed
"""

from __future__ import annotations

import logging
import os
import re
import unittest
from dataclasses import replace
from typing import Any

from hypothesis import HealthCheck, Phase, given, seed, settings
from hypothesis import strategies as st
from starlette.testclient import TestClient

from cross_staff.core.prepare.station import OVERRIDE
from cross_staff.core.rig.log import BenchEntry
from cross_staff.services import bench
from cross_staff.services.bench import Asked
from cross_staff.services.card import sight_library as sights
from cross_staff.services.prepare import record as prepare
from cross_staff.services.rig import open_rig
from cross_staff.storage.standings import BenchLine
from cross_staff.web.app import page_routers
from tests.rigs import NOON, TEMPLATES, full_card
from tests.web.client import HOST, WithClient, fields

EXAMPLES = int(os.environ.get("FUZZ_EXAMPLES", "6"))  # for each route
FIRST = int(os.environ.get("FUZZ_FIRST", "1"))
SEEDS = range(FIRST, FIRST + int(os.environ.get("FUZZ_SEEDS", "1")))
POSTS = sorted({route.path for pages, _ in page_routers() for route in pages.routes if "POST" in route.methods})
AN_END = {"key": "a", "distance": "17", "pin": "0", "shots": "1 2\n3 4\n5 6"}
_RIG = "/rigs/{rig_id}"
AHEAD = {
    f"{_RIG}/card/reckoning": f"{_RIG}/card",
    f"{_RIG}/card/units": f"{_RIG}/card",
    f"{_RIG}/card/sight/stale": f"{_RIG}/card/sight",
    f"{_RIG}/card/arrows/{{index}}/reckoning": f"{_RIG}/card/arrows/{{index}}",
    f"{_RIG}/mount/stale": f"{_RIG}/mount",
}
PHOTOS = ("/mount/marks", "/level/photo", "/sight_in/photo", "/photo-bench")

BLANKS, LONG = " " * 5000, "a" * 3000
digits = st.sampled_from(
    ["9" * 400, "9" * 5000, str(2**63), str(2**64), "1e308", "1e999", "-0", "0x10", "\u0663", "\u00b2", "\u00bd"]
)
numbers = st.one_of(
    st.floats(allow_nan=True, allow_infinity=True).map(str),
    st.floats(-1e4, 1e4).map(lambda v: f"{v:.3g}"),
    st.integers(-(10**30), 10**30).map(str),
    st.sampled_from(
        ["5/0", "5000/1", "1/3", "1 1/2", "3,5", "1,2,3", "--1", "+", "12 yd", "12 furlong", "nan", BLANKS]
    ),
    digits,
)
words = st.one_of(
    st.text(max_size=60),
    st.sampled_from(["", " ", "\x00", "\r\n", "<b>", "{{ 7*7 }}", "'; --", "\u202e", "\ufffd", LONG]),
)
keys = st.sampled_from(
    ["", "a", "-1", "0", "1", "7", "99999", "../..", "%00", "x" * 300, "third", "first", "tape", "1.5"]
)
nested = st.sampled_from(
    ["[]", "{}", "[" * 3000, "null", "[1,2]", '{"f":1}', '{"f":{"name":7},"u":[],"a":null}', "\\"]
    + ['[{"key":"a","right":1e999,"up":0}]', '[{"key":"a"}]', '[{"key":"a","right":"x","up":[]}]']
)
dates = st.sampled_from(["2026-11-24", "2026-02-30", "9999-12-31", "0001-01-01", "24.11.2026", "today"])


def strategy(name: str) -> st.SearchStrategy[str]:
    """What goes into a field, by its kind."""
    if name in ("placed", "seen"):
        return nested
    if name == "due":
        return st.one_of(dates, words)
    if re.search(r"key|drive|axis|method|state|choose|counts|face|seat|kind|way|school|handed|unit", name):
        return st.one_of(keys, words)
    if re.search(r"name|note|why|who|place|light|words|reason|archer|bow|occasion|rules|anchor|release|label", name):
        return words
    return st.one_of(numbers, words)


class Fuzz(WithClient):
    def setUp(self) -> None:
        super().setUp()
        self.client = TestClient(self.client.app, base_url=HOST, follow_redirects=False, raise_server_exceptions=False)
        self.rig_id = self.add_rig(replace(full_card(), sight=TEMPLATES["multi_pin_slider"]))
        reason = BenchEntry("prepare", OVERRIDE, 0, NOON, note="checked at the shop")
        prepare.override_gate(self.database, self.rig_id, reason)
        sights.add(self.database, TEMPLATES["single_pin_slider"], NOON)
        here = f"/rigs/{self.rig_id}"
        self.client.post(
            f"{here}/sight_in/end", data={"key": "a", "distance": "17", "pin": "0", "shots": "1 2\n3 4\n5 6"}
        )
        self.client.post(f"{here}/tape", data={"row-0-distance": "17", "row-0-mark": "20", "row-0-key": "a" * 16})
        self.client.post(f"{here}/level/plumb", data={"side": "0", "fore": "0"})
        pages = ("/", f"{here}/card", f"{here}/card/arrows/0", f"{here}/card/sight", f"{here}/prepare", f"{here}/mount",
                 f"{here}/mount/marks", f"{here}/level", f"{here}/level/setup", f"{here}/sight_in", f"{here}/tape",
                 f"{here}/tape/booklet", f"{here}/tape/print", "/sights/1", "/sights/new", "/shop")  # fmt: skip
        self.forms = {path: self.filled(path) for path in POSTS}
        for page in pages:
            for form in re.findall(r"<form.*?</form>", self.client.get(page).text, re.S):
                action = re.search(r'action="([^"?]*)', form)
                route = action and next((p for p in POSTS if self.fits(p, action.group(1))), None)
                if route:
                    self.forms[route] = self.forms[route] | fields(form)
        for ahead, whole in AHEAD.items():  # what is looked at before it is saved has the fields of what is saved
            self.forms[ahead] = self.forms[ahead] | self.forms[whole]
        logging.getLogger("cross_staff").setLevel(logging.CRITICAL)
        self.addCleanup(logging.getLogger("cross_staff").setLevel, logging.NOTSET)

    def filled(self, path: str) -> dict[str, str]:
        """Fields that no page shows, but a handler reads."""
        return {"note": "", "csv": "distance_m,right_mm,up_mm\n17,1,2", "kind": "mark", "key": "1", "lines": "2"}

    def fits(self, route: str, address: str) -> bool:
        return re.fullmatch(re.sub(r"{\w+}", "[^/]+", route), address) is not None

    def test_no_form_route_ever_fails(self) -> None:
        for number in SEEDS:
            for route in POSTS:
                with self.subTest(seed=number, route=route):
                    self.run_seed(number, route)
        for rig_id in bench.every(self.database):
            self.assertTrue(open_rig(self.database, rig_id).card.name)
        self.assertTrue(all(not line.summary.problem for line in self.lines() if line.summary))
        self.assertEqual(self.client.get("/").status_code, 200)

    def lines(self) -> tuple[BenchLine, ...]:
        return bench.bench(self.database, Asked()).lines

    def run_seed(self, number: int, route: str) -> None:
        form, asked = self.forms[route], 0

        @seed(number)
        @settings(max_examples=EXAMPLES, deadline=None, database=None, phases=[Phase.generate],
                  suppress_health_check=list(HealthCheck))  # fmt: skip
        @given(st.data())
        def ask(data: Any) -> None:
            nonlocal asked
            asked += 1
            changed = data.draw(st.lists(st.sampled_from(sorted(form)), max_size=6, unique=True))
            typed = form | {name: data.draw(strategy(name), name) for name in changed}
            for name in data.draw(st.lists(st.sampled_from(sorted(form)), max_size=2, unique=True)):
                typed.pop(name, None)
            path = re.sub(r"{(\w+)}", lambda m: self.part(data, m.group(1)), route)
            headers = data.draw(st.sampled_from([{}, {}, {"HX-Request": "true"}, {"X-Save": "fuzz-0000"}]))
            files = {"photo": ("x.png", data.draw(st.binary(max_size=40)))} if route.endswith(PHOTOS) else None
            answer = self.client.post(path, data=typed, files=files, headers=headers)
            self.assertLess(answer.status_code, 500, f"{path} {typed}")

        ask()
        self.assertGreater(asked, 0)

    def part(self, data: Any, name: str) -> str:
        """A part of the address: mostly a record that there is."""
        own = {"rig_id": str(self.rig_id), "index": "0", "model": "1", "revision": "1", "key": "a", "axis": "first"}
        if name in own and data.draw(st.integers(0, 9)):
            return own[name]
        text = data.draw(st.one_of(keys, digits, st.text(max_size=20)))
        return re.sub(r"[/?#\\%\s\x00-\x1f\x7f\ud800-\udfff]", "_", text)[:300] or "_"


if __name__ == "__main__":
    unittest.main()
