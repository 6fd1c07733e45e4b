"""The marks table as typed: rows in, messages out, pasted spreadsheet rows."""

from __future__ import annotations

import re
from collections.abc import Callable, Mapping
from dataclasses import dataclass, field, replace
from secrets import token_hex

from cross_staff.core.errors import InvalidValue
from cross_staff.core.ranges import Range
from cross_staff.core.rig.limits import RANGED_M
from cross_staff.core.rig.log import check_pin, check_reason
from cross_staff.core.tape.checks import ARROWS, MARK_MM, UP_M
from cross_staff.core.tape.rows import TapeMark
from cross_staff.core.tape.rulers import BOOKLET, LINES, SCALE, SPAN_MM
from cross_staff.services.tape.record import RowEdit
from cross_staff.services.tape.rulers import Rulers
from cross_staff.web.forms.form import out_of_range, whole
from cross_staff.web.forms.numbers import NotANumber, Typed, read, read_count, read_height, read_length_mm
from cross_staff.web.forms.units import Units

COLUMNS = ("distance", "mark", "up", "arrows")
FROM = "from"  # the line that a length is measured from
SPARE_ROWS = 3
MAX_ROWS = 60
MOST_REASON = 120
MOST_LINE = 300  # letters of a pasted row
DISTANCE_SPAN = RANGED_M
READS = Range(1.0, 400.0)  # numbers of a strip


@dataclass
class TypedRow:
    """One row of the table: what was typed, and the message or note for each cell."""

    index: int
    cells: dict[str, str]
    line: int | None = None
    base: int | None = None
    left_out: bool = False
    key: str = field(default_factory=lambda: token_hex(8))
    pin: int = 0
    reason: str = ""
    read: str = ""  # the ruler that its mark is read off
    errors: dict[str, str] = field(default_factory=dict)
    notes: list[str] = field(default_factory=list)
    asked: int | None = None  # the entry that somebody else wrote meanwhile, while it is not decided
    choice: str = ""
    kept_words: str = ""

    def take(self, kept: TypedRow) -> None:
        """The row as it is kept, in place of what was typed."""
        self.cells, self.base, self.pin, self.read = kept.cells, kept.base, kept.pin, kept.read
        self.left_out, self.reason, self.asked = kept.left_out, kept.reason, None

    @property
    def number(self) -> int:
        """As it is counted on the page."""
        return self.index + 1

    @property
    def empty(self) -> bool:
        return not any(self.cells[column].strip() for column in COLUMNS)


def rows_of(entries: list[TapeMark], units: Units, pin: int = 0, read: str | None = None) -> list[TypedRow]:
    """The kept rows as text, then spare ones for the pin that is dialled, read off a ruler; None: as the last row."""
    kept = [entry for entry in entries if not entry.removed]
    rows = [filled_row(index, entry, units) for index, entry in enumerate(kept)]
    usual = kept[-1].ruler if kept else ""
    return [*rows, *spare_rows(len(rows), SPARE_ROWS, pin, usual if read is None else read)]


def spare_rows(first: int, count: int, pin: int = 0, read: str = "") -> list[TypedRow]:
    """Empty rows."""
    return [TypedRow(first + i, dict.fromkeys((*COLUMNS, FROM), ""), pin=pin, read=read) for i in range(count)]


def filled_row(index: int, entry: TapeMark, units: Units) -> TypedRow:
    """A kept row as text."""
    up = "" if entry.up_m is None else units.plain("offset", entry.up_m)
    cells = {
        "distance": units.plain("distance", entry.ranged_m),
        "mark": entry.reads or units.plain("mark", entry.mark_mm),
        "up": up,
        "arrows": "" if entry.arrows is None else str(entry.arrows),
        FROM: units.plain("distance", entry.from_m),
    }
    row = TypedRow(index, cells, entry.line, entry.entry_id, entry.left_out, pin=entry.pin, reason=entry.reason)
    return replace(row, read=entry.ruler)


def typed_rows(typed: Mapping[str, str]) -> list[TypedRow]:
    """The rows of a posted table, in their order."""
    indexes = {int(m.group(1)) for name in typed if (m := re.fullmatch(r"row-(\d{1,3})-distance", name))}
    return [_typed_row(typed, index) for index in sorted(indexes)]


def _typed_row(typed: Mapping[str, str], index: int) -> TypedRow:
    cells = {column: typed.get(f"row-{index}-{column}", "") for column in (*COLUMNS, FROM)}
    row = TypedRow(
        index,
        cells,
        whole(typed.get(f"row-{index}-line", "")),
        whole(typed.get(f"row-{index}-base", "")),
        bool(typed.get(f"row-{index}-left_out")),
        pin=whole(typed.get(f"row-{index}-pin", "")) or 0,
        reason=" ".join(typed.get(f"row-{index}-reason", "").split())[:MOST_REASON],
        asked=whole(typed.get(f"row-{index}-asked", "")),
        choice=typed.get(f"row-{index}-choose", ""),
        read=typed.get(f"row-{index}-read", ""),
    )
    return replace(row, key=_key(typed.get(f"row-{index}-key", "")) or row.key)


def _key(text: str) -> str:
    return text if re.fullmatch(r"[0-9a-f]{16}(-\d{1,3})?", text) else ""


def pasted_rows(text: str, first: int, key: str = "", pin: int = 0, read: str = "") -> tuple[list[TypedRow], str]:
    """Rows pasted from a spreadsheet: cells set apart by tabs, semicolons or runs of spaces.

    Heading lines without any figure are passed over. Returns the rows, keyed by `key` and
    their place, and the lines for which there was no room.
    """
    rows: list[TypedRow] = []
    lines = [piece for piece in text.splitlines() if re.search(r"\d", piece)]
    room = max(MAX_ROWS - first, 0)
    for piece in lines[:room]:
        cells = [
            cell.strip()
            for cell in re.split(r"\t|;|\s*\|\s*|(?<=\S)\s{2,}|(?<=\d)\s+(?=[+\-−\d])", piece.strip()[:MOST_LINE])
        ]
        padded = [*cells[:4], "", "", "", ""]
        row = TypedRow(first + len(rows), dict(zip((*COLUMNS, FROM), padded)), pin=pin, read=read)
        rows.append(replace(row, key=f"{_key(key) or row.key}-{len(rows)}"))
    return rows, "\n".join(lines[room:])


def edit_of(row: TypedRow, units: Units, rulers: Rulers, pins: int = 1, held: TapeMark | None = None) -> RowEdit | None:
    """The row as an edit; None when it is empty or wrong, with the messages left in the row. `pins`, how many can be
    aimed with; `held`, the row as it stands: its own pin is not asked about again."""
    if row.empty:
        return None
    if row.left_out:
        _checked(row, "reason", lambda: check_reason(row.reason))
    _checked(row, "pin", lambda: check_pin(row.pin, pins, held.pin if held else None))
    if row.read not in rulers.codes and not (held and held.ruler == row.read):
        row.errors["read"] = "what was it read off?"
    edit = _typed_edit(row, units, rulers)
    if row.errors or edit is None:
        return None
    try:
        return rulers.read(edit, held)
    except InvalidValue as error:
        row.errors[error.field] = error.message
        return None


def _checked(row: TypedRow, column: str, check: Callable[[], None]) -> None:
    try:
        check()
    except InvalidValue as error:
        row.errors[column] = error.message


def _typed_edit(row: TypedRow, units: Units, rulers: Rulers) -> RowEdit | None:
    """What was typed, not yet read on its ruler."""
    sds: list[float | None] = []

    def length(text: str) -> Typed:
        typed, sd = read_length_mm(text, units)
        sds.append(sd)
        return typed

    mark_text, reads = row.cells["mark"].strip(), ""
    distance = _cell(row, "distance", lambda text: read(text, "distance", units), DISTANCE_SPAN, units)
    start = _cell(row, FROM, lambda text: read(text, "distance", units), DISTANCE_SPAN, units)
    up = _cell(row, "up", lambda text: read_height(text, units), UP_M, units)
    arrows = _cell(row, "arrows", lambda text: Typed(read_count(text)), ARROWS, units)
    mark: float | None = None
    if row.read in (SCALE, LINES):
        mark = _cell(row, "mark", length, MARK_MM if row.read == SCALE else SPAN_MM, units)
    elif row.read == BOOKLET:
        reads, mark = mark_text[:24], 0.0 if mark_text else None
        distance = rulers.booklet.to_m if distance is None and not row.cells["distance"].strip() else distance
    else:
        number = _cell(row, "mark", lambda text: read(text, "plain", units), READS, units)
        reads, mark = ("", None) if number is None else (f"{number:g}", 0.0)
    for column, value, words in (("distance", distance, "the distance"), ("mark", mark, "the mark")):
        if value is None and column not in row.errors:
            row.errors[column] = f"{words} is missing"
    if row.errors or distance is None or mark is None:
        return None
    return RowEdit(
        distance,
        mark,
        up,
        None if arrows is None else int(arrows),
        row.left_out,
        line=row.line,
        base=row.base,
        key=row.key,
        pin=row.pin,
        reason=row.reason,
        ruler=row.read,
        from_m=None if row.read == SCALE else start,
        reads=reads,
        reading_sd_mm=next((sd for sd in sds if sd is not None), None),
    )


_QUANTITY = {"distance": "distance", FROM: "distance", "mark": "mark", "up": "offset", "arrows": "plain"}


def _cell(row: TypedRow, column: str, reader: Callable[[str], Typed], span: Range, units: Units) -> float | None:
    text = row.cells[column].strip()
    if not text:
        return None
    try:
        typed = reader(text)
    except NotANumber as error:
        row.errors[column] = str(error)
        return None
    if not span.holds(typed.value):
        row.errors[column] = out_of_range(_QUANTITY[column], span, typed.value, units)
        return None
    if typed.note:
        row.notes.append(f"{text} {typed.note}")
    return typed.value
