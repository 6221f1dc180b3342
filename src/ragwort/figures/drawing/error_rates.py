"""The drawing of Errors: the statistic without and with an effect, and where it rejects."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

import numpy as np
from typing_extensions import override

from ragwort.figures.drawing.kind import Drawing
from ragwort.figures.drawing.pencil import (
    Look,
    keep_inside,
    line,
    short,
    text_at,
    x_scale,
)
from ragwort.figures.shown.error_rates import Errors
from ragwort.study.words.found import power_text
from ragwort.study.words.numbers import percent_text

if TYPE_CHECKING:
    from matplotlib.artist import Artist
    from matplotlib.axes import Axes


def _errors_marks(axes: Axes, errors: Errors, look: Look) -> list[Artist]:
    colours = look.palette
    x, rejected = errors.x, errors.rejected()
    marks: list[Artist] = [
        axes.fill_between(x, errors.effect, where=rejected, color=colours.found, alpha=0.32, linewidth=0),
        axes.fill_between(
            x,
            errors.effect,
            where=~rejected,
            facecolor="none",
            edgecolor=colours.slate,
            hatch="////",
            linewidth=0,
        ),
        axes.fill_between(x, errors.null, where=rejected, color=colours.ink, alpha=0.75, linewidth=0),
    ]
    dashes: Any = (0, (4, 2.4))
    marks.append(line(axes, x, errors.shown(errors.null), color=colours.ink, linewidth=1.3, linestyle=dashes))
    marks.append(line(axes, x, errors.shown(errors.effect), color=colours.found_text, linewidth=2.0))
    marks.extend(
        line(axes, [limit, limit], [0, errors.y_high * 0.77], color=colours.quiet, linewidth=1.0)
        for limit in (errors.lower, errors.upper)
        if limit is not None
    )
    return [*marks, *_errors_labels(axes, errors, look)]


_LOW = 15  # times the size of the text: a picture less high than this has room for one row of values


def _errors_labels(axes: Axes, errors: Errors, look: Look) -> list[Artist]:
    """A title over each hill and a row of values at the height of the limits."""
    colours = look.palette
    null_at, effect_at = errors.peak(errors.null), errors.peak(errors.effect)
    apart = abs(errors.x[null_at] - errors.x[effect_at]) > 0.24 * (errors.x[-1] - errors.x[0])
    left_first = errors.x[null_at] <= errors.x[effect_at]
    lift = 0.02 * errors.y_high
    null_style, effect_style = ("right", "left") if left_first else ("left", "right")
    null_place = (errors.x[null_at], errors.null[null_at] + lift, "center" if apart else null_style)
    if errors.one_ended:
        # Right of the falling curve, two thirds up.
        beside = int(np.argmax(errors.null[null_at:] < 0.6 * errors.y_high)) + null_at
        null_place = (errors.x[beside] + 0.012 * errors.x[-1], 0.62 * errors.y_high, "left")
    effect_place = (errors.x[effect_at], errors.effect[effect_at] + lift, "center" if apart else effect_style)
    marks: list[Artist] = []
    for (x, y, align), label, colour in (
        (null_place, errors.null_label, colours.ink),
        (effect_place, errors.effect_label, colours.found_text),
    ):
        text = text_at(axes, short(label), look.text, colour, bold=True)
        text.set(transform=axes.transData, position=(x, y), ha=align)
        marks.append(text)
    values = _error_values(axes, errors, look)
    if axes.get_window_extent().height >= _LOW * look.text:
        return [*marks, *values]
    for mark in (*marks, *values[2:]):
        mark.remove()
    return values[:2]  # one row of values is all that there is room for


def _error_values(axes: Axes, errors: Errors, look: Look) -> list[Artist]:
    colours = look.palette
    ahead = errors.x[errors.peak(errors.effect)] >= errors.x[errors.peak(errors.null)]
    limit = errors.upper if (ahead and errors.upper is not None) or errors.lower is None else errors.lower
    assert limit is not None
    towards = 1 if limit == errors.upper else -1
    gap = 0.012 * (errors.x[-1] - errors.x[0]) * towards
    beyond, before = ("left", "right") if towards > 0 else ("right", "left")
    rows = (
        (limit + gap, 0.965, f"power {power_text(errors.power)}", colours.found_text, beyond),
        (limit - gap, 0.965, f"type II error {percent_text(1 - errors.power)}", colours.slate, before),
        (
            limit + gap,
            0.895,
            f"alpha {100 * errors.alpha:.3g}%" + (" in both tails" if errors.lower and errors.upper else ""),
            colours.ink,
            beyond,
        ),
    )
    marks: list[Artist] = []
    for x, height, words, colour, align in rows:
        text = text_at(axes, words, look.small, colour, bold=True)
        text.set(transform=axes.transData, position=(x, errors.y_high * height), ha=align)
        keep_inside(axes, text)
        marks.append(text)
    return marks


class ErrorsDrawing(Drawing[Errors]):
    """Two hills over the scale of the statistic."""

    @override
    def scale(self, axes: Axes, picture: Errors, look: Look) -> list[Artist]:
        low, high = float(picture.x[0]), float(picture.x[-1])
        axes.set(xlim=(low, high), ylim=(0, picture.y_high))
        ground = line(axes, [low, high], [0, 0], color=look.palette.hairline, linewidth=1.0)
        return [ground, *x_scale(axes, look, low, high)]

    @override
    def marks(self, axes: Axes, picture: Errors, look: Look) -> list[Artist]:
        return _errors_marks(axes, picture, look)
