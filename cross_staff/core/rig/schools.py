"""What practice is divided on when a sight is shot in: the questions, and the schools that answer them."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True)
class School:
    """A choice that practice is divided on: its name, what it is good for, and what it costs."""

    key: str
    name: str
    why: str
    price: str


@dataclass(frozen=True)
class Question:
    """A choice of a procedure, the first school being our stand."""

    key: str
    name: str
    schools: tuple[School, ...]

    def school(self, key: str) -> School:
        """The school of a key; our stand for one that is not known."""
        return next((school for school in self.schools if school.key == key), self.schools[0])


STOP = Question(
    "stop",
    "Home stop",
    (
        School("fixed", "fixed stop", "Home is always found again by running up to it.", "Home is brought to it with the whole housing."),
        School("settable", "stop fitted afterwards", "The wheel finds home, then the stop is fitted there.", "Leave room above before the first arrow, and verify the stop."),
        School("none", "no stop", "The indicator alone says where home is.", "Home must be read on the tape every time."),
    ),
)  # fmt: skip
DIALLED = Question(
    "dialled",
    "Dialled pin",
    (
        School("far", "the far pin", "Dialling goes farther; the near pins are passed over while dialled.", "Its own home distance starts the tape, not the near pin's."),
        School("near", "the near pin", "The simplest picture: one pin, from home to the farthest.", "Less reach: the housing has to come down from nought."),
        *(School(f"pin{n}", f"pin {n}", "A middle mark and a far one choose the strip: the near one forgives too much.", "Its own home distance starts the tape.") for n in range(2, 7)),
    ),
)  # fmt: skip
POINTER = Question(
    "pointer",
    "Indicator",
    (
        School("to_pin", "pointer to the pin", "Each indicator is moved to its pin's distance on the tape.", "The distance may fall between two lines."),
        School("to_round", "pin to the pointer", "A round distance is chosen and the pin set to it.", "The pin is moved once more, and shot once more."),
    ),
)  # fmt: skip
SECOND = Question(
    "second",
    "Second pin",
    (
        School("gap", "the largest gap", "As low as the post allows: the widest cover without dialling.", "The distance it is worth comes as it comes."),
        School("wanted", "a wanted distance", "It is set for the distance on the card.", "The cover is what that gives."),
    ),
)  # fmt: skip
DOTS = Question(
    "dots",
    "Aiming dots",
    (
        School("computed", "computed", "From speed and body measurements, corrected by far groups and their offset.", "A wrong figure errs at every distance alike."),
        School("by_hand", "distance by distance", "Every dot is shot and set by itself.", "Many arrows, and nothing between the distances."),
    ),
)  # fmt: skip
QUESTIONS = {question.key: question for question in (STOP, DIALLED, POINTER, SECOND, DOTS)}
