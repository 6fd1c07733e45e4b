"""Run every test in two processes, a class at a time; no test at all is a failure.

`python -m tests` runs all, `python -m tests NAME...` those whose dotted names hold one of the words.
"""

from __future__ import annotations

import io
import multiprocessing
import multiprocessing.util
import os
import sys
import tempfile
import time
import unittest
from collections import defaultdict
from collections.abc import Iterator
from concurrent.futures import ProcessPoolExecutor, as_completed
from dataclasses import dataclass
from pathlib import Path
from unittest import mock

from tests.data import FOLDER

WORKERS = int(os.environ.get("TEST_WORKERS", "2"))
SLOWEST = 10
# two processes on two cores: each reckons on one
for name in ("OPENBLAS_NUM_THREADS", "OMP_NUM_THREADS", "MKL_NUM_THREADS"):
    os.environ.setdefault(name, "1")


@dataclass
class Ran:
    """What became of the tests of one class."""

    name: str
    passed: int
    failed: int
    skipped: int
    told: list[str]
    seconds: dict[str, float]


class Timed(unittest.TextTestResult):
    """A result that keeps how long each test took, its preparation included."""

    def __init__(self, *arguments: object, **named: object) -> None:
        super().__init__(*arguments, **named)  # type: ignore[arg-type]
        self.seconds: dict[str, float] = {}

    def startTest(self, test: unittest.TestCase) -> None:  # noqa: N802
        self._start = time.perf_counter()
        super().startTest(test)

    def stopTest(self, test: unittest.TestCase) -> None:  # noqa: N802
        super().stopTest(test)
        self.seconds[test.id()] = time.perf_counter() - self._start


def tests_of(suite: unittest.TestSuite) -> Iterator[unittest.TestCase]:
    """The single tests of a suite."""
    for each in suite:
        if isinstance(each, unittest.TestSuite):
            yield from tests_of(each)
        else:
            yield each


def classes(words: list[str]) -> list[tuple[str, list[str]]]:
    """Every class with the names of its tests, what opens a browser first: it is the longest.

    Args:
        words: Parts of dotted names; only tests that hold one of them, all where it is empty.

    Returns:
        Pairs of a dotted name of a class and the dotted names of its tests.

    Raises:
        SystemExit: where a file of tests cannot be loaded.
    """
    from tests.browser import InBrowser

    loader = unittest.TestLoader()
    suite = loader.discover("tests", top_level_dir=".")
    if loader.errors:
        sys.exit("\n".join(loader.errors))
    of_class: dict[type, list[str]] = defaultdict(list)
    for test in tests_of(suite):
        if not words or any(word in test.id() for word in words):
            of_class[type(test)].append(test.id())
    first = sorted(of_class, key=lambda kind: not (issubclass(kind, InBrowser) or getattr(kind, "takes_long", False)))
    return [(f"{kind.__module__}.{kind.__qualname__}", of_class[kind]) for kind in first]


def begin() -> None:
    """What a process does before its first class: see that its browser is closed at its end."""
    from tests.browser import Chromium

    multiprocessing.util.Finalize(None, Chromium.close, exitpriority=10)


def run(name: str, tests: list[str]) -> Ran:
    """Run the tests of one class in this process."""
    start = time.perf_counter()
    suite = unittest.defaultTestLoader.loadTestsFromNames(tests)
    runner = unittest.TextTestRunner(stream=io.StringIO(), verbosity=0, buffer=True, resultclass=Timed)
    result = runner.run(suite)
    assert isinstance(result, Timed)
    around = time.perf_counter() - start - sum(result.seconds.values())
    told = [("ERROR", *each) for each in result.errors] + [("FAIL", *each) for each in result.failures]
    told += [("PASSED, against what was expected", test, "") for test in result.unexpectedSuccesses]
    failed = {getattr(test, "test_case", test).id() for _, test, _ in told}  # a test once, whatever parts of it fail
    counts = max(result.testsRun - len(failed) - len(result.skipped), 0), len(failed), len(result.skipped)
    ran = Ran(name, *counts, [f"{kind}: {test}\n{trace}" for kind, test, trace in told], result.seconds)
    ran.seconds[f"{name} (around its tests)"] = around
    return ran


def main() -> int:
    start = time.perf_counter()
    done: list[Ran] = []
    # spawned, since a forked copy would share the browser's pipes
    with (
        tempfile.TemporaryDirectory(prefix="cross-staff-tests-") as shared,
        mock.patch.dict(os.environ, {FOLDER: shared}),
        ProcessPoolExecutor(WORKERS, multiprocessing.get_context("spawn"), begin) as pool,
    ):
        waiting = [pool.submit(run, name, tests) for name, tests in classes(sys.argv[1:])]
        for each in as_completed(waiting):
            done.append(each.result())
            print("." * done[-1].passed + "s" * done[-1].skipped + "F" * done[-1].failed, end="", flush=True)
    print()
    for told in (told for ran in done for told in ran.told):
        print("=" * 70, told, sep="\n")
    seconds = {test: took for ran in done for test, took in ran.seconds.items()}
    slowest = sorted(seconds, key=lambda test: -seconds[test])
    print(f"the {SLOWEST} slowest:", *(f"{seconds[test]:7.1f} s  {test}" for test in slowest[:SLOWEST]), sep="\n")
    if path := os.environ.get("TEST_TIMES"):
        Path(path).write_text("".join(f"{seconds[test]:.2f} {test}\n" for test in slowest))
    passed, failed, skipped = (sum(getattr(ran, name) for ran in done) for name in ("passed", "failed", "skipped"))
    print(f"{passed} passed, {failed} failed, {skipped} skipped in {time.perf_counter() - start:.0f} s")
    if not passed + failed + skipped:
        print("no test was found", file=sys.stderr)
    return 0 if passed and not failed else 1
