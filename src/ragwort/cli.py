"""The command line. Exit status 0 when it worked, 2 for bad input (said in one line), 1 for a fault of ours.

Beside these 3 when some rows of a grid have no answer, 130 when interrupted, and 141 when whoever reads the answer
has stopped reading.
What a command needs is imported by the command, so that help is there at once.
"""

from __future__ import annotations

import json
import os
import sys
from collections.abc import Callable
from pathlib import Path
from typing import TYPE_CHECKING, Any

import click

import ragwort
from ragwort.files import FileError, read_plain, write_whole
from ragwort.files.log import fault_of_ours
from ragwort.files.reading import size_text

if TYPE_CHECKING:
    from ragwort.designs.assumption import Assumption
    from ragwort.study.model import Study

BAD_INPUT = 2
SOME_UNANSWERED = 3
NOBODY_READS = 141  # as a shell says it of a command whose reader has gone
INTERRUPTED = 130
LARGEST = 64_000_000  # bytes of a file of requests
MOST_DIGITS = 300  # of a whole number: more than any that can be computed with


class BadInput(click.ClickException):
    """Something the user can mend, said in one line."""

    exit_code = BAD_INPUT

    def show(self, file: Any = None) -> None:
        """One line on standard error."""
        click.echo(f"ragwort: {self.format_message()}", err=True)


class OurFault(BadInput):
    """Something that only we can mend."""

    exit_code = 1


@click.group(invoke_without_command=True, context_settings={"help_option_names": ["-h", "--help"]})
@click.version_option(ragwort.__version__, prog_name="ragwort")
@click.option("--demo", is_flag=True, help="Open the window with the demo study.")
@click.pass_context
def cli(context: click.Context, demo: bool) -> None:
    """Size research studies. Without a command, opens the window; `ragwort FILE` opens it with that study."""
    if context.invoked_subcommand is None:
        _open_window(None, demo)


@cli.command()
@click.argument("file", type=click.Path(path_type=Path))
def open(file: Path) -> None:
    """Open the window with the study FILE."""
    _open_window(file, demo=False)


def _open_window(file: Path | None, demo: bool) -> None:
    from ragwort.study.files import read_study

    try:
        if file is not None:
            read_study(file)  # said before anything else is loaded
    except FileError as error:
        raise BadInput(str(error)) from error
    try:
        from ragwort.app.shell.main import run
    except ImportError as error:
        raise BadInput(
            f"the window needs PySide6, which cannot be loaded here ({error}). The other commands work without it."
        ) from error
    try:
        sys.exit(run(file, demo))
    except FileError as error:
        raise BadInput(str(error)) from error


# --- compute --------------------------------------------------------------------------------------------------


@cli.command()
@click.argument("file")
def compute(file: str) -> None:
    """Answer the JSON request in FILE (- for standard input), or a list of requests."""
    from ragwort.designs import answer_request

    _answer_all(file, answer_request)


def _answer_all(file: str, answer_one: Callable[[Any], dict[str, Any]]) -> None:
    """Print an answer for each request in a file; a single one that is bad is said on standard error too."""
    requests = _json_from(file)
    several = isinstance(requests, list)
    answers = [_answer(answer_one, request) for request in (requests if several else [requests])]
    _print(_printed(answers if several else answers[0]))
    errors = [answer["error"] for answer in answers if "error" in answer]
    if any(error["field"] is None for error in errors):
        raise OurFault(next(error["message"] for error in errors if error["field"] is None))
    if errors and not several:
        raise BadInput(f"{errors[0]['field']}: {errors[0]['message']}")


def _answer(answer_one: Callable[[Any], dict[str, Any]], request: Any) -> dict[str, Any]:
    """One answer; a fault of ours is the error of this request and costs no other."""
    try:
        return answer_one(request)
    except Exception as error:  # noqa: BLE001  (logged and said)
        return {"error": {"field": None, "message": fault_of_ours(error)}}


@cli.command("convert")
@click.argument("file")
def convert_effects(file: str) -> None:
    """Convert effect sizes: the JSON conversion in FILE (- for standard input), or a list of them."""
    from ragwort.designs.conversions import convert

    _answer_all(file, convert)


def _json_from(file: str) -> Any:
    """The parsed content of a file or of standard input.

    In a list what is no number stands as `_NoNumber` in its place, so that it costs its own request only.
    """
    try:
        text = _standard_input() if file == "-" else read_plain(Path(file), LARGEST)
        odd: list[_NoNumber] = []
        found = json.loads(
            text.decode("utf-8-sig"),
            parse_constant=lambda word: _noted(odd, word),
            parse_int=lambda digits: int(digits) if len(digits) <= MOST_DIGITS else _noted(odd, f"{digits[:9]}…"),
        )
    except OSError as error:
        raise BadInput(f"{file} cannot be read: {error.strerror}.") from error
    except FileError as error:
        raise BadInput(str(error)) from error
    except RecursionError as error:
        raise BadInput(f"{file} is nested too deeply to be a request.") from error
    except UnicodeDecodeError as error:
        raise BadInput(f"{file} is not JSON: it is not UTF-8 text.") from error
    except json.JSONDecodeError as error:
        raise BadInput(f"{file} is not JSON: line {error.lineno}, column {error.colno}: {error.msg}.") from error
    if odd and not isinstance(found, list):
        raise BadInput(f"{file} is not JSON: {odd[0]} is no number that JSON has and a computer can hold.")
    return found


def _standard_input() -> bytes:
    if sys.stdin is None:
        raise BadInput("standard input is closed: name a file, or give the request on standard input.")
    content = sys.stdin.buffer.read(LARGEST + 1)
    if len(content) > LARGEST:
        raise BadInput(f"standard input has more than {size_text(LARGEST)}, which is the most that is read.")
    return content


class _NoNumber:
    """Something that JSON has no number for, or no reader can hold: its request will say that it is none."""

    def __init__(self, words: str) -> None:
        self._words = words

    def __repr__(self) -> str:
        return self._words


def _noted(odd: list[_NoNumber], words: str) -> _NoNumber:
    odd.append(_NoNumber(words))
    return odd[-1]


def _printed(answer: Any) -> str:
    """As JSON; half a character, which no text can hold, as its escape."""
    text = json.dumps(answer, indent=2, ensure_ascii=False, allow_nan=False)
    return text.encode("utf-8", "backslashreplace").decode()


def _print(text: str) -> None:
    """To standard output, or not at all: an answer that got lost is said."""
    if sys.stdout is None:
        raise BadInput("standard output is closed: the answer cannot be written.")
    try:
        click.echo(text)
    except BrokenPipeError:
        _let_go_of_output()
        sys.exit(NOBODY_READS)
    except OSError as error:
        _let_go_of_output()
        raise BadInput(f"the answer cannot be written to standard output: {error.strerror}.") from error


def _let_go_of_output() -> None:
    """What is left in the buffer cannot be written: without this Python would try once more, and complain."""
    nowhere = os.open(os.devnull, os.O_WRONLY)
    os.dup2(nowhere, sys.stdout.fileno())
    os.close(nowhere)


# --- designs --------------------------------------------------------------------------------------------------


@cli.command()
@click.argument("name", required=False)
def designs(name: str | None) -> None:
    """List the designs, or the assumptions of the design NAME."""
    from ragwort.designs import RequestError, all_designs, design_named

    if name is None:
        width = max(len(design.id) for design in all_designs())
        for design in all_designs():
            _print(f"{design.id:<{width}}  {design.title}. {design.summary}")
        return
    try:
        design = design_named(name)
    except RequestError as error:
        raise BadInput(error.message) from error
    _print(f"{design.id}: {design.title}\n{design.summary}\nfind: {', '.join(design.finds)}\n")
    rows = [_assumption_row(assumption) for assumption in design.assumptions]
    widths = [max(len(row[column]) for row in rows) for column in range(3)]
    for row in rows:
        line = "  ".join(cell.ljust(width) for cell, width in zip(row, widths, strict=False))
        _print(f"{line}  {row[3]}".rstrip())


def _assumption_row(assumption: Assumption) -> tuple[str, str, str, str]:
    default = (
        ""
        if assumption.default is None
        else f"default {assumption.default:g}"
        if isinstance(assumption.default, int | float)
        else f"default {assumption.default}"
    )
    return assumption.name, assumption.allowed(), default, assumption.label


# --- report and demo ------------------------------------------------------------------------------------------


@cli.command()
@click.argument("study", type=click.Path(path_type=Path))
@click.option("-o", "--output", required=True, type=click.Path(path_type=Path), help="A .html or .pdf file to write.")
def report(study: Path, output: Path) -> None:
    """Write the report of the study file STUDY."""
    from ragwort.report import KINDS, report_bytes
    from ragwort.study.files import read_study

    kind = output.suffix.lower().removeprefix(".")
    if kind not in KINDS:
        raise BadInput(f"the report is written as .{' or .'.join(KINDS)}, not {output.suffix or 'without an ending'}.")
    try:
        write_whole(output, report_bytes(read_study(study), kind))
    except FileError as error:
        raise BadInput(str(error)) from error
    _print(f"Wrote {output}")


@cli.command()
@click.argument("source")
@click.option("-o", "--output", required=True, type=click.Path(path_type=Path), help="A .svg, .pdf, .png or .csv file.")
@click.option("--picture", default="curve", help="Which picture: curve, map, errors, drivers, spread, split or steps.")
@click.option("--aim", default="", help="The aim of a study, by its name; the first without this.")
@click.option("--x", default="", help="What runs across: a name, or with the ends of its axis, as in difference=6,18.")
@click.option("--y", default="", help="What runs up or is asked for.")
@click.option("--family", default="", help="Lines for several values of an assumption, as in sd=20,24,28; or sides.")
@click.option("--kept", type=click.Choice(["with", "without"]), help="Whether kept scenarios are drawn beside a curve.")
@click.option("--pin", default="", help="Where a curve is read besides, as in 110,140.")
@click.option("--cost", default="", help="What one participant of each group costs, as in 120,45.")
@click.option("--size", type=click.Choice(["column", "page", "slide"]), default="page", help="For what it is drawn.")
def picture(source: str, output: Path, picture: str, aim: str, size: str, **words: str | None) -> None:
    """Draw a picture of the study or the JSON request in SOURCE (- for standard input)."""
    from ragwort.figures.export import picture_bytes
    from ragwort.figures.pictures import FORMATS
    from ragwort.figures.wanted import NotWanted, aim_named, wanted

    kind = output.suffix.lower().removeprefix(".")
    if kind not in FORMATS:
        raise BadInput(f"a picture is written as .{', .'.join(FORMATS)}, not {output.suffix or 'without an ending'}.")
    try:
        study = _study_in(source)
        shown = wanted(study, aim_named(study, aim), picture, {name: text for name, text in words.items() if text})
        write_whole(output, picture_bytes(shown, kind, size=size, alone=True))
    except (FileError, NotWanted) as error:
        raise BadInput(str(error)) from error
    _print(f"{shown.says}\nWrote {output}")


def _study_in(source: str) -> Study:
    """The study in a file, or one made of a request."""
    from ragwort.figures.wanted import study_of_request
    from ragwort.study.files import SUFFIX, read_study

    if Path(source).suffix == SUFFIX:
        return read_study(Path(source))
    found = _json_from(source)
    if not isinstance(found, dict):
        raise BadInput("a picture is drawn of a study, or of one request: an object with design, find and assumptions.")
    return study_of_request(found)


# --- grid -----------------------------------------------------------------------------------------------------


@cli.command()
@click.argument("source")
@click.argument("words", nargs=-1, metavar="[NAME=VALUES]...")
@click.option("--vary", multiple=True, help="What takes several values, as in difference=8:16:2 or icc=0.03,0.06.")
@click.option(
    "--table", type=click.Path(path_type=Path), help="A .csv, .tsv, .xlsx or .ods file: each row a set of values."
)
@click.option("--find", default="", help="What is found in each row; without this what the aim finds.")
@click.option("--aim", default="", help="The aim of a study, by its name; the first without this.")
@click.option("-o", "--output", required=True, type=click.Path(path_type=Path), help="A .csv, .xlsx, .ods or .md file.")
def grid(source: str, words: tuple[str, ...], output: Path, **asked: Any) -> None:
    """Answer many combinations of values for the study or the JSON request in SOURCE (- for standard input).

    Exit status 3 where some rows have no answer; they say why.
    """
    from ragwort.figures.wanted import NotWanted, aim_named
    from ragwort.grid.asking import worked_out_for
    from ragwort.grid.combinations import GridError
    from ragwort.grid.table import summary
    from ragwort.grid.writing import KINDS, grid_bytes
    from ragwort.pilot.table import PilotError
    from ragwort.study.resources import limits_of

    kind = output.suffix.lower().removeprefix(".")
    if kind not in KINDS:
        raise BadInput(f"a grid is written as .{', .'.join(KINDS)}, not {output.suffix or 'without an ending'}.")
    try:
        study = _study_in(source)
        words = (*asked["vary"], *words)
        results, understood = worked_out_for(aim_named(study, asked["aim"]), words, asked["find"], asked["table"])
        write_whole(output, grid_bytes(results, kind, limits_of(study)))
    except (FileError, NotWanted, GridError, PilotError) as error:
        raise BadInput(str(error)) from error
    _print("\n".join([*([understood] if understood else []), summary(results, limits_of(study)), f"Wrote {output}"]))
    if results.reasons:
        sys.exit(SOME_UNANSWERED)


@cli.command()
@click.argument("output", type=click.Path(path_type=Path))
def guide(output: Path) -> None:
    """Write the user guide to OUTPUT, one HTML file."""
    from ragwort.report.guide import guide as whole_guide
    from ragwort.report.html import write_html

    try:
        write_whole(output, write_html(whole_guide()))
    except FileError as error:
        raise BadInput(str(error)) from error
    _print(f"Wrote {output}")


@cli.command()
@click.argument("folder", type=click.Path(path_type=Path))
def demo(folder: Path) -> None:
    """Work the demo study through and write its file, answers, pictures and reports to FOLDER."""
    from ragwort.demo.work_through import work_through

    try:
        for line in work_through(folder):
            _print(line)
    except FileError as error:
        raise BadInput(str(error)) from error


def main(arguments: list[str] | None = None) -> None:
    """The command `ragwort`. A name that is no command is a study to open."""
    given = sys.argv[1:] if arguments is None else arguments
    if given and not given[0].startswith("-") and given[0] not in cli.commands:
        given = ["open", *given]
    try:
        sys.exit(cli.main(given, prog_name="ragwort", standalone_mode=False))
    except click.exceptions.Exit as done:
        sys.exit(done.exit_code)
    except click.ClickException as error:
        error.show()
        sys.exit(error.exit_code)
    except (KeyboardInterrupt, click.Abort):
        sys.exit(INTERRUPTED)
    except Exception as error:  # noqa: BLE001  (the last line of defence: users see no traceback)
        click.echo(f"ragwort: {fault_of_ours(error)}", err=True)
        sys.exit(1)
