"""A grid drawn: one of its columns against what is varied, a line for each value of something else."""

from __future__ import annotations

import math
from dataclasses import dataclass, fields, replace
from typing import ClassVar

import numpy as np
from numpy.typing import NDArray

from ragwort.base.wording import capital
from ragwort.figures.scales.axes import Axis
from ragwort.figures.scales.quantity import Quantity
from ragwort.figures.shown.panels import Panels
from ragwort.figures.shown.trace import MOST_LINES, Line, Trace
from ragwort.grid import edits
from ragwort.grid.combinations import Asked
from ragwort.grid.table import FOUND, Column, columns_of
from ragwort.grid.work import Results
from ragwort.study.document.model import Study
from ragwort.study.results.resources import NO_LIMITS, Limits
from ragwort.study.slots.slot import Offers, Sentence, Slot
from ragwort.study.words.naming import label_of
from ragwort.study.words.scenarios import short_label
from ragwort.study.words.sentence import Piece

NONE = "-"  # no line for each of anything
MOST_PANELS = 6
_ROOM = 0.06  # above the highest point


@dataclass(frozen=True)
class GridChart(Trace):
    """A chart of a grid. Its point is the row that is the aim as it stands, and cannot be dragged."""

    moves: ClassVar[str] = ""
    zooms: ClassVar[str] = ""
    pinned: ClassVar[bool] = False
    y_name: str = FOUND
    others: tuple[str, ...] = ()  # what else is varied, and stays as it is here
    panel: str = ""  # what differs from panel to panel


@dataclass(frozen=True)
class GridPanels(GridChart, Panels):
    """A chart of a grid in small panels; what it is besides is that of the panel with the aim as it stands."""


@dataclass(frozen=True)
class _Axes:
    """What a chart runs along, by name."""

    x: str
    y: str
    family: str
    panel: str


def chart_of(results: Results, limits: Limits = NO_LIMITS) -> GridChart | None:
    """The chart that the aim's grid asks for; None while nothing that varies has two values with an answer."""
    asked = results.asked
    axes = _chosen(results, limits)
    if axes is None:
        return None
    column = next(each for each in columns_of(results, limits) if each.name == axes.y)
    fixed, others = _others(asked, axes)
    return _chart(asked, axes, column, fixed, others) if not axes.panel else _panels(asked, axes, column, fixed, others)


def _panels(
    asked: Asked, axes: _Axes, column: Column, rows: NDArray[np.bool_], others: tuple[str, ...]
) -> GridPanels | None:
    """A chart for each value, as many as there is room for."""
    values = asked.columns[axes.panel]
    made = [
        (asked.words(axes.panel, value), chart)
        for value in np.unique(values[np.isfinite(values)]).tolist()[:MOST_PANELS]
        if (chart := _chart(asked, axes, column, rows & (values == value), others)) is not None
    ]
    if not made:
        return None
    charts = tuple(chart for _, chart in made)
    ends = min(chart.y_ends[0] for chart in charts), max(chart.y_ends[1] for chart in charts)
    width = min(chart.x.ends[0] for chart in charts), max(chart.x.ends[1] for chart in charts)
    main = next((chart for chart in charts if math.isfinite(chart.point[1])), charts[0])
    head = Quantity(asked.assumption(axes.panel), asked.aim).words
    whole = {each.name: getattr(main, each.name) for each in fields(GridChart)}
    whole |= {"y_ends": ends, "x": replace(main.x, ends=width), "panel": axes.panel}
    return GridPanels(**whole, panels=charts, titles=tuple(f"{head} {words}" for words, _ in made))


def _chart(
    asked: Asked, axes: _Axes, column: Column, fixed: NDArray[np.bool_], others: tuple[str, ...]
) -> GridChart | None:
    """The chart of some rows; None where none of them has an answer."""
    quantity = Quantity(asked.assumption(axes.x), asked.aim)
    lines = _lines(asked, axes, column, quantity.scale, fixed)
    known = np.concatenate([line.y[np.isfinite(line.y)] for line in lines] or [np.zeros(0)])
    if not known.size:
        return None
    at = asked.columns[axes.x] * quantity.scale
    ends = float(np.nanmin(at)), float(np.nanmax(at))
    own = asked.own()
    own = own if own is not None and fixed[own] else None
    scale = 100.0 if column.percent else 1.0
    point = (float(at[own]), float(column.numbers[own]) * scale) if own is not None else (math.nan, math.nan)
    return GridChart(
        find=asked.find,
        x=Axis(axes.x, quantity.words, quantity.unit, ends, quantity.scale, None, ends),
        y_words=f"{column.label}, %" if column.percent else column.label,
        y_ends=_heights(known),
        lines=lines,
        point=point,
        point_label=f"as planned: {column.text(own)}" if own is not None else "",
        family=axes.family,
        target=None,
        per_group=False,
        place="",
        basis="",
        says=_says(column, quantity, lines[0], others),
        y_name=axes.y,
        others=others,
    )


def nothing_drawn(results: Results | None) -> str:
    """Why there is no chart; empty while there is nothing to say."""
    if results is None or not results.done:
        return ""
    if results.asked.which is not None:
        return "The rows are of several designs: nothing runs along one axis."
    if not _numbered(results):
        return "Nothing that differs is a number with several values: there is no axis to draw along."
    return "No row has an answer to draw."


def can_run(results: Results) -> list[str]:
    """What is varied and has more than one value."""
    return [name for name, count in results.asked.different.items() if count > 1]


def _numbered(results: Results) -> list[str]:
    """Of these what is a number, which a chart can run along."""
    return [name for name in can_run(results) if name not in results.asked.chosen]


def can_rise(results: Results, limits: Limits) -> list[Column]:
    """The columns that a chart can show."""
    return [
        column
        for column in columns_of(results, limits)
        if column.name not in results.asked.columns and not column.words
    ]


def _chosen(results: Results, limits: Limits) -> _Axes | None:
    steer, names = results.asked.aim.grid.chart, can_run(results)
    along = _numbered(results)
    if not along or results.asked.which is not None:  # of several designs nothing runs along one axis
        return None
    longest = max(along, key=lambda name: results.asked.different[name])
    x = steer.x if steer.x in along else longest
    rises = [column.name for column in can_rise(results, limits)]
    y = steer.y if steer.y in rises else FOUND
    further = [name for name in names if name != x]
    few = [name for name in further if results.asked.different[name] <= MOST_LINES]
    family = steer.family if steer.family in further else "" if steer.family == NONE else (few or [""])[0]
    rest = [name for name in few if name != family]
    panel = steer.panel if steer.panel in further and steer.panel != family else ""
    if not panel and steer.panel != NONE and family:
        panel = (rest or [""])[0]
    return _Axes(x, y, family, panel)


def _others(asked: Asked, axes: _Axes) -> tuple[NDArray[np.bool_], tuple[str, ...]]:
    """The rows in which whatever the chart does not show is as the aim has it, else as in the first row; and what."""
    row = asked.own()
    if row is None:  # the first that could be read
        row = int(np.argmax(np.all([np.isfinite(column) for column in asked.columns.values()], axis=0)))
    same, said = np.all([np.isfinite(column) for column in asked.columns.values()], axis=0), []
    for name, column in asked.columns.items():
        if name not in (axes.x, axes.family, axes.panel):
            same &= column == column[row]
            quantity = Quantity(asked.assumption(name), asked.aim)
            said.append(f"{quantity.words} {asked.words(name, float(column[row]))}")
    return same, tuple(said)


def _lines(asked: Asked, axes: _Axes, column: Column, scale: float, rows: NDArray[np.bool_]) -> tuple[Line, ...]:
    """The aim's own line first, then the others as they come, as many as can be told apart."""
    if not axes.family:
        return (_line("now", asked, axes, column, scale, np.flatnonzero(rows), own=True),)
    values = asked.columns[axes.family]
    own_row = asked.own()
    own = values[own_row] if own_row is not None else values[0]
    found = []
    for value in sorted(dict.fromkeys(values[np.isfinite(values)].tolist()), key=lambda value: value != own)[
        :MOST_LINES
    ]:
        which = np.flatnonzero(rows & (values == value))
        found.append(_line(asked.words(axes.family, value), asked, axes, column, scale, which, own=value == own))
    return tuple(found)


def _line(
    label: str, asked: Asked, axes: _Axes, column: Column, scale: float, which: NDArray[np.int64], own: bool
) -> Line:
    which = which[np.argsort(asked.columns[axes.x][which], kind="stable")]
    y = column.numbers[which] * (100.0 if column.percent else 1.0)
    return Line(label, asked.columns[axes.x][which] * scale, y, tuple(column.text(int(row)) for row in which), own)


def _heights(known: NDArray[np.float64]) -> tuple[float, float]:
    low, high = min(float(known.min()), 0.0), max(float(known.max()), 0.0)
    room = _ROOM * (high - low) or 1.0
    return low - (room if low < 0 else 0.0), high + room


def _says(column: Column, quantity: Quantity, own: Line, others: tuple[str, ...]) -> str:
    """From where to where the first line goes."""
    there = np.flatnonzero(np.isfinite(own.y))
    if not there.size:
        return "Nothing is found along the first line."
    ends = [f"{own.words[at]} at {quantity.text(float(own.x[at]) / quantity.scale)}" for at in (there[0], there[-1])]
    text = f"{capital(column.label)}: from {ends[0]} to {ends[1]}"
    text += "" if own.label == "now" else f", for {own.label}"
    return f"{text}; {', '.join(others)}.".replace("\u00a0", " ") if others else f"{text}.".replace("\u00a0", " ")


# --- its sentence ---------------------------------------------------------------------------------------------

_LABELS = {
    "y": "What is shown",
    "x": "What runs across",
    "family": "What differs from line to line",
    "panel": "What differs from panel to panel",
}


def chart_sentence(aim_id: str, chart: GridChart, results: Results, limits: Limits) -> Sentence:
    """What a chart shows; each of its words is chosen."""

    def slot(study: Study, word: str) -> Slot:
        choices = offers(chart, results, limits, word)
        return Slot(_LABELS[word], lambda value: edits.draw(study, aim_id, {word: value}), choices=choices)

    return Sentence(pieces_of(chart, results, limits), slot)


def pieces_of(chart: GridChart, results: Results, limits: Limits) -> list[Piece]:
    """`Staff against difference, a line for each standard deviation.`"""
    label = next(column.label for column in can_rise(results, limits) if column.name == chart.y_name)
    found = [Piece("choice", capital(label), "y"), Piece("text", " against ")]
    found.append(Piece("choice", chart.x.words, "x"))
    if len(can_run(results)) > 1:
        words = f"a line for each {_words(results, chart.family)}" if chart.family else "one line"
        found += [Piece("text", ", "), Piece("choice", words, "family")]
    if len(can_run(results)) > 2 and chart.family:
        words = f"a panel for each {_words(results, chart.panel)}" if chart.panel else "one panel"
        found += [Piece("text", ", "), Piece("choice", words, "panel")]
    text = f"; {', '.join(chart.others)}." if chart.others else "."
    return [*found, Piece("text", text)]


def offers(chart: GridChart, results: Results, limits: Limits, word: str) -> Offers:
    """What a word of the sentence can be."""
    if word == "y":
        return [(each.name, each.label, each.name == chart.y_name) for each in can_rise(results, limits)]
    if word == "x":
        return [(name, _words(results, name), name == chart.x.name) for name in _numbered(results)]
    further = [name for name in can_run(results) if name != chart.x.name]
    if word == "panel":
        rest = [name for name in further if name != chart.family]
        panels = [(name, f"a panel for each {_words(results, name)}", name == chart.panel) for name in rest]
        return [(NONE, "one panel", not chart.panel), *panels]
    lines = [(name, f"a line for each {_words(results, name)}", name == chart.family) for name in further]
    return [(NONE, "one line", not chart.family), *lines]


def _words(results: Results, name: str) -> str:
    return short_label(label_of(results.asked.assumption(name), results.asked.aim))
