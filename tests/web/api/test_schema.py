"""The calculators under generated requests: no server error, every answer as declared."""

from __future__ import annotations

import os
import subprocess
import sys
import unittest
from pathlib import Path

from tests.browser import LiveServer

SECONDS, SEED = int(os.environ.get("FUZZ_SECONDS", "20")), os.environ.get("FUZZ_FIRST", "1")


class Schema(unittest.TestCase):
    def test_schemathesis_finds_nothing(self) -> None:
        server = LiveServer(fill_with=None)
        self.addCleanup(server.stop)
        checks = "not_a_server_error,status_code_conformance,response_schema_conformance,content_type_conformance"
        run = subprocess.run(
            [
                Path(sys.executable).parent / "schemathesis", "run", f"{server.address}/openapi.json",
                "--phases", "coverage,fuzzing", "--max-examples", str(SECONDS), "--max-time", str(SECONDS),
                "--checks", checks, "--seed", SEED, "--no-color",
            ],
            capture_output=True, text=True, timeout=300 + 2 * SECONDS, check=False,
        )  # fmt: skip
        self.assertEqual(run.returncode, 0, run.stdout[-3000:])
        self.assertIn("Selected: 12/12", run.stdout)
