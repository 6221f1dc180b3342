"""A grid: its rows are what the core answers, its files hold them, its faults are said."""

from __future__ import annotations

import csv
import io
from dataclasses import replace
from pathlib import Path

import numpy as np
import pytest
from python_calamine import CalamineWorkbook

from ragwort.base import patience
from ragwort.demo import sampler_study
from ragwort.designs import all_designs, answer_request, design_named, settle
from ragwort.designs.design import Design
from ragwort.figures.by_words import study_of_request
from ragwort.figures.export import picture_bytes
from ragwort.figures.shown.shown import Pointer
from ragwort.figures.steering.sentences import plain
from ragwort.grid.asking import grid_asked
from ragwort.grid.chart import GridPanels, chart_of, nothing_drawn
from ragwort.grid.chart import pieces_of as chart_pieces
from ragwort.grid.combinations import Asked, GridError, asked_of, offered, varied_of
from ragwort.grid.cross import cross_of
from ragwort.grid.edits import vary
from ragwort.grid.reading import asked_by
from ragwort.grid.sentence import pieces_of
from ragwort.grid.table import beyond, columns_of, remark_on, summary
from ragwort.grid.work import FIRST, MOST, Results, whole, worked_out
from ragwort.grid.writing import GRID_FORMATS, about, grid_bytes
from ragwort.pilot.table import Table
from ragwort.study import edits
from ragwort.study.document.aim import Aim
from ragwort.study.document.files import read_study, write_study
from ragwort.study.document.pages import Grid, Varied
from ragwort.study.results.outcome import outcome_of, request_of
from ragwort.study.results.resources import NO_LIMITS, Limits, limits_of

OF_240 = Limits(240)


def demo_aim(name: str = "reaction") -> Aim:
    return sampler_study().aim(name).changed(grid=Grid())


def grid(*words: str, aim: Aim | None = None, find: str = "") -> Results:
    """A grid of the demo's first aim, or of another."""
    return whole(grid_asked(aim or demo_aim(), words, find))


def texts(results: Results, row: int, limits: Limits = OF_240) -> list[str]:
    return [column.text(row).replace("\u00a0", " ") for column in columns_of(results, limits)]


def test_every_combination_is_what_the_core_answers() -> None:
    """The first assumption changes slowest; dropout and the limit are counted in."""
    made = grid("difference=8:16:2", "sd=20,24,28")
    assert made.asked.count == 15
    assert made.complete
    for row in range(15):
        given = {"design": "two-means", "find": "n", "assumptions": {**made.asked.row(row), "dropout": 0.1}}
        answer = answer_request(given)
        assert made.answer[row] == made.total[row] == answer["n"]["total"]
        assert made.groups[row].tolist() == answer["n"]["groups"]
        assert made.enrol[row] == sum(answer["n"]["enrol"])
        assert made.power[row] == pytest.approx(answer["power"], abs=1e-12)
        assert made.half_width[row] == pytest.approx(answer["expected_interval"]["half_width"], rel=1e-12)
    assert texts(made, 4) == ["10 ms", "24 ms", "0.417", "184", "92", "206", "80.3%", "+34", "6.98"]
    assert texts(made, 1)[-2] == "\u221278"
    assert made.asked.own() == 7
    assert int(beyond(made, OF_240).sum()) == 3
    assert summary(made, OF_240) == "15 combinations, all answered. 3 of them exceed the 240 available."


@pytest.mark.parametrize("design", all_designs(), ids=lambda design: design.id)
@pytest.mark.parametrize("find", ["n", "power", "effect"])
def test_every_design_has_a_grid(design: Design, find: str) -> None:
    """Over two of the numbers that have a say; a row is what a request with its values gets."""
    if find not in design.finds_with(design.starting):
        pytest.skip("not found by it")
    aim = edits.new_aim(design, "Aim")
    aim = edits.move_flower(sampler_study().changed(aims=(aim,)), aim.id, find).study.aims[0]
    names = [each.name for each in offered(aim, outcome_of(aim)) if each.name in aim.values()][-2:]
    words = [f"{name}={value:.6g},{value * 1.1:.6g}" for name in names if (value := aim.values()[name])]
    words = [
        word
        for word in words
        if all(design.assumption(word.split("=")[0]).allows(float(v)) for v in word.split("=")[1].split(","))
    ]
    made = grid(*(words or ["dropout=0,20"]), aim=aim)
    last = made.asked.count - 1
    request = request_of(design, aim)
    given = {**made.asked.values, **made.asked.row(last)}
    counts = {
        name: int(value) if isinstance(value, float) and value.is_integer() else value for name, value in given.items()
    }
    answer = answer_request({**request, "assumptions": counts})
    assert made.answer[last] == pytest.approx(answer["answer"], rel=1e-9)
    assert not design.tested or made.power[last] == pytest.approx(answer["power"], abs=1e-9)
    assert [size for size in made.groups[last] if size == size] == answer["n"]["groups"]


def test_rows_without_an_answer_say_why_and_cost_no_other() -> None:
    """They keep their place."""
    made = grid("difference=0,8", "power=0.04,80")
    assert [row for row in range(4) if np.isnan(made.answer[row])] == [0, 1, 2]
    assert remark_on(made, 1).startswith("With no effect there is nothing to detect")
    assert remark_on(made, 2).startswith("Power must be above alpha")
    assert texts(made, 3)[-2] == "\u221278"
    assert summary(made, NO_LIMITS) == "4 combinations; 3 without an answer."
    assert summary(grid("difference=12"), Limits(100)) == "1 combination, answered. It exceeds the 100 available."
    assert summary(grid("difference=0"), Limits(100)) == "1 combination, without an answer."
    assert summary(grid("difference=0", "sd=20,24"), Limits(100)) == "2 combinations, none of them answered."


def test_rows_come_in_blocks_and_can_be_stopped() -> None:
    """The first soon; what is there stays, and work goes on from it."""
    asked = grid_asked(demo_aim(), ["difference=8 to 16 in 100 steps", "sd=20 to 30 in 50 steps"])
    heard: list[float] = []
    with patience.heard_by(heard.append):
        first, second, *_ = (each.done for each in worked_out(asked))
    assert first == FIRST < second <= FIRST + MOST
    assert heard == sorted(heard)
    begun = next(worked_out(asked))
    assert np.isfinite(begun.answer[:FIRST]).all()
    assert np.isnan(begun.answer[FIRST:]).all()
    assert "not worked out yet" in remark_on(begun, FIRST).lower()
    assert [each.done for each in worked_out(asked, begun)][-1] == 5000
    assert np.isfinite(begun.answer).all()


@pytest.mark.parametrize(
    ("words", "fault"),
    [
        (["difference=8,10", "difference=12"], "difference is varied twice"),
        (["difference"], "'difference' does not say which values"),
        (
            ["icc=0.03"],
            "'icc' cannot be varied here: it can be difference, sd, hypothesis, alpha, sides, variance, power",
        ),
        ([f"{name}=0.5,0.6" for name in ("difference", "sd", "alpha", "power", "ratio")], "at most 4"),
        (["difference=1:1000:1", "sd=1:1000:1", "ratio=1,2"], "These are 2 000 000 combinations: a grid has 1 000 000"),
        (["sd=0,1"], "Standard deviation must be above 0, not 0."),
        ([], "Nothing is varied yet"),
    ],
)
def test_what_cannot_be_asked_is_said(words: list[str], fault: str) -> None:
    """With what could be."""
    with pytest.raises(GridError) as said:
        grid(*words)
    assert fault in str(said.value).replace("\u2009", " ")


def test_another_unknown_and_a_design_with_strata() -> None:
    """Effects and powers; whole clusters of several kinds."""
    made = grid("sd=20,24", find="effect")
    assert [column.label for column in columns_of(made)][:2] == ["SD", "difference"]
    assert texts(made, 1, NO_LIMITS)[:2] == ["24 ms", "11.98 ms"]
    made = grid("icc=0.01,0.03", aim=demo_aim("errors"))
    assert made.total[1] == 172
    assert made.enrol[1] == 192


def read_back(data: bytes, sheet: int) -> list[list[object]]:
    book = CalamineWorkbook.from_filelike(io.BytesIO(data))
    return book.get_sheet_by_index(sheet).to_python()


def test_files_hold_the_rows_and_how_they_came_about() -> None:
    """Numbers as numbers; a second sheet in workbooks; text that no spreadsheet runs."""
    study = sampler_study()
    aim = study.aim("reaction").changed(name="=1+1")
    made = grid("difference=0,8", "sd=20,24", aim=aim)
    head, *rows = csv.reader(io.StringIO(grid_bytes(made, "csv", OF_240).decode()))
    assert head[:7] == ["difference", "sd", "d", "staff", "recruited", "power", "half width, ms"]
    assert head[7:] == ["group 1", "group 2", "to spare", "remark"]
    assert rows[3][:2] + rows[3][3:5] == ["8", "24", "286", "318"]
    assert rows[0][2] == ""
    for kind in ("xlsx", "ods"):
        data = grid_bytes(made, kind, OF_240)
        table = read_back(data, 0)
        assert table[0] == head
        assert table[4][:2] + table[4][3:5] == [8.0, 24.0, 286.0, 318.0]
        told = dict(read_back(data, 1))
        assert told["Aim"] == "'=1+1"
        assert told["Varied"] == "difference, sd"
        assert "alpha 0.05" in told["The same in all rows"]
    assert "| 8 ms | 24 ms | 0.333 | 286 | 143 | 318 | 80.2% | \u221278 | 5.59 |" in grid_bytes(
        made, "md", OF_240
    ).decode().replace("\u00a0", " ")
    assert "Row 1: With no effect" in grid_bytes(made, "md").decode()
    assert dict(about(made))["Found"] == "n"
    assert set(GRID_FORMATS) == {"csv", "xlsx", "ods", "md"}
    with pytest.raises(ValueError, match="A grid is written as csv"):
        grid_bytes(made, "pdf")


def test_a_grid_is_kept_in_the_study(tmp_path: Path) -> None:
    """Its sentence, not its rows."""
    varied = (Varied(name="difference", text="8 to 16 by 2"), Varied(name="sd", text="20, 24"))
    study = sampler_study()
    study = study.with_aim(study.aim("reaction").changed(grid=Grid(varied=varied)))
    write_study(study, tmp_path / "s.ragwort")
    again = read_study(tmp_path / "s.ragwort")
    asked = grid_asked(again.aim("reaction"), [])
    assert isinstance(asked, Asked)
    assert asked.count == 10


def test_what_a_design_does_not_have_is_not_varied() -> None:
    """After the design has changed, or as a file has it that somebody wrote by hand; what both have stays."""
    study = sampler_study()
    changed = edits.change_design(study, "reaction", design_named("correlation")).study.aim("reaction")
    assert changed.grid.varied == ()
    one = edits.change_design(study, "reaction", design_named("one-mean")).study.aim("reaction")
    assert [each.name for each in one.grid.varied] == ["difference", "sd"]
    odd = (Varied(name="joy", text="1"), Varied(name="sides", text="two"), Varied(name="sd", text="x" * 60))
    aim = demo_aim().changed(grid=Grid(find="joy", varied=(*odd, odd[2])))
    assert [each.name for each in varied_of(aim)] == ["sides", "sd"]
    assert "standard deviation xxx" in "".join(piece.text for piece in pieces_of(aim))
    with pytest.raises(GridError, match="is not a number"):
        asked_of(aim, outcome_of(aim))


def test_two_assumptions_as_a_cross_table() -> None:
    """Each cell is the row with its two values; a third stays as the aim has it; one alone makes none."""
    made = grid("difference=8,12,16", "sd=20,24", "power=80,90")
    cross = cross_of(made, limits=OF_240)
    assert cross is not None
    assert (cross.down, cross.across, cross.what) == ("difference", "standard deviation", "staff")
    assert cross.across_heads == ("20\u00a0ms", "24\u00a0ms")
    for line in cross.rows:
        assert [made.asked.row(row)["power"] for row in line] == [0.8, 0.8]
    assert [[made.total[row] for row in line] for line in cross.rows] == [[200, 286], [90, 128], [52, 74]]
    assert cross.texts[1] == ("90", "128")
    assert cross.table()[0] == ["difference \\ standard deviation", "20\u00a0ms", "24\u00a0ms"]
    assert cross_of(grid("difference=8,12", "sd=20")) is None
    table = Table("s.csv", "", {"sd": ["20", "24"], "difference": ["8", "12"]})
    lonely = asked_by(demo_aim(), outcome_of(demo_aim()), table)
    half = cross_of(whole(lonely.asked))
    assert half is not None
    assert half.rows == ((0, -1), (-1, 1))


def test_what_each_row_costs_and_which_limit_it_breaks() -> None:
    """Columns for cost and months; a row says what there is too much of, and is shaded for it."""
    study = sampler_study()
    for name, text in (("costs", "100, 200"), ("budget", "30 000"), ("currency", "€"), ("per_month", "20")):
        study = edits.type_resource(study, name, text).study
    limits = limits_of(edits.type_resource(study, "months", "15").study)
    made = grid("difference=8,10,12")
    labels = [column.label for column in columns_of(made, limits)]
    assert labels[-4:-1] == ["cost, €", "months", "limit"]
    assert texts(made, 0, limits)[-4:-1] == [
        "47\u2009700",
        "15.9",
        "78 too many, 17\u2009700 € over budget, 0.9 months too long",
    ]
    assert texts(made, 1, limits)[-4:-1] == ["30\u2009900", "10.3", "900 € over budget"]
    assert texts(made, 2, limits)[-4:-1] == ["21\u2009600", "7.2", "96 to spare"]
    assert beyond(made, limits).tolist() == [True, True, False]
    assert summary(made, limits).endswith("2 of them exceed what the study can have.")
    head, first, *_ = csv.reader(io.StringIO(grid_bytes(made, "csv", limits).decode()))
    assert dict(zip(head, first, strict=True))["cost, €"] == "47700"


def test_a_row_of_whole_clusters_costs_them_too() -> None:
    """As many as the core says; where clusters differ in size nothing is said of them."""
    study = edits.type_resource(sampler_study(), "cluster_cost", "500").study
    limits = limits_of(edits.type_resource(study, "clusters", "10").study)
    made = grid("icc=0.01,0.03", aim=demo_aim("misses"))
    cost = next(column for column in columns_of(made, limits) if column.name == "cost")
    for row in range(2):
        answer = answer_request(
            {"design": made.asked.design.id, "find": "n", "assumptions": {**made.asked.values, **made.asked.row(row)}}
        )
        assert cost.numbers[row] == 500 * sum(answer["n"]["clusters"])


def test_choices_can_differ_from_row_to_row() -> None:
    """One side or two, this test or that: each row is what the core answers, in words and in files."""
    made = grid("sides=two, greater", "variance=equal, unequal", "sd=20,24")
    assert made.complete
    assert made.asked.count == 8
    for row in range(8):
        given = {**made.asked.values, **made.asked.row(row)}
        answer = answer_request({"design": "two-means", "find": "n", "assumptions": given})
        assert made.total[row] == answer["n"]["total"]
        assert made.power[row] == pytest.approx(answer["power"], abs=1e-12)
    assert grid("variance=t, equal variances; Welch, unequal variances").asked.count == 2
    assert {made.asked.row(row)["sides"] for row in range(8)} == {"two", "greater"}
    assert made.asked.own() is not None
    assert texts(made, 0)[:3] == ["two-sided", "t, equal variances", "20 ms"]
    head, first, *_ = csv.reader(io.StringIO(grid_bytes(made, "csv").decode()))
    assert (head[0], first[0]) == ("sides", "two-sided")
    chart = chart_of(made)
    assert chart is not None
    assert (chart.x.name, chart.family) == ("sd", "sides")
    assert chart.lines[0].label == "two-sided"
    with pytest.raises(GridError, match="must be"):
        grid("sides=three")


def test_only_choices_can_differ() -> None:
    """Then there is nothing for a chart to run along; a cross table there is."""
    made = grid("sides=two, greater", "variance=equal, unequal")
    assert [int(total) for total in made.total] == [128, 128, 102, 102]
    assert chart_of(made) is None
    assert nothing_drawn(made).startswith("Nothing that differs is a number")
    cross = cross_of(made)
    assert cross is not None
    assert cross.across_heads == ("t, equal variances", "Welch, unequal variances")


def test_the_effect_without_a_unit_stands_beside_what_is_varied() -> None:
    """As answers report it; not where it is what is found anyway, or the same in all rows."""
    for name, words, measure in (("reaction", "sd=20,24", "d"), ("sleepy", "proportion2=0.25,0.3", "h")):
        made = grid(words, aim=demo_aim(name))
        assert made.measure == measure
        for row in range(2):
            given = {
                "design": made.asked.design.id,
                "find": "n",
                "assumptions": {**made.asked.values, **made.asked.row(row)},
            }
            assert made.standard[row] == pytest.approx(answer_request(given)["effect"][measure], abs=1e-12)
    assert "d" not in [column.name for column in columns_of(grid("alpha=0.01,0.05"))]


def test_one_side_is_offered_where_the_effect_lies() -> None:
    """The other would find nothing in any row."""
    for name, words in (("reaction", "two-sided; one-sided, upwards"), ("errors", "two-sided; one-sided, downwards")):
        study = vary(sampler_study().with_aim(demo_aim(name)), name, 0, "sides", None).study
        assert study.aim(name).grid.varied[0].text == words
        assert not whole(asked_of(study.aim(name), outcome_of(study.aim(name)))).reasons


def test_a_third_assumption_has_small_panels() -> None:
    """On one scale; each panel is the chart of its rows; the sentence can leave them out."""
    made = grid("difference=8,12", "sd=20,24", "power=80%,90%")
    chart = chart_of(made)
    assert isinstance(chart, GridPanels)
    assert (chart.x.name, chart.family, chart.panel) == ("difference", "sd", "power")
    assert [title.replace("\u00a0", " ") for title in chart.titles] == ["power 80%", "power 90%"]
    for number, target in enumerate((0.8, 0.9)):
        for line in chart.panels[number].lines:
            for x, y in zip(line.x, line.y, strict=True):
                given = {"difference": float(x), "sd": float(line.label.split()[0]), "power": target, "dropout": 0.1}
                answer = answer_request({"design": "two-means", "find": "n", "assumptions": given})
                assert y == answer["n"]["total"]
    assert chart.point == (12.0, 128.0)
    assert not np.isfinite(chart.panels[1].point[1])
    found = chart.reading(Pointer(chart.across(1, 12.0), 172.0, (0.01, 1.0)))
    assert found is not None
    assert found.words.replace("\u00a0", " ") == "power 90%: 24 ms, 12 ms: 172"
    assert (found.x, found.y) == (pytest.approx(chart.across(1, 12.0)), 172.0)
    assert chart.x_in(chart.across(1, 12.0)) == pytest.approx(12.0)
    assert len(chart.rows()) == 1 + 8
    assert picture_bytes(chart, "svg").count(b"<path") > 10
    said = plain(chart_pieces(chart, made, NO_LIMITS)).replace("\u00a0", " ")
    assert said == "Staff against difference, a line for each SD, a panel for each power."
    aim = made.asked.aim
    one = aim.changed(grid=aim.grid.changed(chart=aim.grid.chart.changed(panel="-")))
    alone = chart_of(replace(made, asked=replace(made.asked, aim=one)))
    assert alone is not None
    assert not isinstance(alone, GridPanels)
    assert alone.others == ("power 80%",)


def test_designs_with_events_have_a_column_for_them() -> None:
    """Expected ones beside people; planned ones in place of people, who are not counted then."""
    given = {"hazard_ratio": 0.7, "median1": 12, "accrual": 12, "follow_up": 12}
    aim = study_of_request({"design": "survival", "find": "n", "assumptions": given}).aims[0]
    made = whole(grid_asked(aim, ["hazard_ratio=0.6,0.7"]))
    column = next(each for each in columns_of(made) if each.name == "events")
    for row, ratio in enumerate((0.6, 0.7)):
        answer = settle(design_named("survival"), "n", {**given, "hazard_ratio": ratio})
        assert column.numbers[row] == pytest.approx(answer.n_more["events"])
    planned = {"hazard_ratio": 0.7, "events": 200}
    aim = study_of_request({"design": "survival", "find": "power", "assumptions": planned}).aims[0]
    made = whole(grid_asked(aim, ["hazard_ratio=0.6,0.7"]))
    assert [each.name for each in columns_of(made)] == ["hazard_ratio", "found", "events"]
