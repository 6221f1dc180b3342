"""The command line. Exit status 0 when it worked, 2 for bad input (said in one line), 1 for a fault of ours."""

from __future__ import annotations

import json
import sys
from collections.abc import Callable
from pathlib import Path
from typing import Any, NoReturn

import click

import ragwort
from ragwort.designs import RequestError, all_designs, answer_request, design_named
from ragwort.designs.assumption import Assumption

BAD_INPUT = 2


class BadInput(click.ClickException):
    """Something the user can mend, said in one line."""

    exit_code = BAD_INPUT

    def show(self, file: Any = None) -> None:
        """One line on standard error."""
        click.echo(f"ragwort: {self.format_message()}", err=True)


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
    from ragwort.study.files import StudyFileError, read_study

    try:
        if file is not None:
            read_study(file)  # said before anything else is loaded
    except StudyFileError as error:
        raise BadInput(str(error)) from error
    try:
        from ragwort.app.main import run
    except ImportError as error:
        raise BadInput(
            f"the window needs PySide6, which cannot be loaded here ({error}). The other commands work without it."
        ) from error
    try:
        sys.exit(run(file, demo))
    except StudyFileError as error:
        raise BadInput(str(error)) from error


# --- compute --------------------------------------------------------------------------------------------------


@cli.command()
@click.argument("file")
def compute(file: str) -> None:
    """Answer the JSON request in FILE (- for standard input), or a list of requests."""
    _answer_all(file, answer_request)


def _answer_all(file: str, answer_one: Callable[[Any], dict[str, Any]]) -> None:
    """Print an answer for each request in a file; a single one that is bad is said on standard error too."""
    requests = _json_from(file)
    if isinstance(requests, list):
        click.echo(_printed([answer_one(request) for request in requests]))
        return
    answer = answer_one(requests)
    click.echo(_printed(answer))
    if "error" in answer:
        raise BadInput(f"{answer['error']['field']}: {answer['error']['message']}")


@cli.command("convert")
@click.argument("file")
def convert_effects(file: str) -> None:
    """Convert effect sizes: the JSON conversion in FILE (- for standard input), or a list of them."""
    from ragwort.designs.conversions import convert

    _answer_all(file, convert)


def _json_from(file: str) -> Any:
    """The parsed content of a file or of standard input. NaN and Infinity are not JSON."""
    try:
        text = sys.stdin.buffer.read() if file == "-" else Path(file).read_bytes()
        return json.loads(text.decode("utf-8-sig"), parse_constant=_refuse_constant)
    except OSError as error:
        raise BadInput(f"{file} cannot be read: {error.strerror}.") from error
    except RecursionError as error:
        raise BadInput(f"{file} is nested too deeply to be a request.") from error
    except UnicodeDecodeError as error:
        raise BadInput(f"{file} is not JSON: it is not UTF-8 text.") from error
    except json.JSONDecodeError as error:
        raise BadInput(f"{file} is not JSON: line {error.lineno}, column {error.colno}: {error.msg}.") from error
    except ValueError as error:
        raise BadInput(f"{file} is not JSON: {error}.") from error


def _refuse_constant(word: str) -> NoReturn:
    raise ValueError(f"{word} is not a JSON number")


def _printed(answer: Any) -> str:
    return json.dumps(answer, indent=2, ensure_ascii=False, allow_nan=False)


# --- designs --------------------------------------------------------------------------------------------------


@cli.command()
@click.argument("name", required=False)
def designs(name: str | None) -> None:
    """List the designs, or the assumptions of the design NAME."""
    if name is None:
        width = max(len(design.id) for design in all_designs())
        for design in all_designs():
            click.echo(f"{design.id:<{width}}  {design.title}. {design.summary}")
        return
    try:
        design = design_named(name)
    except RequestError as error:
        raise BadInput(error.message) from error
    click.echo(f"{design.id}: {design.title}\n{design.summary}\nfind: {', '.join(design.finds)}\n")
    rows = [_assumption_row(assumption) for assumption in design.assumptions]
    widths = [max(len(row[column]) for row in rows) for column in range(3)]
    for row in rows:
        line = "  ".join(cell.ljust(width) for cell, width in zip(row, widths, strict=False))
        click.echo(f"{line}  {row[3]}".rstrip())


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
    from ragwort.study.files import StudyFileError, read_study, write_whole

    kind = output.suffix.lower().removeprefix(".")
    if kind not in KINDS:
        raise BadInput(f"the report is written as .{' or .'.join(KINDS)}, not {output.suffix or 'without an ending'}.")
    try:
        write_whole(output, report_bytes(read_study(study), kind))
    except StudyFileError as error:
        raise BadInput(str(error)) from error
    click.echo(f"Wrote {output}")


@cli.command()
@click.argument("output", type=click.Path(path_type=Path))
def guide(output: Path) -> None:
    """Write the user guide to OUTPUT, one HTML file."""
    from ragwort.report.guide import guide as whole_guide
    from ragwort.report.html import write_html
    from ragwort.study.files import StudyFileError, write_whole

    try:
        write_whole(output, write_html(whole_guide()))
    except StudyFileError as error:
        raise BadInput(str(error)) from error
    click.echo(f"Wrote {output}")


@cli.command()
@click.argument("folder", type=click.Path(path_type=Path))
def demo(folder: Path) -> None:
    """Work the demo study through and write its file, answers, pictures and reports to FOLDER."""
    from ragwort.demo.work_through import work_through
    from ragwort.study.files import StudyFileError

    try:
        for line in work_through(folder):
            click.echo(line)
    except StudyFileError as error:
        raise BadInput(str(error)) from error


def main(arguments: list[str] | None = None) -> None:
    """The command `ragwort`. A name that is no command is a study to open."""
    given = sys.argv[1:] if arguments is None else arguments
    if given and not given[0].startswith("-") and given[0] not in cli.commands:
        given = ["open", *given]
    try:
        cli.main(given, prog_name="ragwort")
    except (KeyboardInterrupt, SystemExit):
        raise
    except BrokenPipeError:
        sys.exit(0)
    except Exception as error:  # noqa: BLE001  (the last line of defence: users see no traceback)
        click.echo(f"ragwort: a fault of ours, please report it: {type(error).__name__}: {error}", err=True)
        sys.exit(1)
