"""The drawing of Look times: the error with the planned boundaries kept, and with alpha spent as due (dashed)."""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np
from typing_extensions import override

from ragwort.figures.drawing.kind import Drawing
from ragwort.figures.drawing.pencil import Look, keep_inside, line, nice_ticks, offset, scale_text, text_at, x_scale
from ragwort.figures.shown.look_times import DUE, KEPT, LookTimes

if TYPE_CHECKING:
    from matplotlib.artist import Artist
    from matplotlib.axes import Axes


class LookTimesDrawing(Drawing[LookTimes]):
    """Two lines, and the time that was planned."""

    @override
    def scale(self, axes: Axes, picture: LookTimes, look: Look) -> list[Artist]:
        (low, high), (bottom, top) = picture.x.ends, picture.y_ends
        axes.set(xlim=(low, high), ylim=(bottom, top))
        ticks = nice_ticks(bottom, top, most=6)
        grid = {"color": look.palette.hairline, "linewidth": 0.8}
        lines = [line(axes, [low, high], [tick, tick], **grid) for tick in ticks]
        span = top - bottom
        numbers = [scale_text(axes, look, (0, (tick - bottom) / span), f"{tick:.10g}") for tick in ticks]
        return [*lines, *numbers, *x_scale(axes, look, low, high, bottom)]

    @override
    def marks(self, axes: Axes, picture: LookTimes, look: Look) -> list[Artist]:
        kept = line(axes, picture.times, picture.as_planned, color=look.palette.ink, linewidth=2.0)
        due = line(axes, picture.times, picture.due, color=look.palette.slate, linewidth=1.6, linestyle=(0, (6, 2.4)))
        return [kept, due, *_names(axes, picture, look), *_planned(axes, picture, look)]


def _names(axes: Axes, picture: LookTimes, look: Look) -> list[Artist]:
    """Where the lines are furthest apart, away from the planned time."""
    apart = np.abs(picture.as_planned - picture.due)
    at = int(np.argmax(apart))
    above = picture.as_planned[at] > picture.due[at]
    found: list[Artist] = []
    both = (
        (KEPT, picture.as_planned[at], above, look.palette.ink),
        (DUE, picture.due[at], not above, look.palette.slate),
    )
    right = picture.times[at] > sum(picture.x.ends) / 2
    for words, y, up, colour in both:
        text = text_at(axes, words, look.small, colour)
        text.set(transform=offset(axes.transData, axes, x=-4 if right else 4, y=6 if up else -6))
        text.set(position=(picture.times[at], y), ha="right" if right else "left", va="bottom" if up else "top")
        keep_inside(axes, text)
        found.append(text)
    return found


def _planned(axes: Axes, picture: LookTimes, look: Look) -> list[Artist]:
    x, y = picture.planned
    bottom = picture.y_ends[0]
    stem = line(axes, [x, x], [bottom, y], color=look.palette.found, linewidth=1.6)
    point = line(axes, [x], [y], color=look.palette.found, marker="o", markersize=8, markeredgecolor=look.palette.paper)
    text = text_at(axes, f"planned: {x:.0f}%", look.text, look.palette.found_text, bold=True)
    right = x < sum(picture.x.ends) / 2
    text.set(transform=offset(axes.transData, axes, x=8 if right else -8), position=(x, bottom + (y - bottom) / 2))
    text.set(ha="left" if right else "right", va="center")
    keep_inside(axes, text)
    return [stem, point, text]
