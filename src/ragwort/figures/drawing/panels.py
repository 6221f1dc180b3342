"""The drawing of Panels: lines, their names and the design's point in each, one scale on the left for all."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from typing import TYPE_CHECKING, Any

import numpy as np
from typing_extensions import override

from ragwort.figures.drawing.kind import Drawing
from ragwort.figures.drawing.pencil import Look, line, nice_ticks, scale_text, short, text_at
from ragwort.figures.drawing.points import heights
from ragwort.figures.drawing.trace import TraceDrawing
from ragwort.figures.labels import Box
from ragwort.figures.scales.axes import Axis
from ragwort.figures.shown.panels import EDGE, Panels
from ragwort.figures.shown.trace import Trace

if TYPE_CHECKING:
    from matplotlib.artist import Artist
    from matplotlib.axes import Axes

_APART = 5.0  # heights of letters between two numbers of a scale


class PanelsDrawing(Drawing[Panels]):
    """Each panel is a trace moved to its place."""

    left = 0.80

    @override
    def scale(self, axes: Axes, picture: Panels, look: Look) -> list[Artist]:
        """Numbers under each panel, its name above it."""
        count = len(picture.panels)
        axes.set(xlim=(0, count), ylim=picture.y_ends)
        each = axes.get_window_extent().width / count
        most = max(int(each / (_APART * look.text * axes.figure.dpi / 100)), 3)
        found = [*heights(axes, look, grid=True)]
        for number, title in enumerate(picture.titles):
            found += self._below(axes, picture, look, number, most)
            head = text_at(axes, short(title, max(int(each / (0.62 * look.text)), 6)), look.small, look.palette.ink)
            head.set(transform=axes.transData, position=(number + 0.5, picture.y_ends[1]), ha="center", va="top")
            head.set_bbox({"facecolor": look.palette.paper, "pad": 1.0, "linewidth": 0})
            found.append(head)
        return found

    @staticmethod
    def _below(axes: Axes, picture: Panels, look: Look, number: int, most: int) -> list[Artist]:
        low = picture.y_ends[0]
        ticks = nice_ticks(*picture.x.ends, most) if picture.x.ends[0] < picture.x.ends[1] else [picture.x.ends[0]]
        places = [(picture.across(number, tick), low) for tick in ticks]
        words = [f"{tick:.10g}".replace("-", "\u2212") for tick in ticks]
        texts = [scale_text(axes, look, at, word, below=True) for at, word in zip(places, words, strict=True)]
        style: dict[str, Any] = {"color": look.palette.hairline, "linewidth": 0.8}
        return [*texts, *([line(axes, [number, number], picture.y_ends, **style)] if number else [])]

    @override
    def marks(self, axes: Axes, picture: Panels, look: Look) -> list[Artist]:
        drawing = TraceDrawing()
        return [mark for panel in _placed(picture) for mark in drawing.marks(axes, panel, look)]

    @override
    def live(self, axes: Axes, picture: Panels, look: Look, names: Sequence[Box] = ()) -> list[Artist]:
        drawing = TraceDrawing()
        return [mark for panel in _placed(picture) for mark in drawing.live(axes, panel, look)]


def _placed(picture: Panels) -> list[Trace]:
    """The panels as traces over the whole width."""
    found = []
    for number, panel in enumerate(picture.panels):
        lines = tuple(replace(each, x=np.array([picture.across(number, x) for x in each.x])) for each in panel.lines)
        ends = (number + EDGE, number + 1 - EDGE)
        axis: Axis = replace(panel.x, ends=ends)
        point = (picture.across(number, panel.point[0]), panel.point[1])
        found.append(replace(panel, lines=lines, x=axis, point=point, y_ends=picture.y_ends))
    return found
