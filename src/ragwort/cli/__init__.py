"""The command line. Exit status 0 when it worked, 2 for bad input (said in one line), 1 for a fault of ours.

Beside these 3 when some rows of a grid, or aims of a study, have no answer, 130 when interrupted, and 141 when whoever
reads the answer has stopped reading.
What a command needs is imported by the command, so that help is there at once.
"""

from __future__ import annotations

import sys
from pathlib import Path
from typing import Any

import click

import ragwort
from ragwort.cli import answers, documents, grids, rehearsals, sheets
from ragwort.cli.output import INTERRUPTED, BadInput, complain
from ragwort.files import FileError
from ragwort.files.log import fault_of_ours


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
    from ragwort.study.document.files import read_study

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


_COMMANDS: tuple[Any, ...] = (
    answers.compute,
    answers.convert_effects,
    answers.designs,
    documents.report,
    documents.picture,
    grids.grid,
    rehearsals.rehearse,
    sheets.sheet,
    documents.guide,
    documents.demo,
)
for _command in _COMMANDS:
    cli.add_command(_command)


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
        complain(error.format_message())
        sys.exit(error.exit_code)
    except (KeyboardInterrupt, click.Abort):
        sys.exit(INTERRUPTED)
    except Exception as error:  # noqa: BLE001  (the last line of defence: users see no traceback)
        complain(fault_of_ours(error))
        sys.exit(1)
