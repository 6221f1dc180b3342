"""A guideline's checklist, as a document of its own."""

from __future__ import annotations

from pathlib import Path

import pytest

from ragwort.cli.documents import _EDITIONS
from ragwort.demo import sampler_study
from ragwort.report import REPORT_FORMATS, document_bytes
from ragwort.report.sections.checklist import EDITIONS, checklist_of
from ragwort.report.tree import Table
from ragwort.study import edits
from ragwort.study.document.files import write_study
from ragwort.study.document.model import Study
from ragwort.study.words.coverage import POINTS
from tests.test_cli import run


@pytest.mark.parametrize("edition", EDITIONS)
def test_each_edition_names_its_own_items(edition: str) -> None:
    """Every aim has a row for each point of the guideline, under the item's number in that edition."""
    study = sampler_study()
    tables = [block for block in checklist_of(study, edition).blocks if isinstance(block, Table)]
    of = EDITIONS[edition]
    asked = [of.items[point.guideline] for point in POINTS if point.guideline in of.items]
    assert asked and len(tables) == len(study.aims)
    assert all([row[0] for row in table.rows] == asked for table in tables)
    assert all(of.name in table.caption for table in tables)


def test_what_is_missing_is_said_where_it_is_asked_for() -> None:
    """Without dropout nothing allows for those who withdraw; the newest edition has new numbers."""
    study = edits.type_value(sampler_study(), "reaction", "dropout", "0").study
    rows = {row[1]: row[2] for row in _first(study, "ich-e9").rows}
    assert rows["How withdrawals are dealt with"] == "Missing: Nothing allows for those who withdraw."
    assert {row[0] for row in _first(study, "consort-2025").rows} == {"16a", "16b"}
    assert {row[0] for row in _first(study, "consort-2010").rows} == {"7a", "7b"}


def _first(study: Study, edition: str) -> Table:
    return next(block for block in checklist_of(study, edition).blocks if isinstance(block, Table))


@pytest.mark.parametrize("kind", REPORT_FORMATS)
def test_it_is_written_in_every_kind(kind: str) -> None:
    """By the writers of the report."""
    assert len(document_bytes(checklist_of(sampler_study(), "spirit-2025"), kind, "A4")) > 1000


def test_it_is_asked_for_on_the_command_line(tmp_path: Path) -> None:
    """Into a file; the choices are those that there are."""
    assert set(_EDITIONS) == set(EDITIONS)
    study = tmp_path / "s.ragwort"
    write_study(sampler_study(), study)
    out = tmp_path / "list.md"
    assert run("report", str(study), "--checklist", "consort-2025", "-o", str(out))[0] == 0
    assert "16b" in out.read_text() and "7b" not in out.read_text()
    status, _, errors = run("report", str(study), "--checklist", "consort-2025")
    assert (status, errors.count("\n")) == (2, 1)
    assert "-o OUT.docx" in errors
