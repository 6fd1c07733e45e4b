"""One server on a data folder: a lock that goes with the process, however it ends."""

from __future__ import annotations

import fcntl
import os
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

from cross_staff.core.errors import NotKept

LOCK = "serving.lock"


@contextmanager
def only_server(data: Path) -> Iterator[None]:
    """Hold the data folder for one server. Raises NotKept while another has it, or where it cannot be used."""
    try:
        if not data.exists():
            data.mkdir(parents=True, mode=0o700)
        handle = os.open(data / LOCK, os.O_RDWR | os.O_CREAT, 0o600)
    except OSError as error:
        reason = (error.strerror or str(error)).lower()
        raise NotKept(f"the folder {data} cannot be used: {reason}", "name another with --data") from error
    with os.fdopen(handle, "r+") as lock:
        try:
            fcntl.flock(lock, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except OSError as error:
            who = lock.read(20).strip() or "not known"
            busy = f"another server works on {data} (process {who})"
            raise NotKept(busy, "use that one, stop it, or name another folder with --data") from error
        lock.seek(0)
        lock.truncate()
        lock.write(str(os.getpid()))
        lock.flush()
        yield
