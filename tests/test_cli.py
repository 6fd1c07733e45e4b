"""The command line, as typed."""

from __future__ import annotations

import os
import socket
import subprocess
import sys
import tempfile
import unittest
import urllib.error
import urllib.request
from pathlib import Path

COMMAND = Path(sys.executable).parent / "cross-staff"


def _free_port() -> int:
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        return int(probe.getsockname()[1])


class CommandLine(unittest.TestCase):
    def run_it(self, *words: str) -> subprocess.CompletedProcess[str]:
        return subprocess.run([COMMAND, *words], capture_output=True, text=True, timeout=120, check=False)

    def test_help_everywhere(self) -> None:
        self.assertIn("serve", self.run_it("--help").stdout)
        self.assertIn("CROSS_STAFF_DATA", self.run_it("serve", "--help").stdout)
        self.assertIn("demo data", self.run_it("demo", "--help").stdout)

    def test_a_name_is_no_address_to_listen_on(self) -> None:
        run_it = self.run_it("demo", "--host", "bench.example")
        self.assertEqual(run_it.returncode, 2)
        self.assertIn("not an address", run_it.stderr)

    def test_off_this_machine_it_wants_a_passphrase_first(self) -> None:
        asked = self.run_it("demo", "--host", "0.0.0.0", "--port", "1")
        self.assertNotEqual(asked.returncode, 0)
        environment = os.environ | {"CROSS_STAFF_PASSPHRASE": "slate"}
        words = [COMMAND, "demo", "--host", "0.0.0.0", "--port", str(_free_port())]
        run = subprocess.run(words, capture_output=True, text=True, timeout=120, env=environment, check=False)
        self.assertEqual(run.returncode, 2)
        self.assertIn("at least 12 letters", run.stderr.replace("\n", " "))

    def test_a_taken_port_is_said(self) -> None:
        with socket.socket() as taken, tempfile.TemporaryDirectory() as folder:
            taken.bind(("127.0.0.1", 0))
            taken.listen()
            run_it = self.run_it("serve", "--data", folder, "--port", str(taken.getsockname()[1]))
        self.assertEqual(run_it.returncode, 2)
        self.assertIn("is taken", run_it.stderr)

    def test_the_demo_says_its_address_and_answers(self) -> None:
        with socket.socket() as free:
            free.bind(("127.0.0.1", 0))
            port = free.getsockname()[1]
        with subprocess.Popen([COMMAND, "demo", "--port", str(port)], stdout=subprocess.PIPE, text=True) as demo:
            try:
                self.assertIn(f"http://127.0.0.1:{port}", demo.stdout.readline())  # type: ignore[union-attr]
                self.assertIn("Ledge bow", self.answer(demo, f"http://127.0.0.1:{port}/"))
            finally:
                demo.terminate()

    def answer(self, running: subprocess.Popen[str], address: str) -> str:
        """Ask until it answers, for as long as the command runs."""
        while running.poll() is None:
            try:
                return str(urllib.request.urlopen(address, timeout=60).read().decode())
            except urllib.error.URLError:
                continue
        raise AssertionError(f"{address} did not answer")
