"""The drawing of Events: lines of expected events, where recruiting ends, where the study does."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from typing_extensions import override

from ragwort.figures.drawing.kind import Drawing
from ragwort.figures.drawing.pencil import (
    Look,
    keep_inside,
    line,
    nice_ticks,
    offset,
    scale_text,
    short,
    text_at,
    x_scale,
)
from ragwort.figures.shown.events import Events

if TYPE_CHECKING:
    from matplotlib.artist import Artist
    from matplotlib.axes import Axes

_DASHES: tuple[Any, ...] = ((0, (6, 2.4)), (0, (1.4, 1.8)))  # of the arms


class EventsDrawing(Drawing[Events]):
    """Lines over the calendar."""

    @override
    def scale(self, axes: Axes, picture: Events, look: Look) -> list[Artist]:
        end = float(picture.x[-1])
        axes.set(xlim=(0, end), ylim=(0, picture.y_high))
        ticks = nice_ticks(0, picture.y_high, most=6)
        grid = {"color": look.palette.hairline, "linewidth": 0.8}
        lines = [line(axes, [0, end], [tick, tick], **grid) for tick in ticks]
        numbers = [_beside(axes, look, tick, picture.y_high) for tick in ticks]
        return [*lines, *numbers, *x_scale(axes, look, 0, end)]

    @override
    def marks(self, axes: Axes, picture: Events, look: Look) -> list[Artist]:
        colours = look.palette
        marks = [line(axes, picture.x, picture.total, color=colours.ink, linewidth=2.0)]
        for dashes, (name, events) in zip(_DASHES, picture.arms, strict=False):
            marks.append(line(axes, picture.x, events, color=colours.slate, linewidth=1.4, linestyle=dashes))
            above = float(events[-1]) >= float(picture.total[-1]) / 2
            marks.append(_name(axes, look, short(name), (float(picture.x[-1]), float(events[-1])), above))
        return [*marks, *_accrual(axes, picture, look), *_end(axes, picture, look)]


def _beside(axes: Axes, look: Look, tick: float, high: float) -> Artist:
    return scale_text(axes, look, (0, tick / high), f"{tick:.10g}")


def _name(axes: Axes, look: Look, words: str, end: tuple[float, float], above: bool) -> Artist:
    """An arm's name at the end of its line, on the side away from the other arm's."""
    text = text_at(axes, words, look.small, look.palette.slate)
    text.set(transform=offset(axes.transData, axes, x=-3, y=3 if above else -9), position=end)
    text.set(ha="right", va="bottom" if above else "top")
    return text


def _accrual(axes: Axes, picture: Events, look: Look) -> list[Artist]:
    """Where recruiting ends, if it takes time."""
    if not picture.accrual:
        return []
    dots = {"color": look.palette.leaf, "linewidth": 1.1, "linestyle": (0, (1.2, 2.4))}
    text = text_at(axes, "recruiting ends", look.small, look.palette.leaf)
    text.set(transform=offset(axes.transData, axes, x=-4, y=-4), position=(picture.accrual, picture.y_high))
    text.set(ha="right", va="top")
    keep_inside(axes, text)
    return [line(axes, [picture.accrual] * 2, [0, picture.y_high], **dots), text]


def _end(axes: Axes, picture: Events, look: Look) -> list[Artist]:
    """The study's end with its expected events."""
    stem = line(axes, [picture.end] * 2, [0, picture.events], color=look.palette.found, linewidth=1.6)
    point = line(axes, [picture.end], [picture.events], color=look.palette.found, marker="o", markersize=8)
    text = text_at(
        axes, f"{picture.events:.0f} events by {picture.end:.4g}", look.text, look.palette.found_text, bold=True
    )
    text.set(transform=offset(axes.transData, axes, x=-8, y=8), position=(picture.end, picture.events))
    text.set(ha="right", va="bottom")
    keep_inside(axes, text)
    return [stem, point, text]
