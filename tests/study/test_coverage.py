"""What guidelines ask for: found where it stands, missing where it does not, never claimed unchecked."""

from __future__ import annotations

from typing import Any

import pytest

from ragwort.demo import sampler_study
from ragwort.report import report_of
from ragwort.report.tree import Heading, Table
from ragwort.study import edits
from ragwort.study.document.aim import Aim, Entry
from ragwort.study.words.coverage import POINTS, Checked, covered, said

STUDY = sampler_study()
AIM = STUDY.aims[0]


def of(aim: Aim, asks: str) -> Checked:
    """What was found of a point."""
    return next(found for point, found in covered(STUDY, aim) if point.asks.startswith(asks))


def entry(aim: Aim, name: str, **changes: Any) -> Aim:
    """The aim with an assumption's entry changed."""
    return aim.changed(entries={**aim.entries, name: aim.entry(name).changed(**changes)})


def test_the_demos_first_aim_answers_all_that_is_checked() -> None:
    """But for interim analyses, which the study says nothing of until somebody states it."""
    found = covered(STUDY, AIM)
    assert len(found) == len(POINTS)
    assert [point.guideline for point, each in found if each.missing] == ["SPIRIT 21b", "CONSORT 7b", "ICH E9 4.5"]
    assert "Nothing is stated on interim analyses" in of(AIM, "interim").missing
    stated = edits.state(STUDY, "interim", "none planned").study
    assert [each for _, each in covered(stated, AIM) if each.missing] == []
    assert (
        dict((point.asks, said(each)) for point, each in covered(stated, AIM))[POINTS[4].asks]
        == "under Aims of the study"
    )


@pytest.mark.parametrize(
    ("asks", "changed", "field", "words"),
    [
        ("where they come", entry(AIM, "sd", source=""), "sd", "for the standard deviation"),
        ("the assumptions", entry(AIM, "sd", example=True), "sd", "an example that nobody has confirmed"),
        ("how withdrawals", entry(AIM, "dropout", value=0), "dropout", "allows for those who withdraw"),
        ("the primary", AIM.changed(words=AIM.words.changed(outcome="")), "words", "has no name"),
        ("the number", entry(AIM, "sd", value=-1), "sd", "no answer"),
    ],
)
def test_what_is_missing_is_named_with_its_field(asks: str, changed: Aim, field: str, words: str) -> None:
    """In a sentence, and where to mend it."""
    found = of(changed, asks)
    assert found.field == field
    assert words in found.missing
    assert said(found).startswith("Missing: ")


def test_other_guesses_count_wherever_they_are() -> None:
    """Ranges, scenarios, a grid, a kept rehearsal; without any of them that is missing."""
    bare = AIM.changed(
        entries={name: Entry(value=each.value) for name, each in AIM.entries.items()},
        scenarios=(),
        grid=AIM.grid.changed(varied=()),
    )
    assert of(bare, "what other").field == "difference"
    for other in (
        entry(bare, "sd", low=20, high=28),
        bare.changed(scenarios=AIM.scenarios),
        bare.changed(grid=AIM.grid),
    ):
        assert not of(other, "what other").missing


def test_the_report_says_where_each_point_stands() -> None:
    """Under a heading that is there."""
    study = edits.type_value(sampler_study(), "reaction", "dropout", "0").study
    study = edits.show_section(study, "guidelines", True).study
    document = report_of(study)
    tables = [b for b in document.blocks if isinstance(b, Table) and b.caption.startswith("What reporting guidelines")]
    assert [len(table.rows) == len(POINTS) for table in tables][:3] == [True, False, False]
    known = {block.text for block in document.blocks if isinstance(block, Heading)} | {"Sample size"}
    known |= {block.caption for block in document.blocks if isinstance(block, Table)}
    for row in (*tables[0].rows, *tables[1].rows):
        place = row[2].removeprefix("under ")
        assert any(place in each for each in known) or "," in place or row[2].startswith("Missing")
    assert (
        "ICH E9 3.5",
        "How withdrawals are dealt with",
        "Missing: Nothing allows for those who withdraw.",
    ) in tables[0].rows
