"""A table as pages and printed sheets show it."""

from __future__ import annotations

from dataclasses import dataclass

Rows = list[list[str]]


@dataclass(frozen=True)
class Table:
    """A table: its key and title, heads, rows of cells, a note below, and the row that was asked for."""

    key: str
    title: str
    heads: tuple[str, ...]
    rows: Rows
    note: str = ""
    marked: int | None = None
