"""The sheet of an aim: its rows, columns and ids; files that are the same byte for byte; the list apart."""

from __future__ import annotations

import csv
import io
import zipfile
from typing import Any

import pytest
from pypdf import PdfReader
from python_calamine import CalamineWorkbook

from ragwort.demo import sampler_study
from ragwort.designs import design_named
from ragwort.sheet.allocation import SheetError
from ragwort.sheet.labels import labels_bytes
from ragwort.sheet.layout import sheet_of
from ragwort.sheet.parts import Sheet
from ragwort.sheet.writing import SHEET_FORMATS, list_bytes, sheet_bytes
from ragwort.study.document.aim import Aim
from ragwort.study.document.study_wide import Resources
from ragwort.study.edits import new_aim, type_value
from ragwort.study.results.outcome import outcome_of

STUDY = sampler_study()


def made(aim: str = "reaction", **asked: Any) -> Sheet:
    """The sheet of an aim with these words."""
    own = STUDY.aim(aim)
    return sheet_of(STUDY, own.changed(sheet=own.sheet.changed(**asked)))


@pytest.mark.parametrize("aim", STUDY.aims, ids=lambda aim: aim.id)
def test_every_aim_of_the_demo_has_a_sheet(aim: Aim) -> None:
    """A row for each to be enrolled (times visits; whole clusters), ids that differ, outcomes empty and typed."""
    sheet = sheet_of(STUDY, aim)
    answer = outcome_of(aim)
    enrolled = sum(answer.enrol)  # type: ignore[union-attr]
    visits = 6 if aim.id == "weeks" else 1
    assert len(sheet.rows) >= enrolled * visits
    assert len(sheet.rows) <= 1.35 * enrolled * visits
    assert len({row[0] for row in sheet.rows}) * visits == len(sheet.rows)
    assert any(column.kind in ("number", "choice") and not column.given for column in sheet.columns)
    names = [column.name for column in sheet.columns]
    assert len(set(names)) == len(names)
    assert all(len(row) == len(names) for row in sheet.rows)


def test_pairs_of_yes_or_no_have_a_column_for_each_condition() -> None:
    """Both answers of a pair stand in its row, each yes or no."""
    aim = new_aim(design_named("paired-proportions"), "Pairs")
    own = [column for column in sheet_of(STUDY, aim).columns if column.kind == "choice"]
    assert [column.name for column in own] == ["the first", "the second condition"]
    assert {column.choices for column in own} == {("yes", "no")}


def test_the_list_is_apart_and_the_sheet_blind_unless_asked() -> None:
    """No column tells the arm; with codes the code; by name the name; the list has all."""
    assert "allocation" not in [column.name for column in made().columns]
    masked, open_ = made(shown="codes"), made(shown="names")
    place = [column.name for column in masked.columns].index("allocation")
    assert {row[place] for row in masked.rows} == {"A", "B"}
    assert {row[place] for row in open_.rows} == {"brighter", "usual lighting"}
    for row, listed in zip(open_.rows, open_.list, strict=True):
        assert (row[0], row[place]) == (listed.id, listed.arm)
    rows = list(csv.reader(io.StringIO(list_bytes(made(), 1, "csv").decode())))
    assert rows[0] == ["for", "arm", "code", "stratum", "block"]
    assert ["in brighter", "72", "", "", ""] in rows


def test_clusters_are_allocated_whole() -> None:
    """Every member of a ward is in its arm; small, medium and large wards each balanced; the list names wards."""
    sheet = made("errors", shown="names")
    names = [column.name for column in sheet.columns]
    ward, arm = names.index("wards"), names.index("allocation")
    arms: dict[Any, set[Any]] = {}
    for row in sheet.rows:
        arms.setdefault(row[ward], set()).add(row[arm])
    assert all(len(each) == 1 for each in arms.values())
    assert [each.id for each in sheet.list] == [f"wards {number}" for number in range(1, len(arms) + 1)]
    assert {each.stratum for each in sheet.list} == {"small wards", "medium wards", "large wards"}


@pytest.mark.parametrize("kind", SHEET_FORMATS)
def test_the_same_sheet_is_the_same_file(kind: str) -> None:
    """Byte for byte, made anew; another seed is another list, not another blind sheet."""
    first, again = (sheet_bytes(made(method="stratified", strata="sex: f, m", shown="codes"), kind) for _ in range(2))
    assert first == again
    assert sheet_bytes(made(seed=1), kind) == sheet_bytes(made(seed=2), kind)
    assert list_bytes(made(seed=1), 1, "xlsx") == list_bytes(made(seed=1), 1, "xlsx")
    assert list_bytes(made(seed=1), 1, "csv") != list_bytes(made(seed=2), 2, "csv")


def test_a_workbook_has_typed_columns_checks_and_a_codebook() -> None:
    """Read back: drop-downs, ranges, a heading that stays; formula-like names are text."""
    sheet = made(allowed="150 to 900", columns="=1+1, shift", method="stratified", strata="sex: f, m")
    data = sheet_bytes(sheet, "xlsx")
    book = CalamineWorkbook.from_filelike(io.BytesIO(data))
    rows = book.get_sheet_by_name("Sheet").to_python()
    assert rows[0][-2:] == ["'=1+1", "shift"]
    assert rows[1][:2] == ["P-001", "f"]
    assert len(rows) == len(sheet.rows) + 1
    book_rows = book.get_sheet_by_name("Codebook").to_python()
    assert ["reaction time at 4 am, ms", "The outcome", "by you", "a number from 150 to 900"] in book_rows
    xml = zipfile.ZipFile(io.BytesIO(data)).read("xl/worksheets/sheet1.xml").decode()
    assert 'type="list"' in xml
    assert '"f,m"' in xml.replace("&quot;", '"')
    assert "<formula1>150</formula1><formula2>900</formula2>" in xml
    assert 'state="frozen"' in xml
    ods = CalamineWorkbook.from_filelike(io.BytesIO(sheet_bytes(sheet, "ods")))
    assert ods.get_sheet_by_name("Sheet").to_python()[1][:2] == ["P-001", "f"]


def test_labels_are_one_outside_and_one_card_each() -> None:
    """As a PDF, the same each time; nothing to seal where nobody is allocated."""
    data = labels_bytes(made())
    assert data == labels_bytes(made())
    assert data.startswith(b"%PDF")
    pages = PdfReader(io.BytesIO(data)).pages
    assert len(pages) == 12  # 144 outsides and 144 cards, 24 on a page
    with pytest.raises(SheetError, match="nothing to seal"):
        labels_bytes(made("age"))


def test_ids_by_a_pattern() -> None:
    """With centres, strata and clusters; what gives equal ids is refused, what is no pattern too."""
    study = STUDY.changed(resources=Resources(centres=3))
    aim = study.aim("reaction")
    sheet = sheet_of(study, aim.changed(sheet=aim.sheet.changed(pattern="NS-{centre}-{number:03}")))
    assert [sheet.rows[at][:2] for at in (0, 48, 143)] == [("NS-1-001", 1), ("NS-2-049", 2), ("NS-3-144", 3)]
    assert made("errors", pattern="{cluster}/{number}").rows[0][0] == "1/1"
    for pattern, words in (
        ("NS", "gives the id NS twice"),
        ("{centre}", "twice"),
        ("{name}", r"no word \{name\}"),
        ("{number", "no pattern"),
        ("{number:zz}", "no pattern"),
        ("{number.__class__}", "no word"),
        ("{}", "no word"),
    ):
        with pytest.raises(SheetError, match=words) as refused:
            made(pattern=pattern)
        assert refused.value.field == "pattern"


@pytest.mark.parametrize(
    ("asked", "field"),
    [
        ({"blocks": "3"}, "blocks"),
        ({"method": "stratified"}, "strata"),
        ({"method": "stratified", "strata": "sex:"}, "strata"),
        ({"allowed": "9 to 1"}, "allowed"),
    ],
)
def test_words_that_do_not_fit(asked: dict[str, str], field: str) -> None:
    """Each names its word."""
    with pytest.raises(SheetError) as refused:
        made(**asked)
    assert refused.value.field == field


def test_an_aim_without_an_answer_and_one_too_large_have_no_sheet() -> None:
    """Why, in a sentence."""
    broken = type_value(STUDY, "reaction", "sd", "-1").study
    with pytest.raises(SheetError, match="A sheet needs an answer first"):
        sheet_of(broken, broken.aim("reaction"))
    large = type_value(STUDY, "reaction", "difference", "0.1").study
    with pytest.raises(SheetError, match="at most"):
        sheet_of(large, large.aim("reaction"))
