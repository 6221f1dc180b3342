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
_SPECIAL = re.compile(r"([\\`*_{}\[\]<>#|$~&])")
_AT_START = re.compile(r"^(\s*)([-+=]|\d+(?=[.)]))", re.MULTILINE)


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
    widths = [max(map(len, column)) for column in zip_longest(*rows, fillvalue="")]
    lines = [_aligned(row, widths, table.right) for row in rows]
    return "\n".join([_wrapped(table.caption), lines[0], "-" * max(map(len, lines)), *lines[1:]])


def _aligned(row: list[str], widths: list[int], right: tuple[int, ...]) -> str:
    cells = [
        cell.rjust(width) if place in right else cell.ljust(width)
        for place, (cell, width) in enumerate(zip(row, widths, strict=False))
    ]
    return "  ".join(cells).rstrip()


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
    return _AT_START.sub(r"\1\\\2", _SPECIAL.sub(r"\\\1", _line(text)))


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
