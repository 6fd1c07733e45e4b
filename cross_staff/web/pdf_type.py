"""The type that PDF files are set in, and which letters it has."""

from __future__ import annotations

from pathlib import Path

_FONTS = Path(__file__).parent / "static" / "fonts"
REGULAR, BOLD = "SheetRegular", "SheetBold"
_FILES = {
    REGULAR: "barlow-semi-condensed-latin-400-normal.ttf",
    BOLD: "barlow-semi-condensed-latin-600-normal.ttf",
}


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
