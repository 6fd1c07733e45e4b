"""The program as it is served, in a process of its own: phones shoot at it and screens look on, while it is killed,
finds the data held by another program, or no room on its disk. What was acknowledged is compared with what is kept."""

from __future__ import annotations

import http.client
import json
import os
import random
import re
import resource
import signal
import socket
import sqlite3
import subprocess
import sys
import threading
import time
from collections.abc import Callable, Iterator
from contextlib import closing, contextmanager
from dataclasses import dataclass, field
from pathlib import Path
from urllib.parse import urlencode

from cross_staff.storage import range_log
from cross_staff.storage.database import Database
from tests.web.client import fields

HOST = "127.0.0.1"
AN_END = 6
ANSWER_S = 15.0  # as the page waits
SHOT, RANGE, BENCH, SOON = "shot", "page of the range", "bench", "what is due"


@dataclass(frozen=True)
class Answer:
    """An answer: in which part of the soak, what was asked, its status (0 where nobody answered), how long it took."""

    part: str
    what: str
    status: int
    seconds: float
    body: str = field(default="", compare=False, repr=False)


class Served:
    """`cross-staff serve` on a folder, at one port, however often it is killed and started again."""

    def __init__(self, data: Path, busy_timeout_ms: int = 5000) -> None:
        with closing(socket.socket()) as free:
            free.bind((HOST, 0))
            self.port = int(free.getsockname()[1])
        self.data, self.part = data, ""
        self.answers: list[Answer] = []
        self._busy = str(busy_timeout_ms)
        self._process: subprocess.Popen[bytes] | None = None

    @property
    def file(self) -> Path:
        return self.data / "cross-staff.sqlite3"

    @property
    def pid(self) -> int:
        assert self._process is not None
        return self._process.pid

    def start(self) -> None:
        """Until it answers."""
        command = [Path(sys.executable).parent / "cross-staff", "serve", "--data", self.data, "--port", str(self.port)]
        with (self.data / "served.log").open("ab") as log:
            environment = os.environ | {"CROSS_STAFF_BUSY_TIMEOUT_MS": self._busy}
            self._process = subprocess.Popen(command, env=environment, stdout=log, stderr=log)
        while self.ask("start", "/health").status != 200:
            if self._process.poll() is not None:
                raise RuntimeError(f"it ended with {self._process.returncode}; {self.data / 'served.log'} says why")
            time.sleep(0.05)

    def stop(self, how: int = signal.SIGTERM) -> None:
        """Ended, gently or not."""
        if self._process is not None:
            self._process.send_signal(how)
            self._process.wait(60.0)

    def ask(self, what: str, path: str, data: dict[str, str] | None = None) -> Answer:
        """Ask it something; how long that took is kept."""
        begun, status, text = time.perf_counter(), 0, ""
        headers = {"HX-Request": "true", "Content-Type": "application/x-www-form-urlencoded"} if data else {}
        with closing(http.client.HTTPConnection(HOST, self.port, timeout=ANSWER_S)) as line:
            try:
                line.request("POST" if data else "GET", path, urlencode(data) if data else None, headers)
                answer = line.getresponse()
                text, status = answer.read().decode(), answer.status
            except (OSError, http.client.HTTPException):
                status = 0
        answered = Answer(self.part, what, status, time.perf_counter() - begun, text)
        self.answers.append(answered)
        return answered

    def memory_mb(self) -> float:
        """What it and the process beside it hold of memory now."""
        held = (Path(f"/proc/{each}/status").read_text() for each in (self.pid, *self.beside()))
        return sum(int(kb) for status in held for kb in re.findall(r"VmRSS:\s+(\d+)", status)) / 1024.0

    def beside(self) -> list[int]:
        """The processes that it started."""
        return [int(each) for each in Path(f"/proc/{self.pid}/task/{self.pid}/children").read_text().split()]

    @contextmanager
    def held(self) -> Iterator[None]:
        """Another program holds the data."""
        with closing(sqlite3.connect(self.file, isolation_level=None, timeout=60.0)) as other:
            other.execute("BEGIN IMMEDIATE")
            yield
            other.execute("ROLLBACK")

    @contextmanager
    def no_room(self) -> Iterator[None]:
        """Nothing that it writes finds room: the system refuses it, as a full disk does, wherever it stands."""
        before = resource.prlimit(self.pid, resource.RLIMIT_FSIZE)
        resource.prlimit(self.pid, resource.RLIMIT_FSIZE, (0, before[1]))
        yield
        resource.prlimit(self.pid, resource.RLIMIT_FSIZE, before)


def runs(pid: int) -> bool:
    """Whether a process is still at work."""
    try:
        return Path(f"/proc/{pid}/stat").read_text().rpartition(")")[2].split()[0] != "Z"
    except FileNotFoundError:
        return False


@dataclass
class HeldEnd:
    """An end as the phone has it: what stands over it, its shots, how many of them were acknowledged."""

    values: dict[str, str]
    shots: list[dict[str, object]] = field(default_factory=list)
    sent: int = 0


class Phone:
    """A phone at the range: every tap stays here until it was acknowledged, and is sent again until it is."""

    def __init__(self, served: Served, rig_id: int) -> None:
        self.served, self.rig_id = served, rig_id
        self._chance = random.Random(rig_id)
        self.ends: list[HeldEnd] = []
        self._an_end = 1 + rig_id % AN_END  # of the first: not all come to the end of one at once
        self.refused: list[Answer] = []
        while (page := self._page()).status != 200:  # loaded again, as one does
            time.sleep(1.0)
        form = re.search(r'<form[^>]*id="end".*?</form>', page.body, re.S)
        assert form is not None, page
        self._form = fields(form.group(0))

    def _page(self) -> Answer:
        return self.served.ask(RANGE, f"/rigs/{self.rig_id}/sight_in")

    def tap(self) -> None:
        """An arrow."""
        if not self.ends or len(self.ends[-1].shots) == self._an_end:
            self._an_end = AN_END if self.ends else self._an_end
            self.ends.append(HeldEnd(self._form | {"key": f"soak-{self.rig_id}-{len(self.ends)}", "seen": ""}))
        shots = self.ends[-1].shots
        right, up = (round(self._chance.gauss(0.0, 15.0), 1) for _ in range(2))
        shots.append({"key": f"s{len(shots)}", "right": right, "up": up, "bad": False})

    def send(self) -> bool:
        """Send what waits, in its order, then show the page where an end is done; whether all is there."""
        done = False
        for end in self.ends:
            if end.sent == len(end.shots):
                continue
            count = len(end.shots)
            data = end.values | {"placed": json.dumps(end.shots)}
            answer = self.served.ask(SHOT, f"/rigs/{self.rig_id}/sight_in/end", data)
            if answer.status in (0, 503):
                return False
            told = json.loads(answer.body) if answer.status == 200 else {}
            if told.get("kept") != count:
                self.refused.append(answer)
                return False
            end.sent, end.values["seen"] = count, told["seen"]
            done = done or end is not self.ends[-1] or count == self._an_end
        if done:
            self._page()
        return True


def kept_shots(file: Path, phones: list[Phone]) -> list[str]:
    """What is not as the phones have it, a line each: an arrow that was acknowledged and is lost, that is there twice,
    that stands elsewhere; a file that is damaged."""
    wrong, database = [], Database(file)
    for phone in phones:
        with database.reading() as connection:
            kept = {end.key: end for end in range_log.ends(connection, phone.rig_id)}
        for end in phone.ends:
            there = kept.get(end.values["key"])
            places = [(s.key, 1000.0 * s.right_m, 1000.0 * s.up_m) for s in there.shots] if there else []
            sent = [(s["key"], s["right"], s["up"]) for s in end.shots[: end.sent]]
            same = [a[0] == b[0] and a[1:] == tuple(round(v, 1) for v in b[1:]) for a, b in zip(sent, places)]
            if len(places) < len(sent) or not all(same):
                wrong.append(f"rig {phone.rig_id}, {end.values['key']}: {places} in place of {sent}")
        wrong += [f"rig {phone.rig_id} was refused: {answer}" for answer in phone.refused]
    with database.reading() as connection:
        query = "SELECT rig_id, end_key, key, count(*) FROM range_shots WHERE end_key LIKE 'soak-%' GROUP BY 1, 2, 3"
        wrong += [f"twice: {row}" for row in connection.exec_driver_sql(query) if row[3] != 1]
        state = connection.exec_driver_sql("PRAGMA integrity_check").scalar()
        wrong += [] if state == "ok" else [f"the file: {state}"]
    database.close()
    return wrong


class Soak:
    """Phones that shoot at a pace, and screens that look, until they are stopped."""

    def __init__(self, served: Served, rig_ids: list[int], screens: int) -> None:
        self.served = served
        self.phones = [Phone(served, rig_id) for rig_id in rig_ids]
        self.pace_s, self.retry_s, self.look_s = 5.0, 3.0, 5.0
        self._stop = threading.Event()
        self._threads = [threading.Thread(target=self._shoot, args=(phone,)) for phone in self.phones]
        self._threads += [threading.Thread(target=self._look, args=(n / screens,)) for n in range(screens)]

    def alone(self, rounds: int) -> None:
        """Every phone shoots in its turn, with nobody else; between them a screen looks."""
        for _ in range(rounds):
            for place, phone in enumerate(self.phones):
                phone.tap()
                phone.send()
                if place % 5 == 0:
                    self.see()

    def see(self) -> None:
        """What a screen with the bench on it asks for."""
        self.served.ask(BENCH, "/")
        self.served.ask(SOON, "/plan/soon")

    def start(self) -> None:
        """All at once, each at a moment of its own."""
        for thread in self._threads:
            thread.start()

    def stop(self) -> None:
        """No arrow more; what waits is sent until all of it is there."""
        self._stop.set()
        for thread in self._threads:
            if thread.ident is not None:
                thread.join()

    def _shoot(self, phone: Phone) -> None:
        self._stop.wait(random.Random(phone.rig_id).uniform(0.0, self.pace_s))
        while not self._stop.is_set():
            phone.tap()
            due = time.monotonic() + self.pace_s
            there = phone.send()
            while not self._stop.wait(max(min(due - time.monotonic(), self.retry_s), 0.0)):
                if time.monotonic() >= due:
                    break
                there = there or phone.send()
        while not phone.send():
            time.sleep(self.retry_s)

    def _look(self, moment: float) -> None:
        self._stop.wait(moment * self.look_s)
        while not self._stop.wait(self.look_s):
            self.see()

    def killed(self, times: int, longest_s: float) -> None:
        """Killed at any moment, and started again, so often."""
        chance = random.Random(times)
        for _ in range(times):
            time.sleep(chance.uniform(0.05, longest_s))
            self.served.stop(signal.SIGKILL)
            self.served.start()

    def count(self, part: str, what: str = "", fits: Callable[[Answer], bool] = lambda answer: True) -> int:
        """How many answers."""
        return len([a for a in self.served.answers if a.part == part and a.what == (what or a.what) and fits(a)])


def percentile_ms(answers: list[Answer], part: str, what: str, share: float = 0.95) -> float:
    """How long all but so many took, of those that were answered [ms]."""
    took = sorted(a.seconds for a in answers if (a.part, a.what) == (part, what) and a.status == 200)
    return 1000.0 * took[min(int(share * len(took)), len(took) - 1)] if took else float("nan")
