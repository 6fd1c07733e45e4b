"""Files outside the database: written whole or not at all."""

from __future__ import annotations

import os
import threading
from collections.abc import Iterator
from contextlib import contextmanager, suppress
from pathlib import Path

from cross_staff.core.errors import NotKept


def not_written(path: Path, error: OSError) -> NotKept:
    """What stands in the way of writing a file, in words."""
    reason = (error.strerror or str(error)).lower()
    return NotKept(f"{path} cannot be written: {reason}", "make room, or name another place")


@contextmanager
def whole_or_nothing(target: Path) -> Iterator[Path]:
    """A path beside the target to write to; afterwards it takes the target's place at once, and where the writing fails
    it is removed and the target stays as it was. Raises NotKept."""
    draft = target.with_name(f".{target.name}.{os.getpid()}-{threading.get_ident()}.part")
    try:
        yield draft
        with draft.open("rb+") as written:
            os.fsync(written.fileno())
        with suppress(OSError):  # a disk of another system knows no owners
            draft.chmod(0o600)
        draft.replace(target)
        _sync_folder(target.parent)
    except OSError as error:
        raise not_written(target, error) from error
    finally:
        for path in (draft, *(draft.with_name(f"{draft.name}{end}") for end in ("-wal", "-shm", "-journal"))):
            path.unlink(missing_ok=True)


def _sync_folder(folder: Path) -> None:
    handle = os.open(folder, os.O_RDONLY)
    try:
        os.fsync(handle)
    finally:
        os.close(handle)


def put_file(target: Path, content: bytes) -> None:
    """Write a file, in place of one of its name. Raises NotKept."""
    with whole_or_nothing(target) as draft:
        draft.touch(0o600)
        draft.write_bytes(content)
