"""One of the rehearsed studies: its table, its words, its file."""

from __future__ import annotations

import csv
import io

import pytest
from python_calamine import CalamineWorkbook
from scipy import stats

from ragwort.demo import sampler_study
from ragwort.rehearsal import Departing, rehearse, stage
from ragwort.rehearsal.data_files import data_bytes
from ragwort.rehearsal.dataset import DataSet, data_set
from ragwort.rehearsal.of_aim import planned_of
from ragwort.study.document.aim import Aim

STUDY = sampler_study()


def one_of(aim: Aim, number: int = 1, asked: Departing | None = None) -> DataSet:
    """A study of an aim's rehearsal."""
    of = planned_of(aim)
    return data_set(of, stage(of, asked or Departing()), aim, number, 10_000, 1)


@pytest.mark.parametrize("aim", STUDY.aims, ids=lambda aim: aim.id)
def test_every_aim_of_the_demo_has_a_data_set(aim: Aim) -> None:
    """One row for each one analysed, in the study's own words; the next study is another."""
    data = one_of(aim)
    assert len(data.rows) == pytest.approx(planned_of(aim).answer.total, rel=0.12)  # whole clusters are larger
    assert data.labels[0] == aim.words.one.capitalize()
    assert all(len(row) == len(data.labels) for row in data.rows)
    assert "nan" not in data.words
    assert data.words.startswith("Study 1: ")
    assert data.rows != one_of(aim, 2).rows
    assert data == one_of(aim)


def test_the_words_are_those_of_an_analysis_of_the_rows() -> None:
    """Means, SDs, t and p are what an independent t test of the table says; and the rehearsal counted that study so."""
    aim = STUDY.aim("reaction")
    data = one_of(aim)
    first, second = ([row[2] for row in data.rows if row[1] == name] for name in ("brighter", "usual lighting"))
    found = stats.ttest_ind(second, first)
    assert f"t {found.statistic:.2f}" in data.words
    assert ("p < 0.001" in data.words) == (found.pvalue < 0.001)
    assert len(first) == len(second) == 64


def test_those_who_are_lost_have_no_outcome() -> None:
    """They stay in the table, about as many as asked for; in a file their cell is empty."""
    data = one_of(STUDY.aim("reaction"), asked=Departing(asked={"lost": 0.3}))
    lost = sum(row[2] is None for row in data.rows)
    assert len(data.rows) == 144  # enrolled
    assert 25 <= lost <= 62
    assert len(data.outcomes) == 144 - lost
    rows = list(csv.reader(io.StringIO(data_bytes(data, "csv").decode())))
    assert sum(row[2] == "" for row in rows[1:]) == lost
    book = CalamineWorkbook.from_filelike(io.BytesIO(data_bytes(data, "xlsx")))
    assert book.get_sheet_by_name("Made-up data").to_python()[0] == list(data.labels)
    assert "nobody was measured" in book.get_sheet_by_name("About").to_python()[0][0]


def test_the_numbers_of_studies_end_where_the_rehearsal_does() -> None:
    """The last is there, the one after it is not; a study is the same one that was counted."""
    aim = STUDY.aim("sleepy")
    of = planned_of(aim)
    staged = stage(of, Departing())
    tested = [data_set(of, staged, aim, number, 40, 1) for number in range(1, 41)]
    rejected = sum("p < 0.001" in each.words or float(each.words.split("p = ")[1][:5]) <= 0.05 for each in tested)
    assert rejected == rehearse(staged, 40).rejected
    with pytest.raises(IndexError, match="numbered 1 to 40"):
        data_set(of, staged, aim, 41, 40, 1)
