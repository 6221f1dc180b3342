"""Pins in a picture: a thin pole from the axis to the curve, and a small flag with what is read there."""

from __future__ import annotations

import math
from typing import TYPE_CHECKING

from ragwort.figures.drawing.pencil import Look, line, short, text_at
from ragwort.figures.drawing.points import ABOVE, dot
from ragwort.figures.labels import Box

if TYPE_CHECKING:
    from matplotlib.artist import Artist
    from matplotlib.axes import Axes

    from ragwort.figures.shown.shown import Flag, Shown

_LONGEST = 60  # characters of a flag


def flags(axes: Axes, picture: Shown, look: Look) -> list[Artist]:
    """The pins, their flags one above the other where they would cover each other."""
    taken: list[Box] = []
    return [mark for flag in picture.flags for mark in _flag(axes, flag, look, taken)]


def _flag(axes: Axes, flag: Flag, look: Look, taken: list[Box]) -> list[Artist]:
    colours = look.palette
    ground = axes.get_ylim()[0]
    text = text_at(axes, short(flag.words, _LONGEST), look.small, colours.slate)
    text.set_bbox({"facecolor": colours.raised, "edgecolor": colours.hairline, "linewidth": 0.8, "pad": 2.2})
    text.set_zorder(ABOVE)
    _place(axes, text, flag.x, look, taken)
    if not math.isfinite(flag.y):
        return [text]
    pole = line(axes, [flag.x, flag.x], [ground, flag.y], color=colours.slate, linewidth=1.0)
    return [pole, dot(axes, (flag.x, flag.y), colours.slate, colours.paper, 6), text]


def _place(axes: Axes, text: object, x: float, look: Look, taken: list[Box]) -> None:
    """To the right of the pole, or to the left where the picture ends; above the flags that are there."""
    area, unit = axes.get_window_extent(), look.text * axes.figure.dpi / 72
    left = float(axes.transData.transform((x, axes.get_ylim()[0]))[0])
    size = text.get_window_extent()  # type: ignore[attr-defined]
    width, height = size.width + 0.7 * unit, size.height + 0.7 * unit
    start = left if left + width <= area.x1 + 0.3 * unit else left - width
    bottom = area.y0 + 0.35 * unit
    while any(Box(start, bottom, start + width, bottom + height).overlaps(other) for other in taken):
        bottom += height
    taken.append(Box(start, bottom, start + width, bottom + height))
    at = axes.transAxes.inverted().transform((start + 0.35 * unit, bottom + 0.3 * unit))
    text.set_position((float(at[0]), float(at[1])))  # type: ignore[attr-defined]
