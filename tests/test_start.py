"""What stands in the way of starting is said in one line, with what to do about it."""

from __future__ import annotations

import os
import socket
import sqlite3
import stat
import subprocess
import sys
import tempfile
import time
import unittest
from collections.abc import Iterator
from contextlib import closing, contextmanager
from pathlib import Path
from unittest import mock

from cross_staff.core.errors import NotKept
from cross_staff.storage.database import Database
from cross_staff.storage.serving import only_server
from cross_staff.web import connections, security
from tests.browser import LiveServer

COMMAND = Path(sys.executable).parent / "cross-staff"
NOBODY = 65534


@contextmanager
def as_another_user() -> Iterator[None]:
    """What the owner of everything may do says nothing: be somebody else for a while, where that is possible."""
    if os.geteuid() != 0:
        yield
        return
    os.seteuid(NOBODY)
    try:
        yield
    finally:
        os.seteuid(0)


class Starting(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory(prefix="cross-staff-test-")
        self.addCleanup(folder.cleanup)
        self.data = Path(folder.name) / "data"
        self.file = self.data / "cross-staff.sqlite3"

    def made(self) -> None:
        database = Database(self.file)
        database.migrate()
        database.close()

    def refused(self, *words: str) -> str:
        """The one line that the command says before it ends with 1."""
        with socket.socket() as free:
            free.bind(("127.0.0.1", 0))
            port = free.getsockname()[1]
        asked = [COMMAND, "serve", "--data", str(self.data), "--port", str(port), *words]
        ended = subprocess.run(asked, capture_output=True, text=True, timeout=120, check=False)
        self.assertEqual((ended.returncode, ended.stdout), (1, ""), ended.stderr)
        self.assertNotIn("Traceback", ended.stderr)
        (line,) = ended.stderr.strip().splitlines()
        return line

    def test_a_newer_layout(self) -> None:
        self.made()
        with closing(sqlite3.connect(self.file)) as other, other:
            other.execute("UPDATE alembic_version SET version_num = '0999'")
        said = self.refused()
        self.assertIn("written by a newer version", said)
        self.assertIn("Start that version", said)

    def test_a_file_that_is_no_database(self) -> None:
        self.data.mkdir()
        self.file.write_text("rigs and their revisions, on paper " * 200)
        self.assertIn("is no database", self.refused())

    def test_a_damaged_file(self) -> None:
        self.made()
        with closing(sqlite3.connect(self.file)) as other:
            other.execute("PRAGMA wal_checkpoint(TRUNCATE)")
        size = self.file.stat().st_size
        with self.file.open("r+b") as file:
            for place in range(4096, size - 4096, 4096):
                file.seek(place)
                file.write(b"\xff" * 600)
        self.assertIn("damaged", self.refused())

    def test_a_folder_that_cannot_be_made(self) -> None:
        self.data.write_text("a file where the folder should be")
        said = self.refused()
        self.assertIn("cannot be used: not a directory", said)
        self.assertIn("Name another", said)

    def test_another_server_on_the_folder(self) -> None:
        self.made()
        with only_server(self.data):
            said = self.refused()
            self.assertIn(f"another server works on {self.data} (process {os.getpid()})", said)
        with only_server(self.data):
            pass  # the lock went with its holder

    def test_no_permission(self) -> None:
        self.made()
        Path(self.data).chmod(0o755)
        Path(self.data.parent).chmod(0o755)
        self.file.chmod(0o400)
        with as_another_user(), self.assertRaisesRegex(NotKept, "may not be written"):
            Database(self.file)
        self.file.chmod(0o600)

    def test_what_is_read_only_is_said_so(self) -> None:
        self.made()
        database = Database(self.file)
        self.addCleanup(database.close)
        with self.assertRaisesRegex(NotKept, "read but not written"), database.writing() as connection:
            connection.exec_driver_sql("PRAGMA query_only = ON")
            connection.exec_driver_sql("DELETE FROM alembic_version")

    def test_folder_and_files_are_the_users_alone(self) -> None:
        with only_server(self.data):
            self.made()
        self.assertEqual(stat.S_IMODE(self.data.stat().st_mode), 0o700)
        for file in self.data.iterdir():
            self.assertEqual(stat.S_IMODE(file.stat().st_mode), 0o600, file.name)

    def test_a_taken_port_is_said_before_the_demo_is_filled(self) -> None:
        with socket.socket() as taken, mock.patch("cross_staff.demo.shop.fill") as fill:
            taken.bind(("127.0.0.1", 0))
            taken.listen()
            from typer.testing import CliRunner

            from cross_staff.cli import app

            ended = CliRunner().invoke(app, ["demo", "--port", str(taken.getsockname()[1])])
        self.assertEqual(ended.exit_code, 2)
        fill.assert_not_called()


class Connections(unittest.TestCase):
    def test_one_that_sends_nothing_is_closed_and_leaves_no_trace(self) -> None:
        with mock.patch.object(connections, "HEAD_SECONDS", 0.2), mock.patch.object(security, "BODY_SECONDS", 0.2):
            server = LiveServer(fill_with=None)
            self.addCleanup(server.stop)
            host, port = server.address.removeprefix("http://").split(":")
            for sent in (b"", b"GET / HTT", b"GET / HTTP/1.1\r\nHost: 127.0.0.1\r\n"):
                with self.subTest(sent), socket.create_connection((host, int(port)), timeout=30) as slow:
                    slow.sendall(sent)
                    self.assertEqual(slow.recv(100), b"", "it was not closed")
            slow_body = b"POST /rigs HTTP/1.1\r\nHost: 127.0.0.1:%s\r\nContent-Length: 50\r\n" % port.encode()
            slow_body += b"Content-Type: application/x-www-form-urlencoded\r\n\r\nname="
            with socket.create_connection((host, int(port)), timeout=30) as slow:
                slow.sendall(slow_body)
                self.assertIn(b"408", slow.recv(200))
            with self.assertNoLogs("uvicorn.error"), self.assertNoLogs("cross_staff"):
                with socket.create_connection((host, int(port)), timeout=30) as gone:
                    gone.sendall(slow_body)
                time.sleep(0.05)  # it has gone away; nothing waits on this


class Packages(unittest.TestCase):
    def test_each_is_pinned_with_the_sums_of_its_files_and_no_address(self) -> None:
        for name in ("requirements.txt", "requirements-dev.txt"):
            text = Path(name).read_text()
            packages = [each for each in text.replace("\\\n", " ").splitlines() if each.strip()]
            self.assertGreater(len(packages), 30, name)
            for package in packages:
                self.assertRegex(package, r"^[a-z0-9._-]+==\S+.*--hash=sha256:[0-9a-f]{64}", name)
            self.assertNotIn("://", text)


if __name__ == "__main__":
    unittest.main()
