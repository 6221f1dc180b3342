"""The fonts of the PDF documents that we write."""

from __future__ import annotations

from ragwort.figures.palette import FONT_FOLDER

FALLBACK = "Fallback"


def register_fonts() -> None:
    """Make them known to the writer of PDF, once."""
    from matplotlib import get_data_path
    from reportlab.lib.fonts import addMapping
    from reportlab.pdfbase import pdfmetrics
    from reportlab.pdfbase.ttfonts import TTFont

    if "Inter" in pdfmetrics.getRegisteredFontNames():
        return
    pdfmetrics.registerFont(TTFont("Inter", FONT_FOLDER / "Inter-Regular.ttf"))
    pdfmetrics.registerFont(TTFont("Inter-Bold", FONT_FOLDER / "Inter-SemiBold.ttf"))
    # For what Inter lacks; it comes with matplotlib on every machine.
    pdfmetrics.registerFont(TTFont(FALLBACK, f"{get_data_path()}/fonts/ttf/DejaVuSans.ttf"))
    for bold in (0, 1):
        addMapping("Inter", bold, 0, "Inter-Bold" if bold else "Inter")
