"""The drawing of Steps: a saw-tooth of power, and a table of the sizes that matter."""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np
from typing_extensions import override

from ragwort.figures.drawing.kind import Drawing
from ragwort.figures.drawing.pencil import (
    Look,
    figure_of,
    line,
    nice_ticks,
    offset,
    points,
    scale_text,
    target_line,
    text_at,
    wrapped,
)
from ragwort.figures.shown.steps import Steps

if TYPE_CHECKING:
    from matplotlib.artist import Artist
    from matplotlib.axes import Axes

SAW_SHARE = 0.52  # of the width; the table has the rest


def _steps_scale(axes: Axes, steps: Steps, look: Look) -> list[Artist]:
    (low, high), (least, most) = steps.x_range, steps.y_range
    axes.set(xlim=(low, high), ylim=(least, most))
    marks: list[Artist] = []
    for level in nice_ticks(100 * least, 100 * most, 6):
        share = (level / 100 - least) / (most - least)
        grid = {"color": look.palette.hairline, "linewidth": 0.8, "transform": axes.transAxes}
        marks += [line(axes, [0, 1], [share, share], **grid), scale_text(axes, look, (0, share), f"{level:.10g}")]
    ticks = [tick for tick in nice_ticks(low, high, 6) if tick.is_integer() and tick > 0]
    return [*marks, *(scale_text(axes, look, (tick, least), f"{tick:.10g}", below=True) for tick in ticks)]


def _steps_marks(axes: Axes, steps: Steps, look: Look) -> list[Artist]:
    colours = look.palette
    marks = [line(axes, steps.x, steps.power, color=colours.ink, linewidth=1.3, drawstyle="steps-mid")]
    if steps.target is not None:
        marks.append(target_line(axes, steps.x_range, steps.target, look))
    for at, words in steps.marks.items():
        dot = {"markersize": 7, "color": colours.found, "markeredgecolor": colours.paper}
        marks.append(line(axes, [steps.x[at]], [steps.power[at]], marker="o", linewidth=0, **dot))
        text = text_at(axes, words, look.small, colours.found_text, bold=True)
        place = offset(axes.transData, axes, x=-4, y=5)
        text.set(transform=place, position=(steps.x[at], steps.power[at]), ha="right")
        marks.append(text)
    return [*marks, *_steps_table(axes, steps, look)]


def _steps_table(axes: Axes, steps: Steps, look: Look) -> list[Artist]:
    """The table right of the saw-tooth, and below it why power can fall; where there is little room, less of both."""
    colours, figure = look.palette, figure_of(axes)
    width, height = figure.get_size_inches() * 72  # points
    left, right, top = width * SAW_SHARE + 2.2 * look.text, width - 1.4 * look.text, height - 1.6 * look.text
    columns = _columns_that_fit(steps, right - left, look)
    heads = [steps.head()[at].replace(" at or ", "\nat or\n").replace("actual ", "actual\n") for at in columns]
    ends = np.linspace(left, right, len(columns) + 1)[1:]
    line, tall = 1.62 * look.text, max(words.count("\n") for words in heads) + 1
    why = wrapped(steps.why, (width - left) / (0.5 * look.small))
    space = top - (0.8 + tall) * 0.8 * line
    room = space - (why.count("\n") + 2) * 1.3 * look.small
    if room < 7 * line:
        why, room = "", space
    marks: list[Artist] = []

    def write(words: str, x: float, y: float, colour: str, bold: bool = False, align: str = "right") -> None:
        text = text_at(axes, words, look.small, colour, bold)
        text.set(transform=points(figure), position=(x, y), ha=align, va="top", linespacing=1.15)
        marks.append(text)

    for words, end in zip(heads, ends, strict=True):
        write(words, end, top, colours.quiet)
    y = top - (0.4 + 0.8 * tall) * line
    for at in steps.around(max(int(room / line), 1)):
        if at is None:
            write("…", ends[0], y, colours.quiet)
        else:
            short = steps.target is not None and steps.power[at] < steps.target
            colour = colours.found_text if at in steps.marks else colours.quiet if short else colours.ink
            for column, end in zip(columns, ends, strict=True):
                write(steps.row(at)[column], end, y, colour, bold=at in steps.marks)
        y -= line
    if why:
        write(why, left, y - 0.4 * line, colours.quiet, align="left")
    return marks


def _columns_that_fit(steps: Steps, width: float, look: Look) -> list[int]:
    """The columns of the table, without the rejection limits and then without alpha where they would touch."""
    every = list(range(len(steps.head())))
    choices = every, [0, *every[-2:]], [0, every[-1]]
    return next((each for each in choices if width >= 3.8 * look.text * len(each)), choices[-1])


class StepsDrawing(Drawing[Steps]):
    """Power along single sizes on the left, the table on the right."""

    width_share = SAW_SHARE

    @override
    def scale(self, axes: Axes, picture: Steps, look: Look) -> list[Artist]:
        return _steps_scale(axes, picture, look)

    @override
    def marks(self, axes: Axes, picture: Steps, look: Look) -> list[Artist]:
        return _steps_marks(axes, picture, look)
