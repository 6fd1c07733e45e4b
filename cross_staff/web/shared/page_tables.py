"""The tables of a page as they stand on it: listed by name, and each as rows for a CSV."""

from __future__ import annotations

import re
from html import unescape
from html.parser import HTMLParser

MOST_NAME = 48
_TOKENS = re.compile(
    r"<(?P<head>h[1-4]|summary)\b[^>]*>(?P<words>.*?)</(?P=head)>"
    r"|role=\"region\"[^>]*?aria-label=\"(?P<label>[^\"]*)\""
    r"|<table\b(?P<table>[^>]*)>",
    re.S,
)
_BESIDE = re.compile(r"<(?:small|span)\b")  # what stands beside the name of something folded
_TAGS, _SPACES = re.compile(r"<[^>]*>"), re.compile(r"\s+")
OWN = "data-own-csv"  # of a table that has a file of its own


def tables_in(html: str) -> list[tuple[int, str]]:
    """The tables of a page that have no file of their own, each by its number on the page and its name."""
    if "<table" not in html:
        return []
    tables, name, number = [], "", 0
    for token in _TOKENS.finditer(html):
        if token["head"]:
            name = _plain(_BESIDE.split(token["words"])[0])
        elif token["label"]:
            name = _plain(token["label"])
        else:
            number += 1
            if OWN not in token["table"]:
                tables.append((number, name[:MOST_NAME].strip() or f"Table {number}"))
    return tables


def _plain(words: str) -> str:
    return _SPACES.sub(" ", unescape(_TAGS.sub("", words))).strip()


def table_rows(html: str, number: int) -> list[list[str]] | None:
    """The cells of a table by its number on the page, heads first; None where the page has no such table."""
    reader = _Reader(number)
    reader.feed(html)
    return reader.rows if reader.seen >= number else None


class _Reader(HTMLParser):
    """Reads one table: the words of its cells; of a field what stands in it, of a list what is chosen."""

    def __init__(self, wanted: int) -> None:
        super().__init__()
        self.wanted, self.seen, self.inside = wanted, 0, 0
        self.rows: list[list[str]] = []
        self.cell: list[str] | None = None
        self.span = 1
        self.option = ""
        self.silent = 0

    def handle_starttag(self, tag: str, attrs: list[tuple[str, str | None]]) -> None:
        given = {name: value or "" for name, value in attrs}
        if tag == "table":
            self.seen += 1
            self.inside = 1 if self.seen == self.wanted else (self.inside + 1 if self.inside else 0)
        if self.inside != 1:
            return
        if tag == "tr":
            self.rows.append([])
        elif tag in ("td", "th") and self.rows:
            self.cell, self.span = [], int(given.get("colspan", "1") or 1)
        elif tag == "input" and self.cell is not None:
            self.cell.append(_typed(given))
        elif tag == "option" and "selected" in given:
            self.option = "chosen"
        elif tag in ("select", "button", "kbd", "svg"):
            self.silent += 1
        elif tag in ("br", "small", "p", "div") and self.cell is not None:
            self.cell.append(" ")

    def handle_endtag(self, tag: str) -> None:
        if tag == "table" and self.inside:
            self.inside -= 1
        elif tag in ("td", "th") and self.cell is not None:
            self.rows[-1] += [_SPACES.sub(" ", "".join(self.cell)).strip(), *[""] * (self.span - 1)]
            self.cell = None
        elif tag in ("select", "button", "kbd", "svg") and self.silent:
            self.silent -= 1
        elif tag == "option":
            self.option = ""

    def handle_data(self, data: str) -> None:
        if self.cell is not None and self.inside == 1 and (not self.silent or self.option):
            self.cell.append(data)


def _typed(field: dict[str, str]) -> str:
    """What stands in a field of a table."""
    kind = field.get("type", "text")
    if kind in ("checkbox", "radio"):
        return "x" if "checked" in field else ""
    return "" if kind in ("hidden", "file", "submit") else field.get("value", "")
