"""What guidelines ask of a sample size, and where the report answers it."""

from __future__ import annotations

from ragwort.base.wording import capital
from ragwort.designs import Answer
from ragwort.report.tree import Block, Paragraph, Table
from ragwort.study.document.aim import Aim
from ragwort.study.document.model import Study
from ragwort.study.results.outcome import outcome_of
from ragwort.study.words.coverage import covered, said

_ASKED = "What reporting guidelines ask for"
_WHAT = "Only presence was checked, not correctness."


def coverage_blocks(study: Study, aim: Aim) -> list[Block]:
    """A row for each point; of a further aim only those that are answered elsewhere than for the first."""
    first = first_covered(study)
    rows = _rows(study, aim)
    if first is None or first == aim:
        return [_table(_ASKED, rows), Paragraph(_WHAT, "quiet")]
    other = tuple(row for row, before in zip(rows, _rows(study, first), strict=True) if row != before)
    named = f"for aim {study.aims.index(first) + 1}, {first.name}"
    if not other:
        return [Paragraph(f"{_ASKED} is answered as {named}.")]
    return [_table(f"{_ASKED}, where it is answered otherwise than {named}", other)]


def first_covered(study: Study) -> Aim | None:
    """The first aim that is written up: what is said of the others is said beside it."""
    return next((aim for aim in study.aims if isinstance(outcome_of(aim.as_planned()), Answer)), None)


def places(study: Study, aim: Aim | None) -> tuple[str, ...]:
    """Where each point is answered for an aim."""
    return () if aim is None else tuple(said(found) for _, found in covered(study, aim))


def _rows(study: Study, aim: Aim) -> tuple[tuple[str, ...], ...]:
    return tuple((point.guideline, capital(point.asks), said(found)) for point, found in covered(study, aim))


def _table(caption: str, rows: tuple[tuple[str, ...], ...]) -> Table:
    return Table(caption, ("Guideline", "Asks for", "Here"), rows)
