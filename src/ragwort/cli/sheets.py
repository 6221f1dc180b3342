"""The collection sheet of a study, and its allocation list."""

from __future__ import annotations

from pathlib import Path
from typing import TYPE_CHECKING, Any

import click

from ragwort.cli.inputs import aim_called, study_in
from ragwort.cli.output import BadInput, say
from ragwort.files import FileError, check_place, write_whole

if TYPE_CHECKING:
    from ragwort.study.document.aim import Aim

_FILE = click.Path(path_type=Path)


@click.command()
@click.argument("source")
@click.option("--aim", default="", help="The aim, by its name or its number; the first without this.")
@click.option(
    "--seed", type=click.IntRange(0, 2**53), help="Where the randomness begins; as in the study without this."
)
@click.option("-o", "--output", required=True, type=_FILE, help="A .csv, .xlsx or .ods file.")
@click.option("--allocation", type=_FILE, help="Write the allocation list, apart, to this .csv or .xlsx file.")
@click.option("--labels", type=_FILE, help="Write labels for sealed envelopes to this .pdf file.")
@click.option("--masked", is_flag=True, help="Codes in place of the arms, on cards and in the sheet.")
@click.option("--method", help="none, simple, blocks, stratified, clusters or minimisation.")
@click.option("--blocks", help="Sizes that blocks are chosen from, as in 4,6.")
@click.option("--strata", help="What makes the strata, as in 'sex: f, m; age: under 40, 40 on'.")
@click.option("--pattern", help="Ids, as in NS-{centre}-{number:03}.")
@click.option("--columns", help="Further columns, as in 'age, shift'.")
def sheet(source: str, aim: str, output: Path, **asked: Any) -> None:
    """Write the empty table that the study or the JSON request in SOURCE is collected on."""
    from ragwort.figures.by_words import NotWanted
    from ragwort.sheet.allocation import SheetError
    from ragwort.sheet.layout import sheet_of
    from ragwort.sheet.writing import LIST_KINDS, SHEET_FORMATS, list_bytes, sheet_bytes

    kind = _kind(output, SHEET_FORMATS, "a sheet")
    list_kind = _kind(asked["allocation"], LIST_KINDS, "an allocation list") if asked["allocation"] else ""
    if asked["labels"]:
        _kind(asked["labels"], ("pdf",), "labels")
    try:
        for place in (output, asked["allocation"], asked["labels"]):
            if place:
                check_place(place)
        study = study_in(source)
        wanted = _changed(aim_called(study, aim), asked)
        made = sheet_of(study, wanted)
        write_whole(output, sheet_bytes(made, kind))
        if list_kind:
            write_whole(asked["allocation"], list_bytes(made, wanted.sheet.seed, list_kind))
        if asked["labels"]:
            _write_labels(asked["labels"], made, asked["masked"])
    except SheetError as error:
        raise BadInput(f"{error.field}: {error}" if error.field else str(error)) from error
    except (FileError, NotWanted) as error:
        raise BadInput(str(error)) from error
    files = [path for path in (output, asked["allocation"], asked["labels"]) if path]
    say("\n".join(f"Wrote {path}" for path in files))


def _kind(path: Path, kinds: tuple[str, ...], what: str) -> str:
    kind = path.suffix.lower().removeprefix(".")
    if kind not in kinds:
        allowed = " or .".join(kinds)
        raise BadInput(f"{what} is written as .{allowed}, not {path.suffix or 'without an ending'}.")
    return kind


def _changed(aim: Aim, asked: dict[str, Any]) -> Aim:
    """The aim with what was asked for in words."""
    words = {name: asked[name] for name in ("seed", "method", "blocks", "strata", "pattern", "columns")}
    changes = {name: value for name, value in words.items() if value is not None}
    if asked["masked"]:
        changes["shown"] = "codes"
    return aim.changed(sheet=aim.sheet.changed(**changes, drafts={}))


def _write_labels(path: Path, made: Any, masked: bool) -> None:
    from ragwort.sheet.labels import labels_bytes

    write_whole(path, labels_bytes(made, masked))
