"""The drawing of Expected size: a line over true effects, the most that may be needed, a study without looks."""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np
from typing_extensions import override

from ragwort.figures.drawing.kind import Drawing
from ragwort.figures.drawing.pencil import Look, keep_inside, line, nice_ticks, offset, scale_text, text_at, x_scale
from ragwort.figures.shown.expected_size import ExpectedSize
from ragwort.study.words.numbers import count_text

if TYPE_CHECKING:
    from matplotlib.artist import Artist
    from matplotlib.axes import Axes


class ExpectedSizeDrawing(Drawing[ExpectedSize]):
    """One line, and two levels beside it."""

    @override
    def scale(self, axes: Axes, picture: ExpectedSize, look: Look) -> list[Artist]:
        (low, high), top = picture.x.ends, picture.y_high
        axes.set(xlim=(low, high), ylim=(0, top))
        ticks = nice_ticks(0, top, most=6)
        grid = {"color": look.palette.hairline, "linewidth": 0.8}
        lines = [line(axes, [low, high], [tick, tick], **grid) for tick in ticks]
        numbers = [scale_text(axes, look, (0, tick / top), f"{tick:.10g}") for tick in ticks]
        return [*lines, *numbers, *x_scale(axes, look, low, high)]

    @override
    def marks(self, axes: Axes, picture: ExpectedSize, look: Look) -> list[Artist]:
        low, high = picture.x.ends
        inside = (picture.effects >= low) & (picture.effects <= high)
        x, y = picture.effects[inside], picture.values[inside]
        marks = [line(axes, x, y, color=look.palette.ink, linewidth=2.0)]
        return [*marks, *_levels(axes, picture, look), *_planned(axes, picture, look)]


def _levels(axes: Axes, picture: ExpectedSize, look: Look) -> list[Artist]:
    """The most that may be needed, and what a study with one analysis needs for the same power."""
    found: list[Artist] = []
    levels = ((picture.most, "at most", 4, "bottom"), (picture.fixed, "with a single analysis", -4, "top"))
    for level, words, away, side in levels:
        if level is None:
            continue
        style = {"color": look.palette.slate, "linewidth": 1.1, "linestyle": (0, (1.4, 1.8) if away > 0 else (6, 2.4))}
        found.append(line(axes, picture.x.ends, [level, level], **style))
        text = text_at(axes, f"{words} {count_text(round(level))}", look.small, look.palette.slate)
        text.set(transform=offset(axes.transData, axes, x=-4, y=away), position=(picture.x.ends[1], level))
        text.set(ha="right", va=side)
        found.append(text)
    return found


def _planned(axes: Axes, picture: ExpectedSize, look: Look) -> list[Artist]:
    """The planned effect with what is expected then."""
    x, y = picture.planned
    if not picture.x.ends[0] <= x <= picture.x.ends[1] or not np.isfinite(y):
        return []
    stem = line(axes, [x, x], [0, y], color=look.palette.found, linewidth=1.6)
    point = line(axes, [x], [y], color=look.palette.found, marker="o", markersize=8, markeredgecolor=look.palette.paper)
    text = text_at(axes, picture.point_label, look.text, look.palette.found_text, bold=True)
    low, high = picture.x.ends
    right = x < (low + high) / 2
    text.set(transform=offset(axes.transData, axes, x=8 if right else -8), position=(x, y / 2))
    text.set(ha="left" if right else "right", va="center")
    keep_inside(axes, text)
    return [stem, point, text]
