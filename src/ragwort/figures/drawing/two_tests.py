"""The drawing of Errors for equivalence: a hill on each margin, one of the planned effect, where both tests reject."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from typing_extensions import override

from ragwort.figures.drawing.kind import Drawing
from ragwort.figures.drawing.pencil import Look, keep_inside, line, short, text_at, x_scale
from ragwort.figures.shown.two_tests import TwoTests
from ragwort.study.words.found import power_text

if TYPE_CHECKING:
    from matplotlib.artist import Artist
    from matplotlib.axes import Axes

_DASHES: Any = (0, (4, 2.4))


class TwoTestsDrawing(Drawing[TwoTests]):
    """Three hills over the estimate."""

    @override
    def scale(self, axes: Axes, picture: TwoTests, look: Look) -> list[Artist]:
        low, high = float(picture.x[0]), float(picture.x[-1])
        axes.set(xlim=(low, high), ylim=(0, picture.y_high))
        ground = line(axes, [low, high], [0, 0], color=look.palette.hairline, linewidth=1.0)
        return [ground, *x_scale(axes, look, low, high)]

    @override
    def marks(self, axes: Axes, picture: TwoTests, look: Look) -> list[Artist]:
        return [*_areas(axes, picture, look), *_lines(axes, picture, look), *_labels(axes, picture, look)]


def _areas(axes: Axes, picture: TwoTests, look: Look) -> list[Artist]:
    colours, shown = look.palette, picture.rejected()
    missed: dict[str, Any] = {"facecolor": "none", "edgecolor": colours.slate, "hatch": "////", "linewidth": 0}
    found = axes.fill_between(picture.x, picture.effect, where=shown, color=colours.found, alpha=0.32, linewidth=0)
    errors = [
        axes.fill_between(picture.x, null, where=shown, color=colours.ink, alpha=0.75, linewidth=0)
        for null in (picture.at_low, picture.at_high)
    ]
    return [found, axes.fill_between(picture.x, picture.effect, where=~shown, **missed), *errors]


def _lines(axes: Axes, picture: TwoTests, look: Look) -> list[Artist]:
    colours, top = look.palette, 0.76 * picture.y_high
    nulls = [
        line(axes, picture.x, null, color=colours.ink, linewidth=1.3, linestyle=_DASHES)
        for null in (picture.at_low, picture.at_high)
    ]
    planned = line(axes, picture.x, picture.effect, color=colours.found_text, linewidth=2.0)
    seen = picture.limits if picture.limits[0] < picture.limits[1] else ()
    limits = [line(axes, [each, each], [0, top], color=colours.quiet, linewidth=1.0) for each in seen]
    return [*nulls, planned, *limits]


def _labels(axes: Axes, picture: TwoTests, look: Look) -> list[Artist]:
    """A name over each hill, and what is shown how often above them all."""
    colours, high = look.palette, picture.y_high
    middle = sum(picture.margins) / 2
    chances = f"power {power_text(picture.power)}, alpha {100 * picture.alpha:.3g}% on each margin"
    placed = (
        (picture.margins[0], 0.68 * high, "lower margin", colours.ink, look.text, "right"),
        (picture.margins[1], 0.68 * high, "upper margin", colours.ink, look.text, "left"),
        (middle, 0.82 * high, short(picture.effect_label), colours.found_text, look.text, "center"),
        (middle, 0.95 * high, chances, colours.found_text, look.small, "center"),
    )
    marks: list[Artist] = []
    for x, y, words, colour, size, side in placed:
        text = text_at(axes, words, size, colour, bold=True)
        text.set(transform=axes.transData, position=(x, y), ha=side)
        keep_inside(axes, text)
        marks.append(text)
    return marks
