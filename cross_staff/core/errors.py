"""What can go wrong, as a small tree.

CrossStaffError
    InvalidValue      a number or word that cannot be right; names its field
    OutOfReach        this arrow cannot get there
    NotFound          no such record
    StaleRevision     somebody saved a newer revision meanwhile
    Unanswered        a save that makes results old, and nobody said yet what it means
    NotKept           what should be written could not be written
        Busy          another program holds the data; trying again helps
    Unreckonable      a rig's records cannot be brought to a result; undo reaches them still
"""

from __future__ import annotations

from typing import Any


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


class Unanswered(CrossStaffError):
    """A save that makes results old, while nobody said whether the bow was changed or only what is written of it.
    `questions` has what is to be asked; `old` and `new` are the records."""

    def __init__(self, rig_id: int, questions: tuple[Any, ...], old: Any, new: Any) -> None:
        super().__init__("say what the new values mean")
        self.rig_id, self.questions, self.old, self.new = rig_id, questions, old, new


class NotKept(CrossStaffError):
    """What should be written, or read, could not be: the message says what stands in the way, `remedy` what
    to do about it."""

    def __init__(self, message: str, remedy: str) -> None:
        super().__init__(message)
        self.remedy = remedy


class Busy(NotKept):
    """Another program holds the data just now; trying again helps."""


class Unreckonable(CrossStaffError):
    """A rig's records cannot be brought to a result. They are kept, and each can be taken back."""

    def __init__(self, rig_id: int, reason: str) -> None:
        super().__init__(f"rig {rig_id} cannot be worked out: {reason}")
        self.rig_id = rig_id
        self.reason = reason
