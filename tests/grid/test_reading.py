"""A table file as a grid: columns found by name, bad rows kept with their reasons, none of them costing another."""

from __future__ import annotations

import csv
import io
from pathlib import Path

import numpy as np
import pytest
from python_calamine import CalamineWorkbook

from ragwort.demo import sampler_study
from ragwort.designs import answer_request, design_named
from ragwort.figures.by_words import study_of_request
from ragwort.figures.export import picture_bytes
from ragwort.grid.asking import grid_in, worked_out_for
from ragwort.grid.chart import chart_of, nothing_drawn
from ragwort.grid.combinations import GridError
from ragwort.grid.cross import cross_of
from ragwort.grid.reading import FromFile, asked_by, matched
from ragwort.grid.sentence import pieces_of_file
from ragwort.grid.table import columns_of, remark_on, summary
from ragwort.grid.work import whole
from ragwort.grid.writing import grid_bytes
from ragwort.pilot.table import Table, read_table
from ragwort.study.results.outcome import outcome_of
from ragwort.study.results.resources import NO_LIMITS, Limits

AIM = sampler_study().aim("reaction")


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
    """Wrong type, out of bounds, contradicting each other; exported with the reason. A blank is the study's own."""
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
    assert set(made.reasons) == set(bad) - {17, 80, 99}
    assert found.says.endswith("; 2 empty cells take the study's own value.")
    assert [made.asked.columns["difference"][17], made.asked.columns["n"][99]] == [12, 128]
    assert remark_on(made, 3).startswith("Difference: “none” is not a number")
    assert remark_on(made, 40) == "Standard deviation must be above 0, not 0."
    assert remark_on(made, 199).startswith("Difference: “@x” is not a number")
    assert summary(made, NO_LIMITS) == "200 rows; 7 without an answer."
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


def test_a_column_names_the_design_of_each_row() -> None:
    """By id, title or common name; each row is what the core answers for its design; a row without one is the aim's."""
    found = read(
        "design | difference | sd | proportion1 | proportion2 | rho | power\n"
        "two-means | 10 | 24 | | | | 90\n"
        "Two proportions | | | 0.5 | 0.3 | | 80\n"
        " | 8 | 20 | | | | 80\n"
        "correlation | | | | | 0.3 | 80\n"
        "tarot | 8 | 20 | | | | 80\n"
        "two-proportions | | | 0.5 | | | 80"
    )
    assert found.designs_in == "design"
    assert "designs from design" in found.says
    made = whole(found.asked)
    asked = [
        ("two-means", {"difference": 10, "sd": 24, "power": 0.9}),
        ("two-proportions", {"proportion1": 0.5, "proportion2": 0.3, "power": 0.8}),
        ("two-means", {"difference": 8, "sd": 20, "power": 0.8}),
        ("correlation", {"rho": 0.3, "power": 0.8}),
    ]
    for row, (design, values) in enumerate(asked):
        answer = answer_request({"design": design, "find": "n", "assumptions": {**values, "dropout": 0.1}})
        assert made.total[row] == answer["n"]["total"]
        assert made.asked.is_of_aim(row) == (design == "two-means")
    assert "“tarot” is no design" in remark_on(made, 4)
    assert remark_on(made, 5) == "Proportion in group 2 is empty."
    columns = columns_of(made, Limits(240))
    assert [columns[0].text(row) for row in (0, 1, 4)] == [
        design_named("two-means").title,
        design_named("two-proportions").title,
        "—",
    ]
    assert columns[-1].text(4).startswith("“tarot”")
    assert (chart_of(made), cross_of(made), made.asked.own()) == (None, None, None)
    assert nothing_drawn(made).startswith("The rows are of several designs")
    assert made.asked.row(1) == {"proportion1": 0.5, "proportion2": 0.3, "power": 0.8}
    head, *rows = csv.reader(io.StringIO(grid_bytes(made, "csv", Limits(240)).decode()))
    assert (head[0], rows[3][0]) == ("design", design_named("correlation").title)
    pieces = "".join(piece.text for piece in pieces_of_file(AIM, found))
    assert "6 rows of sheet.csv and the designs in its column design, with difference from difference" in pieces


def test_designs_in_a_column_that_cannot_be() -> None:
    """What is found must mean the same in all; where no row can be read, it is said why."""
    aim = AIM.changed(grid=AIM.grid.changed(find="effect"))
    with pytest.raises(GridError, match="Choose one of these"):
        asked_by(aim, outcome_of(aim), table("design | sd\ntwo-means | 20"))
    with pytest.raises(GridError, match="is no design"):
        read("design | sd\njoy | 20")


def test_words_that_are_chosen_can_come_from_a_file() -> None:
    """By label or as requests have them; one that is none costs its own row only."""
    rows = ("two-sided | unequal | 24", "greater | equal | 24", "sideways | equal | 24", " | equal | 24")
    found = read("\n".join(["sides | Test | sd", *rows]))
    assert dict(found.matches) == {"sides": "sides", "variance": "Test", "sd": "sd"}
    made = whole(found.asked)
    asked = [{"sides": "two", "variance": "unequal"}, {"sides": "greater", "variance": "equal"}]
    for row, values in enumerate(asked):
        given = {"difference": 12, "sd": 24, **values}
        answer = answer_request({"design": "two-means", "find": "n", "assumptions": given})
        assert made.total[row] == answer["n"]["total"]
    assert remark_on(made, 2).startswith("Sides must be")
    assert made.total[3] == 128  # as the aim has it
    assert columns_of(made)[0].text(2) == "—"
    _, *lines = csv.reader(io.StringIO(grid_bytes(made, "csv").decode()))
    assert [line[0] for line in lines][:2] == ["two-sided", "one-sided, upwards"]


PEOPLE = """Scenario;P1;PROPORTION 2 (%);Significance level;Target power;Drop-out;Alternative;Allocation ratio;Method
a;0,30;45;0,05;80 %;10 %;two;1;pooled
b;0,25;40;0,05;0,9;0,1;two;1;fisher
c;;45;0,01;0,85;;two;1;pooled
d;0,30;45;0,05;1,5;10 %;two;1;pooled
"""


def test_headings_as_people_write_them(tmp_path: Path) -> None:
    """Capitals, synonyms, units, plurals; per cents cell by cell, an empty cell as the study has it."""
    given = {"proportion1": 0.2, "proportion2": 0.4, "dropout": 0.05}
    aim = study_of_request({"design": "two-proportions", "find": "n", "assumptions": given}).aims[0]
    path = tmp_path / "people.csv"
    path.write_text(PEOPLE)
    found = asked_by(aim, outcome_of(aim), read_table(path))
    assert found.left_over == ("Scenario",)
    columns = {name: column.tolist() for name, column in found.asked.columns.items()}
    assert columns["proportion1"] == [0.3, 0.25, 0.2, 0.3]
    assert columns["proportion2"] == [0.45, 0.4, 0.45, 0.45]
    np.testing.assert_allclose(columns["power"], [0.8, 0.9, 0.85, np.nan])
    assert columns["dropout"] == [0.1, 0.1, 0.05, 0.1]
    made = whole(found.asked)
    assert set(made.reasons) == {3}
    assert "Power" in remark_on(made, 3)
    assert found.says.endswith("; Scenario is not used; 2 empty cells take the study's own value.")


@pytest.mark.parametrize(
    ("design", "given", "heading", "name"),
    [
        ("two-means", {"difference": 12, "sd": 24}, heading, name)
        for name, headings in {
            "difference": ("Δ", "delta", "Mean difference [ms]", "DIFFERENCES", "diff"),
            "sd": ("σ", "SIGMA", "Std. Dev.", "S.D.", "sd (ms)", "Standard deviations"),
            "mean1": ("μ1", "mu_1", "Mean 1", "mean, control", "M1"),
            "mean2": ("µ₂", "mu 2", "MEAN2", "mean treatment"),
            "alpha": ("α", "Alpha", "significance level", "Type I error"),
            "power": ("1 − β", "1-beta", "POWER (%)"),
            "sides": ("Tails", "side", "alternative"),
        }.items()
        for heading in headings
    ]
    + [
        ("two-means", {"difference": 12, "sd": 24}, "OR", None),
        ("two-means", {"difference": 12, "sd": 24}, "site", None),
        ("cluster-means", {"difference": 12, "sd": 24, "icc": 0.05, "cluster_size": 9}, "ICC", "icc"),
        ("cluster-means", {"difference": 12, "sd": 24, "icc": 0.05, "cluster_size": 9}, "rho", "icc"),
        ("cluster-means", {"difference": 12, "sd": 24, "icc": 0.05, "cluster_size": 9}, "Cluster size", "cluster_size"),
        ("correlation", {"rho": 0.3}, "r", "rho"),
        ("survival", {"hazard_ratio": 0.7, "median1": 12, "accrual": 12, "follow_up": 12}, "HR", "hazard_ratio"),
        ("two-rates", {"rate1": 0.7, "rate2": 1.2, "exposure": 1}, "IRR", "rate_ratio"),
    ],
)
def test_a_heading_is_known_by_what_people_call_it(design: str, given: dict, heading: str, name: str | None) -> None:
    """By name, label, symbol or synonym of this design; nothing is guessed."""
    aim = study_of_request({"design": design, "find": "n", "assumptions": given}).aims[0]
    assert list(matched(aim, [heading])) == ([] if name is None else [name])


@pytest.mark.parametrize("heading", ["N", "total n", "Sample size", "participants"])
def test_a_sample_size_is_known_where_it_is_given(heading: str) -> None:
    """Where power is found."""
    aim = study_of_request({"design": "one-mean", "find": "power", "assumptions": {"d": 0.5, "n": 30}}).aims[0]
    assert list(matched(aim, [heading])) == ["n"]


def test_what_is_stated_otherwise_is_taken_as_stated() -> None:
    """Odds ratios, sizes per group, differences in SDs: each row as a request that states the same."""
    given = {"proportion1": 0.3, "proportion2": 0.45, "n": 100}
    aim = study_of_request({"design": "two-proportions", "find": "power", "assumptions": given}).aims[0]
    text = "p1 | OR | n per group\n0.3 | 2 | 141\n0.2 | 0.5 | 200\n0.4 | -1 | 90"
    found = asked_by(aim, outcome_of(aim), table(text))
    assert "OR as proportion, group 2" in found.says
    made = whole(found.asked)
    for row, (p1, ratio, size) in enumerate(((0.3, 2, 141), (0.2, 0.5, 200))):
        asked = {"proportion1": p1, "odds_ratio": ratio, "n_per_group": size}
        answer = answer_request({"design": "two-proportions", "find": "power", "assumptions": asked})
        assert made.power[row] == pytest.approx(answer["power"], abs=1e-9)
    assert "Odds ratio must be above 0" in remark_on(made, 2)
    aim = study_of_request({"design": "two-means", "find": "n", "assumptions": {"difference": 12, "sd": 24}}).aims[0]
    made = whole(asked_by(aim, outcome_of(aim), table("Cohen's d | sd\n0.5 | 24\n0.4 | 10")).asked)
    assert made.total.tolist() == [128, 200]


def test_a_few_numbers_above_1_are_wrong_and_not_per_cents() -> None:
    """Only where most of a column's shares are above 1 is it in per cent."""
    found = read("power | sd\n0.9 | 24\n0.85 | 24\n1.5 | 24", decimal="")
    np.testing.assert_allclose(found.asked.columns["power"], [0.9, 0.85, np.nan])
    found = read("power | sd\n90 | 24\n85 | 24\n0.8 | 24", decimal="")
    np.testing.assert_allclose(found.asked.columns["power"], [0.9, 0.85, 0.008])


@pytest.mark.parametrize("kind", ["svg", "csv"])
def test_a_chart_of_rows_of_which_some_have_no_answer_is_drawn(kind: str) -> None:
    """In panels, with lines of one point and of none, and columns that could not be read in some rows."""
    given = {"proportion1": 0.3, "proportion2": 0.45, "n": 326}
    aim = study_of_request({"design": "two-proportions", "find": "power", "assumptions": given}).aims[0]
    rows = ("0.30 | 2 | 141 | 10 %", "0.25 | 2.5 |  | 0.1", "1.5 | 2 | 100 | ", "0.2 | 2 | 90 | 20 %")
    text = "\n".join(["P1 | OR | n per group | Drop-out", *rows])
    chart = chart_of(whole(asked_by(aim, outcome_of(aim), table(text)).asked), NO_LIMITS)
    assert chart is not None
    assert picture_bytes(chart, kind)
