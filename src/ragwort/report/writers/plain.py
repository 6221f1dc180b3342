"""The document tree as text: plain, and as Markdown. Pictures are said in words."""

from __future__ import annotations

import re
import textwrap
from collections.abc import Callable
from itertools import zip_longest

from ragwort.designs.formula import linear
from ragwort.files.texts import legal
from ragwort.report.tree import Block, Bullets, Code, Document, FigureBlock, FormulaBlock, Heading, Paragraph, Table

WIDTH = 92  # characters of a line of plain text
_APART = 2  # characters between two columns
_NARROWEST = 14  # characters of a column that is made narrower
_SPECIAL = re.compile(r"([\\`*_{}\[\]<>#|$~&])")
_AT_START = re.compile(r"^(\s*)([-+=])", re.MULTILINE)
_NUMBERED = re.compile(r"^(\s*\d{1,9})([.)])(?=\s|$)", re.MULTILINE)  # what would begin a list


def write_text(document: Document, progress: Callable[[float], None] = lambda _: None) -> bytes:
    """The document as UTF-8 text."""
    progress(0.5)
    return _joined(document, _plain_block)


def write_markdown(document: Document, progress: Callable[[float], None] = lambda _: None) -> bytes:
    """The document as Markdown, every mark in a text kept from being one."""
    progress(0.5)
    return _joined(document, _marked_block)


def _joined(document: Document, written: Callable[[Block], str]) -> bytes:
    return ("\n\n".join(written(block) for block in document.blocks) + "\n").encode()


# --- plain ---


def _plain_block(block: Block) -> str:
    if isinstance(block, Heading):
        text = _line(block.text)
        return f"{text}\n{ {1: '=', 2: '-'}.get(block.level, '·') * min(len(text), WIDTH) }"
    if isinstance(block, Paragraph):
        return _wrapped(block.text)
    if isinstance(block, Bullets):
        return "\n".join(_wrapped(item, "- ", "  ") for item in block.items)
    if isinstance(block, FigureBlock):
        return _wrapped(f"[Picture] {block.caption}")
    if isinstance(block, FormulaBlock):
        return "\n".join(f"    {_line(linear(line))}" for line in block.lines)
    return legal(block.text) if isinstance(block, Code) else _plain_table(block)


def _line(text: str) -> str:
    return " ".join(legal(text).split())


def _wrapped(text: str, first: str = "", rest: str = "") -> str:
    return textwrap.fill(_line(text), WIDTH, initial_indent=first, subsequent_indent=rest, break_on_hyphens=False)


def _plain_table(table: Table) -> str:
    rows = [[_line(cell) for cell in row] for row in (table.head, *table.rows)]
    widths = _narrowed([max(map(len, column)) for column in zip_longest(*rows, fillvalue="")])
    head, *body = [_lines_of(row, widths, table.right) for row in rows]
    every = [line for lines in (head, *body) for line in lines]
    under = "-" * max(map(len, every))
    return "\n".join([_wrapped(table.caption), *head, under, *every[len(head) :]])


def _narrowed(widths: list[int]) -> list[int]:
    """Columns that stand beside each other on a line: what is too much is taken off the widest."""
    widths = list(widths)
    while sum(widths) + _APART * (len(widths) - 1) > WIDTH and max(widths) > _NARROWEST:
        widths[widths.index(max(widths))] -= 1
    return widths


def _lines_of(row: list[str], widths: list[int], right: tuple[int, ...]) -> list[str]:
    """A row, over as many lines as its longest cell needs."""
    cells = [textwrap.wrap(cell, width) or [""] for cell, width in zip(row, widths, strict=False)]
    return [_aligned(list(line), widths, right) for line in zip_longest(*cells, fillvalue="")]


def _aligned(row: list[str], widths: list[int], right: tuple[int, ...]) -> str:
    cells = [
        cell.rjust(width) if place in right else cell.ljust(width)
        for place, (cell, width) in enumerate(zip(row, widths, strict=False))
    ]
    return (" " * _APART).join(cells).rstrip()


# --- Markdown ---


def _marked_block(block: Block) -> str:
    if isinstance(block, Heading):
        return f"{'#' * block.level} {_kept(block.text)}"
    if isinstance(block, Paragraph):
        text = _kept(block.text)
        return {"statement": f"> {text}", "problem": f"**{text}**"}.get(block.style, text)
    if isinstance(block, Bullets):
        return "\n".join(f"- {_kept(item)}" for item in block.items)
    if isinstance(block, FigureBlock):
        return f"*Picture: {_kept(block.caption)}*"
    if isinstance(block, FormulaBlock):
        return "  \n".join(_kept(linear(line)) for line in block.lines)
    return _fenced(block.text) if isinstance(block, Code) else _marked_table(block)


def _kept(text: str) -> str:
    """Text in which nothing is a mark."""
    return _NUMBERED.sub(r"\1\\\2", _AT_START.sub(r"\1\\\2", _SPECIAL.sub(r"\\\1", _line(text))))


def _fenced(text: str) -> str:
    """Letter by letter, in a fence longer than any that stands in it."""
    longest = max((len(run) for run in re.findall(r"`+", text)), default=0)
    fence = "`" * max(3, longest + 1)
    return f"{fence}\n{legal(text)}\n{fence}"


def _marked_table(table: Table) -> str:
    rules = ["---:" if place in table.right else "---" for place in range(len(table.head))]
    rows = [table.head, *table.rows]
    lines = [f"| {' | '.join(_kept(cell) or ' ' for cell in row)} |" for row in rows]
    return "\n".join([f"**{_kept(table.caption)}**", "", lines[0], f"| {' | '.join(rules)} |", *lines[1:]])
