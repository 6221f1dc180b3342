"""The grid of an aim is part of its report: what was asked, the rows where they are few, the chart."""

from __future__ import annotations

import io

import pytest
from pypdf import PdfReader

from ragwort.demo import sampler_study
from ragwort.designs import Answer
from ragwort.grid.chart import GridChart
from ragwort.grid.edits import type_values, vary
from ragwort.report.sections.grids import grid_blocks
from ragwort.report.tree import Block, Document, FigureBlock, Paragraph, Table
from ragwort.report.writers.pdf import write_pdf
from ragwort.study import edits
from ragwort.study.document.model import Study
from ragwort.study.document.pages import Grid, Varied
from ragwort.study.results.outcome import outcome_of


def blocks(study: Study, aim_id: str = "reaction") -> list[Block]:
    aim = study.aim(aim_id)
    answer = outcome_of(aim)
    assert isinstance(answer, Answer)
    return grid_blocks(study, aim, answer)


def with_grid(*varied: tuple[str, str]) -> Study:
    grid = Grid(varied=tuple(Varied(name=name, text=text) for name, text in varied))
    study = sampler_study()
    return study.with_aim(study.aim("reaction").changed(grid=grid))


def test_few_rows_are_printed_with_their_chart() -> None:
    """As the page of the grid has them."""
    found = blocks(with_grid(("difference", "8, 12"), ("sides", "two, greater")))
    said = [each.text.replace("\u00a0", " ") for each in found if isinstance(each, Paragraph)]
    assert said[0] == "The sample size was found for difference 8, 12 ms and sides two, greater; all else as planned."
    assert "All of" not in said[1]
    assert said[1].startswith("4 combinations, all answered. 2 of them exceed the 240 available.")
    table = next(each for each in found if isinstance(each, Table))
    assert table.head == (
        "Difference",
        "Sides",
        "d",
        "Staff",
        "Per group",
        "Recruited",
        "Power",
        "Limit",
    )
    rows = [tuple(cell.replace("\u00a0", " ") for cell in row) for row in table.rows]
    assert rows[2] == ("12 ms", "two-sided", "0.5", "128", "64", "144", "80.1%", "+96")
    assert [type(each.picture) for each in found if isinstance(each, FigureBlock)] == [GridChart]


def test_many_rows_are_left_to_a_file() -> None:
    found = blocks(with_grid(("difference", "8 to 16 in 100 steps")))
    assert "These are 100 combinations, too many to print" in found[-1].text  # type: ignore[union-attr]
    assert not any(isinstance(each, Table) for each in found)


def test_without_a_grid_there_is_nothing() -> None:
    """Nor for one that cannot be read, which its page says."""
    assert blocks(with_grid()) == []
    study = vary(with_grid(), "reaction", 0, "sd", 24.0).study
    broken = type_values(study, "reaction", 0, "a lot").study
    assert blocks(broken) == []
    assert blocks(edits.set_value(study, "reaction", "difference", 10).study) != []


@pytest.mark.parametrize(
    "words", [("a", "b"), ("24\u00a0ms", "0.333"), ("78 too many, 29\u2009700\u00a0€ over budget",) * 3]
)
def test_columns_of_a_page_break_no_word(words: tuple[str, ...]) -> None:
    """As wide as their longest word: each stands whole on one line of the PDF."""
    head = ("Difference", *(f"Column {at}" for at in range(len(words))))
    table = Table("A table", head, (("8\u00a0ms", *words),), ())
    reader = PdfReader(io.BytesIO(write_pdf(Document("Tables", (table,)))))
    text = reader.pages[0].extract_text().replace("\u00a0", " ").replace("\u2009", " ")
    for cell in (*head, *words):
        for word in cell.split(" "):
            assert word.replace("\u00a0", " ").replace("\u2009", " ") in text
