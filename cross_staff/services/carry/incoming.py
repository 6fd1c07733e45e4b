"""A file that was sent and is looked at before it is taken in: kept for a day, by a name that nobody guesses."""

from __future__ import annotations

import re
import secrets
from datetime import datetime, timedelta
from pathlib import Path

from cross_staff.core.errors import NotFound, NotKept
from cross_staff.storage.files import put_file

FOLDER = "incoming"
KEPT_FOR = timedelta(days=1)
_TOKEN = re.compile(r"[0-9a-f]{32}")


def hold(data: Path, content: bytes, now: datetime) -> str:
    """Keep a file; returns the name that it is asked for by. Those that nobody took in are let go after a day.

    Raises: NotKept.
    """
    folder = data / FOLDER
    try:
        folder.mkdir(mode=0o700, exist_ok=True)
        for each in folder.iterdir():
            if now.timestamp() - each.stat().st_mtime > KEPT_FOR.total_seconds():
                each.unlink(missing_ok=True)
    except OSError as error:
        raise NotKept(f"{folder} cannot be used: {error.strerror}", "look at the disk, then try again") from error
    token = secrets.token_hex(16)
    put_file(folder / token, content)
    return token


def held(data: Path, token: str) -> bytes:
    """A file that was sent. Raises NotFound for one that was taken in, or let go."""
    if not _TOKEN.fullmatch(token) or not (data / FOLDER / token).is_file():
        raise NotFound("that file is not here any more: send it again")
    return (data / FOLDER / token).read_bytes()


def let_go(data: Path, token: str) -> None:
    """It was taken in, or is not wanted."""
    if _TOKEN.fullmatch(token):
        (data / FOLDER / token).unlink(missing_ok=True)
