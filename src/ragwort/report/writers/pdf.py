"""The document tree as PDF: tagged, with an outline, vector pictures, alternative texts and embedded fonts.

What is laid out, and how, stands in `report.typ`, which Typst sets; this module hands it the tree as plain data.
"""

from __future__ import annotations

import json
import re
from collections.abc import Callable
from pathlib import Path
from typing import Any

from ragwort.designs.formula import linear
from ragwort.figures.palette import LIGHT
from ragwort.files.texts import legal
from ragwort.files.typeset import pdf_of
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
from ragwort.report.writers.drawn import svg_of
from ragwort.report.writers.formulas import typst

PAPERS = {"A4": "a4", "Letter": "us-letter"}
_LONGEST_WORD = 24  # characters after which a word may be broken
_LONGEST_FOOT = 90  # characters
_UNTITLED = "Report"  # a document and each of its headings has a title


def write_pdf(document: Document, progress: Callable[[float], None] = lambda _: None, paper: str = "A4") -> bytes:
    """The document as PDF/UA-1, on one of `PAPERS`."""
    pictures = document.pictures()
    files: dict[str, bytes] = {}
    for number, picture in enumerate(pictures):
        files[_file(number)] = svg_of(picture)
        progress(0.1 + 0.75 * (number + 1) / len(pictures))
    files["document.json"] = json.dumps(_plain(document, paper)).encode()
    made = pdf_of(Path(__file__).parent / "report.typ", files)
    progress(1.0)
    return made


def _file(number: int) -> str:
    return f"picture-{number}.svg"


def _plain(document: Document, paper: str) -> dict[str, Any]:
    title = _breakable(document.title) or _UNTITLED
    foot = document.title if len(document.title) <= _LONGEST_FOOT else f"{document.title[: _LONGEST_FOOT - 1]}…"
    blocks, drawn = [], 0
    for block in document.blocks:
        blocks.append(_plain_block(block, drawn))
        drawn += isinstance(block, FigureBlock)
    colours = {name: value for name, value in LIGHT.__dict__.items() if str(value).startswith("#")}
    return {"title": title, "foot": _breakable(foot), "paper": PAPERS[paper], "colours": colours, "blocks": blocks}


def _plain_block(block: Block, drawn: int) -> dict[str, Any]:
    if isinstance(block, Heading):
        return {"kind": "heading", "text": _breakable(block.text) or _UNTITLED, "level": block.level}
    if isinstance(block, Paragraph):
        return {"kind": "paragraph", "text": _breakable(block.text), "style": block.style}
    if isinstance(block, Bullets):
        return {"kind": "bullets", "items": [_breakable(item) for item in block.items]}
    if isinstance(block, Code):
        return {"kind": "code", "text": legal(block.text)}
    if isinstance(block, FigureBlock):
        return {
            "kind": "figure",
            "file": _file(drawn),
            "caption": _breakable(block.caption),
            "says": legal(block.picture.says) or "Picture",
        }
    if isinstance(block, FormulaBlock):
        lines = [{"math": typst(line), "says": legal(linear(line))} for line in block.lines]
        return {"kind": "formula", "lines": lines}
    assert isinstance(block, Table)
    return {
        "kind": "table",
        "caption": _breakable(block.caption),
        "head": [_breakable(cell) for cell in block.head],
        "rows": [[_breakable(cell) for cell in row] for row in block.rows],
        "right": list(block.right),
        "shares": shares_of(block),
    }


def _breakable(text: str) -> str:
    """Text whose very long words may go on in the next line."""
    return re.sub(rf"(\S{{{_LONGEST_WORD}}})(?=\S)", "\\1\u200b", legal(text))
