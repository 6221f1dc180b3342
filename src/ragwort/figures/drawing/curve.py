"""The drawing of a Curve: power along the sample size, kept scenarios beside it, the design as a point."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from typing import TYPE_CHECKING, Any

import numpy as np
from typing_extensions import override

from ragwort.figures.drawing.flags import flags
from ragwort.figures.drawing.kind import Drawing
from ragwort.figures.drawing.pencil import (
    Look,
    line,
    scale_text,
    short,
    target_line,
    text_at,
    x_scale,
)
from ragwort.figures.drawing.points import box_of_words, cannot_be_had
from ragwort.figures.drawing.room import Room
from ragwort.figures.labels import Box
from ragwort.figures.shown.curve import Curve, Series

if TYPE_CHECKING:
    from matplotlib.artist import Artist
    from matplotlib.axes import Axes

DASHES: tuple[Any, ...] = ((0, (5, 3)), (0, (1.2, 2.2)), (0, (7, 2, 1.5, 2)), (0, (3, 2)), (0, (9, 3)))


def _scenario_marks(axes: Axes, curve: Curve, look: Look) -> list[Artist]:
    slate = look.palette.slate
    marks = []
    for index, series in enumerate(s for s in curve.series if not s.own):
        style = {"linestyle": DASHES[index % len(DASHES)], "drawstyle": _drawstyle(series)}
        marks.append(line(axes, series.x, series.power, color=slate, linewidth=1.3, **style))  # the own may cover it
    points = [s.design for s in curve.series if not s.own and curve.x.ends[0] <= s.design[0] <= curve.x.ends[1]]
    if points:
        x, power = zip(*points, strict=True)
        marks.append(line(axes, x, power, color=slate, linewidth=0, marker="o", markersize=4.5))
    return marks


def _own_marks(axes: Axes, curve: Curve, look: Look) -> list[Artist]:
    colours = look.palette
    marks = [
        line(axes, s.x, s.power, color=colours.ink, linewidth=1.3 if s.stepped else 2.0, drawstyle=_drawstyle(s))
        for s in curve.series
        if s.own
    ]
    for at, height, _ in curve.named:
        dot = {"markersize": 6, "color": colours.paper, "markeredgecolor": colours.found_text}
        marks.append(line(axes, [at], [height], marker="o", linewidth=0, **dot))
    if curve.target is not None:
        marks.append(target_line(axes, curve.x.ends, curve.target, look))
    x, power = curve.point
    marks.append(line(axes, [x, x], [0, power], color=colours.found, linewidth=1.3, solid_capstyle="butt"))
    if curve.ten_more is not None:
        at, height = curve.ten_more
        marks.append(line(axes, [at, at], [height - 0.022, height + 0.022], color=colours.quiet, linewidth=1.2))
    dot = {"markersize": 10, "color": colours.found, "markeredgecolor": colours.paper, "markeredgewidth": 1.6}
    marks.append(line(axes, [x], [power], marker="o", linewidth=0, **dot))
    return marks


def _drawstyle(series: Series) -> str:
    return "steps-mid" if series.stepped else "default"


def _curve_labels(axes: Axes, curve: Curve, look: Look) -> list[tuple[Series | None, list[Artist]]]:
    """Direct labels with the series that each names (None for the rest): the design, ten more, the curves."""
    room = Room(axes, curve, words=box_of_words(axes, curve.beyond, look))
    colours = look.palette
    point = text_at(axes, curve.point_label, look.text, colours.found_text, bold=True)
    labels: list[tuple[Series | None, list[Artist]]] = [(None, [room.beside_point(curve.point, axes, point)])]
    if curve.ten_more is not None:
        text = text_at(axes, "from here ten more add less than 1 point", look.small * 0.95, colours.quiet)
        labels.append((None, room.near(curve.ten_more, text)))
    for at, height, words in curve.named:
        text = text_at(axes, words, look.small, colours.found_text)
        labels.append((None, room.near((at, height), text)))
    for series in curve.series:
        if series.own and len(curve.series) == 1:
            continue
        colour = colours.ink if series.own else colours.slate
        text = text_at(axes, short(series.label), look.small, colour, bold=series.own)
        labels.append((series, room.near(series.design, text) if series.same_line else room.along(series, text)))
    return labels


class CurveDrawing(Drawing[Curve]):
    """Power from 0 to 100% over the sample size."""

    @override
    def sheet(self, axes: Axes, picture: Curve, look: Look) -> list[Artist]:
        """With the scale of power, which is the same for all curves."""
        axes.set_ylim(0, 1.04)
        roomy = axes.get_window_extent().height >= 11 * look.text
        levels = np.arange(0, 1.01, 0.2 if roomy else 0.5)
        grid: dict[str, Any] = {"color": look.palette.hairline, "linewidth": 0.8, "transform": axes.transAxes}
        words = [f"{100 * level:.0f}{'%' if level > 0.99 else ''}" for level in levels]
        return [
            *(line(axes, [0, 1], [level / 1.04] * 2, **grid) for level in levels),
            *(scale_text(axes, look, (0, level / 1.04), each) for level, each in zip(levels, words, strict=True)),
        ]

    @override
    def scale(self, axes: Axes, picture: Curve, look: Look) -> list[Artist]:
        axes.set_xlim(picture.x.ends)
        return [*x_scale(axes, look, *picture.x.ends), *cannot_be_had(axes, picture.beyond, look)]

    @override
    def marks(self, axes: Axes, picture: Curve, look: Look) -> list[Artist]:
        return [
            *_scenario_marks(axes, picture, look),
            *_own_marks(axes, picture, look),
            *(mark for _, marks in _curve_labels(axes, picture, look) for mark in marks),
            *flags(axes, picture, look),
        ]

    @override
    def kept(self, axes: Axes, picture: Curve, look: Look) -> list[Artist]:
        """Kept scenarios, without their names."""
        return _scenario_marks(axes, picture, look)

    @override
    def kept_and_named(self, axes: Axes, picture: Curve, look: Look) -> list[Artist]:
        labels = _curve_labels(axes, picture, look)
        names = [mark for series, marks in labels if series is not None and not series.own for mark in marks]
        shown = {id(mark) for mark in names}
        for mark in (mark for _, marks in labels for mark in marks if id(mark) not in shown):
            mark.remove()
        return [*_scenario_marks(axes, picture, look), *names]

    @override
    def live(self, axes: Axes, picture: Curve, look: Look, names: Sequence[Box] = ()) -> list[Artist]:
        own = replace(picture, ten_more=None, series=tuple(s for s in picture.series if s.own))
        text = text_at(axes, own.point_label, look.text, look.palette.found_text, bold=True)
        point = Room(axes, own, names).beside_point(own.point, axes, text)
        return [*_own_marks(axes, own, look), point, *flags(axes, picture, look)]
