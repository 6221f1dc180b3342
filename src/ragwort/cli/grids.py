"""Many combinations of values."""

from __future__ import annotations

import sys
from pathlib import Path
from typing import Any

import click

from ragwort.cli.inputs import study_in
from ragwort.cli.output import SOME_UNANSWERED, BadInput, say
from ragwort.files import FileError, check_place, write_whole


@click.command()
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
    from ragwort.figures.by_words import NotWanted, aim_named
    from ragwort.grid.asking import worked_out_for
    from ragwort.grid.combinations import GridError
    from ragwort.grid.table import summary
    from ragwort.grid.writing import GRID_FORMATS, grid_bytes
    from ragwort.pilot.table import PilotError
    from ragwort.study.results.resources import limits_of

    kind = output.suffix.lower().removeprefix(".")
    if kind not in GRID_FORMATS:
        raise BadInput(f"a grid is written as .{', .'.join(GRID_FORMATS)}, not {output.suffix or 'without an ending'}.")
    try:
        check_place(output)
        study = study_in(source)
        words = (*asked["vary"], *words)
        results, understood = worked_out_for(aim_named(study, asked["aim"]), words, asked["find"], asked["table"])
        write_whole(output, grid_bytes(results, kind, limits_of(study)))
    except (FileError, NotWanted, GridError, PilotError) as error:
        raise BadInput(str(error)) from error
    say("\n".join([*([understood] if understood else []), summary(results, limits_of(study)), f"Wrote {output}"]))
    if results.reasons:
        sys.exit(SOME_UNANSWERED)
