"""Tables in a form: one record a row, a spare row at the end, read back as records."""

from __future__ import annotations

import re
from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import dataclass
from typing import Any, TypeVar

from cross_staff.core.ranges import Range
from cross_staff.web.forms.form import FormInput
from cross_staff.web.forms.units import Units

Record = TypeVar("Record")
MOST_ROWS = 40
TEXT_LIMIT = 60


@dataclass(frozen=True)
class Column:
    """A column: the record's attribute, its heading, and what it takes: words, a number of a
    quantity within a range, one of some options, or a tick."""

    name: str
    label: str
    quantity: str = ""
    span: Range | None = None
    options: tuple[tuple[str, str], ...] = ()
    tick: bool = False

    @property
    def kind(self) -> str:
        return "number" if self.span else "choice" if self.options else "tick" if self.tick else "text"


@dataclass(frozen=True)
class Rows:
    """A table: the prefix of its fields, its columns, the first of which must not stay empty."""

    prefix: str
    title: str
    columns: tuple[Column, ...]

    def field(self, row: int, column: Column) -> str:
        return f"{self.prefix}_{row}_{column.name}"

    def texts(self, records: Sequence[Any], units: Units, spare: int = 1) -> dict[str, str]:
        """The records as text, cell by cell; numbers too."""
        texts: dict[str, str] = {}
        for row in range(len(records) + spare):
            for column in self.columns:
                value = getattr(records[row], column.name) if row < len(records) else None
                text = _text(column, value, units)
                if column.kind != "tick" or text:
                    texts[self.field(row, column)] = text
        return texts

    def values(self, records: Sequence[Any]) -> dict[str, float | None]:
        """The numbers of the records by the names of their cells."""
        return {
            self.field(row, column): getattr(record, column.name)
            for row, record in enumerate(records)
            for column in self.columns
            if column.kind == "number"
        }

    def indexes(self, typed: Mapping[str, str]) -> list[int]:
        """Numbers of the rows in a form."""
        pattern = re.compile(rf"{self.prefix}_(\d{{1,3}})_{self.columns[0].name}")
        rows = {int(row_named.group(1)) for name in typed if (row_named := pattern.fullmatch(name))}
        return sorted(rows)[:MOST_ROWS]

    def read(self, form: FormInput, make: Callable[..., Record]) -> tuple[tuple[Record, ...], tuple[int, ...]]:
        """The records that were typed, and the row of each; rows with nothing in them are passed over."""
        records: list[Record] = []
        rows: list[int] = []
        for row in self.indexes(form.typed):
            if self._empty(form.typed, row):
                continue
            cells = {column.name: _read(form, self.field(row, column), column) for column in self.columns}
            first = self.columns[0]
            if first.kind == "text" and not cells[first.name]:
                form.errors[self.field(row, first)] = "give it a name"
            records.append(make(**cells))
            rows.append(row)
        return tuple(records), tuple(rows)

    def _empty(self, typed: Mapping[str, str], row: int) -> bool:
        cells = (c for c in self.columns if c.kind in ("text", "number"))
        return not any(typed.get(self.field(row, column), "").strip() for column in cells)


def _text(column: Column, value: Any, units: Units) -> str:
    if column.kind == "number":
        return units.plain(column.quantity, value)
    if column.kind == "tick":
        return "on" if value else ""
    if column.kind == "choice" and value is None:
        return column.options[0][0]
    return value or ""


def _read(form: FormInput, name: str, column: Column) -> Any:
    if column.span is not None:
        return form.number(name, column.quantity, column.span)
    if column.options:
        return form.choice(name, tuple(key for key, _ in column.options))
    if column.tick:
        return bool(form.typed.get(name))
    return form.text(name, TEXT_LIMIT)


def options(table: Mapping[str, str]) -> tuple[tuple[str, str], ...]:
    """A table of the core as options of a choice."""
    return tuple(table.items())


def joined(parts: Iterable[str]) -> str:
    """Words that are there, set apart by commas."""
    return ", ".join(part for part in parts if part)
