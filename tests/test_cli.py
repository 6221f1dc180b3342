"""The command line as a user calls it: output, exit status, one line for what is wrong, never a traceback."""

from __future__ import annotations

import contextlib
import csv
import io
import json
import os
import subprocess
import sys
from pathlib import Path

import pytest

import ragwort.designs
from ragwort import cli
from ragwort.cli import answers
from ragwort.cli.output import SOME_UNANSWERED
from ragwort.demo import demo_study, sampler_study, second_demo_study
from ragwort.designs import all_designs, answer_request
from ragwort.report import report_bytes
from ragwort.study.document.aim import Entry
from ragwort.study.document.files import read_study, write_study

GOOD = {"design": "two-means", "find": "n", "assumptions": {"difference": 12, "sd": 24}}
BAD = {"design": "two-means", "find": "n", "assumptions": {"difference": 12, "sd": 0}}


def run_apart(*arguments: str, text: str | bytes = "") -> tuple[int, str, str]:
    """Exit status, output, errors of a process `ragwort` with these arguments and this standard input."""
    command = [sys.executable, "-m", "ragwort", *arguments]
    given = text.encode() if isinstance(text, str) else text
    done = subprocess.run(command, input=given, capture_output=True, timeout=120, check=False)
    return done.returncode, done.stdout.decode(), done.stderr.decode()


def run(*arguments: str, text: str | bytes = "") -> tuple[int, str, str]:
    """The same in this process, which need not load everything anew."""
    given = text.encode() if isinstance(text, str) else text
    output, errors = io.StringIO(), io.StringIO()
    with pytest.MonkeyPatch.context() as patch, pytest.raises(SystemExit) as left:
        patch.setattr(sys, "stdin", io.TextIOWrapper(io.BytesIO(given)))
        with contextlib.redirect_stdout(output), contextlib.redirect_stderr(errors):
            cli.main(list(arguments))
    return int(left.value.code or 0), output.getvalue(), errors.getvalue()


def test_compute_answers_one_request_and_a_list(tmp_path: Path) -> None:
    """From standard input and from a file, with a byte order mark too; a bad one in a list spoils no other."""
    status, output, _ = run_apart("compute", "-", text=json.dumps(GOOD))
    assert (status, json.loads(output)["answer"]) == (0, 128)
    file = tmp_path / "requests.json"
    file.write_bytes(b"\xef\xbb\xbf" + json.dumps([GOOD, BAD, GOOD]).encode())
    status, output, _ = run("compute", str(file))
    answers = json.loads(output)
    assert status == 0
    assert [answer.get("answer") for answer in answers] == [128, None, 128]
    assert answers[1]["error"]["field"] == "sd"


def test_compute_of_a_study_gives_its_answers_and_its_totals(tmp_path: Path) -> None:
    """A total where one recruitment serves all, recruitments where not; an aim without an answer costs no other."""
    one, several = tmp_path / "one.ragwort", tmp_path / "several.ragwort"
    write_study(demo_study(), one)
    status, output, errors = run("compute", str(one))
    found = json.loads(output)
    assert (status, errors, found["total"]) == (0, "", 144)
    assert [(each["recruited"], each["counted"], each["allocated"]) for each in found["recruitments"]] == [
        (144, "staff", "2 groups")
    ]
    for aim in found["aims"]:
        assert answer_request(aim["request"]) == aim["answer"]
    study = sampler_study()
    broken = study.aims[0].changed(entries={**study.aims[0].entries, "sd": Entry(value=-1)})
    write_study(study.with_aim(broken), several)
    status, output, errors = run("compute", str(several))
    found = json.loads(output)
    assert (status, found["total"], len(found["recruitments"])) == (3, None, 5)
    assert found["aims"][0]["error"]["field"] == "sd"
    assert errors.startswith("ragwort: 1 of 13 aims have no answer. Reaction time: ")
    assert all("Reaction time" not in each["aims"] for each in found["recruitments"])
    assert run("compute", str(tmp_path / "none.ragwort"))[0] == 2


def test_a_single_bad_request_is_said_on_standard_error() -> None:
    """Status 2, the answer as JSON, and one line in plain words."""
    status, output, errors = run("compute", "-", text=json.dumps(BAD))
    assert status == 2
    assert json.loads(output)["error"]["field"] == "sd"
    assert errors == "ragwort: sd: Standard deviation must be above 0, not 0.\n"


@pytest.mark.parametrize(
    "text",
    [
        "{",
        "",
        "NaN",
        '{"design": "two-means", "find": "n", "assumptions": {"sd": Infinity}}',
        b"\xff\xfe\x00",
        "[" * 99_999,
    ],
    ids=["half", "empty", "nan", "infinity", "binary", "deep"],
)
def test_text_that_is_not_json_is_one_error(text: str | bytes) -> None:
    """Status 2 and one line, whatever comes in."""
    status, output, errors = run("compute", "-", text=text)
    assert (status, output) == (2, "")
    assert errors.startswith("ragwort: - is ")
    assert errors.count("\n") == 1


@pytest.mark.parametrize(
    ("arguments", "says"),
    [
        (("compute", "/no/such/file"), "There is no file"),
        (("compute", "/dev/zero"), "cannot be read"),
        (("designs", "two-man"), "Did you mean 'two-means'"),
        (("report", "/no/such.ragwort", "-o", "x.pdf"), "There is no file"),
        (("report", "x.ragwort", "-o", "x.odt"), ".html or .pdf or .docx"),
        (("report", "x.ragwort"), "or ask for a --statement"),
        (("report", "x.ragwort", "-o", "x.pdf", "--template", "y.docx"), "written as .docx"),
        (("demo", "/proc/none"), "cannot be made"),
        (("/no/such.ragwort",), "There is no file"),
    ],
)
def test_bad_arguments_are_said_in_one_line(arguments: tuple[str, ...], says: str) -> None:
    """Status 2, no traceback."""
    status, _, errors = run(*arguments)
    assert status == 2
    assert says in errors
    assert errors.count("\n") == 1


def test_help_and_designs_tell_what_there_is() -> None:
    """Every command has help; a design lists its assumptions with bounds and defaults."""
    for arguments in ((), ("compute",), ("designs",), ("report",), ("demo",), ("open",)):
        status, output, _ = run(*arguments, "--help")
        assert status == 0
        assert "Usage: ragwort" in output
    assert "two-means" in run("designs")[1]
    lines = run("designs", "two-means")[1].splitlines()
    assert any(
        line.split() == ["ratio", "above", "0", "default", "1", "Ratio", "of", "the", "groups"] for line in lines
    )
    about = " ".join(run("designs", "two-means")[1].split())
    assert "of each one-sided test against a margin 0.025 for superiority, 0.025 for non-inferiority" in about
    assert "central (equal-tailed)" in run("designs", "one-rate")[1]
    assert "0.1.0" in run("--version")[1]


def test_report_and_demo_write_what_they_say(tmp_path: Path) -> None:
    """The demo study can be read back; a file of it makes a report, each time the same."""
    status, output, errors = run_apart("demo", str(tmp_path / "out"))
    assert (status, errors) == (0, "")
    assert "Recruit 144 staff so that 128" in output
    names = {path.name for path in (tmp_path / "out").iterdir()}
    assert {"answers.json", "reaction-curve.svg", "reaction-errors.svg", "night-shift-lighting.pdf"} <= names
    assert read_study(tmp_path / "out" / "night-shift-lighting.ragwort") == demo_study()
    assert read_study(tmp_path / "out" / "a-year-of-brighter-nights.ragwort") == second_demo_study()
    examples = sorted((tmp_path / "out" / "examples").glob("*.ragwort"))
    assert {read_study(path).aims[0].design for path in examples} == {design.id for design in all_designs()}
    first = sampler_study().changed(aims=sampler_study().aims[2:3])
    write_study(first, tmp_path / "s.ragwort")
    status, output, _ = run("report", str(tmp_path / "s.ragwort"), "-o", str(tmp_path / "r.html"))
    assert status == 0
    assert (tmp_path / "r.html").read_bytes() == report_bytes(first, "html")


def test_a_picture_is_drawn_of_a_request_or_a_study(tmp_path: Path) -> None:
    """Its data are the core's answers; every format; what cannot be drawn is said in one line."""
    words = ("--y", "n", "--x", "difference=8,16", "--family", "sd=20,28")
    status, output, errors = run("picture", "-", *words, "-o", str(tmp_path / "p.csv"), text=json.dumps(GOOD))
    assert (status, errors) == (0, "")
    assert "128 participants at difference 12" in output
    head, first, *rest = csv.reader((tmp_path / "p.csv").read_text().splitlines())
    assert head[:3] == ["line", "difference", "total participants"]
    assert first[:3] == ["now", "8.0", "286.0"]
    assert {row[0] for row in rest} == {"now", "20", "28"}
    write_study(sampler_study(), tmp_path / "s.ragwort")
    for kind, start in (("svg", b"<?xml"), ("pdf", b"%PDF"), ("png", b"\x89PNG")):
        target = tmp_path / f"p.{kind}"
        words = ("--picture", "map", "--aim", "Errors logged by ward", "--y", "icc")
        with pytest.raises(SystemExit) as left, contextlib.redirect_stdout(io.StringIO()):
            cli.main(["picture", str(tmp_path / "s.ragwort"), *words, "-o", str(target)])
        assert not left.value.code
        assert target.read_bytes().startswith(start)


def test_a_request_that_is_none_has_no_picture(tmp_path: Path) -> None:
    """Each fault in one line."""
    for request, fault in (
        ([GOOD], "a picture is drawn of a study, or of one request"),
        ({**GOOD, "design": "two-beans"}, "There is no design"),
        ({**GOOD, "find": 5}, "find must be n, power, effect, alpha or margin, not 5."),
        ({**GOOD, "assumptions": 5}, "assumptions must be an object"),
        ({**GOOD, "assumptions": {"sd": 24}}, "has no answer to draw. Difference is missing"),
    ):
        file = tmp_path / "r.json"
        file.write_text(json.dumps(request))
        with pytest.raises(SystemExit) as left, contextlib.redirect_stderr(io.StringIO()) as said:
            cli.main(["picture", str(file), "-o", str(tmp_path / "p.svg")])
        assert left.value.code == 2
        assert fault in said.getvalue()


@pytest.mark.parametrize(
    ("words", "fault"),
    [
        (
            ("--picture", "pie"),
            "There is no picture 'pie' of this aim: there is Curve, Map, Errors, Drivers, Spread or Split.",
        ),
        (("--picture", "errors", "--x", "sd"), "Errors shows one thing only: leave out --x."),
        (("--x", "icc"), "--x cannot be 'icc' here: it can be difference, sd, alpha, ratio or n."),
        (("--x", "sd=3,1"), "--x sd= needs the two ends of its axis, the lower first: sd=6,18."),
        (("--family", "sd=0,1"), "--family sd=0,1: Standard deviation must be above 0, not 0."),
        (("--picture", "map", "--family", "sd"), "Map has no --family: leave it out."),
        (("--kept", "without"), "--kept says nothing of this aim: leave it out."),
        (("--pin", "60,none"), "--pin 60,none: “none” is not a number: type digits, as in 12 or 1.5."),
        (
            ("--picture", "split", "--y", "cost", "--cost", "12"),
            "--cost 12: two numbers are needed, one for each group, as in 120,45.",
        ),
        (("--aim", "x"), "There is no aim “x”. The study's aims: Two independent means: t test."),
    ],
)
def test_what_cannot_be_drawn_is_said(words: tuple[str, ...], fault: str, tmp_path: Path) -> None:
    """With what could be."""
    request = tmp_path / "r.json"
    request.write_text(json.dumps(GOOD))
    with pytest.raises(SystemExit) as left, contextlib.redirect_stderr(io.StringIO()) as said:
        cli.main(["picture", str(request), *words, "-o", str(tmp_path / "p.svg")])
    assert left.value.code == 2
    assert said.getvalue() == f"ragwort: {fault}\n"


@pytest.mark.fault_of_ours
def test_a_fault_of_ours_is_owned_up_to(monkeypatch: pytest.MonkeyPatch, capsys: pytest.CaptureFixture[str]) -> None:
    """Status 1 and a request to report it, instead of a traceback."""

    def broken(_: object) -> None:
        raise ZeroDivisionError("oops")

    monkeypatch.setattr(answers, "json_from", broken)
    with pytest.raises(SystemExit) as left:
        cli.main(["compute", "-"])
    assert left.value.code == 1
    assert "a fault of ours" in capsys.readouterr().err


@pytest.mark.fault_of_ours
def test_a_fault_of_ours_costs_its_own_request_only(
    monkeypatch: pytest.MonkeyPatch, capsys: pytest.CaptureFixture[str], no_fault_of_ours: Path, tmp_path: Path
) -> None:
    """The others are answered; the error has no field, says whose fault it is, and the log has the details."""
    rest = ragwort.designs.answer_request

    def broken(request: dict[str, object]) -> dict[str, object]:
        return {}["sd"] if request == BAD else rest(request)

    monkeypatch.setattr(ragwort.designs, "answer_request", broken)
    file = tmp_path / "requests.json"
    file.write_text(json.dumps([GOOD, BAD, GOOD]))
    with pytest.raises(SystemExit) as left:
        cli.main(["compute", str(file)])
    said = capsys.readouterr()
    answers = json.loads(said.out)
    assert left.value.code == 1
    assert [answer.get("answer") for answer in answers] == [128, None, 128]
    assert answers[1]["error"]["field"] is None
    assert "a fault of ours" in answers[1]["error"]["message"]
    assert str(no_fault_of_ours) in answers[1]["error"]["message"]
    assert "KeyError: 'sd'" in no_fault_of_ours.read_text()
    assert said.err.count("\n") == 1


def test_what_json_cannot_hold_costs_its_own_request_only() -> None:
    """NaN, thousands of digits, half a character as a name: each beside two requests that are answered."""
    odd = ['{"sd": NaN}', '{"sd": ' + "9" * 5000 + "}", '{"\\ud800": 3}']
    for each in odd:
        bad = f'{{"design": "two-means", "find": "n", "assumptions": {each}}}'
        status, output, errors = run("compute", "-", text=f"[{json.dumps(GOOD)}, {bad}, {json.dumps(GOOD)}]")
        answers = json.loads(output)
        assert (status, errors) == (0, "")
        assert [answer.get("answer") for answer in answers] == [128, None, 128]
        assert len(answers[1]["error"]["message"]) < 400


def shell(line: str) -> tuple[int, str]:
    """Exit status and errors of a line of shell in which $PYTHON is the interpreter."""
    environment = {**os.environ, "PYTHON": sys.executable}
    done = subprocess.run(["bash", "-c", line], env=environment, capture_output=True, timeout=60, check=False)
    return done.returncode, done.stderr.decode()


def test_streams_that_are_closed_or_full_are_said() -> None:
    """Status 2 and one line; an answer that got lost is no success."""
    for line, says in (
        ('"$PYTHON" -m ragwort compute - <&-', "standard input is closed"),
        ('"$PYTHON" -m ragwort designs >&-', "standard output is closed"),
        ('"$PYTHON" -m ragwort designs >/dev/full', "No space left"),
    ):
        status, errors = shell(line)
        assert (status, errors.count("\n")) == (2, 1), errors
        assert says in errors
    assert shell('set -o pipefail; "$PYTHON" -m ragwort designs | true') in ((141, ""), (0, ""))


INTERRUPTED = """
import builtins, os, signal, sys
signal.signal(signal.SIGINT, signal.default_int_handler)  # whatever the tests were started with
rest, moment = builtins.__import__, sys.argv.pop(1)
def careful(name, *more, **named):
    if name == moment:
        os.kill(os.getpid(), signal.SIGINT)
    return rest(name, *more, **named)
builtins.__import__ = careful
from ragwort.start import main
main()
"""


@pytest.mark.parametrize(("moment", "status"), [("ragwort.cli", -2), ("click", -2), ("ragwort.report.guide", 130)])
def test_an_interrupt_is_quiet(moment: str, status: int, tmp_path: Path) -> None:
    """While the program is still being loaded, and while it works: no trace of Python."""
    command = [sys.executable, "-c", INTERRUPTED, moment, "guide", str(tmp_path / "guide.html")]
    done = subprocess.run(command, capture_output=True, timeout=60, check=False)
    assert (done.returncode, done.stderr.strip()) == (status, b"")


def test_convert_answers_one_conversion_and_a_list() -> None:
    """As compute does: status 2 and one line for a single bad one, the others of a list all the same."""
    good = {"from": {"t": 2.5, "n1": 20, "n2": 22}, "to": "d"}
    status, output, _ = run("convert", "-", text=json.dumps(good))
    assert (status, round(json.loads(output)["value"], 4)) == (0, 0.7724)
    status, output, _ = run("convert", "-", text=json.dumps([good, {"from": {"t": 2.5}, "to": "d"}]))
    assert status == 0
    assert json.loads(output)[1]["error"]["field"] == "n"
    status, _, errors = run("convert", "-", text=json.dumps({"from": {"r": 1.2}, "to": "d"}))
    assert status == 2
    assert errors == "ragwort: r: r must be above -1 and below 1, not 1.2.\n"


def test_guide_is_written(tmp_path: Path) -> None:
    """One HTML file with a chapter for every design; where it cannot be written, that is said."""
    target = tmp_path / "guide.html"
    assert run("guide", str(target))[0] == 0
    assert "Cluster-randomised trial: means" in target.read_text()
    assert run("guide", str(tmp_path / "missing" / "guide.html"))[0] == 2


def test_a_grid_is_written_of_a_request_or_a_study(tmp_path: Path) -> None:
    """Status 0 where all rows are answered, 3 where some are not, 2 for what cannot be asked."""
    target = tmp_path / "g.csv"
    status, output, errors = run("grid", "-", "-o", str(target), "difference=8:16:4", "sd=20,24", text=json.dumps(GOOD))
    assert (status, errors) == (0, "")
    assert "6 combinations, all answered." in output
    head, first, *_ = csv.reader(target.read_text().splitlines())
    assert (head[:3], first[:3]) == (["difference", "sd", "d"], ["8", "20", "0.4"])
    write_study(sampler_study(), tmp_path / "s.ragwort")
    for words, code, said in (
        (["--vary", "difference=0,8", "-o", str(tmp_path / "g.xlsx")], SOME_UNANSWERED, "1 without an answer"),
        (["--vary", "difference=8 to 16", "-o", str(target)], 2, "Say the step"),
        (["-o", str(target)], 0, "15 combinations, all answered."),
        (["--aim", "Sleepy at 4 am", "-o", str(target)], 2, "Nothing is varied yet"),
        (["difference=8", "-o", str(tmp_path / "g.doc")], 2, "a grid is written as .csv, .xlsx, .ods, .md, not .doc."),
        (["difference=8", "--find", "joy", "-o", str(target)], 2, "--find must be n, power, effect or alpha"),
    ):
        heard = io.StringIO()
        with pytest.raises(SystemExit) as left, contextlib.redirect_stdout(heard), contextlib.redirect_stderr(heard):
            cli.main(["grid", str(tmp_path / "s.ragwort"), *words])
        assert (left.value.code or 0) == code
        assert said in heard.getvalue()
    assert (tmp_path / "g.xlsx").read_bytes().startswith(b"PK")
    (tmp_path / "t.csv").write_text("sd,difference\n20,8\nx,8\n")
    words = ("--table", str(tmp_path / "t.csv"), "-o", str(target))
    status, output, _ = run("grid", "-", *words, text=json.dumps(GOOD))
    assert (
        status,
        "2 rows of t.csv: sd and difference are taken from it.\n2 rows; 1 without an answer." in output,
    ) == (SOME_UNANSWERED, True)


def test_a_study_is_rehearsed(tmp_path: Path) -> None:
    """As planned; in the worlds of a file; the size; one data set; the same numbers for the same seed."""
    request = tmp_path / "r.json"
    request.write_text(json.dumps(GOOD))
    status, output, _ = run("rehearse", str(request), "-n", "2000", "--data", str(tmp_path / "d.csv"), "--number", "7")
    found = json.loads(output)
    assert (status, found["replicates"], found["seed"]) == (0, 2000, 1)
    assert found["power_low"] < found["formula"] < found["power_high"]
    rows = (tmp_path / "d.csv").read_text().splitlines()
    assert rows[0] == "Participant,group,outcome"
    worlds = tmp_path / "w.json"
    worlds.write_text(json.dumps([{}, {"lost": 0.3}, {"effect": "none", "name": "nothing"}]))
    status, output, _ = run("rehearse", str(request), "--departures", str(worlds), "-n", "2000", "--size")
    planned, lost, nothing = json.loads(output)
    assert planned["power"] == found["power"]
    assert lost["power"] < planned["power"] - 0.05
    assert lost["size"]["n"] > planned["size"]["n"]
    assert nothing["size"]["n"] is None


def test_rehearsals_that_cannot_be_had(tmp_path: Path) -> None:
    """Each fault in one line, status 2."""
    request, worlds = tmp_path / "r.json", tmp_path / "w.json"
    request.write_text(json.dumps(GOOD))
    for world, more, fault in (
        ({"lost": 1}, [], "lost: Lost must be at least 0 and below 1"),
        ({"shape": "bounded", "low": 1, "high": 2}, [], "leave out a mean of 0"),
        ([], [], "asks for no world"),
        ({}, ["-n", "0"], "1 to 1"),
        ({}, ["-n", "1000000000"], "1 to 1"),
        ({}, ["--seed", "-1"], "a seed is a whole number from 0 on"),
        ({}, ["--data", str(tmp_path / "d.doc")], "written as .csv or .xlsx"),
        ({}, ["--data", str(tmp_path / "d.csv"), "--number", "0"], "There is no study 0"),
        ({}, ["--aim", "Nobody"], "There is no aim"),
    ):
        worlds.write_text(json.dumps(world))
        status, _, errors = run("rehearse", str(request), "--departures", str(worlds), *more)
        assert status == 2
        assert fault in errors.replace("\u2009", "")
        assert errors.count("\n") == 1


def test_a_sheet_is_written_with_its_list_and_labels(tmp_path: Path) -> None:
    """By the aim's number; the same seed writes the same files; each fault in one line."""
    write_study(sampler_study(), tmp_path / "s.ragwort")
    study = str(tmp_path / "s.ragwort")
    for name in ("a", "b"):
        status, output, _ = run(
            *("sheet", study, "--aim", "1", "--seed", "7", "-o", str(tmp_path / f"{name}.xlsx")),
            *("--allocation", str(tmp_path / f"{name}.csv"), "--labels", str(tmp_path / f"{name}.pdf"), "--masked"),
        )
        assert (status, output.count("Wrote")) == (0, 3)
    for kind in ("xlsx", "csv", "pdf"):
        assert (tmp_path / f"a.{kind}").read_bytes() == (tmp_path / f"b.{kind}").read_bytes()
    for more, fault in (
        (["-o", str(tmp_path / "s.doc")], "a sheet is written as .csv or .xlsx or .ods"),
        (["-o", str(tmp_path / "s.csv"), "--blocks", "5"], "blocks: A block of 5 does not fit the ratio 1 : 1"),
        (["-o", str(tmp_path / "s.csv"), "--pattern", "NS"], "pattern: 'NS' gives the id NS twice"),
        (["-o", str(tmp_path / "s.csv"), "--method", "lots"], "method: Allocation is"),
        (["-o", str(tmp_path / "s.csv"), "--aim", "99"], "There is no aim"),
        (["-o", str(tmp_path / "no" / "s.csv")], "cannot be written"),
    ):
        status, _, errors = run("sheet", study, *more)
        assert (status, errors.count("\n")) == (2, 1)
        assert fault in errors


def test_a_statement_is_printed_and_one_aim_reported(tmp_path: Path) -> None:
    """The same words as the report's; of one aim by its number or its name."""
    write_study(sampler_study(), tmp_path / "s.ragwort")
    status, output, _ = run("report", str(tmp_path / "s.ragwort"), "--statement", "short", "--aim", "1")
    assert status == 0
    assert output.startswith("With 64 staff per group analysed (128 in total; 144 to be recruited")
    assert output.count("\n") == 1
    out = tmp_path / "r.md"
    status, *_ = run("report", str(tmp_path / "s.ragwort"), "--aim", "Sleepy at 4 am", "-o", str(out))
    text = out.read_text()
    assert "Aim 1: Sleepy at 4 am" in text
    assert "Reaction time" not in text
