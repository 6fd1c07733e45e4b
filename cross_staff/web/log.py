"""The log of the program, on its standard error: a line each, with its time, whatever a request is made of."""

from __future__ import annotations

import logging
import time

FORMAT = "%(asctime)s %(levelname)s %(name)s %(message)s"
TIME = "%Y-%m-%dT%H:%M:%SZ"  # UTC


class OneLine(logging.Formatter):
    """A message stays one line, and says nothing to a terminal: what is no letter is written by its number. Below it
    the traceback, where there is one."""

    converter = staticmethod(time.gmtime)

    def __init__(self) -> None:
        super().__init__(FORMAT, TIME)

    def formatMessage(self, record: logging.LogRecord) -> str:  # noqa: N802
        line = super().formatMessage(record)
        return "".join(letter if letter.isprintable() else ascii(letter)[1:-1] for letter in line)


def begin(level: int = logging.INFO) -> None:
    """Write the program's own lines, of this weight and more."""
    handler = logging.StreamHandler()
    handler.setFormatter(OneLine())
    own = logging.getLogger("cross_staff")
    own.handlers, own.propagate = [handler], False
    own.setLevel(level)
