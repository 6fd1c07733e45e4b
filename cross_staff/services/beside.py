"""Rigs, how they stand, and the week of the shop, worked out in a process beside the server: while a whole range is
shooting, no screen with the bench waits for it, and no shot either."""

from __future__ import annotations

import logging
import multiprocessing
import os
import signal
import threading
import time
from collections import deque
from collections.abc import Iterable
from contextlib import suppress
from datetime import UTC, datetime
from multiprocessing.connection import Connection, wait
from pathlib import Path

from cross_staff.core.errors import CrossStaffError
from cross_staff.services.bench import next_old, work_out
from cross_staff.services.plan.page import Known, ShopPlan, known_plan
from cross_staff.services.rig import Rig, open_rig
from cross_staff.storage.database import Database

IDLE_S = 1.0  # until it looks again, where nothing has changed
RESTS = 1.0  # times as long as it worked
NICE = 10  # behind the server, where both want the processor
# the plan of forty rigs takes as long as forty of them: no oftener than this, and behind rigs that somebody looks at
# until it has waited so long
PLAN_S, PLAN_WAITS_S = 60.0, 180.0
ANSWER_S = 20.0  # as long a page waits for what is reckoned there
_log = logging.getLogger(__name__)


class Worker:
    """Works out one rig after another whose records have changed, and the plan now and then where somebody looks at
    it."""

    def __init__(self, database: Database) -> None:
        self.database = database
        self.plan: tuple[Known, ShopPlan] | None = None  # that was made just now
        self._last: int | None = None
        self._wanted: deque[int] = deque()
        self._plan_wanted, self._planned = False, time.monotonic() - PLAN_S

    def hear(self, wanted: list[int] | None) -> None:
        """What somebody looks at: these rigs, which come before all others, or the plan (None)."""
        if wanted is None:
            self._plan_wanted = True
        else:
            self._wanted = deque(wanted)

    def work(self) -> float:
        """Work one rig out, or the plan; returns how long to rest then [s]."""
        begun = time.monotonic()
        try:
            if self._plan_wanted and begun - self._planned >= (PLAN_WAITS_S if self._wanted else PLAN_S):
                self._plan_wanted, self._planned = False, begun
                self.plan = known_plan(self.database, datetime.now(UTC))
            elif (rig_id := self._next()) is None:
                return IDLE_S
            else:
                work_out(self.database, rig_id)
        except CrossStaffError as error:  # the data is held, or cannot be read just now: the next look may go well
            _log.info("not worked out: %s", error)
            return IDLE_S
        except Exception:
            _log.exception("a rig could not be worked out beside the pages")
            return IDLE_S
        return RESTS * (time.monotonic() - begun)

    def _next(self) -> int | None:
        """The rig whose turn it is; one that fails does not keep the others waiting."""
        if self._wanted:
            return self._wanted.popleft()
        self._last = next_old(self.database, self._last)
        return self._last


class Beside:
    """The process with the worker, which reckons for the pages too; it ends with this one, however this one ends."""

    def __init__(self, file: Path) -> None:
        (self._line, line), (self._asks, asks) = multiprocessing.Pipe(), multiprocessing.Pipe()
        spawned = multiprocessing.get_context("spawn")
        self._process = spawned.Process(target=_run, args=(file, line, asks), name="beside", daemon=True)
        self._telling, self._asking, self._number = threading.Lock(), threading.Lock(), 0
        self._made: list[tuple[Known, ShopPlan]] = []

    def start(self) -> None:
        """Begin."""
        self._process.start()

    def stop(self) -> None:
        """End."""
        if self._process.pid is not None:
            self._process.terminate()
            self._process.join(timeout=10.0)

    @property
    def works(self) -> bool:
        """Whether rigs are worked out beside the pages."""
        return self._process.pid is not None and self._process.is_alive()

    def rig(self, rig_id: int) -> Rig | None:
        """A rig as it stands, reckoned there; None where it cannot be, or does not come: the page reckons for itself
        then, and says what is wrong."""
        with self._asking, suppress(OSError, EOFError):
            if not self.works:
                return None
            self._number += 1
            self._asks.send((self._number, rig_id))
            while self._asks.poll(ANSWER_S):
                number, rig = self._asks.recv()
                if number == self._number:
                    return rig if isinstance(rig, Rig) else None
        return None

    def want(self, rig_ids: Iterable[int]) -> None:
        """Work these out before all others: somebody looks at them."""
        self._tell(list(rig_ids))

    def want_plan(self) -> None:
        """Work the plan out anew, within a minute: somebody looks at what was made before."""
        self._tell(None)

    def _tell(self, what: list[int] | None) -> None:
        with self._telling, suppress(OSError, EOFError):
            self._take()  # else both could wait for the other to read
            self._line.send(what)

    def plans(self) -> list[tuple[Known, ShopPlan]]:
        """The plans that were made since this was asked, oldest first."""
        with self._telling:
            with suppress(OSError, EOFError):
                self._take()
            made, self._made = self._made, []
            return made

    def _take(self) -> None:
        """What was made by now: the worker waits until a long plan is read."""
        while self._line.poll():
            self._made.append(self._line.recv())


def _run(file: Path, line: Connection, asks: Connection) -> None:
    signal.signal(signal.SIGINT, signal.SIG_IGN)  # the server says when it ends
    os.nice(NICE)
    parent = multiprocessing.parent_process()
    assert parent is not None
    database = Database(file)
    threading.Thread(target=_answer, args=(database, asks), daemon=True).start()
    worker, due = Worker(database), 0.0
    while True:
        if parent.sentinel in wait([line, parent.sentinel], timeout=max(due - time.monotonic(), 0.0)):
            return
        while line.poll():
            worker.hear(line.recv())
        if time.monotonic() >= due:
            due = worker.work() + time.monotonic()
        if worker.plan is not None:
            line.send(worker.plan)
            worker.plan = None


def _answer(database: Database, asks: Connection) -> None:
    """Reckon what a page waits for, whatever else is being worked out: a plan takes seconds."""
    with suppress(EOFError, OSError):
        while True:
            number, rig_id = asks.recv()
            try:
                rig = open_rig(database, rig_id)
            except Exception:  # the page finds the same, and says it
                asks.send((number, None))
            else:
                asks.send((number, rig))
