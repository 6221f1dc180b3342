"""A study rehearsed."""

from __future__ import annotations

import sys
from collections.abc import Mapping
from pathlib import Path
from typing import TYPE_CHECKING, Any

import click

from ragwort.cli.inputs import json_from, study_in
from ragwort.cli.output import BadInput, as_text, say
from ragwort.files import FileError, check_place, write_whole

if TYPE_CHECKING:
    from ragwort.rehearsal import Departing, Planned
    from ragwort.study.document.aim import Aim


@click.command()
@click.argument("source")
@click.option("--aim", default="", help="The aim of a study, by its name; the first without this.")
@click.option("--departures", help='A JSON file: one world or a list, such as {"lost": 0.15, "apart": 1.5}.')
@click.option("-n", "--replicates", default=10_000, show_default=True, help="How many studies in each world.")
@click.option("--seed", default=1, show_default=True, help="Where the randomness begins.")
@click.option("--size", is_flag=True, help="Also search for the size at which simulation reaches the power asked for.")
@click.option("--data", type=click.Path(path_type=Path), help="Write one of the studies to this .csv or .xlsx file.")
@click.option("--number", default=1, show_default=True, help="Which of the studies --data writes.")
def rehearse(source: str, aim: str, departures: str | None, replicates: int, seed: int, **more: Any) -> None:
    """Simulate the study or the JSON request in SOURCE (- for standard input) in the worlds asked for; prints JSON."""
    from ragwort.designs import RequestError
    from ragwort.figures.by_words import NotWanted, aim_named

    if seed < 0:
        raise BadInput(f"a seed is a whole number from 0 on, not {seed}.")
    try:
        if more["data"] is not None:
            check_place(more["data"])
        found = aim_named(study_in(source), aim)
        worlds = _worlds(departures)
        told = _rehearsed(found, worlds, replicates, seed, more["size"])
        if more["data"] is not None:
            _write_data(found, worlds[0], replicates, seed, more["number"], more["data"])
    except RequestError as error:
        raise BadInput(f"{error.field}: {error.message}") from error
    except (FileError, NotWanted, IndexError) as error:
        raise BadInput(str(error)) from error
    say(as_text(told if len(told) > 1 else told[0]))


def _worlds(departures: str | None) -> list[Any]:
    """As planned first, then what the file asks for; one world alone stands for itself."""
    if departures is None:
        return [{}]
    asked = json_from(departures)
    worlds = asked if isinstance(asked, list) else [asked]
    if not worlds:
        raise BadInput(f"{departures} asks for no world.")
    return worlds


def _rehearsed(aim: Aim, worlds: list[Any], replicates: int, seed: int, size: bool) -> list[dict[str, Any]]:
    from ragwort.rehearsal import rehearse as simulate
    from ragwort.rehearsal import stage
    from ragwort.rehearsal.by_size import needed
    from ragwort.rehearsal.records import as_json, needed_as_json

    told: list[dict[str, Any]] = []
    of, read = _planned(aim, worlds)  # all are checked before the first is worked out
    for asked in read:
        with _counted(f"{asked.name or 'world'} {len(told) + 1} of {len(read)}"):
            found = as_json(of, asked, simulate(stage(of, asked), replicates, seed), seed)
            if size:
                found["size"] = needed_as_json(needed(of, asked, seed=seed))
        told.append(found)
    return told


def _planned(aim: Aim, worlds: list[Any]) -> tuple[Planned, list[Departing]]:
    from ragwort.rehearsal.departures import read
    from ragwort.rehearsal.of_aim import planned_of

    of = planned_of(aim)
    return of, [read(world, of) for world in worlds]


def _counted(words: str) -> Any:
    """Progress on a terminal; nothing where none is looking."""
    from contextlib import nullcontext

    from ragwort.base.patience import heard_by

    if not sys.stderr.isatty():
        return nullcontext()
    return heard_by(lambda share: click.echo(f"\r{words}: {share:4.0%} ", nl=share >= 1, err=True))


def _write_data(aim: Aim, world: Mapping[str, Any], replicates: int, seed: int, number: int, target: Path) -> None:
    from ragwort.rehearsal import stage
    from ragwort.rehearsal.data_files import DATA_FORMATS, data_bytes
    from ragwort.rehearsal.dataset import data_set

    kind = target.suffix.lower().removeprefix(".")
    if kind not in DATA_FORMATS:
        raise BadInput(
            f"a data set is written as .{' or .'.join(DATA_FORMATS)}, not {target.suffix or 'without an ending'}."
        )
    of, read = _planned(aim, [world])
    write_whole(target, data_bytes(data_set(of, stage(of, read[0]), aim, number, replicates, seed), kind))
