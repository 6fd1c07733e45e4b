"""What is done beside the work: the backup of the night, and the write-ahead log brought home when nobody writes."""

from __future__ import annotations

import logging
import threading
from collections.abc import Callable
from datetime import UTC, datetime, timedelta

from cross_staff.services.keeping.backups import Keeping, idle_since, tonight
from cross_staff.storage import backups

EVERY_S = 5.0
IDLE = timedelta(seconds=3)
MOST_LOG = 64_000_000  # bytes of the write-ahead log
_log = logging.getLogger(__name__)


def _now() -> datetime:
    return datetime.now(UTC)


class Keeper:
    """A thread that looks after the data while it is served."""

    def __init__(self, keeping: Keeping, nightly: bool, clock: Callable[[], datetime] = _now) -> None:
        self.keeping, self.nightly, self.clock = keeping, nightly, clock
        self._stop = threading.Event()
        self._thread = threading.Thread(target=self._run, name="keeper", daemon=True)

    def start(self) -> None:
        """Begin."""
        self._thread.start()

    def stop(self) -> None:
        """End, once what is being done is done."""
        self._stop.set()
        self._thread.join(timeout=30.0)

    def _run(self) -> None:
        while not self._stop.wait(EVERY_S):
            try:
                self.look()
            except Exception:  # the next look may go well, and the work must not end for it
                _log.exception("the keeper could not do its work")

    def look(self) -> None:
        """Do what is to be done now."""
        now = self.clock()
        since = idle_since(self.keeping.database_file, now)
        long = backups.waits_in_log(self.keeping.database_file) > MOST_LOG  # nobody was idle for a while
        if long or (since is not None and since >= IDLE):
            backups.checkpoint(self.keeping.database_file)
        if self.nightly:
            state = tonight(self.keeping, now)
            if state is not None and state.failing:
                _log.warning("no backup: %s; %s", state.reason, state.remedy)
