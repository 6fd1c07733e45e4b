"""The printed sheet as PDF, at true scale, byte for byte the same for the same sheet."""

from __future__ import annotations

from io import BytesIO
from typing import Any

from cross_staff.core.printing.sheet import Page, PrintedSheet, Text
from cross_staff.web.shared import pdf as pdf_type

_POINTS_PER_MM = 72.0 / 25.4


def pdf(sheet: PrintedSheet, title: str) -> bytes:
    """The sheet as the bytes of a PDF file."""
    from reportlab.pdfgen.canvas import Canvas

    pdf_type.register()
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
    font = pdf_type.BOLD if text.bold else pdf_type.REGULAR
    canvas.setFont(font, text.points)
    draw = {
        "start": canvas.drawString,
        "middle": canvas.drawCentredString,
        "end": canvas.drawRightString,
    }
    draw[text.anchor](0, 0, pdf_type.printable(text.words, font))
    canvas.restoreState()
