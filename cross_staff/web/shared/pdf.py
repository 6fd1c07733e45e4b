"""The type that PDF files are set in, which letters it has, and sheets of ruled tables."""

from __future__ import annotations

from collections.abc import Sequence
from io import BytesIO
from pathlib import Path
from typing import Any

_FONTS = Path(__file__).parents[1] / "static" / "fonts"
REGULAR, BOLD = "SheetRegular", "SheetBold"
_FILES = {
    REGULAR: "barlow-semi-condensed-latin-400-normal.ttf",
    BOLD: "barlow-semi-condensed-latin-600-normal.ttf",
}
Rows = list[list[str]]
_RULED = [
    ("LINEBELOW", (0, 0), (-1, 0), 0.8, "#17252e"),
    ("LINEBELOW", (0, 1), (-1, -1), 0.25, "#ddd5c3"),
    ("VALIGN", (0, 0), (-1, -1), "TOP"),
    ("LEFTPADDING", (0, 0), (-1, -1), 2),
]


def register() -> None:
    """Make the type known to reportlab, once."""
    from reportlab.pdfbase import pdfmetrics
    from reportlab.pdfbase.ttfonts import TTFont

    for name, file in _FILES.items():
        if name not in pdfmetrics.getRegisteredFontNames():
            pdfmetrics.registerFont(TTFont(name, str(_FONTS / file)))


def printable(words: str, font: str = REGULAR) -> str:
    """The words with a question mark for each letter that the type lacks: missing ones would vanish."""
    from reportlab.pdfbase import pdfmetrics

    known = pdfmetrics.getFont(font).face.charToGlyph
    return "".join(letter if ord(letter) in known else "?" for letter in words)


def ruled_pdf(heading: Sequence[str], tables: Sequence[tuple[str, Rows]]) -> bytes:
    """A landscape sheet: a title, lines below it, then ruled tables by their names, heads first."""
    from reportlab.lib.pagesizes import A4, landscape
    from reportlab.lib.styles import ParagraphStyle
    from reportlab.platypus import Paragraph, SimpleDocTemplate, Spacer, Table

    register()
    title = ParagraphStyle("title", fontName=BOLD, fontSize=17, leading=22)
    line = ParagraphStyle("line", fontName=REGULAR, fontSize=10, leading=14)
    head = ParagraphStyle("head", fontName=BOLD, fontSize=11, leading=16, spaceBefore=12, keepWithNext=1)
    cell = ParagraphStyle("cell", fontName=REGULAR, fontSize=9, leading=11.5)

    def words(text: str, style: ParagraphStyle) -> Paragraph:
        plain = printable(text.replace("−", "-"))
        return Paragraph(plain.replace("&", "&amp;").replace("<", "&lt;"), style)

    story: list[Any] = [words(heading[0], title), *(words(text, line) for text in heading[1:])]
    for name, rows in tables:
        story.append(words(name, head))
        table = Table([[words(text, cell) for text in row] for row in rows], repeatRows=1, hAlign="LEFT")
        table.setStyle(_RULED)
        story += [table, Spacer(1, 4)]
    out = BytesIO()
    margins = {"leftMargin": 40, "rightMargin": 40, "topMargin": 36, "bottomMargin": 36}
    document = SimpleDocTemplate(out, pagesize=landscape(A4), title=heading[0], invariant=1, **margins)
    document.build(story)
    return out.getvalue()
