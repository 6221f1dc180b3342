"""The drawing of Spread: how often each power was drawn, with the target, the mean and the power as planned."""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np
from typing_extensions import override

from ragwort.figures.drawing.kind import Drawing
from ragwort.figures.drawing.pencil import Look, keep_inside, line, offset, text_at
from ragwort.figures.drawing.points import hatched, in_the_middle, scales
from ragwort.figures.shown.spread import BARS, Spread, planned_words
from ragwort.study.words.numbers import percent_text

if TYPE_CHECKING:
    from matplotlib.artist import Artist
    from matplotlib.axes import Axes
    from matplotlib.text import Text


class SpreadDrawing(Drawing[Spread]):
    """A silhouette of the draws; those that reach the target are hatched."""

    @override
    def scale(self, axes: Axes, picture: Spread, look: Look) -> list[Artist]:
        axes.set(xlim=(0, 100), ylim=(0, picture.high))
        return scales(axes, look, grid=True) if picture.power.size else []

    @override
    def marks(self, axes: Axes, picture: Spread, look: Look) -> list[Artist]:
        if not picture.power.size:
            return [in_the_middle(axes, picture.says, look)]
        return [*_silhouette(axes, picture, look), *_values(axes, picture, look)]


def _silhouette(axes: Axes, picture: Spread, look: Look) -> list[Artist]:
    edges, heights = np.linspace(0, 100, BARS + 1), 100 * picture.heights
    marks = []
    for low, high, height in zip(edges[:-1], edges[1:], heights, strict=True):
        start = min(max(low, 100 * picture.target), high)
        if height and start < high:
            marks.append(hatched(axes, (start, 0, high - start, height), look.palette.slate, axes.transData))
    x, y = np.repeat(edges, 2)[1:-1], np.repeat(heights, 2)
    style = (0, (4, 2)) if picture.supposed else "-"  # what is only supposed has a broken outline
    outline = line(axes, [0, *x, 100], [0, *y, 0], color=look.palette.ink, linewidth=1.4, linestyle=style)
    return [*marks, outline]


def _values(axes: Axes, picture: Spread, look: Look) -> list[Artist]:
    """The target, the power as planned and the mean, each as a line with its words above the axes."""
    colours, top = look.palette, picture.high
    dots = {"color": colours.target, "linewidth": 1.1, "linestyle": (0, (1.2, 2.4))}
    marks: list[Artist] = [line(axes, [100 * picture.target] * 2, [0, top], **dots)]
    texts: list[Text] = []
    right = picture.planned >= picture.mean
    for power, words, colours_of, aside in (
        (picture.planned, planned_words(picture), (colours.found, colours.found_text), right),
        (picture.mean, f"{percent_text(picture.mean)} on average", (colours.slate, colours.slate), not right),
    ):
        marks.append(line(axes, [100 * power] * 2, [0, top], color=colours_of[0], linewidth=1.6))
        text = text_at(axes, words, look.text, colours_of[1], bold=True)
        text.set(transform=offset(axes.transData, axes, x=2 if aside else -2, y=4), position=(100 * power, top))
        text.set(ha="left" if aside else "right")
        keep_inside(axes, text)
        marks.append(text)
        texts.append(text)
    _part(axes, texts)
    return marks


def _part(axes: Axes, texts: list[Text]) -> None:
    """Move the left one of two labels away from the right one."""
    left, right = sorted((text.get_window_extent() for text in texts), key=lambda box: float(box.x0))
    over = left.x1 - right.x0 + 8
    if over > 0:
        text = min(texts, key=lambda each: float(each.get_window_extent().x0))
        x, y = text.get_transform().transform(text.get_position())
        inside = text.get_transform().inverted().transform((x - over, y))
        text.set_position((float(inside[0]), float(inside[1])))
