"""The exercises that ship with the program, and those that somebody brings as a file."""

from __future__ import annotations

from functools import lru_cache
from pathlib import Path

from cross_staff.core.errors import InvalidValue, NotFound
from cross_staff.core.practice.exercise import THEMES, Exercise, exercise_of, written

_FOLDER = Path(__file__).with_name("exercises")


@lru_cache(maxsize=1)
def exercises() -> tuple[Exercise, ...]:
    """Every exercise, by theme and grade."""
    every = (exercise_of(path.read_text()) for path in sorted(_FOLDER.glob("*.json")))
    order = list(THEMES)
    return tuple(sorted(every, key=lambda each: (order.index(each.theme), each.grade, each.seed)))


def exercise(key: str) -> Exercise:
    """One of them. Raises NotFound."""
    for each in exercises():
        if each.key == key:
            return each
    raise NotFound(f"there is no exercise {key[:40]}")


def brought(content: bytes) -> Exercise:
    """The exercise of a file that somebody shared. Raises InvalidValue, with where in it something is wrong."""
    try:
        return exercise_of(content.decode("utf-8-sig"))
    except UnicodeDecodeError as error:
        raise InvalidValue("file", "is no text: an exercise is a .json file") from error


def as_file(exercise: Exercise) -> str:
    """An exercise as the file that is shared."""
    return written(exercise)
