"""A grid asked for in words, as the command line has them: of a study's aim or of a plain request."""

from __future__ import annotations

from collections.abc import Sequence
from pathlib import Path

from ragwort.base.wording import one_of
from ragwort.grid.combinations import MOST_VARIED, Asked, GridError, asked_of, offered
from ragwort.grid.reading import FromFile, asked_by
from ragwort.grid.work import Results, whole
from ragwort.pilot.table import Table, read_table
from ragwort.study.document.aim import Aim
from ragwort.study.document.pages import Grid, Varied
from ragwort.study.results.outcome import finds_of, outcome_of


def grid_asked(aim: Aim, words: Sequence[str], find: str = "") -> Asked:
    """The grid of an aim in which the `words` vary: `difference=8:16:2`, `icc=0.03,0.06`; the aim's own without any.

    Raises `GridError`.
    """
    _known(aim, find)
    grid = aim.grid.changed(find=find or aim.grid.find)
    if words:
        grid = Grid(find=grid.find, varied=tuple(_varied(words)))
    aim = aim.changed(grid=grid)
    outcome = outcome_of(aim)
    names = [each.name for each in offered(aim, outcome)]
    for varied in grid.varied:
        if varied.name not in names:
            raise GridError(f"{varied.name!r} cannot be varied here: it can be {one_of(names)}.")
    return asked_of(aim, outcome)


def worked_out_for(aim: Aim, words: Sequence[str], find: str = "", table: Path | None = None) -> tuple[Results, str]:
    """The grid of an aim worked out: that of the `words`, or of the rows of a table file, and how that was understood.

    Raises `GridError`, or `PilotError` where the file cannot be read.
    """
    if table is None:
        return whole(grid_asked(aim, words, find)), ""
    if words:
        raise GridError("--table brings its own values: leave out what is to vary.")
    found = grid_in(aim, read_table(table), find)
    return whole(found.asked), found.says


def grid_in(aim: Aim, table: Table, find: str = "") -> FromFile:
    """The grid that the rows of a table file ask of an aim. Raises `GridError`."""
    _known(aim, find)
    aim = aim.changed(grid=Grid(find=find))
    return asked_by(aim, outcome_of(aim), table)


def _known(aim: Aim, find: str) -> None:
    finds = finds_of(aim)
    if find and find not in finds:
        raise GridError(f"--find must be {one_of(finds)}, not {find!r}.")


def _varied(words: Sequence[str]) -> list[Varied]:
    found: dict[str, Varied] = {}
    for word in words:
        name, sign, values = word.partition("=")
        if not sign or not values.strip():
            raise GridError(f"{word!r} does not say which values: write a name and values, as in difference=8,10,12.")
        if name in found:
            raise GridError(f"{name} is varied twice: put all its values together.")
        found[name] = Varied(name=name, text=values)
    if len(found) > MOST_VARIED:
        raise GridError(f"A grid varies at most {MOST_VARIED} assumptions; these are {len(found)}.")
    return list(found.values())
