"""The drawing of Boundaries: at each look where the study stops, hatched, and the path that is expected."""

from __future__ import annotations

import math
from typing import TYPE_CHECKING, Any

import numpy as np
from typing_extensions import override

from ragwort.figures.drawing.kind import Drawing
from ragwort.figures.drawing.pencil import Look, keep_inside, line, nice_ticks, offset, scale_text, text_at, x_scale
from ragwort.figures.drawing.points import hatched
from ragwort.figures.shown.boundaries import Boundaries, Mark

if TYPE_CHECKING:
    from matplotlib.artist import Artist
    from matplotlib.axes import Axes
    from matplotlib.text import Text

_WIDE = 0.027  # of the width, on either side of a look
_NAMED = 3  # interim looks whose boundaries have their words beside them; of more only the ends'
_P_TICKS = (0.5, 0.1, 0.01, 0.001, 0.0001)


class BoundariesDrawing(Drawing[Boundaries]):
    """Looks from left to right."""

    @override
    def scale(self, axes: Axes, picture: Boundaries, look: Look) -> list[Artist]:
        end, (low, high) = 1.05 * picture.most, picture.ends
        axes.set(xlim=(0, end), ylim=(low, high))
        marks: list[Artist] = []
        for at, words in _ticks(picture):
            share = (at - low) / (high - low)
            strong = math.isclose(at, picture.nothing, abs_tol=1e-12)
            colour = look.palette.quiet if strong else look.palette.hairline
            marks.append(line(axes, [0, end], [at, at], color=colour, linewidth=1.2 if strong else 0.8))
            marks.append(scale_text(axes, look, (0, share), words))
        ticks = [scale_text(axes, look, (mark.x, low), mark.there, below=True) for mark in picture.marks]
        near = [tick for tick in x_scale(axes, look, 0, end) if _is_free(tick, picture)]
        return [*marks, *ticks, *_placed(near, low)]

    @override
    def marks(self, axes: Axes, picture: Boundaries, look: Look) -> list[Artist]:
        return [
            *_paths(axes, picture, look),
            *(each for mark in picture.marks for each in _boundary(axes, picture, mark, look)),
            *_words(axes, picture, look),
            *_points(axes, picture, look),
        ]


def _ticks(picture: Boundaries) -> list[tuple[float, str]]:
    low, high = picture.ends
    if picture.shown_as == "p":
        from scipy import special

        found = [(-float(special.ndtri(p / 2)), f"{p:g}") for p in _P_TICKS]
        both = [*found, *((-z, words) for z, words in found), (0.0, "1")]
        return [(z, words) for z, words in both if low <= z <= high]
    if picture.logs:
        ratios = [each for each in nice_ticks(math.exp(low), math.exp(high), 7) if each > 0]
        return [(math.log(each), f"{each:.10g}") for each in ratios]
    return [(tick, f"{tick:.10g}".replace("-", "\u2212")) for tick in nice_ticks(low, high, 7)]


def _is_free(tick: Any, picture: Boundaries) -> bool:
    """Whether a number of the scale would touch none of a look's."""
    at = tick.get_position()[0]
    free = all(abs(at - mark.x) > 0.09 * picture.most for mark in picture.marks)
    if not free:
        tick.remove()
    return free


def _placed(ticks: list[Artist], low: float) -> list[Artist]:
    for tick in ticks:
        tick.set_position((tick.get_position()[0], low))  # type: ignore[attr-defined]
    return ticks


def _paths(axes: Axes, picture: Boundaries, look: Look) -> list[Artist]:
    """What is expected with the planned effect, and a standard error about it."""
    colours = look.palette
    dashes: Any = (0, (5, 3))
    found = [
        line(
            axes, path.x, _within(path.y, picture), color=colours.found_text, linewidth=0.9, linestyle=dashes, alpha=0.7
        )
        for path in picture.band
    ]
    return [*found, line(axes, picture.planned.x, picture.planned.y, color=colours.found, linewidth=1.9)]


def _within(heights: Any, picture: Boundaries) -> Any:
    low, high = picture.ends
    return np.where((heights >= low) & (heights <= high), heights, np.nan)


def _boundary(axes: Axes, picture: Boundaries, mark: Mark, look: Look) -> list[Artist]:
    """A dotted line at a look, and beyond each boundary a hatched strip."""
    colours, (low, high) = look.palette, picture.ends
    wide = _WIDE * picture.most
    found: list[Artist] = [
        line(axes, [mark.x] * 2, [low, high], color=colours.quiet, linewidth=0.8, linestyle=(0, (1, 2)))
    ]
    up = mark.upper is None or mark.upper >= picture.nothing
    for bound, upwards in ((mark.upper, up), (mark.lower, not up)):
        if bound is None or not low < bound < high:
            continue
        bottom, top = (bound, high) if upwards else (low, bound)
        found.append(hatched(axes, (mark.x - wide, bottom, 2 * wide, top - bottom), colours.quiet, axes.transData))
        found.append(line(axes, [mark.x - wide, mark.x + wide], [bound] * 2, color=colours.ink, linewidth=2.2))
    if mark.futility is not None and low < mark.futility < high:
        found.append(
            line(axes, [mark.x - wide, mark.x + wide], [mark.futility] * 2, color=colours.brick, linewidth=2.2)
        )
        end = low if up else high
        found.append(line(axes, [mark.x] * 2, [mark.futility, end], color=colours.brick, linewidth=1.2))
    return found


def _words(axes: Axes, picture: Boundaries, look: Look) -> list[Artist]:
    """What stops the study, beside each boundary; of many looks at the first and the last."""
    colours, found = look.palette, []
    last = len(picture.marks) - 1
    for at, mark in enumerate(picture.marks):
        if mark.upper is None or (last > _NAMED and 0 < at < last):
            continue
        ending = at == last
        found += _beside(axes, picture, mark, look, ending)
        if mark.futility is not None:
            text = text_at(axes, "gives up", look.small, colours.brick)
            down = -4 if mark.upper >= picture.nothing else 4
            beside = mark.x + _WIDE * picture.most
            text.set(transform=offset(axes.transData, axes, x=4, y=down), position=(beside, mark.futility))
            text.set(va="top" if down < 0 else "bottom")
            found.append(text)
            _on_paper(text, look)
    label = text_at(axes, f"{picture.planned.label}, ± its standard error", look.small, colours.found_text)
    label.set(transform=offset(axes.transData, axes, x=8, y=5), position=(0, float(picture.planned.y[0])))
    _on_paper(label, look)
    return [*found, label]


def _beside(axes: Axes, picture: Boundaries, mark: Mark, look: Look, ending: bool) -> list[Artist]:
    """Right of a look the words in two lines, outside its boundary; left of the last."""
    assert mark.upper is not None
    low, high = picture.ends
    up = mark.upper >= picture.nothing
    bound = min(max(mark.upper, low), high)
    found: list[Artist] = []
    lines = ((mark.words.replace("stops here", "at the end") if ending else mark.words, True), (mark.chance, False))
    shift = -1.0 if ending else 1.0  # the last has its words on the inner side
    for row, (words, bold) in enumerate(lines):
        text = text_at(axes, words, look.small, look.palette.ink if bold else look.palette.quiet, bold)
        away = (14 - 11 * row) if up != ending else -(5 + 11 * row)
        beside = mark.x + shift * _WIDE * picture.most
        text.set(transform=offset(axes.transData, axes, x=shift * 4, y=away), position=(beside, bound))
        text.set(ha="right" if ending else "left", va="center")
        _on_paper(text, look)
        keep_inside(axes, text)
        found.append(text)
    return found


def _on_paper(text: Text, look: Look) -> None:
    """Lines do not run through the words."""
    text.set_bbox({"facecolor": look.palette.paper, "alpha": 0.82, "linewidth": 0, "pad": 0.8})


def _points(axes: Axes, picture: Boundaries, look: Look) -> list[Artist]:
    """What is dragged: a point at each look but the last."""
    style = {"marker": "o", "linewidth": 0, "markersize": 10, "markeredgecolor": look.palette.paper}
    return [line(axes, [x], [y], color=look.palette.found, **style) for x, y in picture.handles]
