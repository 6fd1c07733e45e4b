"""Results that were looked at once and are kept in a file: they change only where somebody means it."""

from __future__ import annotations

import json
import math
import os
import unittest
from pathlib import Path
from typing import Any


class WithKept(unittest.TestCase):
    """`UPDATE_KEPT=1 python -m unittest ...` writes them anew: look at what changed before keeping it."""

    def assert_kept(self, file: Path, now: dict[str, Any]) -> None:
        """Everything is as in the file, by its name."""
        if os.environ.get("UPDATE_KEPT"):
            file.write_text(json.dumps(now, indent=0, ensure_ascii=False) + "\n")
        before = json.loads(file.read_text())
        self.assertEqual(sorted(now), sorted(before))
        for name, made in now.items():
            with self.subTest(name):
                self.assertEqual(len(made), len(before[name]))
                apart = [pair for pair in zip(made, before[name]) if not alike(*pair)]
                self.assertEqual(apart, [])


def alike(one: Any, other: Any) -> bool:
    """The same; numbers to a millionth, which no processor's last digit reaches."""
    if isinstance(one, float) and isinstance(other, float):
        return math.isclose(one, other, rel_tol=1e-6, abs_tol=1e-9)
    return bool(one == other)
