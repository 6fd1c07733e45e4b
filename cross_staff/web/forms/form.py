"""What was typed into a form, what is wrong with it, and what was read out of it."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator, Mapping
from contextlib import contextmanager, suppress
from dataclasses import dataclass, field
from typing import Annotated

from fastapi import Depends
from starlette.requests import Request
from starlette.responses import Response

from cross_staff.core.errors import InvalidValue, StaleRevision
from cross_staff.core.ranges import Range
from cross_staff.core.rig.sight import Fault
from cross_staff.web.forms.known import TAKEN, refuse_unknown
from cross_staff.web.forms.merge import Conflict, Merged
from cross_staff.web.forms.numbers import NotANumber, Typed, read, read_list
from cross_staff.web.forms.units import Units, trimmed

MAX_FIELDS = 1500
MOST_TRIES = 8


async def typed_form(request: Request) -> dict[str, str]:
    """The fields of a form as text; files are not taken here. What was typed stays at hand for the page
    that says why it was not kept. Raises InvalidValue at a field that the station has not."""
    form = await request.form(max_files=0, max_fields=MAX_FIELDS)
    typed = {key: value for key, value in form.multi_items() if isinstance(value, str)}
    request.state.typed = typed
    refuse_unknown(request, typed)
    request.state.posted = dict(typed)
    typed.pop(TAKEN, None)
    return typed


# the fields are read before a handler runs, so that handlers are plain functions: what waits for the
# database or reckons does it on a thread of its own, and holds nobody else
TypedForm = Annotated[dict[str, str], Depends(typed_form)]


def wants_fragment(request: Request) -> bool:
    """Whether htmx asks, which takes a fragment in place of a page."""
    return request.headers.get("hx-request") == "true"


@dataclass
class FormInput:
    """A form as typed, beside the numbers that are kept, with the message and the note for each field.

    A field that still shows what is kept gives the kept value back, so that showing it rounded, or
    in another unit, changes nothing.
    """

    typed: Mapping[str, str]
    units: Units
    kept: Mapping[str, float | None] = field(default_factory=dict)
    kept_lists: Mapping[str, tuple[float, ...]] = field(default_factory=dict)
    errors: dict[str, str] = field(default_factory=dict)
    notes: dict[str, str] = field(default_factory=dict)
    taken: dict[str, str] = field(default_factory=dict)  # beside a field: the instrument that gave what it says
    seen: str = ""
    conflicts: tuple[Conflict, ...] = ()

    def take(self, joined: Merged) -> None:
        """What was typed, joined with what holds by now; what is to be asked is said at its field."""
        self.typed, self.seen, self.conflicts = joined.typed, joined.seen, joined.conflicts
        for each in joined.conflicts:
            self.errors[each.name] = (
                f"changed meanwhile to “{each.theirs or 'nothing'}”: say by the save button which to keep"
            )

    def text(self, name: str, limit: int = 120) -> str:
        """The text of a field; control characters and idle space are dropped."""
        words = " ".join(self.typed.get(name, "").split())
        clean = "".join(letter for letter in words if letter.isprintable())
        if len(clean) > limit:
            self.errors[name] = f"at most {limit} letters"
        return clean[:limit]

    @contextmanager
    def refusals(self, names: Mapping[str, str] | None = None) -> Iterator[None]:
        """What the core or a service refuses inside is said at its field; `names` has those of the form that are
        called otherwise."""
        try:
            yield
        except InvalidValue as error:
            self.errors[(names or {}).get(error.field, error.field)] = error.message

    def say(self, faults: Iterable[Fault], names: Mapping[str, str]) -> None:
        """What is wrong with the record that was typed, at its fields; `names` has the field for each place on the
        record. What is said at a field already stays."""
        for fault in faults:
            name = names.get(fault.field)
            if name is not None and name not in self.errors:
                places = 0 if self.units.length == "mm" else 2
                length = None if fault.length_m is None else self.units.show("length", fault.length_m, places)
                self.errors[name] = fault.message if length is None else fault.words.format(length)

    def choice(self, name: str, keys: tuple[str, ...]) -> str:
        """One of `keys`; the first when nothing was chosen."""
        chosen = self.typed.get(name, "") or keys[0]
        if chosen not in keys:
            self.errors[name] = "choose one from the list"
            return keys[0]
        return chosen

    def number(self, name: str, quantity: str, span: Range, decimals: int | None = None) -> float | None:
        """A number in SI units; None when the field is empty or wrong, which is then said. `decimals`
        are those that the field shows what is kept with, where they are not the usual ones."""
        text = self.typed.get(name, "")
        if not text.strip():
            return None
        value = self.kept.get(name)
        if value is not None and text == self.units.plain(quantity, value, decimals):
            return value
        try:
            typed = read(text, quantity, self.units)
        except NotANumber as error:
            self.errors[name] = str(error)
            return None
        return self._checked(name, quantity, span, typed)

    def numbers(self, name: str, quantity: str, span: Range) -> tuple[float, ...]:
        """Several numbers in one field, in SI units; empty when one is wrong, which is then said."""
        text, kept = self.typed.get(name, ""), self.kept_lists.get(name)
        if kept is not None and text == self.units.listed(quantity, kept):
            return kept
        try:
            numbers = tuple(each.value for each in read_list(text, quantity, self.units, span))
        except NotANumber as error:
            self.errors[name] = str(error)
            return ()
        wrong = next((value for value in numbers if not span.holds(value)), None)
        if wrong is not None:
            self.errors[name] = out_of_range(quantity, span, wrong, self.units)
            return ()
        return numbers

    def _checked(self, name: str, quantity: str, span: Range, typed: Typed) -> float | None:
        if not span.holds(typed.value):
            self.errors[name] = out_of_range(quantity, span, typed.value, self.units)
            return None
        if typed.note:
            self.notes[name] = typed.note
        return typed.value

    @property
    def first_error(self) -> str | None:
        """The field that gets the focus."""
        return next((name for name in self.typed if name in self.errors), next(iter(self.errors), None))


def out_of_range(quantity: str, span: Range, value: float, units: Units) -> str:
    """What is wrong with a number outside its range, in the user's units."""
    unit = units.unit(quantity)
    low, high = (trimmed(units.from_si(quantity, v), 1 if unit.si > 1e-4 else 2) for v in (span.low, span.high))
    shown = trimmed(units.from_si(quantity, value), 2)
    side = "too little" if value < span.low else "too much"
    return f"{shown} {unit.label} is {side}: between {low} and {high} {unit.label}".replace("  ", " ")


def until_kept(attempt: Callable[[], Response]) -> Response:
    """The answer to a form that is joined with what holds; again, where somebody saved just then."""
    for _ in range(MOST_TRIES):
        with suppress(StaleRevision):
            return attempt()
    return attempt()


def whole(text: str) -> int | None:
    """A count or a number of a record as a page sends it: plain digits, nine at the most; else None."""
    return int(text) if text.isascii() and text.isdecimal() and len(text) < 10 else None


def based_on(form: FormInput) -> int:
    """The revision that a form was opened on; nought when it does not say."""
    return whole(form.typed.get("based_on", "")) or 0
