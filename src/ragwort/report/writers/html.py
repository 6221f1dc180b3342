"""The document tree as one HTML file: styles and figures inside it."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from ragwort.figures.palette import LIGHT
from ragwort.files.texts import legal
from ragwort.report.tree import Bullets, Code, Document, FigureBlock, FormulaBlock, Heading, Paragraph, Table
from ragwort.report.writers.drawn import svg_of
from ragwort.report.writers.formulas import mathml
from ragwort.report.writers.house_style import house_style


def write_html(
    document: Document, progress: Callable[[float], None] = lambda _: None, template: Path | None = None
) -> bytes:
    """The document as UTF-8 HTML, dressed by a CSS file besides if one is given. Raises `FileError` if that is none."""
    css = "" if template is None else house_style(template)
    from jinja2 import Environment, FileSystemLoader, StrictUndefined

    pictures = document.pictures()
    drawings = {}
    for number, picture in enumerate(pictures, start=1):
        drawings[id(picture)] = _inline(svg_of(picture).decode())
        progress(0.1 + 0.8 * number / len(pictures))
    environment = Environment(
        loader=FileSystemLoader(Path(__file__).parent),
        autoescape=True,
        undefined=StrictUndefined,
        trim_blocks=True,
    )
    text = environment.get_template("report.html").render(
        document=document,
        blocks=[(_kind(block), block) for block in document.blocks],
        drawings=drawings,
        id=id,
        mathml=mathml,
        css=css,
        colours=LIGHT,
    )
    return legal(text).encode()


def _kind(block: object) -> str:
    names = {
        Heading: "heading",
        Paragraph: "paragraph",
        Table: "table",
        FigureBlock: "figure",
        FormulaBlock: "formula",
        Bullets: "bullets",
    }
    return "code" if isinstance(block, Code) else names[type(block)]


def _inline(svg: str) -> str:
    """The drawing without its XML prologue, which has no place inside HTML."""
    return svg[svg.index("<svg") :]
