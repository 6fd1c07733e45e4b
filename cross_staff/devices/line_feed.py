"""Bytes as they come, cut into lines; whatever comes, it keeps no more than one line."""

from __future__ import annotations

from cross_staff.devices.protocol import MOST_LINE


class LineFeed:
    """Cuts what comes into lines. A line that is too long is passed over to its end, and counted."""

    def __init__(self) -> None:
        self._rest = b""
        self._overlong = False
        self.too_long = 0

    def feed(self, chunk: bytes) -> list[bytes]:
        """The lines that are complete by now, without their ends; empty ones are none."""
        *complete, rest = (self._rest + chunk).split(b"\n")
        lines = []
        for line in complete:
            if self._overlong:
                self._overlong = False  # the end of the line that was passed over
            elif len(line) > MOST_LINE:
                self.too_long += 1
            elif line.strip():
                lines.append(line.strip())
        if self._overlong or len(rest) > MOST_LINE:
            self.too_long += not self._overlong
            self._overlong, rest = True, b""
        self._rest = rest
        return lines
