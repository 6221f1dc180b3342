"""Labels for sealed envelopes: the outside says whom it is for, the card inside what was allocated."""

from __future__ import annotations

import io
from collections.abc import Sequence
from typing import Any

from ragwort.figures.pdf_fonts import register_fonts
from ragwort.files.texts import legal
from ragwort.sheet.allocation import SheetError
from ragwort.sheet.parts import Listed, Sheet

COLUMNS, ROWS = 3, 8  # of labels on a page
_MARGIN, _GAP = 24.0, 6.0  # points


def labels_bytes(sheet: Sheet, masked: bool = False) -> bytes:
    """A PDF of A4 pages: the outsides of all envelopes, then the cards in the same order. Raises `SheetError`."""
    from reportlab.lib.pagesizes import A4
    from reportlab.pdfgen.canvas import Canvas

    if not sheet.list:
        raise SheetError("method", "Nobody is allocated, so there is nothing to seal.")
    register_fonts()
    buffer = io.BytesIO()
    canvas = Canvas(buffer, pagesize=A4, invariant=1)
    canvas.setTitle(legal(f"Envelopes: {sheet.title}"))
    outsides = [(f"Envelope {place}", each.id, each.stratum) for place, each in enumerate(sheet.list, start=1)]
    cards = [(_arm(each, masked), each.id, f"envelope {place}") for place, each in enumerate(sheet.list, start=1)]
    for texts in (outsides, cards):
        _pages(canvas, A4, texts)
    canvas.save()
    return buffer.getvalue()


def _arm(each: Listed, masked: bool) -> str:
    return each.code if masked else each.arm


def _pages(canvas: Any, size: tuple[float, float], texts: Sequence[tuple[str, str, str]]) -> None:
    width, height = (size[0] - 2 * _MARGIN) / COLUMNS, (size[1] - 2 * _MARGIN) / ROWS
    on_a_page = COLUMNS * ROWS
    for start in range(0, len(texts), on_a_page):
        for place, text in enumerate(texts[start : start + on_a_page]):
            row, column = divmod(place, COLUMNS)
            left, top = _MARGIN + column * width, size[1] - _MARGIN - row * height
            _label(canvas, left, top, width - _GAP, height - _GAP, text)
        canvas.showPage()


def _label(canvas: Any, left: float, top: float, width: float, height: float, text: tuple[str, str, str]) -> None:
    canvas.setStrokeGray(0.7)
    canvas.rect(left, top - height, width, height)
    for line, (words, size, font) in enumerate(zip(text, (12, 10, 8), ("Inter-Bold", "Inter", "Inter"), strict=True)):
        canvas.setFont(font, size)
        canvas.drawString(left + 8, top - 22 - 18 * line, _fitted(canvas, legal(words), font, size, width - 16))


def _fitted(canvas: Any, words: str, font: str, size: float, width: float) -> str:
    """As much of the words as there is room for."""
    while words and canvas.stringWidth(words, font, size) > width:
        words = f"{words[:-2]}…"
    return words
