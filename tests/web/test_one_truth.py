"""Two pages, one quantity: what all pages, sheets and files of a rig say of a thing is the same thing.

Read as a person reads, to the digits that are shown.
"""

from __future__ import annotations

import csv
import io
import re
import subprocess
import unittest
from collections import defaultdict
from collections.abc import Iterator
from dataclasses import dataclass, field
from html.parser import HTMLParser
from itertools import combinations

from cross_staff.demo.shop import fill
from cross_staff.services import bench
from tests.web.client import WithClient

NUMBER = r"(?<![\d.])(−?\d+(?:\.\d+)?)"


@dataclass(frozen=True)
class Saying:
    """What a page says: of what, in which words."""

    page: str
    what: str
    words: str

    @property
    def number(self) -> tuple[float, float] | None:
        """The first number in the words, and half its last digit; None where there is none."""
        found = re.search(rf"{NUMBER}( in\b)?", self.words)
        if found is None:
            return None
        digits, unit = found[1].partition(".")[2], 25.4 if found[2] else 1.0
        return unit * float(found[1].replace("−", "-")), unit * 0.5 * 10.0 ** -len(digits)

    def agrees(self, other: Saying) -> bool:
        """The same digits where both show as many; else within what they round."""
        one, two = self.number, other.number
        if one is None or two is None:
            return self.words == other.words
        if one[1] == two[1]:
            return one[0] == two[0]
        return abs(one[0] - two[0]) <= one[1] + two[1] + 1e-9


@dataclass
class Table:
    """A table with the heading that it stands under."""

    title: str
    rows: list[list[str]] = field(default_factory=list)

    def columns(self, key: str, value: str) -> Iterator[tuple[str, str]]:
        """Pairs of two columns whose heads begin so; nothing where the table lacks one."""
        heads = [
            next((i for i, head in enumerate(self.rows[0]) if head.startswith(name)), None) for name in (key, value)
        ]
        if None not in heads:
            for row in self.rows[1:]:
                if len(row) > max(heads):  # type: ignore[type-var]
                    yield row[heads[0]], row[heads[1]]  # type: ignore[index]


class Read(HTMLParser):
    """A page as it is read: its text in lines, and its tables."""

    BLOCKS = frozenset(["p", "div", "h1", "h2", "h3", "tr", "li", "dt", "dd", "section", "article", "text", "td", "th"])

    def __init__(self, html: str) -> None:
        super().__init__()
        self.lines: list[str] = [""]
        self.tables: list[Table] = []
        self.title, self._heading, self._cell, self._hidden = "", False, False, 0
        self.feed(html)
        self.lines = [" ".join(line.split()) for line in self.lines if line.strip()]
        self.text = "\n".join(self.lines)

    def handle_starttag(self, tag: str, attrs: list[tuple[str, str | None]]) -> None:
        if tag in ("script", "style", "option"):
            self._hidden += 1
        if tag in self.BLOCKS:
            self.lines.append("")
        if tag in ("h1", "h2", "h3", "caption"):
            self.title, self._heading = "", True
        if tag == "table":
            self.tables.append(Table(" ".join(self.title.split())))
        if tag == "tr" and self.tables:
            self.tables[-1].rows.append([])
        if tag in ("td", "th") and self.tables and self.tables[-1].rows:
            self.tables[-1].rows[-1].append("")
            self._cell = True

    def handle_endtag(self, tag: str) -> None:
        if tag in ("script", "style", "option"):
            self._hidden -= 1
        if tag in ("h1", "h2", "h3", "caption"):
            self._heading = False
        if tag in ("td", "th"):
            self._cell = False
            self.tables[-1].rows[-1][-1] = " ".join(self.tables[-1].rows[-1][-1].split())

    def handle_data(self, data: str) -> None:
        if self._hidden:
            return
        self.lines[-1] += data
        if self._heading:
            self.title += data
        if self._cell:
            self.tables[-1].rows[-1][-1] += data

    def table(self, title: str) -> Table | None:
        return next((t for t in self.tables if t.title.startswith(title) and t.rows), None)

    def all(self, pattern: str) -> list[str]:
        return [found[1] for found in re.finditer(pattern, self.text)]


PAGES = (
    "card", "card/arrows", "mount", "prepare", "level", "sight_in", "tape", "tape/print", "tape/pins", "tape/dialled",
    "tape/holds", "tape/slopes", "tape/fits", "tape/booklet", "tape/range-sheet",
)  # fmt: skip


def everywhere(page: str, read: Read) -> Iterator[Saying]:
    """What many pages say in words."""
    for words in read.all(rf"(?<!cm, )(?<!in, )good to {NUMBER} (?:m|yd)"):  # after it: what the next group would give
        yield Saying(page, "good to", words)
    for words in read.all(rf"pins usable to {NUMBER} (?:m|yd)"):
        yield Saying(page, "pins usable to", words)
    for pattern in (r"[Ww]here it sits it reaches ", r"Reaches ", r"As it is mounted it goes to ",
                    r"As it is mounted, the sight goes to "):  # fmt: skip
        for words in read.all(rf"{pattern}{NUMBER} (?:m|yd)"):
            yield Saying(page, "reach as mounted", words)
    for pin, words in ((found[1], found[2]) for found in re.finditer(rf"([\d.]+) (?:m|yd): {NUMBER} mm", read.text)):
        yield Saying(page, f"pin for {pin} belongs below the top", words)


def tabled(page: str, read: Read) -> Iterator[Saying]:
    """What tables say that more than one page has, cell by cell; and what one table repeats of another."""
    for table in read.tables:
        if not table.rows:
            continue
        for distance, words in table.columns("m", "from home, mm"):
            yield Saying(page, f"mark at {distance} from home", words)
        for distance, words in table.columns("m", "scale, mm"):
            yield Saying(page, f"mark at {distance} on the scale", words)
        for distance, words in table.columns("m", "on the target"):
            yield Saying(page, f"± at {distance} on the target", words)
        for distance, words in table.columns("m", "belongs below the top"):
            yield Saying(page, f"pin for {distance} belongs below the top", words)
        for head in ("with", "number under it", "line, drum", "hits", "housing"):
            for distance, words in table.columns("m", head) if table.title.startswith("How each distance") else ():
                yield Saying(page, f"how {distance} is shot: {head}", words)
        for head in ("line, drum", "clicks from zero", "clicks from home"):
            for distance, words in table.columns("m", head) if table.title == "Marks" else ():
                yield Saying(page, f"mark at {distance}: {head}", words)
        heads = table.rows[0]
        titled = table.title.startswith(("Holds", "Dial for a slope", "Misjudged", "What a misjudged", "Crosswind",
                                         "Point-on", "What every pin", "Pointers", "Shoot a slope"))  # fmt: skip
        if titled:
            name = {"What a misjudged distance costs": "Misjudged, cm"}.get(table.title, table.title)
            name = "What every pin is worth" if name.startswith("What every pin") else name.split(" for ")[0]
            if table.title.startswith("Dial for a slope"):
                name = table.title
            for row in table.rows[1:]:
                for head, words in zip(heads[1:], row[1:]):
                    yield Saying(page, f"{name}: {row[0]}, {head}", words)


def on_one_page(page: str, read: Read) -> Iterator[Saying]:
    """What a single page says in a place of its own."""
    if page == "mount":
        for words in read.all(rf"Tape, [\d.]+ \w+ to [\d.]+ \w+\n{NUMBER} mm"):
            yield Saying(page, "tape from home to the farthest", words)
        for words in read.all(rf"First pin to last\n{NUMBER} mm"):
            yield Saying(page, "first pin to last", words)
        for words in read.all(rf"Far pin on the wheel\n{NUMBER} \w+"):
            yield Saying(page, "reach with the far pin on the wheel", words)
        for found in re.finditer(r"eye to sight ([\d.]+ \w+)\s*peep ([\d.]+ \w+)", read.text):
            yield Saying(page, "eye to sight", found[1])
            yield Saying(page, "peep height", found[2])
    if page in ("mount", "tape/slopes"):
        for words in read.all(rf"The far pin on the wheel in place of the near one:? ?\n?{NUMBER} \w+"):
            yield Saying(page, "reach with the far pin on the wheel", words)
    if page == "tape":
        for figure, what in (("Eye to sight", "eye to sight"), ("Peep height, square", "peep height"),
                             ("Speed at the sight", "speed at the sight")):  # fmt: skip
            for row in (row for t in read.tables for row in t.rows if row and row[0] == figure):
                yield Saying(page, what, row[1])
        figures = read.table("The tape in figures")
        if figures:
            heads, *rows = figures.rows
            names = {"scale": "mark at {} on the scale", "from home": "mark at {} from home",
                     "on the target": "± at {} on the target"}  # fmt: skip
            for row in rows:
                name = next((words for begins, words in names.items() if row[0].startswith(begins)), None)
                if name:
                    yield from (Saying(page, name.format(head), words) for head, words in zip(heads[1:], row[1:]))
                if row[0].startswith("from home"):
                    yield Saying(page, "tape from home to the farthest", row[-1])
                if row[0].startswith("on the target"):
                    yield Saying(page, "± at the farthest", row[-1])
    if page == "tape/fits":
        for row in (row for t in read.tables for row in t.rows if row and row[0] == "all marks"):
            yield Saying(page, "tape from home to the farthest", row[2])
            yield Saying(page, "± at the farthest", row[3])
    if page == "tape/pins":
        rows = [row for t in read.tables if t.title == "Pin gaps" for row in t.rows[1:]]
        if rows:
            yield Saying(page, "first pin to last", rows[-1][2])
            for row in rows:
                if row[7] != "–":  # nobody shot it: where it stands is not known
                    yield Saying(page, f"the {row[0]} is right for", row[7])
    if page == "tape/dialled":
        for row in (row for t in read.tables if t.title == "Pointers" for row in t.rows[1:]):
            name = row[0].removesuffix("'s pointer")
            yield Saying(page, f"the {name} is right for", row[1])
    if page == "card/arrows":
        for table in read.tables:
            used = next((i for i, head in enumerate(table.rows[0]) if "in use" in head), None) if table.rows else None
            for row in table.rows if used is not None else ():
                what = {"Reach of the sight": "reach as mounted", "Speed at the sight": "speed by the chronograph"}.get(
                    row[0]
                )
                if what and len(row) > used:
                    yield Saying(page, what, row[used])


def on_paper(page: str, text: str) -> Iterator[Saying]:
    """What a printed sheet says."""
    for found in re.finditer(rf"good to {NUMBER} (?:m|yd)", text):
        yield Saying(page, "good to", found[1])
    for line in text.splitlines():
        found = re.match(rf" *([\d.]+) {{3,}}{NUMBER} {{3,}}{NUMBER} {{3,}}± ([\d.]+ \w+)", line)
        if found:
            yield Saying(page, f"mark at {found[1]} on the scale", found[2])
            yield Saying(page, f"mark at {found[1]} from home", found[3])
            yield Saying(page, f"± at {found[1]} on the target", found[4])
    for found in re.finditer(rf"([\d.]+) (?:m|yd) +{NUMBER}(?: ± [\d.]+)? mm", text):
        yield Saying(page, f"pin for {found[1]} belongs below the top", found[2])


class OneTruth(WithClient):
    fill_with = staticmethod(fill)
    takes_long = True

    def sayings(self, rig_id: int) -> Iterator[Saying]:
        """Everything that is said of a rig anywhere."""
        for page in PAGES:
            answer = self.client.get(f"/rigs/{rig_id}/{page}")
            if answer.status_code != 200:
                continue
            read = Read(answer.text)
            yield from everywhere(page, read)
            yield from tabled(page, read)
            yield from on_one_page(page, read)
        for sheet in ("tape/range-sheet.pdf", "tape.pdf", "tape/pins.pdf"):
            answer = self.client.get(f"/rigs/{rig_id}/{sheet}")
            if answer.status_code == 200:
                text = subprocess.run(
                    ["pdftotext", "-layout", "-", "-"], input=answer.content, capture_output=True, check=True
                )
                yield from on_paper(sheet, text.stdout.decode())
        on_the_bench = re.search(rf'class="rig-row" href="/rigs/{rig_id}/.*?</li>', self.client.get("/").text, re.S)
        yield from everywhere("bench", Read(on_the_bench[0]))  # type: ignore[index]
        answer = self.client.get(f"/rigs/{rig_id}/tape.json")
        if answer.status_code == 200:
            for each in answer.json()["rows"]:
                yield Saying("tape.json", f"mark at {each['count']} on the scale", f"{each['scale_mm']:.6f}")
                yield Saying("tape.json", f"mark at {each['count']} from home", f"{each['from_home_mm']:.6f}")
        answer = self.client.get(f"/rigs/{rig_id}/tape.csv")
        if answer.status_code == 200:
            for row in csv.DictReader(io.StringIO(answer.text.removeprefix("\ufeff"))):
                distance = next(iter(row.values()))
                yield Saying("tape.csv", f"mark at {distance} on the scale", row["scale_mm"])
                yield Saying("tape.csv", f"mark at {distance} from home", row["from_home_mm"])

    def test_what_two_pages_say_of_one_thing(self) -> None:
        differ: dict[tuple[str, str], str] = {}
        compared = 0
        for rig_id in bench.every(self.database):
            name = re.search(r"<h1[^>]*>([^,<]+)", self.client.get(f"/rigs/{rig_id}/card").text)[1]  # type: ignore[index]
            of: dict[str, list[Saying]] = defaultdict(list)
            for saying in self.sayings(rig_id):
                of[saying.what].append(saying)
            for what, said in of.items():
                compared += len({each.page for each in said}) > 1
                if not all(one.agrees(two) for one, two in combinations(set(said), 2)):
                    differ[name, what] = " · ".join(sorted({f"{each.page}: {each.words}" for each in said}))
        self.assertGreater(compared, 200)
        told = "\n".join(f"    {key!r}: {words!r}," for key, words in sorted(differ.items()))
        self.assertEqual(differ, {}, f"what two pages differ in:\n{told}")


if __name__ == "__main__":
    unittest.main()
