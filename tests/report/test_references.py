"""The list of references holds what the text cites, each work once, and nothing else."""

from __future__ import annotations

import re

import pytest

from ragwort.demo import sampler_study
from ragwort.designs import all_designs
from ragwort.designs.works import COHEN, WELCH, WORKS, cited, works_in
from ragwort.report.sections.content import report_of
from ragwort.report.sections.references import references_of
from ragwort.report.tree import Bullets, FigureBlock, Heading, Paragraph, Table
from ragwort.study.document.model import Study
from ragwort.study.document.study_wide import Family


def test_a_work_is_cited_with_its_place_and_listed_without() -> None:
    """Two chapters of one book are one entry; what nobody cites is not listed."""
    words = cited((COHEN.at("chapter 2"), WELCH))
    assert words == "(Cohen 1988, chapter 2; Welch 1947)"
    blocks = [Paragraph(words), Bullets((cited((COHEN.at("chapter 8"),)),))]
    assert references_of(blocks) == [COHEN.text, WELCH.text]
    assert references_of([Paragraph("Nothing is cited here.")]) == []


def test_captions_and_cells_cite_too() -> None:
    """Wherever a reader finds a name and a year, the list has the work."""
    table = Table("", ("A",), ((f"by {WELCH.words}",),))
    assert references_of([table]) == [WELCH.text]


def test_no_two_works_are_cited_alike() -> None:
    """Nor does one name hide in another; the list is in the order of authors."""
    names = [work.cited for work in WORKS]
    assert [found for name in names for found in works_in(name)] == list(WORKS)
    assert names == sorted(names, key=lambda name: re.sub(r"\W+", " ", name.lower().replace("'", "")))
    for work in WORKS:
        assert work.text.startswith(work.cited.split()[0].rstrip(","))
        assert work.cited[-4:] in work.text
        assert work.text.endswith(".")


@pytest.mark.parametrize("design", all_designs(), ids=lambda design: design.id)
def test_every_design_says_where_its_power_comes_from(design: object) -> None:
    """Whatever the choice."""
    protocol = design.in_protocol  # type: ignore[attr-defined]
    choices = protocol.computed if not isinstance(protocol.computed, str) else protocol.cites
    for choice in choices if isinstance(choices, dict) else [None]:
        assert works_in(protocol.computed_in({protocol.by: choice}))
    assert all(work.full in design.references for work in protocol.works)  # type: ignore[attr-defined]


def _listed(study: Study) -> tuple[list[str], str]:
    blocks = report_of(study).blocks
    at = next(place for place, block in enumerate(blocks) if block == Heading("References", 2))
    items, rest = blocks[at + 1], [*blocks[:at], *blocks[at + 2 :]]
    assert isinstance(items, Bullets)
    texts = [b.text for b in rest if isinstance(b, Paragraph)] + [b.caption for b in rest if isinstance(b, FigureBlock)]
    return list(items.items), "\n".join(texts)


def test_the_demo_lists_what_it_cites_and_nothing_else() -> None:
    """Farrington and Manning's test is not in it, nor Fisher's."""
    items, text = _listed(sampler_study())
    assert [work.text for work in WORKS if work.cited in text] == items
    assert not any("Farrington" in each for each in items)


def test_a_sharing_plan_and_a_picture_bring_their_own() -> None:
    """Holm where his procedure is used, O'Hagan where assurance is drawn."""
    study = sampler_study()
    holm, _ = _listed(study.changed(family=Family(plan="holm")))
    assert any(each.startswith("Holm S.") for each in holm)
    drawn, _ = _listed(study.changed(writing=study.writing.changed(added=("pictures",))))
    assert any(each.startswith("O'Hagan") for each in drawn)
    plain, _ = _listed(study)
    assert not any(each.startswith(("Holm S.", "O'Hagan")) for each in plain)
