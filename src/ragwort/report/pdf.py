"""The document tree as PDF, A4."""

from __future__ import annotations

import io
from collections.abc import Callable
from html import escape
from typing import Any

from ragwort.figures.export import picture_bytes
from ragwort.figures.palette import LIGHT
from ragwort.figures.paper import HEIGHT, WIDTH
from ragwort.figures.pdf_fonts import FALLBACK, register_fonts
from ragwort.files.texts import legal
from ragwort.report.tree import Block, Bullets, Code, Document, FigureBlock, Heading, Paragraph, Table

_MARGIN = 62.0  # points
_CELL = 8.8  # points, letters of a table
_APART, _WIDEST = 11.0, 150.0  # points, between two columns; of a column before others have what they need
MOST_IN_A_CELL = 300  # characters


def write_pdf(document: Document, progress: Callable[[float], None] = lambda _: None) -> bytes:
    """The document as PDF."""
    from reportlab import rl_config
    from reportlab.lib.pagesizes import A4
    from reportlab.platypus import BaseDocTemplate, Frame, PageTemplate

    rl_config.useA85 = 0  # pictures as they are: as text they are a quarter larger, and half the time goes into it
    register_fonts()
    buffer = io.BytesIO()
    made = _with_an_outline(BaseDocTemplate)(
        buffer,
        pagesize=A4,
        leftMargin=_MARGIN,
        rightMargin=_MARGIN,
        topMargin=58,
        bottomMargin=62,
        title=document.title,
        author="",
        subject="Sample size report",
        creator="Ragwort",
        invariant=1,
    )
    writer = _Writer(made.width, len(document.pictures()), progress)
    area = (made.leftMargin, made.bottomMargin, made.width, made.height)
    frame = Frame(*area, leftPadding=0, rightPadding=0, topPadding=0, bottomPadding=0)
    made.addPageTemplates(PageTemplate(frames=[frame], onPage=_foot))
    made.build(writer.story(document))
    progress(1.0)
    return buffer.getvalue()


def _foot(canvas: Any, document: Any) -> None:
    canvas.saveState()
    canvas.setFont("Inter", 8)
    canvas.setFillColor(LIGHT.quiet)
    title = document.title if len(document.title) <= 90 else f"{document.title[:89]}…"
    canvas.drawString(_MARGIN, 36, title)
    canvas.drawRightString(document.pagesize[0] - _MARGIN, 36, str(canvas.getPageNumber()))
    canvas.restoreState()


def _with_an_outline(kind: type) -> type:
    """A template that notes in the outline what it sets, where that has an `outline` (text and level)."""

    def after(made: Any, flowable: Any) -> None:
        entry = getattr(flowable, "outline", None)
        if entry is not None:
            text, level = entry[0], min(entry[1], getattr(made, "outlined", -1) + 1)  # no level is left out
            made.outlined = level
            key = f"heading-{made.seq.nextf('heading')}"
            made.canv.bookmarkPage(key)
            made.canv.addOutlineEntry(legal(text)[:200], key, level, closed=level > 0)

    return type("Outlined", (kind,), {"afterFlowable": after})


class _Writer:
    """Turns blocks into ReportLab's flowables."""

    def __init__(self, width: float, pictures: int, progress: Callable[[float], None]) -> None:
        self._width, self._pictures, self._progress = width, max(pictures, 1), progress
        self._drawn = 0

    def story(self, document: Document) -> list[Any]:
        """All flowables; a heading goes to the next page with what it heads."""
        from reportlab.platypus import CondPageBreak

        made: list[Any] = []
        for block, following in zip(document.blocks, (*document.blocks[1:], None), strict=True):
            if isinstance(block, Heading) and block.level > 1:
                made.append(CondPageBreak(self._room_for(block, following)))
            made += self.flowables(block)
        return made

    def _room_for(self, heading: Heading, following: Block | None) -> float:
        """Points that a heading and the beginning of what follows need."""
        if heading.level == 2:
            return 190.0
        if isinstance(following, Table):
            return min(60.0 + 20.0 * len(following.rows), 500.0)
        return 60.0 + self._figure_width() * HEIGHT / WIDTH if isinstance(following, FigureBlock) else 70.0

    def _figure_width(self) -> float:
        return self._width * 0.88

    def flowables(self, block: Block) -> list[Any]:
        from reportlab.platypus import Paragraph as Text
        from reportlab.platypus import XPreformatted

        if isinstance(block, Heading):
            made = self._heading(block)
            made[-1].outline = block.text, block.level - 1
            return made
        if isinstance(block, Paragraph):
            return [self._statement(block)] if block.style == "statement" else [self._text(block)]
        if isinstance(block, Bullets):
            style = _style("bullet", leftIndent=12, bulletIndent=1, spaceAfter=3)
            return [Text(markup(item), style, bulletText="•") for item in block.items]
        if isinstance(block, Code):
            style = _style("code", size=7.6, backColor=LIGHT.panel, borderPadding=7, spaceBefore=9, leading=10.5)
            return [XPreformatted(markup(block.text), style)]
        if isinstance(block, FigureBlock):
            return [self._figure(block)]
        return self._table(block)

    def _heading(self, block: Heading) -> list[Any]:
        from reportlab.platypus import HRFlowable
        from reportlab.platypus import Paragraph as Text

        if block.level == 1:
            return [Text(markup(block.text), _style("h1", size=20, bold=True, leading=25, spaceAfter=8))]
        if block.level == 2:
            rule = HRFlowable(width="100%", thickness=0.6, color=LIGHT.hairline, spaceBefore=16, spaceAfter=8)
            style = _style("h2", size=14, bold=True, leading=18, spaceAfter=2, keepWithNext=1)
            return [rule, Text(markup(block.text), style)]
        style = _style("h3", size=8, bold=True, colour=LIGHT.quiet, spaceBefore=10, spaceAfter=2, keepWithNext=1)
        return [Text(markup(block.text.upper()), style)]

    def _text(self, block: Paragraph) -> Any:
        from reportlab.platypus import Paragraph as Text

        colour = {"quiet": LIGHT.quiet, "problem": LIGHT.brick}.get(block.style, LIGHT.ink)
        size = 8.6 if block.style == "quiet" else 9.6
        return Text(markup(block.text), _style(block.style, size=size, colour=colour, spaceAfter=6))

    def _statement(self, block: Paragraph) -> Any:
        from reportlab.platypus import Paragraph as Text
        from reportlab.platypus import Table as Grid

        text = Text(markup(block.text), _style("statement", size=11, leading=16.5))
        grid = Grid([[text]], colWidths=[self._width], spaceBefore=4, spaceAfter=8, splitInRow=1)
        grid.setStyle(
            [
                ("BACKGROUND", (0, 0), (-1, -1), LIGHT.found_wash),
                ("ROUNDEDCORNERS", [5, 5, 5, 5]),
                ("LEFTPADDING", (0, 0), (-1, -1), 12),
                ("RIGHTPADDING", (0, 0), (-1, -1), 12),
                ("TOPPADDING", (0, 0), (-1, -1), 8),
                ("BOTTOMPADDING", (0, 0), (-1, -1), 10),
            ]
        )
        return grid

    def _figure(self, block: FigureBlock) -> Any:
        from reportlab.platypus import Image, KeepTogether
        from reportlab.platypus import Paragraph as Text

        picture = io.BytesIO(picture_bytes(block.picture, "png"))
        self._drawn += 1
        self._progress(0.1 + 0.75 * self._drawn / self._pictures)
        width = self._figure_width()
        image = Image(picture, width=width, height=width * HEIGHT / WIDTH, hAlign="LEFT")
        caption = Text(markup(block.caption), _style("caption", size=8.4, colour=LIGHT.quiet, spaceAfter=8))
        return KeepTogether([image, caption])

    def _table(self, block: Table) -> list[Any]:
        from reportlab.platypus import KeepTogether
        from reportlab.platypus import Paragraph as Text
        from reportlab.platypus import Table as Grid

        def cell(text: str, column: int, head: bool) -> Any:
            alignment = 2 if column in block.right else 0
            return Text(
                markup(_for_a_page(text)), _style("cell", size=_CELL, bold=head, leading=12, alignment=alignment)
            )

        rows = [[cell(text, i, True) for i, text in enumerate(block.head)]]
        rows += [[cell(text, i, False) for i, text in enumerate(row)] for row in block.rows]
        grid = Grid(rows, colWidths=self._column_widths(block), repeatRows=1, spaceAfter=8, splitInRow=1)
        grid.setStyle(
            [
                ("LINEBELOW", (0, 0), (-1, 0), 0.8, LIGHT.ink),
                ("LINEBELOW", (0, 1), (-1, -1), 0.5, LIGHT.hairline),
                ("VALIGN", (0, 0), (-1, -1), "TOP"),
                ("LEFTPADDING", (0, 0), (-1, -1), 0),
                ("RIGHTPADDING", (0, 0), (-1, -1), 10),
                ("RIGHTPADDING", (-1, 0), (-1, -1), 0),
                ("TOPPADDING", (0, 0), (-1, -1), 3),
                ("BOTTOMPADDING", (0, 0), (-1, -1), 4),
            ]
        )
        caption = Text(markup(block.caption), _style("caption", size=8.4, colour=LIGHT.quiet, spaceBefore=4))
        return [KeepTogether([caption, grid])] if len(rows) <= 25 else [caption, grid]

    def _column_widths(self, block: Table) -> list[float]:
        """Each as wide as its longest word needs; what is left goes to those whose texts ask for more."""
        columns = list(zip(block.head, *block.rows, strict=True))
        needs = [max(_width_of(word) for text in column for word in text.split(" ")) + _APART for column in columns]
        wants = [min(max(map(_width_of, column)), _WIDEST) + _APART for column in columns]
        needs = [min(need, _WIDEST + _APART) for need in needs]
        spare, more = self._width - sum(needs), [max(w - n, 0.0) for w, n in zip(wants, needs, strict=True)]
        if spare <= 0:
            return [self._width * need / sum(needs) for need in needs]
        shares = more if sum(more) > spare else wants  # all can have what they want: the rest by how much that is
        given = needs if shares is more else [max(w, n) for w, n in zip(wants, needs, strict=True)]
        left = self._width - sum(given)
        return [width + left * share / (sum(shares) or 1.0) for width, share in zip(given, shares, strict=True)]


def _width_of(text: str) -> float:
    """In points, in a heading, which is the wider."""
    from reportlab.pdfbase.pdfmetrics import stringWidth

    return float(stringWidth(text, "Inter-Bold", _CELL))


def _style(
    name: str,
    size: float = 9.6,
    bold: bool = False,
    colour: str = LIGHT.ink,
    leading: float = 0.0,
    **more: Any,
) -> Any:
    from reportlab.lib.styles import ParagraphStyle

    return ParagraphStyle(
        name,
        fontName="Inter-Bold" if bold else "Inter",
        fontSize=size,
        leading=leading or size * 1.5,
        textColor=colour,
        splitLongWords=1,
        **more,
    )


def _for_a_page(text: str) -> str:
    """A cell's text, cut where it would be higher than a page."""
    return text if len(text) <= MOST_IN_A_CELL else f"{text[:MOST_IN_A_CELL]} …"


def markup(text: str) -> str:
    """Text as ReportLab's markup: escaped, and set in the fallback font where Inter lacks a character."""
    from reportlab.pdfbase import pdfmetrics

    register_fonts()
    known = pdfmetrics.getFont("Inter").face.charToGlyph
    parts: list[str] = []
    for character in legal(text):
        if character == "\n" or ord(character) in known:
            parts.append(escape(character, quote=False))
        else:
            parts.append(f'<font name="{FALLBACK}">{escape(character, quote=False)}</font>')
    return "".join(parts).replace(f'</font><font name="{FALLBACK}">', "")
