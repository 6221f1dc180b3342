"""Odd input on the command line and in study files: one line says what is wrong, or what was asked for is done."""

from __future__ import annotations

import io
import json
import os
import re
import zipfile
from pathlib import Path
from typing import Any
from xml.etree import ElementTree

import pytest
from openpyxl import load_workbook
from pypdf import PdfReader

from ragwort.demo import sampler_study
from ragwort.report import report_bytes
from ragwort.study.document.files import read_study, study_text

from .test_cli import run

MEANS = {"design": "two-means", "find": "n", "assumptions": {"difference": 12, "sd": 24}}
VISITS = {
    "design": "anova-repeated",
    "find": "n",
    "assumptions": {"f": 0.02, "groups": 2, "measurements": 1000, "correlation": 0.5, "term": "between"},
}
PAIRS = {"design": "paired-proportions", "find": "n", "assumptions": {"proportion10": 0.1, "proportion01": 0.25}}
MANY = "9" * 5000


def refused(*arguments: str, text: str = "") -> str:
    """The one line that says what is wrong."""
    status, _, errors = run(*arguments, text=text)
    assert status == 2, errors
    assert errors.count("\n") == 1
    assert len(errors) < 1000
    return errors


@pytest.mark.parametrize("kind", ["csv", "xlsx", "ods", "md"])
def test_a_grid_in_which_nothing_is_the_same(kind: str, tmp_path: Path) -> None:
    """Every kind of file is written, and says so."""
    out = tmp_path / f"o.{kind}"
    status, _, errors = run("grid", "-", "difference=8,9", "sd=20,24", "-o", str(out), text=json.dumps(MEANS))
    assert (status, errors) == (0, "")
    if kind == "xlsx":
        told = {row[0].value: row[1].value for row in load_workbook(out)["How they came about"]}
        assert told["The same in all rows"] == "nothing"


def test_a_table_of_designs_with_choices(tmp_path: Path) -> None:
    """A column of designs beside columns of choices, which some designs have and others have not."""
    (tmp_path / "t.csv").write_text(
        "design,difference,sd,sides,method,proportion1,proportion2\n"
        "two-means,8,24,greater,welch,,\n"
        "two-proportions,,,two,fisher,0.3,0.5\n"
    )
    arguments = ("grid", "-", "--table", str(tmp_path / "t.csv"), "-o", str(tmp_path / "o.csv"))
    status, _, errors = run(*arguments, text=json.dumps(MEANS))
    assert (status, errors) == (0, "")
    rows = (tmp_path / "o.csv").read_text().splitlines()
    assert re.search(r"^two-means,|Two independent means", rows[1])
    assert ",224," in rows[1]


@pytest.mark.parametrize("strata", [None, [{"clusters": 4, "mean_size": 10}]])
def test_a_sheet_of_clusters_whose_size_is_found(strata: Any, tmp_path: Path) -> None:
    """It has as many rows as people are planned."""
    asked = {"difference": 5, "sd": 10, "icc": 0.05, "clusters": 8}
    request = {"design": "cluster-means", "find": "cluster_size", "assumptions": asked}
    if strata is not None:
        request = {**request, "find": "n", "assumptions": {"difference": 9, "sd": 10, "icc": 0.05, "cluster_size": 6}}
    status, _, errors = run("sheet", "-", "-o", str(tmp_path / "o.csv"), text=json.dumps(request))
    assert (status, errors) == (0, "")
    _, output, _ = run("compute", "-", text=json.dumps(request))
    rows = len((tmp_path / "o.csv").read_text().splitlines()) - 1
    assert rows >= json.loads(output)["n"]["total"]


@pytest.mark.parametrize("levels", ['"f", m', "f\u0001, m", "=f, m", "'f, m", "<f>, &m", "f" * 200 + ", " + "m" * 90])
@pytest.mark.parametrize("kind", ["xlsx", "ods", "csv"])
def test_levels_of_any_letters_make_a_workbook_that_opens(levels: str, kind: str, tmp_path: Path) -> None:
    """Every part is XML, and the drop-down offers what stands in the cells."""
    out = tmp_path / f"o.{kind}"
    words = ("--method", "stratified", "--strata", f"sex: {levels}")
    status, _, errors = run("sheet", "-", "-o", str(out), *words, text=json.dumps(MEANS))
    assert (status, errors) == (0, "")
    if kind == "csv":
        return
    with zipfile.ZipFile(out) as archive:
        for name in archive.namelist():
            if name.endswith(".xml"):
                ElementTree.fromstring(archive.read(name))
    if kind == "xlsx":
        assert offered(out) == {row[1].value for row in load_workbook(out)["Sheet"].iter_rows(min_row=2)}


def offered(out: Path) -> set[str]:
    """What the drop-down of the second column offers."""
    book = load_workbook(out)
    checks = [each for each in book["Sheet"].data_validations.dataValidation if each.type == "list"]
    formula = next(each.formula1 for each in checks if "B2" in each.sqref)
    if formula.startswith('"'):
        return set(formula[1:-1].split(","))
    name, _, cells = formula.replace("$", "").lstrip("=").partition("!")
    return {row[0].value for row in book[name][cells]}


@pytest.mark.parametrize(
    ("arguments", "request_", "says"),
    [
        (("sheet", "-", "-o", "o.csv", "--blocks", MANY), MEANS, "is no size of a block"),
        (("sheet", "-", "-o", "o.csv", "--aim", MANY), MEANS, "There is no aim"),
        (("sheet", "-", "-o", "o.csv", "--pattern", "{number:1000000000}"), MEANS, "is no pattern"),
        (("sheet", "-", "-o", "o.csv", "--pattern", "{number:{number}}"), MEANS, "is no pattern"),
        (("sheet", "-", "-o", "o.csv", "--pattern", "{number:.999999999f}"), MEANS, "is no pattern"),
        (("sheet", "-", "-o", "o.csv", "--pattern", "x" * 10**6 + "{number}"), MEANS, "at most 200 characters"),
        (("sheet", "-", "-o", "o.csv"), VISITS, "rows are too many for a sheet"),
        (("grid", "-", f"difference=8 to 9 in {MANY} steps", "-o", "o.csv"), MEANS, "A range has 2 steps or more"),
        (("grid", "-", f"difference={MANY}", "-o", "o.csv"), MEANS, "too large to compute with"),
        (("picture", "-", "-o", "o.svg", "--pin", MANY), MEANS, "--pin"),
        (("picture", "-", "-o", "o.svg", "--x", f"n=1,{MANY}"), MEANS, "--x"),
        (("rehearse", "-", "-n", MANY), MEANS, ""),
        (("rehearse", "-", "--seed", MANY), MEANS, ""),
    ],
)
def test_what_no_machine_can_count_is_refused(
    arguments: tuple[str, ...], request_: Any, says: str, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    """At once, in one line."""
    monkeypatch.chdir(tmp_path)
    assert says in refused(*arguments, text=json.dumps(request_))


@pytest.mark.parametrize(
    ("request_", "world"),
    [
        (MEANS, {"analysis": [1]}),
        (MEANS, {"analysis": []}),
        (MEANS, {"analysis": {}}),
        (MEANS, {"analysis": 1}),
        (MEANS, {"analysis": None}),
        (MEANS, {"shape": []}),
        (MEANS, {"shape": "t", "size": []}),
        (MEANS, {"shape": {}, "size": 2}),
        (MEANS, {"lost": []}),
        (MEANS, {"related": {}, "lost": 0.1}),
        (MEANS, {"effect": []}),
        (MEANS, {"effect": {}}),
        (MEANS, {"effect": True}),
        (MEANS, {"cv": "much"}),
        (MEANS, {"": 1}),
        (MEANS, [[]]),
        (MEANS, [3]),
        (MEANS, "lost"),
        (PAIRS, {"effect": 0.999999}),
        (PAIRS, {"effect": -3}),
    ],
)
def test_departures_of_the_wrong_type_are_refused(request_: Any, world: Any, tmp_path: Path) -> None:
    """Whatever JSON can hold stands for the name of a world's departure."""
    (tmp_path / "d.json").write_text(json.dumps(world))
    refused("rehearse", "-", "-n", "100", "--departures", str(tmp_path / "d.json"), text=json.dumps(request_))


def test_lists_nested_deeply_are_refused_by_every_command() -> None:
    """Also where a reader could follow them."""
    deep = '{"design":"two-means","find":"n","assumptions":{"difference":' + "[" * 500 + "]" * 500 + "}}"
    for command in ("compute", "picture", "grid", "sheet", "rehearse"):
        output = {"compute": (), "rehearse": ("-n", "10")}.get(command, ("-o", "/tmp/never.csv"))
        refused(command, "-", *output, text=deep)


@pytest.mark.parametrize("field", ["rho", "dropout", "alpha", "sides", "nobody"])
def test_a_wrong_value_beside_what_varies_costs_each_row(field: str, tmp_path: Path) -> None:
    """Each row says why; nothing is a fault of ours."""
    for value in ("abc", [1], {"a": 1}, True):
        asked = {"design": "correlation", "find": "power", "assumptions": {"rho": 0.3, "n": 220, field: value}}
        arguments = ("grid", "-", "method=exact,fisher", "-o", str(tmp_path / "o.csv"))
        status, _, errors = run(*arguments, text=json.dumps(asked))
        assert status in (2, 3), (value, errors)
        assert "fault of ours" not in errors


@pytest.mark.parametrize(
    "change",
    [
        lambda aim: next(e for e in aim["entries"].values() if isinstance(e["value"], list)).update(low=0.1),
        lambda aim: aim["entries"]["sides"].update(value="two", low=0.0),
        lambda aim: aim["words"].update(one="", many="", clusters=""),
        lambda aim: aim["words"].update(one=" ", many="", outcome="", unit=""),
        lambda aim: aim.setdefault("sheet", {}).update(allowed="nan to 5"),
        lambda aim: aim.setdefault("sheet", {}).update(allowed="inf to"),
        lambda aim: aim.setdefault("sheet", {}).update(allowed="1e400 to"),
        lambda aim: aim.update(name="a\ufeffb\u0608c"),
    ],
)
def test_a_study_edited_by_hand_opens_and_is_reported(change: Any, tmp_path: Path) -> None:
    """What no view can show is set right; a sheet is written or says what would be allowed."""
    found = json.loads(study_text(sampler_study()))
    listed = [aim for aim in found["aims"] if any(isinstance(e["value"], list) for e in aim["entries"].values())]
    for aim in (found["aims"][0], listed[0]):
        aim["entries"].setdefault("sides", {"value": "two"})
        try:
            change(aim)
        except StopIteration:
            continue
        (tmp_path / "s.ragwort").write_text(json.dumps({**found, "aims": [aim]}))
        study = read_study(tmp_path / "s.ragwort")
        for kind in ("txt", "pdf", "docx", "html"):
            assert report_bytes(study, kind)
        status, _, errors = run("sheet", str(tmp_path / "s.ragwort"), "-o", str(tmp_path / "o.xlsx"))
        assert status in (0, 2), errors


def test_a_mark_that_nobody_sees_keeps_no_pdf_from_being_set() -> None:
    """A byte order mark within pasted text."""
    study = sampler_study().changed(
        aims=sampler_study().aims[:1], background="pasted\ufeff text", title="Night\ufeff shift"
    )
    text = " ".join(page.extract_text() for page in PdfReader(io.BytesIO(report_bytes(study, "pdf"))).pages)
    assert "pasted text" in text
    assert "\ufeff" not in report_bytes(study, "html").decode()


def test_messages_stay_one_line_whatever_a_file_is_called(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    """Line ends, escapes and controls in a name; a folder, a file that cannot be read or written."""
    monkeypatch.chdir(tmp_path)
    name = "odd\n\x1b[31m\r\u2028name"
    (tmp_path / f"{name}.ragwort").mkdir()
    for arguments in (
        ("compute", name),
        ("report", f"{name}.ragwort", "-o", "o.txt"),
        ("report", name, "-o", f"{name}.odt"),
        ("grid", "-", "--table", name, "-o", "o.csv"),
        ("guide", f"{name}/x.html"),
        ("picture", "-", "-o", f"{name}/x.svg"),
        (name,),
    ):
        errors = refused(*arguments, text=json.dumps(MEANS))
        assert not re.search(r"[\x00-\x09\x0b-\x1f\u2028]", errors)


@pytest.mark.skipif(os.geteuid() == 0, reason="root may read everything")
def test_a_file_that_may_not_be_read_is_one_line(tmp_path: Path) -> None:
    """No lines of usage before it."""
    (tmp_path / "s.ragwort").write_text(study_text(sampler_study()))
    (tmp_path / "s.ragwort").chmod(0)
    refused("report", str(tmp_path / "s.ragwort"), "-o", str(tmp_path / "o.txt"))


def test_a_list_of_too_many_requests_is_counted_and_refused() -> None:
    """Before the first is answered; with the number that there are."""
    assert "100001 requests: 100000 at most" in refused("compute", "-", text=json.dumps([0] * 100_001))


def test_an_interval_next_to_zero_takes_no_time() -> None:
    """It is that of zero."""
    for d in (1e-160, 0):
        status, output, _ = run("convert", "-", text=json.dumps({"from": {"n": 2, "d": d}, "to": "d_interval"}))
        assert status == 0
        assert json.loads(output)["low"] == pytest.approx(-json.loads(output)["high"])
