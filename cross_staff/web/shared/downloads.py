"""Files that leave the application, named after their rig."""

from __future__ import annotations

import csv
import io
import re
from collections.abc import Iterable, Sequence

from starlette.responses import Response

from cross_staff.services.rig import Rig

CSV = "text/csv; charset=utf-8"


def file_headers(rig: Rig, what: str, ending: str) -> dict[str, str]:
    """The header that names the file: rig, what of it, ending; a drawing opens in the browser."""
    stem = re.sub(r"[^a-z0-9]+", "-", rig.card.name.lower()).strip("-") or f"rig-{rig.rig_id}"
    disposition = "inline" if ending == "svg" else "attachment"
    return {"Content-Disposition": f'{disposition}; filename="{stem}-{what}.{ending}"'}


def csv_file(rows: Iterable[Sequence[object]], rig: Rig, what: str) -> Response:
    """Rows as a CSV that a spreadsheet opens without asking, heads first."""
    out = io.StringIO()
    csv.writer(out, lineterminator="\r\n").writerows(rows)
    return Response(out.getvalue().encode("utf-8-sig"), media_type=CSV, headers=file_headers(rig, what, "csv"))
