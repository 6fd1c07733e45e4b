"""Run every test; no test at all is a failure."""

from __future__ import annotations

import sys
import unittest

from tests.browser import Chromium


def main() -> int:
    suite = unittest.defaultTestLoader.discover("tests", top_level_dir=".")
    result = unittest.TextTestRunner(verbosity=1, buffer=True).run(suite)
    Chromium.close()
    bad = len(result.failures) + len(result.errors) + len(result.unexpectedSuccesses)
    print(f"{result.testsRun - bad - len(result.skipped)} passed, {bad} failed, {len(result.skipped)} skipped")
    if not result.testsRun:
        print("no test was found", file=sys.stderr)
    return 0 if result.testsRun and not bad else 1


if __name__ == "__main__":
    sys.exit(main())
