"""Files that leave the application, named after their rig."""

from __future__ import annotations

import csv
import io
import re
from collections.abc import Iterable, Sequence

from starlette.responses import Response

from cross_staff.services.rig import Rig

CSV = "text/csv; charset=utf-8"
_LIKE_FORMULAS = ("=", "+", "-", "@", "\t", "\r")
_NUMBER = re.compile(r"[+\-−]?\d+([.,]\d+)?")


def file_headers(rig: Rig, what: str, ending: str) -> dict[str, str]:
    """The header that names the file: rig, what of it, ending; a drawing opens in the browser."""
    stem = re.sub(r"[^a-z0-9]+", "-", rig.card.name.lower()).strip("-") or f"rig-{rig.rig_id}"
    disposition = "inline" if ending == "svg" else "attachment"
    return {"Content-Disposition": f'{disposition}; filename="{stem}-{what}.{ending}"'}


def csv_file(rows: Iterable[Sequence[object]], rig: Rig, what: str) -> Response:
    """Rows as a CSV that a spreadsheet opens without asking, heads first, named after their rig."""
    return _csv(rows, file_headers(rig, what, "csv"))


def csv_of(rows: Iterable[Sequence[object]], name: str) -> Response:
    """Rows as a CSV, heads first, of what belongs to no rig."""
    return _csv(rows, {"Content-Disposition": f'attachment; filename="{name}"'})


def _csv(rows: Iterable[Sequence[object]], headers: dict[str, str]) -> Response:
    out = io.StringIO()
    csv.writer(out, lineterminator="\r\n").writerows([harmless(cell) for cell in row] for row in rows)
    return Response(out.getvalue().encode("utf-8-sig"), media_type=CSV, headers=headers)


def harmless(cell: object) -> object:
    """A cell that no spreadsheet takes for a formula, on one line: words that begin like one have an apostrophe before
    them. Numbers are what they are, a minus before them or not."""
    if not isinstance(cell, str):
        return cell
    words = " ".join(cell.splitlines()) if "\n" in cell or "\r" in cell else cell
    return f"'{words}" if words.startswith(_LIKE_FORMULAS) and not _NUMBER.fullmatch(words) else words


def unharmed(cell: str) -> str:
    """A cell that was made harmless, as it was."""
    return cell[1:] if cell.startswith("'") and cell[1:].startswith(_LIKE_FORMULAS) else cell
