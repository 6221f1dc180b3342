"""What a user can do to a grid: choose what it finds and what differs in it, type the values, take rows out of it."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

import numpy as np

from ragwort.designs import Answer, design_named
from ragwort.designs.assumption import Assumption
from ragwort.grid.combinations import MOST_VARIED, encoded, varied_of
from ragwort.study.document.aim import Aim
from ragwort.study.document.history import Edit
from ragwort.study.document.model import Study
from ragwort.study.document.pages import Grid, Varied
from ragwort.study.edits.common import no_edit_of_what_is_gone
from ragwort.study.results.outcome import at_hand
from ragwort.study.words.lists import said, several

_USUAL = {"power": (0.8, 0.9), "alpha": (0.01, 0.05), "dropout": (0.0, 0.1, 0.2), "ratio": (1.0, 2.0)}
_AROUND = (0.8, 1.0, 1.2)


@no_edit_of_what_is_gone
def choose_find(study: Study, aim_id: str, find: str) -> Edit:
    """Let each row find something else; what is varied stays as far as it has a say then."""
    aim = study.aim(aim_id)
    design = design_named(aim.design)
    unused = design.unused_names(find)
    varied = tuple(each for each in varied_of(aim) if each.name not in unused)
    return _with(study, aim, aim.grid.changed(find=find, varied=varied))


@no_edit_of_what_is_gone
def vary(study: Study, aim_id: str, place: int, name: str, now: float | None) -> Edit:
    """Vary an assumption at a place of the sentence (a new one after the last), first around its value `now`."""
    aim = study.aim(aim_id)
    varied = list(varied_of(aim))
    if any(each.name == name for each in varied) or place >= MOST_VARIED:
        return Edit("", study)
    made = Varied(name=name, text=_first_values(aim, design_named(aim.design).assumption(name), now))
    varied[place : place + 1] = [made]
    return _with(study, aim, aim.grid.changed(varied=tuple(varied)))


@no_edit_of_what_is_gone
def leave_out(study: Study, aim_id: str, place: int) -> Edit:
    """Vary something no longer."""
    aim = study.aim(aim_id)
    return _with(study, aim, aim.grid.changed(varied=(*varied_of(aim)[:place], *varied_of(aim)[place + 1 :])))


@no_edit_of_what_is_gone
def type_values(study: Study, aim_id: str, place: int, text: str) -> Edit:
    """Take typed values; what cannot be read is kept with the reason, beside the last that could."""
    aim = study.aim(aim_id)
    if place >= len(varied_of(aim)):
        return Edit("", study)
    now = varied_of(aim)[place]
    assumption = design_named(aim.design).assumption(now.name)

    def read(typed: str) -> dict[str, str]:
        several(assumption, typed, aim.words.unit)
        return {"text": typed}

    changed = now.typed("text", text, read)
    varied = (*varied_of(aim)[:place], changed, *varied_of(aim)[place + 1 :])
    return _with(study, aim, aim.grid.changed(varied=varied))


@no_edit_of_what_is_gone
def type_condition(study: Study, aim_id: str, text: str) -> Edit:
    """Show those rows only for which something holds."""
    aim = study.aim(aim_id)
    return _with(study, aim, aim.grid.changed(condition=text))


@no_edit_of_what_is_gone
def show_column(study: Study, aim_id: str, name: str, shown: bool) -> Edit:
    """Show a column of the table, or hide it."""
    aim = study.aim(aim_id)
    others = tuple(each for each in aim.grid.hidden if each != name)
    return _with(study, aim, aim.grid.changed(hidden=others if shown else (*others, name)))


@no_edit_of_what_is_gone
def lay_out(study: Study, aim_id: str, cross: bool) -> Edit:
    """Lay the rows out as a cross table, or one below the other."""
    aim = study.aim(aim_id)
    return _with(study, aim, aim.grid.changed(cross=cross))


@no_edit_of_what_is_gone
def draw(study: Study, aim_id: str, changes: Mapping[str, str]) -> Edit:
    """Let the chart show something else."""
    aim = study.aim(aim_id)
    return _with(study, aim, aim.grid.changed(chart=aim.grid.chart.changed(**changes)))


def _first_values(aim: Aim, assumption: Assumption, now: float | None) -> str:
    """Values to start from: those of its plausible range, the usual ones, or some around what it is now."""
    if assumption.chosen:
        return said(assumption, tuple(encoded(assumption, value) for value in _worth_a_row(aim, assumption)))
    entry = aim.entry(assumption.name)
    if entry.low is not None and entry.high is not None and entry.low < entry.high:
        low, high = said(assumption, (entry.low,)), said(assumption, (entry.high,))
        if assumption.kind != "count" and assumption.kind != "ratio":
            return f"{low} to {high} in 5 steps"
        return f"{low}, {high}"
    values = _USUAL.get(assumption.name) or tuple(float(f"{(now or 1.0) * each:.6g}") for each in _AROUND)
    whole = [float(round(value)) if assumption.kind == "count" else value for value in values]
    return said(assumption, tuple(dict.fromkeys(value for value in whole if assumption.allows(_plain(value)))))


def _worth_a_row(aim: Aim, assumption: Assumption) -> list[Any]:
    """The choices to start from: all of them, but one side only on which the effect lies."""
    values = [assumption.value_of(choice) for choice in assumption.choices]
    outcome = at_hand(aim)
    if assumption.name != "sides" or not isinstance(outcome, Answer):
        return values
    return [value for value in values if value != ("less" if float(np.asarray(outcome.plan.effect)) > 0 else "greater")]


def _plain(value: float) -> float:
    return int(value) if float(value).is_integer() else value


def _with(study: Study, aim: Aim, grid: Grid) -> Edit:
    return Edit("changing the grid", study.with_aim(aim.changed(grid=grid)))
