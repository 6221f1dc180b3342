"""What guidelines ask of a sample size, and where the report answers it."""

from __future__ import annotations

from ragwort.report.tree import Block, Paragraph, Table
from ragwort.study.coverage import covered, said
from ragwort.study.model import Aim

_WHAT = "Checked is only whether something stands there, not whether it is right."


def coverage_blocks(aim: Aim) -> list[Block]:
    """A row for each point."""
    rows = tuple((point.guideline, _capital(point.asks), said(found)) for point, found in covered(aim))
    table = Table("What reporting guidelines ask for", ("Guideline", "Asks for", "Here"), rows)
    return [table, Paragraph(_WHAT, "quiet")]


def _capital(words: str) -> str:
    return f"{words[:1].upper()}{words[1:]}"
