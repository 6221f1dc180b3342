"""The drawing of a Trace: lines of anything over anything, and the design as a point on its own."""

from __future__ import annotations

from collections.abc import Sequence
from typing import TYPE_CHECKING, Any

import numpy as np
from typing_extensions import override

from ragwort.figures.drawing.curve import DASHES
from ragwort.figures.drawing.flags import flags
from ragwort.figures.drawing.kind import Drawing
from ragwort.figures.drawing.pencil import Look, line, short, target_line, text_at
from ragwort.figures.drawing.points import ABOVE, Ground, beside, box_of, cannot_be_had, dot, place_along, scales
from ragwort.figures.labels import Box, Pixels, dense
from ragwort.figures.shown.trace import Line, Trace

if TYPE_CHECKING:
    from matplotlib.artist import Artist
    from matplotlib.axes import Axes


class TraceDrawing(Drawing[Trace]):
    """Lines, their direct labels, a ring where a line ends because nothing is found beyond."""

    left = 0.80

    @override
    def scale(self, axes: Axes, picture: Trace, look: Look) -> list[Artist]:
        axes.set(xlim=picture.x.ends, ylim=picture.y_ends)
        return [*scales(axes, look, grid=True), *cannot_be_had(axes, picture.beyond, look)]

    @override
    def marks(self, axes: Axes, picture: Trace, look: Look) -> list[Artist]:
        point = _point(axes, picture, look)
        labels = _labels(axes, picture, look, [box_of(point[-1])] if point else [])  # type: ignore[arg-type]
        return [*self._lines(axes, picture, look), *labels, *point, *flags(axes, picture, look)]

    @override
    def live(self, axes: Axes, picture: Trace, look: Look, names: Sequence[Box] = ()) -> list[Artist]:
        """Without the labels of the lines."""
        return [*self._lines(axes, picture, look), *_point(axes, picture, look), *flags(axes, picture, look)]

    @staticmethod
    def _lines(axes: Axes, picture: Trace, look: Look) -> list[Artist]:
        colours, marks = look.palette, []
        if picture.target is not None:
            marks.append(target_line(axes, picture.x.ends, picture.target, look))
        for number, each in reversed(list(enumerate(picture.lines))):  # the aim's own on top
            style: dict[str, Any] = {"color": colours.ink, "linewidth": 2.0}
            if not each.own:
                style = {"color": colours.slate, "linewidth": 1.3, "linestyle": DASHES[(number - 1) % len(DASHES)]}
            marks.append(line(axes, each.x, each.y, **style))
            marks += [_ring(axes, each, at, style["color"], colours.paper) for at in _ends(each)]
        return marks


def _ends(each: Line) -> list[int]:
    """The points beside which nothing is found."""
    there = np.isfinite(each.y)
    nothing = ~there
    beside_nothing = np.append(nothing[1:], False) | np.insert(nothing[:-1], 0, False)
    return [int(at) for at in np.flatnonzero(there & beside_nothing)]


def _ring(axes: Axes, each: Line, at: int, colour: str, paper: str) -> Artist:
    style: dict[str, Any] = {"color": paper, "markeredgecolor": colour, "markeredgewidth": 1.4, "markersize": 6}
    return line(axes, [each.x[at]], [each.y[at]], marker="o", linewidth=0, **style)


def _labels(axes: Axes, picture: Trace, look: Look, taken: list[Box]) -> list[Artist]:
    """What each line is, on the line and off the others; none where there is one line only."""
    found: list[Artist] = []
    middles = [axes.transData.transform(picture.point)]
    ground = Ground(4 * look.text * axes.figure.dpi / 72, middles, taken)
    for each in picture.lines if len(picture.lines) > 1 else ():
        colour = look.palette.ink if each.own else look.palette.slate
        text = text_at(axes, short(each.label), look.small, colour, bold=each.own)
        placed = place_along(axes, _visible(each, picture), text, ground, False, _others(axes, each, picture))
        if placed is None:
            text.remove()
            continue
        text.set(transform=axes.transData, position=placed[0], ha="center", va="center")
        text.set_bbox({"facecolor": look.palette.paper, "pad": 1.0, "linewidth": 0})
        found.append(text)
    return found


def _others(axes: Axes, own: Line, picture: Trace) -> Pixels:
    """Points close together along the other lines, in pixels."""
    lines = [dense(axes.transData.transform(p)) for o in picture.lines if o is not own for p in _visible(o, picture)]
    return np.concatenate(lines) if lines else np.zeros((0, 2))


def _visible(each: Line, picture: Trace) -> list[Any]:
    """The pieces of a line within the axes."""
    low, high = picture.y_ends
    inside = np.isfinite(each.y) & (each.y >= low) & (each.y <= high)
    parts = np.split(np.arange(len(each.x)), np.flatnonzero(np.diff(inside)) + 1)
    pieces = [np.column_stack([each.x[part], each.y[part]]) for part in parts if len(part) > 1 and inside[part[0]]]
    return pieces or [np.zeros((2, 2))]


def _point(axes: Axes, picture: Trace, look: Look) -> list[Artist]:
    if picture.handle is None:
        return []
    colours, (x, y) = look.palette, picture.point
    stem = line(axes, [x, x], [picture.y_ends[0], y], color=colours.found, linewidth=1.3)
    label = text_at(axes, picture.point_label, look.text, colours.found_text, bold=True)
    label.set_zorder(ABOVE)
    mark = dot(axes, (x, y), colours.found, colours.paper, 10)
    (left, right), (low, high) = picture.x.ends, picture.y_ends
    mark.set_clip_on(not (left <= x <= right and low <= y <= high))  # whole at an end of the axes, too
    return [stem, mark, beside(axes, (x, y), label, look)]
