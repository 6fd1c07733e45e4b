"""The printed sheet as PDF, at true scale, byte for byte the same for the same sheet."""

from __future__ import annotations

from io import BytesIO
from pathlib import Path
from typing import Any

from cross_staff.core.sheet import Page, Sheet, Text

_FONTS = Path(__file__).parent / "static" / "fonts"
_REGULAR, _BOLD = "SheetRegular", "SheetBold"
_FILES = {
    _REGULAR: "barlow-semi-condensed-latin-400-normal.ttf",
    _BOLD: "barlow-semi-condensed-latin-600-normal.ttf",
}
_POINTS_PER_MM = 72.0 / 25.4


def pdf(sheet: Sheet, title: str) -> bytes:
    """The sheet as the bytes of a PDF file."""
    from reportlab.pdfbase import pdfmetrics
    from reportlab.pdfbase.ttfonts import TTFont
    from reportlab.pdfgen.canvas import Canvas

    for name, file in _FILES.items():
        if name not in pdfmetrics.getRegisteredFontNames():
            pdfmetrics.registerFont(TTFont(name, str(_FONTS / file)))
    width, height = (length * _POINTS_PER_MM for length in sheet.paper_mm)
    buffer = BytesIO()
    canvas = Canvas(buffer, pagesize=(width, height), invariant=1)
    canvas.setTitle(title)
    # readers that honour it leave the scaling box at "none"
    canvas.setViewerPreference("PrintScaling", "None")
    for page in sheet.pages:
        canvas.translate(0, height)
        canvas.scale(_POINTS_PER_MM, -_POINTS_PER_MM)
        _draw(canvas, page)
        canvas.showPage()
    canvas.save()
    return buffer.getvalue()


def _draw(canvas: Any, page: Page) -> None:
    canvas.setLineWidth(0.1)
    canvas.setDash(1.2, 0.8)
    for cut in page.cuts:
        canvas.line(cut.x1, cut.y1, cut.x2, cut.y2)
    for box in page.boxes:
        canvas.rect(box.x, box.y, box.width, box.height, stroke=0, fill=1)
    for text in page.texts:
        _write(canvas, text)


def _write(canvas: Any, text: Text) -> None:
    canvas.saveState()
    canvas.translate(text.x, text.y)
    canvas.scale(1.0 / _POINTS_PER_MM, -1.0 / _POINTS_PER_MM)
    if text.turned:
        canvas.rotate(90)
    font = _BOLD if text.bold else _REGULAR
    canvas.setFont(font, text.points)
    draw = {
        "start": canvas.drawString,
        "middle": canvas.drawCentredString,
        "end": canvas.drawRightString,
    }
    draw[text.anchor](0, 0, _printable(text.words, font))
    canvas.restoreState()


def _printable(words: str, font: str) -> str:
    """The words with a question mark for each letter that the type lacks: missing ones would vanish."""
    from reportlab.pdfbase import pdfmetrics

    known = pdfmetrics.getFont(font).face.charToGlyph
    return "".join(letter if ord(letter) in known else "?" for letter in words)
