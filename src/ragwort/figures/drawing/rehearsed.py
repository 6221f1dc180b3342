"""The drawings of a rehearsal's pictures."""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np

from ragwort.figures.drawing.kind import Drawing
from ragwort.figures.drawing.pencil import Look, keep_inside, line, offset, short, target_line, text_at, x_scale
from ragwort.figures.drawing.points import ABOVE, dot, hatched, scales
from ragwort.figures.rehearsed import BySize, Estimates, OneStudy, PValues, Worlds

if TYPE_CHECKING:
    from matplotlib.artist import Artist
    from matplotlib.axes import Axes

_DOTTED = (0, (1.2, 2.4))
_DASHED = (0, (4, 3))
_GOLDEN = 0.618033988749895  # dots side by side find different heights by its multiples
_LONGEST = 22  # characters of a name beside a row


class EstimatesDrawing(Drawing[Estimates]):
    """Bars: hatched what misses, gold on top what is significant; the true effect and what succeeds on average."""

    def scale(self, axes: Axes, picture: Estimates, look: Look) -> list[Artist]:
        """See `Drawing.scale`."""
        axes.set(xlim=(picture.edges[0], picture.edges[-1]), ylim=(0, picture.high))
        return scales(axes, look, grid=True)

    def marks(self, axes: Axes, picture: Estimates, look: Look) -> list[Artist]:
        """See `Drawing.marks`."""
        colours, marks = look.palette, []
        for place, (missed, both) in enumerate(picture.heights):
            low, width = picture.edges[place], picture.edges[place + 1] - picture.edges[place]
            if missed:
                marks += [_bar(axes, low, width, 0, missed, "none", colours.slate)]
                marks += [hatched(axes, (low, 0, width, missed), colours.slate, axes.transData)]
            if both > missed:
                marks += [_bar(axes, low, width, missed, both - missed, colours.found_wash, colours.found)]
        top = 0.86 * picture.high
        marks += _upright(axes, look, picture.truth, top, picture.truth_words, colours.ink, _DASHED, 0)
        if picture.loud is not None:
            words = picture.loud_words
            marks += _upright(axes, look, picture.loud, 0.74 * picture.high, words, colours.found_text, "-", 1)
        return marks


def _bar(axes: Axes, x: float, width: float, low: float, height: float, fill: str, edge: str) -> Artist:
    from matplotlib.patches import Rectangle

    return axes.add_patch(Rectangle((x, low), width, height, facecolor=fill, edgecolor=edge, linewidth=0.8))


def _upright(
    axes: Axes, look: Look, x: float, top: float, words: str, colour: str, dashes: object, aside: int
) -> list[Artist]:
    """A line at a value, with its words at the upper end: above it, or to its right."""
    mark = line(axes, [x, x], [0, top], color=colour, linewidth=1.4, linestyle=dashes, zorder=ABOVE)
    text = text_at(axes, words, look.text, colour, bold=bool(aside))
    text.set(transform=offset(axes.transData, axes, x=5 * aside, y=-9 if aside else 3), position=(x, top))
    text.set(ha="left" if aside else "center", va="bottom", zorder=ABOVE + 1)
    text.set_bbox({"facecolor": look.palette.paper, "alpha": 0.88, "pad": 1.0, "linewidth": 0})
    keep_inside(axes, text)
    return [mark, text]


class PValuesDrawing(Drawing[PValues]):
    """Bars, those within alpha gold; the height that all would have without an effect as a dotted line."""

    def scale(self, axes: Axes, picture: PValues, look: Look) -> list[Artist]:
        """See `Drawing.scale`."""
        axes.set(xlim=(0, 1), ylim=(0, picture.high))
        return scales(axes, look, grid=True)

    def marks(self, axes: Axes, picture: PValues, look: Look) -> list[Artist]:
        """See `Drawing.marks`."""
        colours, width = look.palette, 1 / len(picture.bars)
        marks = []
        for place, height in enumerate(picture.heights):
            low = place * width
            inside = low + width <= picture.alpha + 1e-9
            fill, edge = (colours.found_wash, colours.found) if inside else ("none", colours.slate)
            marks.append(_bar(axes, low, width, 0, height, fill, edge))
            if not inside and height:
                marks.append(hatched(axes, (low, 0, width, height), colours.slate, axes.transData))
        even = 100 * width
        return [*marks, line(axes, [0, 1], [even, even], color=colours.ink, linewidth=1.2, linestyle=_DOTTED)]


class WorldsDrawing(Drawing[Worlds]):
    """A row for each world: a dot with its interval; the formula's power as a line through all."""

    left = 1.75

    def scale(self, axes: Axes, picture: Worlds, look: Look) -> list[Artist]:
        """See `Drawing.scale`: the first world on top."""
        axes.set(xlim=(0, 100), ylim=(len(picture.names) - 0.4, -1.0))
        return _across(axes, look)

    def marks(self, axes: Axes, picture: Worlds, look: Look) -> list[Artist]:
        """See `Drawing.marks`."""
        colours = look.palette
        formula, rows = 100 * picture.formula, len(picture.names)
        ends = [-0.55, rows - 0.4]
        marks = [line(axes, [formula, formula], ends, color=colours.ink, linewidth=1.2, linestyle=_DASHED)]
        label = text_at(axes, "formula", look.small, colours.quiet)
        label.set(position=(formula, -0.62), ha="center", va="bottom")
        marks.append(label)
        for place, (name, power, (low, high)) in enumerate(
            zip(picture.names, picture.powers, picture.intervals, strict=True)
        ):
            chosen = place == picture.chosen
            colour = colours.found if chosen else colours.slate
            marks.append(line(axes, [100 * low, 100 * high], [place, place], color=colour, linewidth=2.4))
            marks.append(dot(axes, (100 * power, place), colour, colours.paper, 9 if chosen else 7))
            text = text_at(axes, short(name, _LONGEST), look.small, colours.ink, bold=chosen)
            text.set(transform=offset(axes.transAxes, axes), ha="right", va="center")
            height = 1 - (place + 1.0) / (rows + 0.6)
            text.set_position((-0.02, height))
            marks.append(text)
        return marks


def _across(axes: Axes, look: Look) -> list[Artist]:
    low, high = axes.get_xlim()
    return x_scale(axes, look, low, high)


class BySizeDrawing(Drawing[BySize]):
    """The formula as a line, rehearsals as dots with their intervals, the target dotted."""

    def scale(self, axes: Axes, picture: BySize, look: Look) -> list[Artist]:
        """See `Drawing.scale`."""
        axes.set(xlim=picture.ends, ylim=(0, 108))
        return scales(axes, look, grid=True)

    def marks(self, axes: Axes, picture: BySize, look: Look) -> list[Artist]:
        """See `Drawing.marks`."""
        colours = look.palette
        marks = [target_line(axes, picture.ends, 100 * picture.target, look)]
        marks.append(line(axes, picture.totals, 100 * np.array(picture.formula), color=colours.ink, linewidth=1.6))
        for n, power, (low, high) in zip(picture.totals, picture.simulated, picture.intervals, strict=True):
            marks.append(line(axes, [n, n], [100 * low, 100 * high], color=colours.found, linewidth=2.2))
            marks.append(dot(axes, (n, 100 * power), colours.found, colours.paper, 7))
        if picture.needed is not None and picture.ends[0] < picture.needed < picture.ends[1]:
            stem = [0, 100 * picture.target]
            marks.append(line(axes, [picture.needed] * 2, stem, color=colours.found, linewidth=1.3, linestyle=_DASHED))
        return marks


class OneStudyDrawing(Drawing[OneStudy]):
    """A dot for each outcome, group by group, with a tick at each mean."""

    left = 1.35

    def scale(self, axes: Axes, picture: OneStudy, look: Look) -> list[Artist]:
        """See `Drawing.scale`: the first group on top."""
        axes.set(xlim=picture.ends, ylim=(len(picture.groups) - 0.45, -0.55))
        return _across(axes, look)

    def marks(self, axes: Axes, picture: OneStudy, look: Look) -> list[Artist]:
        """See `Drawing.marks`."""
        colours, marks = look.palette, []
        rows = len(picture.groups)
        for place, (name, values) in enumerate(zip(picture.groups, picture.outcomes, strict=True)):
            up = place + 0.56 * ((np.arange(len(values)) * _GOLDEN) % 1 - 0.5)
            style = {"marker": "o", "linewidth": 0, "markersize": 3.6, "alpha": 0.75, "markeredgewidth": 0}
            marks.append(line(axes, values, up, color=colours.slate, **style))
            mean = float(np.mean(values))
            marks.append(line(axes, [mean, mean], [place - 0.36, place + 0.36], color=colours.found, linewidth=2.6))
            text = text_at(axes, short(name, 16), look.small, colours.ink)
            text.set(transform=offset(axes.transAxes, axes), ha="right", va="center")
            text.set_position((-0.02, 1 - (place + 0.55) / (rows + 0.1)))
            marks.append(text)
        return marks
