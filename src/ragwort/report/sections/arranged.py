"""Sections put in order, each with its heading and the user's own words around it."""

from __future__ import annotations

from collections.abc import Callable, Mapping

from ragwort.report.tree import Block, Heading, Paragraph
from ragwort.study.document.study_wide import Writing
from ragwort.study.document.writing import is_shown, ordered

Made = Callable[[], list[Block]]


def arranged(
    writing: Writing, names: Mapping[str, str], texts: Mapping[str, str], made: Mapping[str, Made], level: int
) -> list[Block]:
    """The sections that are shown and hold something, under headings of this level; level 0: without."""
    found: list[Block] = []
    for name in ordered(writing, names):
        if not is_shown(writing, name):
            continue
        inside = [*_own(texts, "before", name), *made[name](), *_own(texts, "after", name)]
        if inside and level:
            found.append(Heading(names[name], level))
        found += inside
    return found


def _own(texts: Mapping[str, str], place: str, name: str) -> list[Block]:
    parts = texts.get(f"{place} {name}", "").split("\n\n")
    return [Paragraph(part.strip()) for part in parts if part.strip()]
