"""The document tree as the simple HTML that a text widget can show; pictures are named, not included."""

from __future__ import annotations

from html import escape

from ragwort.designs.formula import linear
from ragwort.figures.palette import LIGHT
from ragwort.report.tree import Bullets, Code, Document, FigureBlock, FormulaBlock, Heading, Paragraph, Table

MOST_DRAWN = 60  # pictures: of a study with very many aims the rest is drawn for what is exported only
_LETTER, _GAP = 8.5, 14  # pixels: how wide a letter of a heading row is about, and what is between two columns
PICTURE = "picture:{}"  # the name under which the n-th picture (from 0) is asked for


def write_preview(document: Document, width: int, drawn: int = MOST_DRAWN) -> str:
    """The document for a page `width` pixels wide, with its first `drawn` pictures; of the rest the captions."""
    number = 0
    parts = []
    for block in document.blocks:
        if isinstance(block, FigureBlock):
            image = f'<p><img src="{PICTURE.format(number)}" width="{width}"></p>' if number < drawn else ""
            parts.append(f"{image}{_quiet(block.caption)}")
            number += 1
        else:
            parts.append(_table(block, width) if isinstance(block, Table) else _block(block))
    return "".join(parts)


def _block(block: Heading | Paragraph | Bullets | FormulaBlock | Code) -> str:
    if isinstance(block, Heading):
        return _heading(block)
    if isinstance(block, Paragraph):
        return _paragraph(block)
    if isinstance(block, Bullets):
        return "<ul>" + "".join(f"<li>{escape(item)}</li>" for item in block.items) + "</ul>"
    if isinstance(block, FormulaBlock):
        return "".join(f'<p style="margin-left:14px;">{escape(linear(line))}</p>' for line in block.lines)
    return f'<pre style="background:{LIGHT.panel}; font-size:12px;">{escape(block.text)}</pre>'


def anchor_of(aim: int) -> str:
    """The name of the place where the chapter of an aim begins, the first being 1."""
    return f"aim{aim}"


def _heading(block: Heading) -> str:
    if block.level == 4:
        style = f"font-size:12px; color:{LIGHT.quiet}; margin-top:20px; margin-bottom:4px;"
        return f'<p style="{style}"><b>{escape(block.text.upper())}</b></p>'
    size, above = {1: (26, 4), 2: (19, 34), 3: (15, 22)}[block.level]
    place = f'<a name="{anchor_of(block.aim)}"></a>' if block.aim else ""
    style = f"font-size:{size}px; margin-top:{above}px; margin-bottom:6px;"
    return f'<p style="{style}">{place}<b>{escape(block.text)}</b></p>'


def _paragraph(block: Paragraph) -> str:
    text = escape(block.text)
    if block.style == "statement":
        cell = f'bgcolor="{LIGHT.found_wash}" style="font-size:16px;"'
        box = 'width="100%" cellpadding="12" cellspacing="0" style="margin-top:8px; margin-bottom:8px;"'
        return f"<table {box}><tr><td {cell}>{text}</td></tr></table>"
    if block.style == "quiet":
        return _quiet(block.text)
    colour = f' style="color:{LIGHT.brick}"' if block.style == "problem" else ""
    return f"<p{colour}>{text}</p>"


def _quiet(text: str) -> str:
    return f'<p style="color:{LIGHT.quiet}; font-size:12.5px;">{escape(text)}</p>'


def _is_tight(block: Table, width: int) -> bool:
    """Whether its longest words would not stand beside each other in the usual size."""
    columns = zip(block.head, *block.rows, strict=True)
    words = [max((len(word) for cell in column for word in cell.split()), default=0) for column in columns]
    return sum(words) * _LETTER + len(words) * _GAP > width


def _table(block: Table, width: int) -> str:
    size, gap = ("font-size:11px;", 6) if _is_tight(block, width) else ("", _GAP)

    def row(cells: tuple[str, ...], tag: str) -> str:
        line = LIGHT.ink if tag == "th" else LIGHT.hairline
        style = f"border-bottom:1px solid {line}; padding:5px {gap}px 5px 0;{size}"
        return "".join(
            f'<{tag} align="{"right" if index in block.right else "left"}" style="{style}">{escape(cell)}</{tag}>'
            for index, cell in enumerate(cells)
        )

    body = "".join(f"<tr>{row(cells, 'td')}</tr>" for cells in block.rows)
    return f'{_quiet(block.caption)}<table width="100%" cellspacing="0"><tr>{row(block.head, "th")}</tr>{body}</table>'
