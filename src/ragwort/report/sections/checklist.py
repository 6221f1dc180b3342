"""A guideline's checklist as a file of its own: the items on sample size, and where the report answers each.

Sources, beside those of `study/words/coverage.py`: SPIRIT 2025, item 19 (Chan et al., BMJ 2025; 389: e081477);
CONSORT 2025, items 16a and 16b (Hopewell et al., BMJ 2025; 388: e081123).
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from ragwort.base.wording import capital
from ragwort.report.tree import Block, Document, Heading, Paragraph, Table
from ragwort.study.document.model import Study
from ragwort.study.words.coverage import covered, said


@dataclass(frozen=True)
class Edition:
    """A guideline in one edition: its name, and its items by those that `study.coverage` knows."""

    name: str
    items: Mapping[str, str]


EDITIONS = {
    "spirit-2025": Edition("SPIRIT 2025", {"SPIRIT 14": "19"}),
    "spirit-2013": Edition("SPIRIT 2013", {"SPIRIT 14": "14"}),
    "consort-2025": Edition("CONSORT 2025", {"CONSORT 7a": "16a", "CONSORT 7b": "16b"}),
    "consort-2010": Edition("CONSORT 2010", {"CONSORT 7a": "7a", "CONSORT 7b": "7b"}),
    "arrive-2.0": Edition("ARRIVE 2.0", {"ARRIVE 2a": "2a", "ARRIVE 2b": "2b"}),
    "strobe-2007": Edition("STROBE 2007", {"STROBE 10": "10"}),
    "ich-e9": Edition("ICH E9", {"ICH E9 3.5": "3.5"}),
}
_CHECKED = "Only presence was checked, not correctness."


def checklist_of(study: Study, edition: str) -> Document:
    """The checklist of one of `EDITIONS`, a table for each aim. Raises `KeyError` for another."""
    of = EDITIONS[edition]
    title = f"{study.title}: sample size items of {of.name}"
    blocks: list[Block] = [Heading(title, 1)]
    for number, aim in enumerate(study.aims, start=1):
        rows = tuple(
            (of.items[point.guideline], capital(point.asks), capital(said(found)))
            for point, found in covered(study, aim)
            if point.guideline in of.items
        )
        named = aim.name if aim.name == f"Aim {number}" else f"Aim {number}: {aim.name}"
        blocks += [Heading(named, 2), Table(f"{of.name}, {aim.name}", ("Item", "Asks for", "Reported"), rows)]
    return Document(title, (*blocks, Paragraph(_CHECKED, "quiet")))
