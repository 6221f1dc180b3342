"""How the groups of a pilot file lie: one strip a group, all on one scale.

Numbers: a line from the smallest to the largest, the middle half as a band, each value as a dot (bars where there are
many), the median as a tick, the mean as a ring. Categories: shares of a bar.
"""

from __future__ import annotations

from collections.abc import Sequence
from typing import TYPE_CHECKING, Any

import numpy as np

from ragwort.figures.drawing import Look
from ragwort.pilot import Measured, Part, Sorted
from ragwort.stats.noncentral import Array

if TYPE_CHECKING:
    from matplotlib.axes import Axes

_GOLDEN = 0.618033988749895  # dots side by side find different heights by its multiples


def strips(parts: Sequence[Part], width: float, row: float, look: Look, dpi: float = 100.0) -> Any:
    """The figure: `width` and the height of a `row` in inches. Its scale is that of all numbers together."""
    from matplotlib.backends.backend_agg import FigureCanvasAgg
    from matplotlib.figure import Figure

    figure = Figure(figsize=(width, row * len(parts)), dpi=dpi)
    FigureCanvasAgg(figure)
    figure.patch.set_alpha(0)
    axes = figure.add_axes((0, 0, 1, 1))
    axes.set_axis_off()
    axes.set_ylim(len(parts), 0)
    low, high = scale_of(parts)
    axes.set_xlim(low, high)
    for at, part in enumerate(parts):
        middle = at + 0.5
        if isinstance(part, Measured):
            _numbers(axes, part, middle, look)
        else:
            _shares(axes, part, middle, look)
    return figure


def scale_of(parts: Sequence[Part]) -> tuple[float, float]:
    """The ends of the scale: all numbers with a little room, or 0 to 1 for shares."""
    ends = [part.five for part in parts if isinstance(part, Measured)]
    if not ends:
        return 0.0, 1.0
    low, high = min(each[0] for each in ends), max(each[-1] for each in ends)
    room = 0.04 * (high - low)
    return low - room, high + room


def _numbers(axes: Axes, part: Measured, middle: float, look: Look) -> None:
    colours, five = look.palette, part.five
    axes.plot([five[0], five[-1]], [middle] * 2, color=colours.quiet, linewidth=0.8, solid_capstyle="butt")
    axes.barh(middle, five[3] - five[1], 0.56, five[1], color=colours.leaf, alpha=0.2)
    if part.values:
        heights = middle + 0.4 * ((np.arange(len(part.values)) * _GOLDEN) % 1 - 0.5)
        axes.plot(part.values, heights, ".", color=colours.leaf, markersize=3.2, markeredgewidth=0, alpha=0.75)
    else:
        axes.fill_between(*_silhouette(part, middle), color=colours.leaf, alpha=0.45, linewidth=0)
    axes.plot([five[2]] * 2, [middle - 0.34, middle + 0.34], color=colours.ink, linewidth=1.5)
    ring: dict[str, Any] = {"markerfacecolor": colours.paper, "markeredgecolor": colours.ink, "markeredgewidth": 1.2}
    axes.plot([part.mean], [middle], "o", markersize=5, **ring)


def _silhouette(part: Measured, middle: float) -> tuple[Array, Array, Array]:
    """How many there are at each place, mirrored about the middle."""
    edges = np.linspace(part.five[0], part.five[-1], len(part.bars) + 1)
    half = 0.4 * np.repeat(part.bars, 2) / max(part.bars)
    return np.repeat(edges, 2)[1:-1], middle - half, middle + half


def _shares(axes: Axes, part: Sorted, middle: float, look: Look) -> None:
    start = 0.0
    for at, (_, count) in enumerate(part.counts):
        share = count / part.n if part.n else 0.0
        axes.barh(middle, share, 0.5, start, color=look.palette.leaf, alpha=max(0.75 / (1 + at), 0.12), linewidth=0)
        start += share
