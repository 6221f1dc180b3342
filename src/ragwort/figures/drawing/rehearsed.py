"""The drawings of a rehearsal's pictures."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

import numpy as np
from typing_extensions import override

from ragwort.figures.drawing.kind import Drawing
from ragwort.figures.drawing.pencil import (
    Look,
    keep_inside,
    line,
    offset,
    scale_text,
    short,
    target_line,
    text_at,
    x_scale,
)
from ragwort.figures.drawing.points import ABOVE, dot, hatched, heights, scales
from ragwort.figures.shown.by_size import BySize
from ragwort.figures.shown.one_study import OneStudy
from ragwort.figures.shown.rehearsed import Estimates, PValues, Worlds, height_of

if TYPE_CHECKING:
    from matplotlib.artist import Artist
    from matplotlib.axes import Axes

_DOTTED = (0, (1.2, 2.4))
_DASHED = (0, (4, 3))
_GOLDEN = 0.618033988749895  # dots side by side find different heights by its multiples
_LONGEST = 22  # characters of a name beside a row


class EstimatesDrawing(Drawing[Estimates]):
    """Bars: hatched what misses, gold on top what is significant; the true effect and what succeeds on average."""

    @override
    def scale(self, axes: Axes, picture: Estimates, look: Look) -> list[Artist]:
        axes.set(xlim=(picture.edges[0], picture.edges[-1]), ylim=(0, picture.high))
        if not picture.as_ratio:
            return scales(axes, look, grid=True)
        below = [scale_text(axes, look, (at, 0.0), words, below=True) for at, words in picture.ratios()]
        return [*heights(axes, look, grid=True), *below]

    @override
    def marks(self, axes: Axes, picture: Estimates, look: Look) -> list[Artist]:
        colours = look.palette
        edges, heights = np.asarray(picture.edges), np.array(picture.heights)
        left, width, missed = edges[:-1], np.diff(edges), heights[:, 0]
        marks = _bars(axes, (left, width, 0.0, missed), "none", colours.slate, hatch="////")
        marks += _bars(axes, (left, width, missed, heights[:, 1] - missed), colours.found_wash, colours.found)
        top = 0.8 * picture.high
        right = picture.loud is None or picture.loud >= picture.truth  # on which side the significant ones lie
        aside = 0 if picture.loud is None else (-1 if right else 1)
        marks += _upright(axes, look, picture.truth, top, picture.truth_words, (colours.ink, _DASHED), aside)
        if picture.loud is not None:
            style = (colours.found_text, "-")
            above = top + picture.high * _line_height(axes, look)
            marks += _upright(axes, look, picture.loud, above, picture.loud_words, style, -aside)
        return marks


def _line_height(axes: Axes, look: Look) -> float:
    """How high a line of text is, as a share of the axes."""
    return 1.5 * look.text * float(axes.figure.dpi) / 72 / float(axes.get_window_extent().height)


def _bars(axes: Axes, boxes: tuple[Any, ...], fill: str, edge: str, hatch: str = "") -> list[Artist]:
    """Bars of one kind as one mark: their left ends, widths, lower ends and heights; none without height.

    A mark for each takes nearly as long as the rest of the picture, and a rehearsal is drawn while it grows.
    """
    from matplotlib.patches import PathPatch
    from matplotlib.path import Path

    left, width, low, height = np.broadcast_arrays(*boxes)
    seen = height > 0
    left, right, low, high = (each[seen] for each in (left, left + width, low, low + height))
    if not len(left):
        return []
    corners = np.stack([[left, low], [right, low], [right, high], [left, high], [left, low]])
    codes = np.tile([Path.MOVETO, Path.LINETO, Path.LINETO, Path.LINETO, Path.CLOSEPOLY], len(left))
    path = Path(corners.transpose(2, 0, 1).reshape(-1, 2), codes)
    return [axes.add_artist(PathPatch(path, facecolor=fill, edgecolor=edge, linewidth=0.8, hatch=hatch))]


def _upright(
    axes: Axes, look: Look, x: float, top: float, words: str, style: tuple[str, object], aside: int
) -> list[Artist]:
    """A line at a value, with its words beside the upper end (aside 1: right, -1: left) or above it."""
    colour, dashes = style
    mark = line(axes, [x, x], [0, top], color=colour, linewidth=1.4, linestyle=dashes, zorder=ABOVE)
    text = text_at(axes, words, look.text, colour, bold=dashes == "-")
    text.set(transform=offset(axes.transData, axes, x=2 * aside, y=3), position=(x, top))
    text.set(ha={0: "center", 1: "left", -1: "right"}[aside], va="bottom", zorder=ABOVE + 1)
    keep_inside(axes, text, start=float(axes.get_window_extent().x0))  # off the numbers beside the axis
    return [mark, text]


class PValuesDrawing(Drawing[PValues]):
    """Bars, those within alpha gold; the height that all would have without an effect as a dotted line."""

    @override
    def scale(self, axes: Axes, picture: PValues, look: Look) -> list[Artist]:
        axes.set(xlim=(0, 1), ylim=(0, picture.high))
        return scales(axes, look, grid=True)

    @override
    def marks(self, axes: Axes, picture: PValues, look: Look) -> list[Artist]:
        colours, width = look.palette, 1 / len(picture.bars)
        left, heights = np.arange(len(picture.bars)) * width, np.array(picture.heights)
        inside = left + width <= picture.alpha + 1e-9
        gold, grey = np.where(inside, heights, 0.0), np.where(inside, 0.0, heights)
        marks = _bars(axes, (left, width, 0.0, gold), colours.found_wash, colours.found)
        marks += _bars(axes, (left, width, 0.0, grey), "none", colours.slate, hatch="////")
        even = 100 * width
        return [*marks, line(axes, [0, 1], [even, even], color=colours.ink, linewidth=1.2, linestyle=_DOTTED)]


class WorldsDrawing(Drawing[Worlds]):
    """A row for each world: a dot with its interval; the formula's power as a line through all."""

    left = 1.75

    @override
    def scale(self, axes: Axes, picture: Worlds, look: Look) -> list[Artist]:
        """Room above the first world for a word."""
        axes.set(xlim=(0, 100), ylim=(0, len(picture.names) + 0.5))
        return _across(axes, look)

    @override
    def marks(self, axes: Axes, picture: Worlds, look: Look) -> list[Artist]:
        colours, rows = look.palette, len(picture.names)
        formula = 100 * picture.formula
        marks = [line(axes, [formula, formula], [0, rows], color=colours.ink, linewidth=1.2, linestyle=_DASHED)]
        word = text_at(axes, "formula", look.small, colours.quiet)
        word.set(position=(formula, rows + 0.08), ha="center", va="bottom")
        marks.append(word)
        for place, name in enumerate(picture.names):
            marks += _row(axes, picture, look, place)
            marks.append(_row_name(axes, look, name, height_of(place, rows), place == picture.chosen))
        return marks


def _row(axes: Axes, picture: Worlds, look: Look, place: int) -> list[Artist]:
    chosen, height = place == picture.chosen, height_of(place, len(picture.names))
    colour = look.palette.found if chosen else look.palette.slate
    low, high = picture.intervals[place]
    interval = line(axes, [100 * low, 100 * high], [height, height], color=colour, linewidth=2.4)
    at = (100 * picture.powers[place], height)
    return [interval, dot(axes, at, colour, look.palette.paper, 9 if chosen else 7)]


def _row_name(axes: Axes, look: Look, name: str, height: float, bold: bool = False) -> Artist:
    """A name to the left of the axes."""
    text = text_at(axes, short(name, _LONGEST), look.small, look.palette.ink, bold=bold)
    text.set(transform=offset(axes.transData, axes, x=-6), position=(axes.get_xlim()[0], height))
    text.set(ha="right", va="center")
    return text


def _across(axes: Axes, look: Look) -> list[Artist]:
    low, high = axes.get_xlim()
    return x_scale(axes, look, low, high)


class BySizeDrawing(Drawing[BySize]):
    """The formula as a line, rehearsals as dots with their intervals, the target dotted."""

    @override
    def scale(self, axes: Axes, picture: BySize, look: Look) -> list[Artist]:
        axes.set(xlim=picture.ends, ylim=(0, 108))
        return scales(axes, look, grid=True)

    @override
    def marks(self, axes: Axes, picture: BySize, look: Look) -> list[Artist]:
        colours = look.palette
        marks = [target_line(axes, picture.ends, 100 * picture.target, look)]
        x, y = picture.line
        marks.append(line(axes, x, 100 * np.array(y), color=colours.ink, linewidth=1.6))
        for n, power, (low, high) in zip(picture.totals, picture.simulated, picture.intervals, strict=True):
            marks.append(line(axes, [n, n], [100 * low, 100 * high], color=colours.found, linewidth=2.2))
            marks.append(dot(axes, (n, 100 * power), colours.found, colours.paper, 7))
        return [*marks, *_needed(axes, picture, look)]


def _needed(axes: Axes, picture: BySize, look: Look) -> list[Artist]:
    """The size that reaches the target, with its interval hatched."""
    if picture.needed is None or not picture.ends[0] < picture.needed[0] < picture.ends[1]:
        return []
    n, low, high = picture.needed
    top, colour = 100 * picture.target, look.palette.found
    stem = line(axes, [n, n], [0, top], color=colour, linewidth=1.4, linestyle=_DASHED)
    return [hatched(axes, (low, 0, max(high - low, 1e-9), top), colour, axes.transData), stem]


class OneStudyDrawing(Drawing[OneStudy]):
    """A dot for each outcome, group by group, with a tick at each mean."""

    left = 1.35

    @override
    def scale(self, axes: Axes, picture: OneStudy, look: Look) -> list[Artist]:
        axes.set(xlim=picture.ends, ylim=(0, len(picture.groups)))
        return _across(axes, look)

    @override
    def marks(self, axes: Axes, picture: OneStudy, look: Look) -> list[Artist]:
        colours, rows, marks = look.palette, len(picture.groups), []
        style = {"marker": "o", "linewidth": 0, "markersize": 3.6, "alpha": 0.75, "markeredgewidth": 0}
        for place, (name, values) in enumerate(zip(picture.groups, picture.outcomes, strict=True)):
            height, mean = height_of(place, rows), float(np.mean(values))
            up = height + 0.56 * ((np.arange(len(values)) * _GOLDEN) % 1 - 0.5)
            marks.append(line(axes, values, up, color=colours.slate, **style))
            tick = [height - 0.36, height + 0.36]
            marks.append(line(axes, [mean, mean], tick, color=colours.found, linewidth=2.6, zorder=ABOVE))
            marks.append(_row_name(axes, look, name, height))
        return marks
