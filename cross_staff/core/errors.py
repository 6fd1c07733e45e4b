"""What can go wrong, as a small tree.

CrossStaffError
    InvalidValue      a number or word that cannot be right; names its field
    OutOfReach        this arrow cannot get there
    NotFound          no such record
    StaleRevision     somebody saved a newer revision meanwhile
"""

from __future__ import annotations


class CrossStaffError(Exception):
    """The root: every error that this program raises on purpose."""


class InvalidValue(CrossStaffError, ValueError):
    """A value that cannot be right. `field` names the argument, `message` what would be right."""

    def __init__(self, field: str, message: str) -> None:
        super().__init__(f"{field}: {message}")
        self.field = field
        self.message = message


class OutOfReach(CrossStaffError):
    """The arrow does not get to the distance asked at this slope."""


class NotFound(CrossStaffError):
    """The record asked for does not exist."""


class StaleRevision(CrossStaffError):
    """The change was made against an older revision than the one now kept."""

    def __init__(self, based_on: int, current: int) -> None:
        super().__init__(f"made against revision {based_on}, but revision {current} is kept now")
        self.based_on = based_on
        self.current = current
