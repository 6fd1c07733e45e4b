"""The range sheet as a PDF of one page: tables in as many columns as the paper bears, in the largest type that fits."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from io import BytesIO
from typing import Any

from cross_staff.web.shared import pdf as pdf_type
from cross_staff.web.shared.table import Table

_POINTS_PER_MM = 72.0 / 25.4
_CODE, _PICTURE = 72.0, 90.0  # sides of the code and height of the pictures [points]
_NAMED = (0.28, 0.72)  # the columns of a table without heads
_SIZES = (9.5, 9.0, 8.5, 8.0, 7.5, 7.0, 6.5, 6.0, 5.5)


@dataclass(frozen=True)
class Paper:
    """Width, height and margin [mm], how many columns of tables, and the largest type [points]."""

    width_mm: float
    height_mm: float
    margin_mm: float
    columns: int
    largest: float


PAPERS = {
    "A4": Paper(210.0, 297.0, 12.0, 2, 9.5),
    "Letter": Paper(215.9, 279.4, 12.0, 2, 9.5),
    "Pocket": Paper(90.0, 148.0, 5.0, 1, 8.0),
}


class TooMuch(Exception):
    """What was chosen does not fit on one page, not even in the smallest type."""


def sheet_pdf(
    heading: Sequence[str],
    tables: Sequence[Table],
    paper: str,
    code: bytes = b"",
    pictures: Sequence[tuple[str, bytes]] = (),
) -> bytes:
    """The sheet as the bytes of a PDF file of exactly one page. Args: code, a PNG for its upper right corner; pictures,
    JPEGs with what each shows, for a row at its foot. Raises: TooMuch."""
    for size in _SIZES:
        if size <= PAPERS[paper].largest:
            body, pages = _built(heading, tables, PAPERS[paper], size, _Beside(code, tuple(pictures)))
            if pages == 1:
                return body
    raise TooMuch(f"That is too much for one {paper} page: take something off it, or choose a larger paper.")


@dataclass(frozen=True)
class _Beside:
    """What stands beside the tables: a code in the corner, a row of pictures at the foot."""

    code: bytes
    pictures: tuple[tuple[str, bytes], ...]

    @property
    def foot(self) -> float:
        """The height of the row of pictures [points]."""
        return _PICTURE + 14.0 if self.pictures else 0.0


def _built(
    heading: Sequence[str], tables: Sequence[Table], paper: Paper, size: float, beside: _Beside
) -> tuple[bytes, int]:
    from reportlab.platypus import BaseDocTemplate, Frame, PageTemplate

    pdf_type.register()
    width, height, margin = (v * _POINTS_PER_MM for v in (paper.width_mm, paper.height_mm, paper.margin_mm))
    out = BytesIO()
    document = BaseDocTemplate(
        out, pagesize=(width, height), leftMargin=margin, rightMargin=margin, title=heading[0], invariant=1
    )
    head = max(1.4 * size * (len(heading) + 1.6), _CODE if beside.code else 0.0)
    gap, usable = 12.0, width - 2 * margin
    column = (usable - gap * (paper.columns - 1)) / paper.columns
    frames = [
        Frame(
            margin + i * (column + gap), margin + beside.foot, column, height - 2 * margin - head - beside.foot,
            leftPadding=0, rightPadding=0, topPadding=0, bottomPadding=0,
        )
        for i in range(paper.columns)
    ]  # fmt: skip
    pages = 0

    def drawn(canvas: Any, _document: Any) -> None:
        nonlocal pages
        pages += 1
        y = height - margin - 1.5 * size
        for row, line in enumerate(heading):
            font, points = (pdf_type.BOLD, 1.5 * size) if row == 0 else (pdf_type.REGULAR, size)
            canvas.setFont(font, points)
            canvas.drawString(margin, y, _fitting(line, font, points, usable - (_CODE if beside.code else 0.0)))
            y -= 1.4 * size
        _drawn_beside(canvas, beside, (width, height), margin)

    document.addPageTemplates([PageTemplate(id="sheet", frames=frames, onPage=drawn)])
    document.build(_story(tables, size, column))
    return out.getvalue(), pages


def _drawn_beside(canvas: Any, beside: _Beside, page: tuple[float, float], margin: float) -> None:
    """The code and the pictures, each with its name."""
    from reportlab.lib.utils import ImageReader

    if beside.code:
        picture = ImageReader(BytesIO(beside.code))
        canvas.drawImage(picture, page[0] - margin - _CODE, page[1] - margin - _CODE, _CODE, _CODE)
    step = (page[0] - 2 * margin) / max(len(beside.pictures), 4)
    for place, (name, jpeg) in enumerate(beside.pictures):
        x = margin + place * step
        image = ImageReader(BytesIO(jpeg))
        canvas.drawImage(image, x, margin + 10.0, step - 8.0, _PICTURE, preserveAspectRatio=True, anchor="sw")
        canvas.setFont(pdf_type.REGULAR, 7.5)
        canvas.drawString(x, margin, _fitting(name, pdf_type.REGULAR, 7.5, step - 8.0))


def _fitting(words: str, font: str, points: float, width: float) -> str:
    """Words cut to a width: the first sentence alone where that fits, else an ellipsis where they had to be."""
    from reportlab.pdfbase.pdfmetrics import stringWidth

    text = _plain(words, font)
    for whole in (text, text.partition(". ")[0] + "."):
        if stringWidth(whole, font, points) <= width:
            return whole
    while text and stringWidth(text + "…", font, points) > width:
        text = text[:-1]
    return text.rstrip() + "…"


def _plain(words: str, font: str) -> str:
    return pdf_type.printable(words.replace("−", "-").replace("\u00a0", " "), font)


def _story(tables: Sequence[Table], size: float, width: float) -> list[Any]:
    from reportlab.lib.styles import ParagraphStyle
    from reportlab.platypus import KeepTogether, Paragraph, Spacer
    from reportlab.platypus import Table as Drawn

    title = ParagraphStyle("title", fontName=pdf_type.BOLD, fontSize=1.1 * size, leading=1.5 * size)
    note = ParagraphStyle("note", fontName=pdf_type.REGULAR, fontSize=0.85 * size, leading=1.1 * size)
    cell = ParagraphStyle("cell", fontName=pdf_type.REGULAR, fontSize=size, leading=1.12 * size)
    head = ParagraphStyle("head", parent=cell, fontName=pdf_type.BOLD, fontSize=0.85 * size, leading=size)

    def words(text: str, style: ParagraphStyle) -> Paragraph:
        return Paragraph(_plain(text, style.fontName).replace("&", "&amp;").replace("<", "&lt;"), style)

    story: list[Any] = []
    for table in tables:
        heads = [[words(text, head) for text in table.heads]] if any(table.heads) else []
        rows = [*heads, *([words(text, cell) for text in row] for row in table.rows)]
        drawn = Drawn(rows, colWidths=_widths(table, width), repeatRows=len(heads), hAlign="LEFT")
        drawn.setStyle(
            [
                *([("LINEBELOW", (0, 0), (-1, 0), 0.7, "#17252e")] if heads else []),
                ("LINEBELOW", (0, len(heads)), (-1, -1), 0.2, "#b9b09c"),
                ("TOPPADDING", (0, 0), (-1, -1), 0.12 * size),
                ("BOTTOMPADDING", (0, 0), (-1, -1), 0.2 * size),
                ("LEFTPADDING", (0, 0), (-1, -1), 1.5),
                ("RIGHTPADDING", (0, 0), (-1, -1), 1.5),
                ("VALIGN", (0, 0), (-1, -1), "MIDDLE"),
            ]
        )
        whole = [words(table.title, title), drawn, *([words(table.note, note)] if table.note else []), Spacer(1, size)]
        story.append(KeepTogether(whole))
    return story


def _widths(table: Table, width: float) -> list[float]:
    """Columns as wide as their longest cell asks for, all together as wide as there is room; names and what is said of
    them in a fixed part of it."""
    if not any(table.heads) and len(table.heads) == len(_NAMED):
        return [part * width for part in _NAMED]
    longest = [
        max(4.0, 0.7 * len(head), *(float(len(row[i])) for row in table.rows)) if table.rows else 4.0
        for i, head in enumerate(table.heads)
    ]
    return [width * value / sum(longest) for value in longest]
