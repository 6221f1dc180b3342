"""The document tree as DOCX: real styles, captions, heading rows, alternative text; what follows can be edited."""

from __future__ import annotations

import io
from collections.abc import Callable, Collection, Iterator, Sequence
from concurrent.futures import ThreadPoolExecutor
from copy import deepcopy
from datetime import UTC, datetime
from pathlib import Path
from typing import Any

from ragwort.figures.palette import LIGHT
from ragwort.figures.pictures import Picture
from ragwort.files.texts import legal
from ragwort.report.tree import (
    Block,
    Bullets,
    Code,
    Document,
    FigureBlock,
    FormulaBlock,
    Heading,
    Paragraph,
    Table,
    shares_of,
)
from ragwort.report.writers.drawn import as_dots, svg_of
from ragwort.report.writers.formulas import omml
from ragwort.report.writers.letterhead import letterhead_in

_WIDE = 4.4  # inches of a picture
_BRICK, _QUIET, _INK = (0xA8, 0x43, 0x2B), (0x5B, 0x6B, 0x62), (0x1F, 0x2E, 0x27)
_LETTERS = "Arial"  # that every machine has, or a likeness of it
_TABLE = 6.5  # inches that a table is wide
_PAPERS = {"A4": (21.0, 29.7), "Letter": (21.59, 27.94)}  # centimetres
_ONE_PAGE = 20  # rows of a table that is kept on one page
_HAIRLINE, _RULE = (LIGHT.hairline[1:], 4), (LIGHT.ink[1:], 8)  # colours without their #, eighths of a point


def write_docx(
    document: Document,
    progress: Callable[[float], None] = lambda _: None,
    template: Path | None = None,
    paper: str = "A4",
    tell: Callable[[str], None] = lambda _: None,
) -> bytes:
    """The document as DOCX, on a letterhead if one is given. Raises `FileError` where that is none.

    `tell` hears what of the letterhead was left out.
    """
    made = _dressed(paper) if template is None else letterhead_in(template, tell)
    made.core_properties.title = legal(document.title)[:255]
    made.core_properties.author = ""
    made.core_properties.created = made.core_properties.modified = datetime(2000, 1, 1, tzinfo=UTC)
    writer = _Writer(made, _dots(document.pictures(), progress))
    for block in document.blocks:
        writer.write(block)
    out = io.BytesIO()
    made.save(out)
    return out.getvalue()


def _dots(pictures: Sequence[Picture], progress: Callable[[float], None]) -> Iterator[bytes]:
    """Each picture as PNG; two are turned into dots while the next is drawn."""
    with ThreadPoolExecutor(2) as elsewhere:
        coming = []
        for number, picture in enumerate(pictures, start=1):
            coming.append(elsewhere.submit(as_dots, svg_of(picture)))
            progress(0.1 + 0.8 * number / len(pictures))
        return iter([each.result() for each in coming])


def _dressed(paper: str) -> Any:
    """An empty document in our letters and inks."""
    import docx
    from docx.shared import Cm

    made = docx.Document()
    section = made.sections[0]
    section.page_width, section.page_height = (Cm(length) for length in _PAPERS[paper])
    section.left_margin = section.right_margin = Cm(2.2)
    section.top_margin = section.bottom_margin = Cm(1.9)
    for name, size, colour, bold, italic in (
        ("Normal", 9, _INK, False, False),
        ("Title", 20, _INK, True, False),
        ("Heading 1", 17, _INK, True, False),
        ("Heading 2", 13, _INK, True, False),
        ("Heading 3", 10.5, _INK, True, False),
        ("Heading 4", 10, _QUIET, True, False),
        ("Caption", 8.5, _QUIET, False, False),
        ("Intense Quote", 9.5, _INK, False, False),
        ("List Bullet", 9, _INK, False, False),
    ):
        _set_style(made.styles[name], size, colour, bold, italic)
    for name, before, after in _APART:
        _set_apart(made.styles[name], before, after)
    _washed(made.styles["Intense Quote"])
    return made


_APART = (  # points above and below: a page holds as much as it does in PDF
    ("Normal", 0, 4),
    ("Heading 1", 0, 4),
    ("Heading 2", 12, 4),
    ("Heading 3", 8, 2),
    ("Heading 4", 6, 2),
    ("Caption", 4, 2),
    ("List Bullet", 0, 1),
)


def _set_apart(style: Any, before: float, after: float) -> None:
    from docx.shared import Pt

    form = style.paragraph_format
    form.space_before, form.space_after, form.line_spacing = Pt(before), Pt(after), 1.05


def _washed(style: Any) -> None:
    """A statement stands on a ground of its own and on one page."""
    from docx.oxml import OxmlElement
    from docx.oxml.ns import qn
    from docx.shared import Pt

    properties = style.element.get_or_add_pPr()
    for rule in properties.findall(qn("w:pBdr")):
        properties.remove(rule)
    ground = OxmlElement("w:shd")
    for name, value in (("w:val", "clear"), ("w:color", "auto"), ("w:fill", LIGHT.found_wash.lstrip("#"))):
        ground.set(qn(name), value)
    properties.insert_element_before(ground, "w:tabs", "w:spacing", "w:ind", "w:contextualSpacing", "w:jc", "w:rPr")
    form = style.paragraph_format
    form.left_indent = form.right_indent = Pt(0)
    form.space_before, form.space_after, form.keep_together = Pt(4), Pt(6), True


def _set_style(style: Any, size: float, colour: tuple[int, int, int], bold: bool, italic: bool) -> None:
    from docx.oxml.ns import qn
    from docx.shared import Pt, RGBColor

    font = style.font
    font.name, font.size, font.bold, font.italic = _LETTERS, Pt(size), bold, italic
    font.color.rgb = RGBColor(*colour)
    fonts = style.element.get_or_add_rPr().get_or_add_rFonts()
    for kind in ("w:asciiTheme", "w:hAnsiTheme", "w:eastAsiaTheme", "w:cstheme"):
        fonts.attrib.pop(qn(kind), None)


class _Writer:
    """Adds block after block."""

    def __init__(self, made: Any, drawn: Iterator[bytes]) -> None:
        self._made, self._drawn = made, drawn
        self._styles = {style.name: style for style in made.styles}

    def write(self, block: Block) -> None:
        """Add one block."""
        if isinstance(block, Heading):
            self._say(block.text, f"Heading {block.level}" if block.level else "Title")
        elif isinstance(block, Paragraph):
            self._paragraph(block)
        elif isinstance(block, Bullets):
            for item in block.items:
                self._say(item, "List Bullet")
        elif isinstance(block, FigureBlock):
            self._figure(block)
        elif isinstance(block, FormulaBlock):
            for line in block.lines:
                self._made.add_paragraph()._p.append(omml(line))
        elif isinstance(block, Code):
            self._code(block)
        else:
            self._table(block)

    def _say(self, text: str, style: str = "") -> Any:
        """A paragraph, in a style where the template has it."""
        made = self._made.add_paragraph(legal(text))
        if style in self._styles:
            made._p.style = self._styles[style].style_id  # by its id: to look each style up takes longer than all else
        return made

    def _paragraph(self, block: Paragraph) -> None:
        from docx.shared import RGBColor

        run = self._say("", "Intense Quote" if block.style == "statement" else "").add_run(legal(block.text))
        if block.style == "problem":
            run.bold = True
            run.font.color.rgb = RGBColor(*_BRICK)
        if block.style == "quiet":
            run.font.color.rgb = RGBColor(*_QUIET)

    def _code(self, block: Code) -> None:
        from docx.shared import Pt

        run = self._made.add_paragraph().add_run(legal(block.text))
        run.font.name, run.font.size = "Courier New", Pt(6.5)

    def _caption(self, text: str, above: bool = False) -> None:
        """On the page of what it names: below a picture, above a table."""
        made = self._say(text, "Caption")
        made.paragraph_format.keep_with_next = above or None

    def _figure(self, block: FigureBlock) -> None:
        from docx.shared import Inches

        place = self._made.add_paragraph()
        shape = place.add_run().add_picture(io.BytesIO(next(self._drawn)), width=Inches(_WIDE))
        shape._inline.docPr.set("descr", legal(block.picture.says))
        place.paragraph_format.keep_with_next = True
        self._caption(block.caption)

    def _cell_style(self) -> Any:
        """The paragraphs of cells stand close; a letterhead is given this style if it lacks it."""
        from docx.enum.style import WD_STYLE_TYPE
        from docx.shared import Pt

        made = self._styles.get("Table Text")
        if made is None:
            made = self._styles["Table Text"] = self._made.styles.add_style("Table Text", WD_STYLE_TYPE.PARAGRAPH)
            made.base_style = self._styles.get("Normal")
            made.paragraph_format.space_after = made.paragraph_format.space_before = Pt(1)
            made.paragraph_format.line_spacing = 1.0
        return made

    def _table(self, block: Table) -> None:
        from docx.shared import Inches, Pt

        self._caption(block.caption, above=True)
        table = self._made.add_table(rows=0, cols=len(block.head))
        table.autofit = False
        for column, share in zip(table.columns, shares_of(block), strict=True):
            column.width = Inches(_TABLE * share)  # rows take it over
        together = len(block.rows) if len(block.rows) <= _ONE_PAGE else 1
        for number, row in enumerate((block.head, *block.rows)):
            with_next = number < together
            if number > 2 and with_next == (number - 1 < together):
                _one_more(table, row)
            else:
                self._row(table.add_row(), row, block.right, number == 0, with_next)
        _ruled(table)
        self._made.add_paragraph().paragraph_format.space_after = Pt(0)

    def _row(self, made: Any, texts: Sequence[str], right: Collection[int], head: bool, with_next: bool) -> None:
        from docx.enum.text import WD_ALIGN_PARAGRAPH

        style = self._cell_style().style_id
        for place, (cell, text) in enumerate(zip(made.cells, texts, strict=True)):
            paragraph = cell.paragraphs[0]
            paragraph._p.style = style
            paragraph.add_run(legal(text)).bold = head or None
            paragraph.paragraph_format.keep_with_next = with_next or None
            if place in right:
                paragraph.alignment = WD_ALIGN_PARAGRAPH.RIGHT


def _one_more(table: Any, texts: Sequence[str]) -> None:
    """A row like the last, copied: to make each anew took longer than all else."""
    from docx.text.run import Run

    row = deepcopy(table._tbl.tr_lst[-1])
    table._tbl.append(row)
    for cell, text in zip(row.tc_lst, texts, strict=True):
        Run(cell.p_lst[0].r_lst[0], None).text = legal(text)


def _ruled(table: Any) -> None:
    """Hairlines between rows, a line under the heading row, which stands again on the next page."""
    from docx.oxml import OxmlElement

    borders = OxmlElement("w:tblBorders")
    for side in ("bottom", "insideH"):
        borders.append(_border(f"w:{side}", *_HAIRLINE))
    table._tbl.tblPr.append(borders)
    for row in table.rows:
        row._tr.get_or_add_trPr().append(OxmlElement("w:cantSplit"))
    head = table.rows[0]
    for cell in head.cells:
        under = OxmlElement("w:tcBorders")
        under.append(_border("w:bottom", *_RULE))
        cell._tc.get_or_add_tcPr().append(under)
    head._tr.get_or_add_trPr().append(OxmlElement("w:tblHeader"))


def _border(tag: str, colour: str, size: int) -> Any:
    from docx.oxml import OxmlElement
    from docx.oxml.ns import qn

    made = OxmlElement(tag)
    for name, value in (("w:val", "single"), ("w:sz", str(size)), ("w:space", "0"), ("w:color", colour)):
        made.set(qn(name), value)
    return made
