"""A rig's file that somebody edited is refused, or its rig can be worked with: never a page that fails.

make fuzz    the same with many more edits: FUZZ_EXAMPLES
"""

from __future__ import annotations

import copy
import json
import os
import random
import unittest
import zipfile
from collections.abc import Iterator
from importlib.resources import files
from typing import Any

from cross_staff.demo.shop import ARCHIVE
from cross_staff.services.carry.documents import Unreadable, read
from cross_staff.services.carry.take_in import take_in
from tests.rigs import NOON
from tests.web.client import WithClient

EDITS, FIRST = 2 * int(os.environ.get("FUZZ_EXAMPLES", "6")), int(os.environ.get("FUZZ_FIRST", "0"))
PAGES = ("card", "mount", "level", "sight_in", "tape", "prove", "keep", "level.pdf", "sight_in.csv")
NUMBERS = (0.0, 1.0, -1.0, 1e-9, 50.0, 1e6)
WORDS = ("", "x", "strip 99.0", "third", "done", "pin", "turn", "elevation")


def leaves(value: Any, path: tuple[Any, ...] = ()) -> Iterator[tuple[Any, ...]]:
    """The places of everything that is neither an object nor a list."""
    inner = value.items() if isinstance(value, dict) else enumerate(value) if isinstance(value, list) else None
    if inner is None:
        yield path
        return
    for name, each in inner:
        yield from leaves(each, (*path, name))


class Edited(WithClient):
    def edited(self, rig: dict[str, Any], chance: random.Random) -> tuple[Any, ...]:
        """Change one thing somewhere; returns where."""
        log = chance.choice([name for name, records in rig.items() if isinstance(records, list) and records])
        path = chance.choice([each for each in leaves(rig[log], (log,)) if len(each) > 1])
        place: Any = rig
        for part in path[:-1]:
            place = place[part]
        before = place[path[-1]]
        if isinstance(before, bool):
            place[path[-1]] = not before
        elif isinstance(before, int):
            place[path[-1]] = chance.choice((0, 1, -1, before + 1, 99))
        elif isinstance(before, float):
            place[path[-1]] = chance.choice((*NUMBERS, -before, 10.0 * before))
        else:
            place[path[-1]] = chance.choice(WORDS if isinstance(before, str) else (0, 1.5, "x"))
        return path

    def test_it_is_refused_or_works(self) -> None:
        shipped = zipfile.ZipFile(str(files("cross_staff.demo") / ARCHIVE))
        rigs = [json.loads(shipped.read(name)) for name in shipped.namelist() if name.startswith("rigs/")]
        outcomes = []
        for number in range(FIRST, FIRST + EDITS):
            chance = random.Random(number)
            plain = copy.deepcopy(chance.choice(rigs))
            path = self.edited(plain["rig"], chance)
            plain["rig"]["uid"] = f"{number:032x}"
            with self.subTest(number=number, path=path):
                try:
                    taken = take_in(self.database, read(json.dumps(plain).encode()), NOON)
                except Unreadable as error:
                    outcomes.append("refused")
                    self.assertTrue(error.faults)
                    continue
                outcomes.append("taken")
                for page in PAGES:
                    answer = self.client.get(f"/rigs/{taken.rig_id}/{page}")
                    self.assertLess(answer.status_code, 400, page)
        self.assertEqual(self.client.get("/").status_code, 200)
        self.assertEqual(set(outcomes), {"refused", "taken"})


if __name__ == "__main__":
    unittest.main()
