"""The write-up: one document tree, several writers.

    tree.py     what a document is made of: headings, paragraphs, tables, figures
    sections/   a study -> its document tree (content.py); what each section says
    writers/    the tree as HTML, PDF, DOCX, Markdown, plain text, and as the preview of the window
    guide.py    the declarations of the designs -> the user guide

Writers are dumb: they lay out what the tree holds and work nothing out.
"""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from ragwort.report.sections.content import report_of
from ragwort.report.tree import Document
from ragwort.study.document.model import Study
from ragwort.study.document.writing import paper_of

REPORT_FORMATS = ("html", "pdf", "docx", "md", "txt")


def report_bytes(
    study: Study,
    kind: str,
    progress: Callable[[float], None] = lambda _: None,
    template: Path | None = None,
    tell: Callable[[str], None] = lambda _: None,
) -> bytes:
    """The report of a study as a file of one of `REPORT_FORMATS`. `progress` hears shares done, and may raise to stop.

    `template` is a DOCX document to write on, or a CSS file that dresses HTML; `tell` hears what of it was left out.
    Raises `FileError` where it is none, or would fetch something from elsewhere.
    """
    if kind not in REPORT_FORMATS:
        raise ValueError(f"A report is written as {' or '.join(REPORT_FORMATS)}, not {kind!r}.")
    return document_bytes(report_of(study), kind, paper_of(study), progress, template, tell)


def document_bytes(
    document: Document,
    kind: str,
    paper: str,
    progress: Callable[[float], None] = lambda _: None,
    template: Path | None = None,
    tell: Callable[[str], None] = lambda _: None,
) -> bytes:
    """Any document as a file of one of `REPORT_FORMATS`; the rest as `report_bytes`."""
    progress(0.1)
    if kind == "html":
        from ragwort.report.writers.html import write_html

        return write_html(document, progress, template)
    if kind == "docx":
        from ragwort.report.writers.docx import write_docx

        return write_docx(document, progress, template, paper, tell)
    if kind in ("md", "txt"):
        from ragwort.report.writers.plain import write_markdown, write_text

        return (write_markdown if kind == "md" else write_text)(document, progress)
    from ragwort.report.writers.pdf import write_pdf

    return write_pdf(document, progress, paper)


__all__ = ["REPORT_FORMATS", "report_bytes", "report_of"]
