"""The grid of an aim in the report: its sentence, its rows where they are few, its chart."""

from __future__ import annotations

from functools import lru_cache

from ragwort.base.wording import capital
from ragwort.designs import Answer
from ragwort.figures.scales.quantity import Unknown
from ragwort.grid.chart import chart_of
from ragwort.grid.combinations import Asked, GridError, asked_of, unknown_of, varied_of
from ragwort.grid.sentence import as_in, pieces_of
from ragwort.grid.table import HALF_WIDTH, Column, columns_of, fixed_words, summary
from ragwort.grid.work import Results, whole
from ragwort.report.tree import Block, FigureBlock, Paragraph, Table
from ragwort.study.document.aim import Aim
from ragwort.study.document.model import Study
from ragwort.study.results.resources import limits_of
from ragwort.study.words.numbers import count_text
from ragwort.study.words.sentence import plain_text

MOST = 40  # rows that are printed


class _Question:
    """What is asked, as a key under which its results are kept."""

    def __init__(self, asked: Asked) -> None:
        self.asked, self.key = asked, asked.key

    def __hash__(self) -> int:
        return hash(repr(self.key))

    def __eq__(self, other: object) -> bool:
        return isinstance(other, _Question) and self.key == other.key


@lru_cache(maxsize=64)
def _worked_out(question: _Question) -> Results:
    return whole(question.asked)


def grid_blocks(study: Study, aim: Aim, answer: Answer) -> list[Block]:
    """What the aim's grid shows; nothing where it has none, or none that can be asked now."""
    if not varied_of(aim):
        return []
    try:
        asked = asked_of(aim, answer)
    except GridError:
        return []  # said on its page, where it can be mended
    found: list[Block] = [Paragraph(_asked_for(aim))]
    if asked.count > MOST:
        more = (
            f"These are {count_text(asked.count)} combinations, too many to print: they can be exported from the grid."
        )
        return [*found, Paragraph(more, "quiet")]
    return [*found, *_rows(study, _worked_out(_Question(asked)))]


def _asked_for(aim: Aim) -> str:
    """The grid's sentence, as something that was done."""
    words = Unknown(unknown_of(aim), aim).words
    said = plain_text(pieces_of(aim)).removeprefix(f"Find the {words} for ").removesuffix(as_in(aim))
    return f"The {words} was found for {said}all else as planned."


def _rows(study: Study, results: Results) -> list[Block]:
    limits = limits_of(study)
    columns, chart = _fitting(columns_of(results, limits)), chart_of(results, limits)
    rows = tuple(_row(columns, row) for row in range(results.asked.count))
    right = tuple(at for at, column in enumerate(columns) if not column.words)
    text = f"{summary(results, limits)} The same in all of them: {fixed_words(results)}."
    table = Table(
        "Sample size under other assumptions", tuple(_capital(column.label) for column in columns), rows, right
    )
    figure = [] if chart is None else [FigureBlock(chart, chart.foot)]
    return [table, Paragraph(text, "quiet"), *figure]


def _row(columns: list[Column], row: int) -> tuple[str, ...]:
    return tuple(column.text(row) for column in columns)


def _capital(label: str) -> str:
    return capital(label) if len(label) > 2 else label


_ACROSS = 8  # columns that can be read on a page


def _fitting(columns: list[Column]) -> list[Column]:
    """The columns of a page: where there are many, how wide an interval is stays in the grid's own files."""
    return columns if len(columns) <= _ACROSS else [each for each in columns if each.name != HALF_WIDTH]
