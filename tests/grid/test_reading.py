"""A table file as a grid: columns found by name, bad rows kept with their reasons, none of them costing another."""

from __future__ import annotations

import io
from pathlib import Path

import numpy as np
import pytest
from python_calamine import CalamineWorkbook

from ragwort.demo import demo_study
from ragwort.designs import answer_request
from ragwort.grid.asking import grid_in, worked_out_for
from ragwort.grid.combinations import GridError
from ragwort.grid.reading import FromFile, asked_by, matched
from ragwort.grid.table import remark_on, summary
from ragwort.grid.work import whole
from ragwort.grid.writing import grid_bytes
from ragwort.pilot.table import Table, read_table
from ragwort.study.outcome import outcome_of
from ragwort.study.resources import NO_LIMITS

AIM = demo_study().aim("reaction")


def table(text: str, decimal: str = ".") -> Table:
    """A file's columns: names in the first row, cells apart by bars."""
    head, *rows = [[cell.strip() for cell in line.split("|")] for line in text.strip().splitlines()]
    return Table("sheet.csv", "", {name: [row[at] for row in rows] for at, name in enumerate(head)}, decimal)


def read(text: str, decimal: str = ".") -> FromFile:
    return grid_in(AIM, table(text, decimal))


def test_columns_are_found_by_name_label_or_symbol() -> None:
    """With units and capitals; what is none is said; what is not there comes from the aim."""
    found = read("Difference (ms) | SD | Power, % | site\n8 | 20 | 90 | north\n12 ms | 24 | 80 | south")
    assert dict(found.matches) == {"difference": "Difference (ms)", "sd": "SD", "power": "Power, %"}
    assert found.says == ("2 rows of sheet.csv: Difference (ms), SD and Power, % are taken from it; site is not used.")
    made = whole(found.asked)
    given = {"difference": 8, "sd": 20, "power": 0.9, "dropout": 0.1}
    answer = answer_request({"design": "two-means", "find": "n", "assumptions": given})
    assert made.total.tolist() == [answer["n"]["total"], 128]
    assert made.enrol[0] == sum(answer["n"]["enrol"])


@pytest.mark.parametrize(
    ("cells", "values"),
    [
        (["0.8", "0.9"], [0.8, 0.9]),
        (["80", "90"], [0.8, 0.9]),
        (["80 %", "0.9"], [0.8, 0.9]),
        (["80,5", "90"], [0.805, 0.9]),
    ],
)
def test_shares_and_per_cent_are_told_apart(cells: list[str], values: list[float]) -> None:
    """By the whole column; a sign counts for its own cell."""
    found = read("power | sd\n" + "\n".join(f"{cell} | 24" for cell in cells), decimal="")
    np.testing.assert_allclose(found.asked.columns["power"], values)


def test_another_way_of_stating_takes_the_place_of_the_aims() -> None:
    """Two means in the file, a difference in the aim; SDs by group."""
    found = read("mean1 | mean2 | sd1 | sd2\n400 | 412 | 20 | 28")
    assert not {"difference", "sd"} & set(found.asked.values)
    made = whole(found.asked)
    assert remark_on(made, 0) == ""
    given = {"mean1": 400, "mean2": 412, "sd1": 20, "sd2": 28}
    answer = answer_request({"design": "two-means", "find": "n", "assumptions": given})
    assert made.total[0] == answer["n"]["total"]


def test_ten_bad_rows_of_two_hundred_keep_their_place_and_say_why(tmp_path: Path) -> None:
    """Wrong type, out of bounds, blank, contradicting each other; exported with the reason."""
    rows = [f"{8 + at % 9},{20 + at % 5},{128 + 2 * at}" for at in range(200)]
    bad = {3: "none,20,128", 17: ",20,128", 40: "8,0,128", 41: "8,-3,128", 80: "0,20,128", 99: "8,20,"}
    bad |= {120: "8,1e999,128", 150: "8 of,20,128", 180: "=1+1,20,128", 199: "@x,20,128"}
    for at, text in bad.items():
        rows[at] = text
    path = tmp_path / "sheet.csv"
    path.write_text("difference,sd,n\n" + "\n".join(rows), encoding="utf-8")
    aim = AIM
    found = asked_by(aim.changed(grid=aim.grid.changed(find="power")), outcome_of(aim), read_table(path))
    made = whole(found.asked)
    assert set(made.reasons) == set(bad) - {80}
    assert remark_on(made, 3).startswith("Difference: “none” is not a number")
    assert remark_on(made, 17) == "Difference is empty."
    assert remark_on(made, 40) == "Standard deviation must be above 0, not 0."
    assert remark_on(made, 199).startswith("Difference: “@x” is not a number")
    assert summary(made, NO_LIMITS) == "200 rows; 9 without an answer."
    for row in (0, 100, 198):
        values = {name: float(column[row]) for name, column in made.asked.columns.items()}
        given = {**values, "n": int(values["n"])}
        answer = answer_request({"design": "two-means", "find": "power", "assumptions": given})
        assert made.power[row] == pytest.approx(answer["power"], abs=1e-9)
    sheet = CalamineWorkbook.from_filelike(io.BytesIO(grid_bytes(made, "xlsx"))).get_sheet_by_index(0).to_python()
    assert len(sheet) == 201
    assert sheet[200][-1].startswith("Difference: “@x” is not a number")


@pytest.mark.parametrize(
    ("text", "fault"),
    [
        ("site | x\n1 | 2", "No column of sheet.csv is called as an assumption is: one must be called difference, "),
        ("sd | SD (ms)\n1 | 2", "The columns “sd” and “SD (ms)” both hold sd: leave one out."),
    ],
)
def test_what_cannot_be_matched_is_said(text: str, fault: str) -> None:
    """With what would be."""
    with pytest.raises(GridError) as said:
        read(text)
    assert str(said.value).startswith(fault)


def test_matches_can_be_corrected_and_words_do_not_go_with_a_file(tmp_path: Path) -> None:
    """Another column for an assumption, or none."""
    sheet = table("difference | sd | wish\n8 | 20 | 10")
    assert dict(matched(AIM, list(sheet.columns))) == {"difference": "difference", "sd": "sd"}
    found = asked_by(AIM, outcome_of(AIM), sheet, {"difference": "wish", "sd": ""})
    assert found.asked.columns["difference"].tolist() == [10.0]
    assert found.asked.values["sd"] == 24
    (tmp_path / "s.csv").write_text("sd\n20\n")
    assert worked_out_for(AIM, [], table=tmp_path / "s.csv")[0].total[0] == 90
    with pytest.raises(GridError, match="--table brings its own values"):
        worked_out_for(AIM, ["sd=20"], table=tmp_path / "s.csv")
